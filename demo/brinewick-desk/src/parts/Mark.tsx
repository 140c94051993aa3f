import clsx from 'clsx'

const TONES = {
  high: 'bg-deep text-foam',
  low: 'bg-foam text-deep',
}

/** A word on a ground of its own. */
export function Mark({ tone, className, children }: { tone: keyof typeof TONES; className?: string; children: string }) {
  return <span className={clsx('mark rounded-full px-3 py-1 text-sm', TONES[tone], className)}>{children}</span>
}
