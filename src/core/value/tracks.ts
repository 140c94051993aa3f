import { words } from './parts'

export const name = 'tracks'

/** A track of `grid-template-columns` or `-rows`, or names of a line before one (CSS Grid 2 §7.2). */
export type Track = { readonly kind: 'size'; readonly text: string } | { readonly kind: 'names'; readonly names: readonly string[] }

/** Null for a value that is no list of tracks, such as `subgrid`; empty for `none`. */
export function parse(text: string): Track[] | null {
  const trimmed = text.trim()
  if (/^none$/i.test(trimmed)) return []
  if (/^(subgrid|masonry)\b/i.test(trimmed) || trimmed.includes('/')) return null
  return words(trimmed).map((w): Track =>
    w.startsWith('[') ? { kind: 'names', names: w.slice(1, -1).trim().split(/\s+/).filter(Boolean) } : { kind: 'size', text: w })
}

export const format = (list: readonly Track[]): string =>
  list.length ? list.map((t) => (t.kind === 'names' ? `[${t.names.join(' ')}]` : t.text)).join(' ') : 'none'

/** Rows of `grid-template-areas` as their cells; null unless each row is a string and all have as many cells. */
export function parseAreas(text: string): string[][] | null {
  if (/^none$/i.test(text.trim())) return []
  const rows = [...text.matchAll(/"([^"]*)"|'([^']*)'/g)].map((m) => (m[1] ?? m[2]).trim().split(/\s+/))
  return rows.length && rows.every((r) => r.length === rows[0].length) ? rows : null
}

export const formatAreas = (rows: readonly (readonly string[])[], quote = '"'): string =>
  rows.length ? rows.map((r) => `${quote}${r.join(' ')}${quote}`).join(' ') : 'none'
