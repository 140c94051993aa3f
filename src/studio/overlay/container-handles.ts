import type { Geometry, GridItem, Place, Rect, Track } from '../../agent/protocol'
import { tracks } from '../../core/value'
import type { Change } from '../session/intents'
import type { Handle, Outcome, PullBy } from './handle'

/** Tracks narrower than this on screen leave no room for a handle between them; px of the page. */
const ROOM = 14

/** Where a track ends, in the direction in which tracks follow one another. */
const endOf = ({ at, size }: Track, mirrored = false): number => (mirrored ? at : at + size)

/** The ends of a grid's tracks, each to be pulled. */
export function containerHandles({ layout, boxes: [box] }: Geometry): Handle[] {
  if (layout?.kind !== 'grid' || !box) return []
  return (['x', 'y'] as const).flatMap((axis) => {
    const list = axis === 'x' ? layout.columns : layout.rows
    const property = axis === 'x' ? 'grid-template-columns' : 'grid-template-rows'
    const sign = axis === 'x' && layout.mirrored ? -1 : 1
    return list.flatMap((track, i): Handle[] =>
      track.size < ROOM
        ? []
        : [
            {
              id: `${property} ${i + 1}`,
              property,
              axis,
              sign,
              kind: 'track',
              px: track.size,
              edges: [],
              opposite: null,
              all: null,
              x: axis === 'x' ? endOf(track, layout.mirrored) - box.w / 2 : layout.content.x - box.w / 2,
              y: axis === 'x' ? layout.content.y - box.h / 2 : endOf(track) - box.h / 2,
              outcomeOf: ({ dx, dy, inUnit, written }) => {
                const text = written(property)
                const px = Math.max(0, Math.round(track.size + sign * (axis === 'x' ? dx : dy)))
                const next =
                  text &&
                  tracks.resize(
                    text,
                    i,
                    px,
                    list.map((t) => t.size),
                    inUnit,
                  )
                return next
                  ? {
                      changes: [[property, next]],
                      words: `${axis === 'x' ? 'column' : 'row'} ${i + 1}: ${px}px, ${property} ${next}`,
                      target: null,
                    }
                  : null
              },
            },
          ],
    )
  })
}

const rectOf = (from: Track, to: Track): [number, number] => [Math.min(from.at, to.at), Math.max(from.at + from.size, to.at + to.size)]

/** The run of `span` tracks whose start, or end with `by: 'end'`, is nearest to a place. 0-based. */
function nearest(list: readonly Track[], span: number, place: number): number {
  let best = 0
  for (let i = 0; i + span <= list.length; i++) {
    const [from] = rectOf(list[i], list[i + span - 1])
    const [known] = rectOf(list[best], list[best + span - 1])
    if (Math.abs(from - place) < Math.abs(known - place)) best = i
  }
  return best
}

/** Tracks in a row. 0-based. */
interface Run {
  readonly first: number
  readonly span: number
}

/** The tracks that a stretch covers by more than half of the smaller of both. */
function covered(list: readonly Track[], from: number, to: number): Run {
  const hit = list.flatMap((t, i) => (Math.min(to, t.at + t.size) - Math.max(from, t.at) > Math.min(t.size, to - from) / 2 ? [i] : []))
  return hit.length
    ? { first: Math.min(...hit), span: Math.max(...hit) - Math.min(...hit) + 1 }
    : { first: nearest(list, 1, from), span: 1 }
}

const lineText = (first: number, span: number): string => (span === 1 ? String(first + 1) : `${first + 1} / span ${span}`)

/** Handles that place a child in what its parent lays out: into another cell, over more cells, or across its line. */
export function placeHandles({ place, boxes: [box] }: Geometry): Handle[] {
  if (!place || !box) return []
  const common = { axis: 'both', sign: 1, px: 0, edges: [], opposite: null, all: null } as const
  const grip = { x: -box.w / 2 + Math.min(26, box.w / 4), y: -box.h / 2 }
  if (place.kind === 'flex')
    return [
      {
        ...common,
        ...grip,
        id: 'place',
        property: 'align-self',
        kind: 'cell',
        outcomeOf: (by) => inLine(place, box, by),
      },
    ]
  const now = { columns: covered(place.columns, 0, box.w), rows: covered(place.rows, 0, box.h) }
  const outcome = (columns: Run, rows: Run, { written }: PullBy): Outcome => {
    const changes: Change[] = []
    const same = (a: Run, b: Run) => a.first === b.first && a.span === b.span
    const isSet = (property: string) => !/^(auto|auto \/ auto)?$/.test(written(property) ?? '')
    const isMoved = !same(columns, now.columns) || !same(rows, now.rows)
    // Where only one line is said, the engine may put it on another row than the one it was seen on.
    if (isMoved && (!same(columns, now.columns) || !isSet('grid-column')))
      changes.push(['grid-column', lineText(columns.first, columns.span)])
    if (isMoved && (!same(rows, now.rows) || !isSet('grid-row'))) changes.push(['grid-row', lineText(rows.first, rows.span)])
    const [x, right] = rectOf(place.columns[columns.first], place.columns[columns.first + columns.span - 1])
    const [y, bottom] = rectOf(place.rows[rows.first], place.rows[rows.first + rows.span - 1])
    return {
      changes,
      words: `column ${lineText(columns.first, columns.span)}, row ${lineText(rows.first, rows.span)}`,
      target: { x, y, w: right - x, h: bottom - y },
    }
  }
  return [
    {
      ...common,
      ...grip,
      id: 'cell',
      property: 'grid-column',
      kind: 'cell',
      outcomeOf: (by) => {
        const [columns, rows] = [moved(place.columns, now.columns, by.dx), moved(place.rows, now.rows, by.dy)]
        return (place.items && inOrder(place, place.items, columns.first, rows.first)) ?? outcome(columns, rows, by)
      },
    },
    {
      ...common,
      x: place.mirrored ? -box.w / 2 : box.w / 2,
      y: box.h / 2,
      id: 'span',
      property: 'grid-column',
      kind: 'span',
      outcomeOf: (by) => outcome(spanned(place.columns, now.columns, by.dx, place.mirrored), spanned(place.rows, now.rows, by.dy), by),
    },
  ]
}

/** To the cell of a sibling, or behind the last of them, by another place in the order; null where a part of that is in no file. */
function inOrder(place: Extract<Place, { kind: 'grid' }>, items: readonly GridItem[], column: number, row: number): Outcome | null {
  const own = items.findIndex((i) => i.own)
  const at = items.findIndex((i) => i.column === column && i.row === row)
  const to = at < 0 ? items.length - 1 : at
  const { source } = items[to]
  if (source === null || own < 0) return null
  const [x, right] = rectOf(place.columns[column], place.columns[column])
  const [y, bottom] = rectOf(place.rows[row], place.rows[row])
  return {
    changes: [],
    words: `place ${to + 1} of ${items.length}`,
    target: { x, y, w: right - x, h: bottom - y },
    ...(to !== own && { move: { source, where: to < own ? 'before' : 'after' } }),
  }
}

/** As many tracks, those nearest to where it was pulled. */
const moved = (list: readonly Track[], { first, span }: Run, by: number): Run => ({
  first: nearest(list, span, rectOf(list[first], list[first + span - 1])[0] + by),
  span,
})

/** From where it starts to the track whose end is nearest to where its own end was pulled. */
function spanned(list: readonly Track[], { first, span }: Run, by: number, mirrored = false): Run {
  const end = endOf(list[first + span - 1], mirrored) + by
  let last = first
  for (let i = first; i < list.length; i++)
    if (Math.abs(endOf(list[i], mirrored) - end) < Math.abs(endOf(list[last], mirrored) - end)) last = i
  return { first, span: last - first + 1 }
}

// Across its line by alignment; along it, into the free room at either end by an automatic margin (CSS Flexbox 1 §8.1, §8.3).
function inLine(place: Extract<Place, { kind: 'flex' }>, box: { w: number; h: number }, { dx, dy, written }: PullBy): Outcome {
  const [along, across] = place.axis === 'x' ? [dx, dy] : [dy, dx]
  const size = place.axis === 'x' ? box.h : box.w
  const room = place.to - place.from
  const middle = (size / 2 + across - place.from) / Math.max(1, room)
  const changes: Change[] = []
  const align = middle < 1 / 3 ? 'start' : middle > 2 / 3 ? 'end' : 'center'
  const spots = { start: place.from, center: (place.from + place.to - size) / 2, end: place.to - size }
  if (room - size > 4 && Math.abs(across) > 4) changes.push(['align-self', align])
  // The margin behind what is pulled takes the free room; pulled back from where one did, it lets go of it.
  const [before, after] = place.axis === 'x' ? ['margin-left', 'margin-right'] : ['margin-top', 'margin-bottom']
  const held = [
    [before, -1],
    [after, 1],
  ] as const
  const back = held.find(([margin, way]) => written(margin) === 'auto' && along * way > 10)
  const onward = !back && place.free > 4 && along > place.free / 3
  const backward = !back && place.freeBefore > 4 && -along > place.freeBefore / 3
  if (back) changes.push([back[0], '0'])
  else if (onward) changes.push([before, 'auto'])
  else if (backward) changes.push([after, 'auto'])
  const shift = onward ? place.free : backward ? -place.freeBefore : 0
  const at = changes.some(([p]) => p === 'align-self') ? spots[align] : 0
  const target: Rect = place.axis === 'x' ? { x: shift, y: at, w: box.w, h: box.h } : { x: at, y: shift, w: box.w, h: box.h }
  const words = changes.map(([p, v]) => `${p} ${v}`).join(', ')
  return { changes, words: words || 'as it is', target: changes.length ? target : null }
}
