import styles from './Keeping.module.css'

/** A patch as lines: what goes, what comes, what stands around it. */
export function PatchView({ patch }: { patch: string }) {
  const lines = patch.split('\n').filter((l) => !/^(diff --git|index |--- |\+\+\+ |\\ No newline|=+$|Index: )/.test(l))
  if (lines.at(-1) === '') lines.pop()
  return (
    <pre className={styles.patch} tabIndex={0} aria-label="Changed lines">
      {lines.map((l, i) =>
        l.startsWith('@@') ? (
          <i key={i}>{`line ${/\+(\d+)/.exec(l)?.[1] ?? ''}`}</i>
        ) : (
          <span
            key={i}
            data-kind={l[0] === '+' ? 'comes' : l[0] === '-' ? 'goes' : undefined}
          >{`${l[0] ?? ' '} ${l.slice(1).replace(/\r$/, '')}`}</span>
        ),
      )}
    </pre>
  )
}
