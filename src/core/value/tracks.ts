import { parseLength } from './length'
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
    w.startsWith('[') ? { kind: 'names', names: w.slice(1, -1).trim().split(/\s+/).filter(Boolean) } : { kind: 'size', text: w },
  )
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

/** `repeat(3, 1fr)` as the tracks it stands for; null where their number is the engine's to say. */
function unrepeated(list: readonly Track[]): Track[] | null {
  const out: Track[] = []
  for (const t of list) {
    const call = t.kind === 'size' ? /^repeat\(\s*([^,]+),([^]*)\)$/i.exec(t.text) : null
    if (!call) out.push(t)
    else if (!/^\d+$/.test(call[1].trim())) return null
    else for (let i = 0; i < Number(call[1]); i++) out.push(...(parse(call[2]) ?? []))
  }
  return out
}

/**
 * A list with one track more, as an author would write it: where the last is a `repeat()` of one track a number of times,
 * or all tracks are the same, one more of those; else a share of the room.
 */
export function withOneMore(list: readonly Track[]): Track[] {
  const last = list.at(-1)
  const call = last?.kind === 'size' ? /^(repeat\(\s*)(\d+)(\s*,[^]*\))$/i.exec(last.text) : null
  const repeated = call && parse(call[3].replace(/^\s*,|\)$/g, ''))
  if (call && repeated?.length === 1) return [...list.slice(0, -1), { kind: 'size', text: `${call[1]}${Number(call[2]) + 1}${call[3]}` }]
  const isSame = list.length > 1 && list.every((t) => t.kind === 'size' && t.text === (list[0] as { text: string }).text)
  return [...list, { kind: 'size', text: isSame ? (list[0] as { text: string }).text : '1fr' }]
}

/** A list without its `index`-th track; of a `repeat()` of one track a number of times, one time less. */
export function withOneLess(list: readonly Track[], index: number): Track[] {
  const track = list[index]
  const call = track?.kind === 'size' ? /^(repeat\(\s*)(\d+)(\s*,[^]*\))$/i.exec(track.text) : null
  const times = Number(call?.[2] ?? 1)
  if (!call || times < 2) return list.filter((_, i) => i !== index)
  const next = times === 2 ? call[3].replace(/^\s*,\s*|\s*\)$/g, '') : `${call[1]}${times - 1}${call[3]}`
  return list.map((t, i) => (i === index ? { kind: 'size', text: next } : t))
}

const FR = /^(\d+\.?\d*|\.\d+)fr$/i

/**
 * A list of tracks with the `index`-th one made `px` wide, in its own unit: an `fr` keeps its share against the others,
 * the most of a `minmax()` is changed, and only what has no length becomes one in px. `sizes` are the tracks as used now, in
 * px. Null where the list does not say each track, so that none of them can be changed alone.
 */
export function resize(
  text: string,
  index: number,
  px: number,
  sizes: readonly number[],
  inUnit: (px: number, unit: string) => string,
): string | null {
  const list = parse(text)
  const each = list && unrepeated(list)
  const spots = each?.flatMap((t, i) => (t.kind === 'size' ? [i] : []))
  if (!each || !spots || index >= spots.length || spots.length > sizes.length) return null
  const texts = spots.map((i) => (each[i] as { text: string }).text)
  const now = texts[index]
  const limits = /^minmax\(([^]*),([^,]*)\)$/i.exec(now)
  const size = sized((limits?.[2] ?? now).trim(), index, px, texts, sizes, inUnit)
  const next = limits ? `minmax(${limits[1].trim()}, ${size})` : size
  if (next === now) return text
  return format(each.map((t, i) => (i === spots[index] ? { kind: 'size', text: next } : t)))
}

const shareOf = (text: string): number => Number(FR.exec(text)?.[1] ?? /,\s*([\d.]+)fr\s*\)$/i.exec(text)?.[1] ?? 0)

function sized(
  text: string,
  index: number,
  px: number,
  texts: readonly string[],
  sizes: readonly number[],
  inUnit: (px: number, unit: string) => string,
): string {
  if (FR.test(text)) {
    const others = texts.reduce((sum, t, i) => sum + (i === index ? 0 : shareOf(t)), 0)
    const room = texts.reduce((sum, t, i) => sum + (shareOf(t) > 0 ? sizes[i] : 0), 0)
    const share = Math.round((px * others * 20) / (room - px)) / 20
    if (others > 0 && room - px > 0 && share > 0) return `${Number(share.toFixed(2))}fr`
  }
  return inUnit(px, parseLength(text)?.unit || 'px')
}
