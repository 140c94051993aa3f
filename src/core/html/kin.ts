/** What an ancestor says of the place of an element in it. */
export interface Ancestor {
  readonly tag: string
  readonly classes: readonly string[]
}

/** Parts of tables and lists that repeat: how one is marked says nothing of what stands in it. */
const ROWS: ReadonlySet<string> = new Set(['tr', 'tbody', 'thead', 'tfoot', 'li'])

/** Elements that are places of their own without a class: sectioning content and landmarks (HTML §4.3, ARIA in HTML §4). */
const LANDMARKS: ReadonlySet<string> = new Set([
  'header',
  'nav',
  'main',
  'aside',
  'footer',
  'article',
  'section',
  'form',
  'dialog',
  'figure',
  'table',
])

export const isRow = (tag: string): boolean => ROWS.has(tag)
export const isLandmark = (tag: string): boolean => LANDMARKS.has(tag)

/**
 * The names of the place that an element without a class stands in: the classes of the nearest ancestor that has some, or
 * the tag of a nearer landmark, and those of the rows between. `ancestors` are the nearest first. Two elements with the
 * same tag are alike where they share a name.
 */
export function placeNames(ancestors: Iterable<Ancestor>): string[] {
  const names: string[] = []
  for (const { tag, classes } of ancestors) {
    names.push(...classes.map((c) => `.${c}`))
    if (ROWS.has(tag)) continue
    if (classes.length) return names
    if (LANDMARKS.has(tag)) return [...names, tag]
  }
  return [...names, ':root']
}
