import type { PropertyAim } from '../../../core/aim'
import { useSession } from '../../ui/SessionContext'
import type { Row } from '../properties'

export interface ListValue<T> {
  /** Null where the value cannot be read as such a list. */
  readonly items: readonly T[] | null
  readonly show: (items: readonly T[]) => void
  readonly keep: (items: readonly T[]) => void
  readonly cancel: () => void
  /** The list with one item changed, as `show` and `keep` take it. */
  readonly with: (at: number, change: Partial<T>) => readonly T[]
  readonly without: (at: number) => readonly T[]
}

/** A value as a list of items: what is written, with variables what the browser computes, and `unset` where nothing is; shown and kept as a whole. */
export function useListValue<T extends object>(row: Row, aim: PropertyAim, parse: (text: string) => readonly T[] | null, format: (items: readonly T[]) => string, unset = aim.computed): ListValue<T> {
  const { session } = useSession()
  const text = aim.written === null ? unset : /var\(/.test(aim.written) ? aim.computed : aim.written
  const items = parse(text)
  const list = items ?? []
  return {
    items,
    show: (next) => session.edits.preview(row.property, format(next)),
    keep: (next) => void session.edits.commit(row.property, format(next)),
    cancel: () => void session.edits.cancelPreview(),
    with: (at, change) => list.map((item, i) => (i === at ? { ...item, ...change } : item)),
    without: (at) => list.filter((_, i) => i !== at),
  }
}
