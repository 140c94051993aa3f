import type { PropertyAim } from '../../../core/aim'
import { switched } from '../../../core/value'
import type { Change } from '../../session/intents'
import { useSession } from '../../ui/SessionContext'
import type { Row } from '../properties'
import { currentAim } from '../../session/landings'

export interface ListValue<T> {
  /** Null where the value cannot be read as such a list. */
  readonly items: readonly switched.Switched<T>[] | null
  readonly show: (items: readonly switched.Switched<T>[]) => void
  readonly keep: (items: readonly switched.Switched<T>[]) => void
  readonly cancel: () => void
  /** The list with one item changed, as `show` and `keep` take it. */
  readonly with: (at: number, change: Partial<switched.Switched<T>>) => readonly switched.Switched<T>[]
  readonly without: (at: number) => readonly switched.Switched<T>[]
  readonly add: (...items: readonly T[]) => void
  /** Switches an item off, as a comment in the source where there is a rule to hold it, and on again; null where it cannot. */
  readonly toggle: ((at: number) => void) | null
}

interface Codec<T> {
  parse(text: string): readonly T[] | null
  format(items: readonly T[]): string
}

/**
 * A value as a list of items: what is written, with variables what the browser computes, and `unset` where nothing is;
 * shown and kept as a whole. With a `separator`, items can be switched off.
 */
export function useListValue<T extends object>(
  row: Row,
  aim: PropertyAim,
  codec: Codec<T>,
  separator: ',' | ' ' | null = null,
  unset = aim.computed,
): ListValue<T> {
  const { session } = useSession()
  const hasVariable = /var\(/.test(aim.written ?? '')
  const whole = separator !== null && !hasVariable && aim.writtenWhole !== null ? switched.parse(aim.writtenWhole, codec, separator) : null
  const text = aim.written === null ? unset : hasVariable ? aim.computed : aim.written
  const items = whole ?? codec.parse(text)?.map((item) => ({ ...item, off: false })) ?? null
  const list = items ?? []
  const changeTo = (next: readonly switched.Switched<T>[]): Change =>
    whole && separator ? [row.property, switched.format(next, codec, separator), true] : [row.property, codec.format(next)]
  const keep = (next: readonly switched.Switched<T>[]) => void session.edits.commitAll([changeTo(next)])
  const replace = (at: number, change: Partial<switched.Switched<T>>) => list.map((item, i) => (i === at ? { ...item, ...change } : item))
  // A comment has its place in a rule that sets the whole value; elsewhere there is none for it.
  const landing = currentAim(row.property)
  const canSwitch = whole !== null && landing?.ref.kind === 'rule' && landing.current !== null
  return {
    items,
    keep,
    show: (next) => session.edits.previewAll([changeTo(next)]),
    cancel: () => void session.edits.cancelPreview(),
    with: replace,
    without: (at) => list.filter((_, i) => i !== at),
    add: (...more) => keep([...list, ...more.map((item) => ({ ...item, off: false }))]),
    toggle: canSwitch ? (at) => keep(replace(at, { off: !list[at].off } as Partial<switched.Switched<T>>)) : null,
  }
}
