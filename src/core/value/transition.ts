import { commaList, words } from './parts'

export const name = 'transition'

/** One item of `transition` (CSS Transitions 1 §2.5); parts as written, null where left out. */
export interface Transition {
  readonly property: string | null
  readonly duration: string | null
  readonly easing: string | null
  readonly delay: string | null
  readonly behavior: string | null
}

const TIME = /^[+-]?(\d+\.?\d*|\.\d+)m?s$/i
const EASING = /^(linear|ease|ease-in|ease-out|ease-in-out|step-start|step-end)$|^(cubic-bezier|steps|linear)\(/i
const BEHAVIOR = /^(normal|allow-discrete)$/i

/** Null when an item cannot be read. */
export function parse(text: string): Transition[] | null {
  const list = commaList(text).map((item): Transition | null => {
    const parts = words(item)
    const times = parts.filter((p) => TIME.test(p))
    const easing = parts.find((p) => EASING.test(p)) ?? null
    const behavior = parts.find((p) => BEHAVIOR.test(p)) ?? null
    const rest = parts.filter((p) => !TIME.test(p) && p !== easing && p !== behavior)
    if (times.length > 2 || rest.length > 1 || parts.length === 0) return null
    return { property: rest[0] ?? null, duration: times[0] ?? null, easing, delay: times[1] ?? null, behavior }
  })
  return list.every((t) => t !== null) ? (list as Transition[]) : null
}

export const format = (list: readonly Transition[]): string =>
  list
    .map((t) =>
      [t.property, t.duration ?? (t.delay === null ? null : '0s'), t.easing, t.delay, t.behavior].filter((p) => p !== null).join(' '),
    )
    .join(', ')
