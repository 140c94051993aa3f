import { overlap, type Cells, type Region, type RegionTag } from '../../core/edit'
import { parseLength } from '../../core/value'
import type { Drawing } from '../store'

/** One line of the drawing: where a track starts and how far it goes; px from the corner of what is drawn on. */
export interface DrawnTrack {
  readonly at: number
  readonly size: number
}

const ROOT_FONT = 16

const px = (text: string): number | null => {
  const length = parseLength(text)
  return length === null
    ? null
    : length.unit === 'px' || length.number === 0
      ? length.number
      : /^r?em$/.test(length.unit)
        ? length.number * ROOT_FONT
        : null
}

/** Sizes as they are typed, one by one: spaces within functions do not part them. */
export const sizesIn = (text: string): string[] => text.match(/(?:[^\s(]|\((?:[^()]|\([^()]*\))*\))+/g) ?? []

/** Where columns of these sizes stand in `room` px; what is neither a length nor a share counts as one share. */
export function tracksIn(sizes: readonly string[], gap: string, room: number): DrawnTrack[] {
  const between = px(gap) ?? 0
  const free = Math.max(0, room - between * (sizes.length - 1))
  const fixed = sizes.map((s) => (s.endsWith('%') ? (Number.parseFloat(s) / 100) * room : px(s)))
  const share = (s: string) => Number(/([\d.]+)fr\)?$/.exec(s)?.[1] ?? 1)
  const shares = sizes.reduce((n, s, i) => n + (fixed[i] === null ? share(s) : 0), 0)
  const left = Math.max(0, free - fixed.reduce<number>((n, f) => n + (f ?? 0), 0))
  let at = 0
  return sizes.map((s, i) => {
    const track = { at, size: fixed[i] ?? (left * share(s)) / (shares || 1) }
    at += track.size + between
    return track
  })
}

/** The cell that a point is in or nearest to, 1-based. */
export const cellAt = (tracks: readonly DrawnTrack[], at: number): number => Math.max(1, tracks.findLastIndex((t) => at >= t.at) + 1)

/** The cells between two corners, whichever way they were drawn. */
export const cellsBetween = (a: { column: number; row: number }, b: { column: number; row: number }): Cells => ({
  column: Math.min(a.column, b.column),
  columnEnd: Math.max(a.column, b.column) + 1,
  row: Math.min(a.row, b.row),
  rowEnd: Math.max(a.row, b.row) + 1,
})

const NAMES: Readonly<Record<RegionTag, string>> = {
  header: 'Header',
  nav: 'Navigation',
  main: 'Main',
  aside: 'Aside',
  footer: 'Footer',
  section: 'Section',
  div: 'Region',
}

/** What a region that was just drawn most likely is, by where it stands. */
export function guessRegion(cells: Cells, drawing: Drawing): Region {
  const used = (tag: RegionTag) => drawing.regions.some((r) => r.tag === tag)
  const across = cells.columnEnd - cells.column
  const isWhole = across === drawing.columns.length
  const tag: RegionTag =
    isWhole && cells.row === 1 && !used('header')
      ? 'header'
      : isWhole && cells.rowEnd === drawing.rows + 1 && !used('footer') && drawing.regions.length > 0
        ? 'footer'
        : isWhole && cells.rowEnd - cells.row === 1 && cells.row === 2 && !used('nav')
          ? 'nav'
          : across * 2 >= drawing.columns.length && !used('main') && !drawing.hasMain
            ? 'main'
            : across * 2 < drawing.columns.length && !used('aside')
              ? 'aside'
              : 'section'
  const taken = drawing.regions.map((r) => r.name)
  let name = NAMES[tag]
  for (let n = 2; taken.includes(name); n++) name = `${NAMES[tag]} ${n}`
  return { ...cells, name, tag, source: null }
}

/** Whether cells are within the lines and no region but `own` has one of them. */
export const isFree = (cells: Cells, drawing: Drawing, own = -1): boolean =>
  cells.column >= 1 &&
  cells.row >= 1 &&
  cells.columnEnd <= drawing.columns.length + 1 &&
  cells.rowEnd <= drawing.rows + 1 &&
  !drawing.regions.some((r, i) => i !== own && overlap(r, cells))

/** The first free cell, for a region that is added without drawing; null when there is none. */
export function freeCell(drawing: Drawing): Cells | null {
  for (let row = 1; row <= drawing.rows; row++) {
    for (let column = 1; column <= drawing.columns.length; column++) {
      const cell = { column, columnEnd: column + 1, row, rowEnd: row + 1 }
      if (isFree(cell, drawing)) return cell
    }
  }
  return null
}
