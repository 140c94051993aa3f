import type { TreeRow } from '../../agent/protocol'

/** A row with its place among the elements around it. */
export interface OutlineRow extends TreeRow {
  readonly index: number
  readonly parent: number
  readonly hasChildren: boolean
  /** 1-based among its siblings, of how many. */
  readonly place: number
  readonly of: number
}

/** Reads the order and depths of rows as a tree. */
export function outlineOf(rows: readonly TreeRow[]): OutlineRow[] {
  const path: number[] = []
  const parents = rows.map((row, i) => {
    path.length = row.depth
    path.push(i)
    return row.depth === 0 ? -1 : (path[row.depth - 1] ?? -1)
  })
  const counts = new Map<number, number>()
  const places = parents.map((p) => {
    counts.set(p, (counts.get(p) ?? 0) + 1)
    return counts.get(p)!
  })
  return rows.map((row, index) => ({
    ...row,
    index,
    parent: parents[index],
    hasChildren: rows[index + 1]?.depth > row.depth,
    place: places[index],
    of: counts.get(parents[index])!,
  }))
}

/** The rows on show: those of which nothing around them is folded. */
export function unfolded(rows: readonly OutlineRow[], folded: ReadonlySet<number>): OutlineRow[] {
  const out: OutlineRow[] = []
  let skip = Infinity
  for (const row of rows) {
    if (row.depth > skip) continue
    skip = folded.has(row.info.node) && row.hasChildren ? row.depth : Infinity
    out.push(row)
  }
  return out
}

/** Small pages are shown whole, others with what is deep in them folded. */
const WHOLE = 150
const DEEP = 3

/** What is folded when a page is first looked at, by element. */
export const foldedAtFirst = (rows: readonly OutlineRow[]): Set<number> =>
  new Set(
    rows
      .filter((r) => r.hasChildren && (r.info.tag === 'head' || r.info.tag === 'svg' || (rows.length > WHOLE && r.depth >= DEEP)))
      .map((r) => r.info.node),
  )

/** The rows around a row, the nearest first. */
export function around(rows: readonly OutlineRow[], index: number): OutlineRow[] {
  const out: OutlineRow[] = []
  for (let at = rows[index]?.parent ?? -1; at >= 0; at = rows[at].parent) out.push(rows[at])
  return out
}
