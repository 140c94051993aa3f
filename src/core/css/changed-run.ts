import { outlineStatements } from './outline'
import { cutBodies, type RuleBody } from './own-text'
import type { PackedOutline } from './packed-outline'
import type { Statement } from './sheet'
import { isRule, rulesIn } from './tree'

/** A run of top-level statements of a sheet that stands in the place of another. Rules are named by their ids. */
export interface ChangedRun {
  /** The last rule before it, and the first after it; null at the ends of the sheet. */
  readonly before: number | null
  readonly after: number | null
  /** All rules, nested ones too, of what stood there. */
  readonly gone: readonly number[]
  readonly text: string
  readonly outline: PackedOutline
  /** Those of the rules that the engine's text leaves a part of out. */
  readonly bodies: readonly RuleBody[]
}

/** Longer runs are no quicker than the whole sheet. UTF-16 units. */
const MOST = 100_000
/** Statements at the head of a sheet that are looked through for what decides how the rest is read. */
const HEAD = 32
/** At-rules that have to stand before all others, or order what follows (CSS Cascade 5 §6.4.3, CSS Namespaces 3 §2). */
const LEADING = /@(import|namespace|charset|layer\b[^{]*;)/i

const firstRule = ({ items }: Statement): number | undefined => items.find(isRule)?.id
const lastRule = ({ items }: Statement): number | undefined => items.findLast(isRule)?.id

/** What of a sheet is another, by its statements before and now; null where that has to be sent as a whole. */
export function changedRun(before: readonly Statement[], now: readonly Statement[]): ChangedRun | null {
  let from = 0
  while (from < before.length && from < now.length && before[from] === now[from]) from++
  let tail = 0
  while (tail < before.length - from && tail < now.length - from && before[before.length - 1 - tail] === now[now.length - 1 - tail]) tail++
  const [gone, come] = [before.slice(from, before.length - tail), now.slice(from, now.length - tail)]
  const text = come.map((s) => s.text).join('')
  if (text.length > MOST || gone.length > 200) return null
  if ([...now.slice(0, HEAD), ...come, ...gone].some((s) => LEADING.test(s.text))) return null
  const near = (list: readonly Statement[], of: (s: Statement) => number | undefined): number | null => {
    for (const s of list) {
      const id = of(s)
      if (id !== undefined) return id
    }
    return null
  }
  return {
    before: near(now.slice(0, from).reverse(), lastRule),
    after: near(now.slice(now.length - tail), firstRule),
    gone: gone.flatMap((s) => [...rulesIn(s.items)].map(({ rule }) => rule.id)),
    text,
    outline: outlineStatements(come),
    bodies: cutBodies(come),
  }
}
