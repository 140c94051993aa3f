import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import type { Geometry, Place, Track } from '../../agent/protocol'
import { containerHandles, placeHandles } from './container-handles'
import type { PullBy } from './handle'

const geometry = (more: Partial<Geometry>): Geometry => ({
  boxes: [{ a: 1, b: 0, c: 0, d: 1, cx: 200, cy: 100, w: 400, h: 200 }],
  padding: [0, 0, 0, 0],
  border: [0, 0, 0, 0],
  margin: [0, 0, 0, 0],
  gaps: [],
  layout: null,
  place: null,
  edges: null,
  ...more,
})
const pull = (dx: number, dy: number, written: Record<string, string> = {}): PullBy => ({
  dx,
  dy,
  inUnit: (px, unit) => `${px}${unit}`,
  written: (p) => written[p] ?? null,
})

/** Tracks in 400 px with gaps of 10, from the left or, mirrored, from the right. */
function tracksOf(sizes: readonly number[], mirrored: boolean): Track[] {
  let at = 0
  return sizes.map((size) => {
    const track = { at: mirrored ? 400 - at - size : at, size }
    at += size + 10
    return track
  })
}
const grid = fc.record({
  sizes: fc.array(fc.integer({ min: 30, max: 90 }), { minLength: 2, maxLength: 4 }),
  mirrored: fc.boolean(),
})

describe('in a grid, from left to right and from right to left', () => {
  test('a track is as much longer as its end was pulled away from its start', () => {
    fc.assert(
      fc.property(grid, fc.nat(), fc.integer({ min: 1, max: 60 }), ({ sizes, mirrored }, pick, by) => {
        const columns = tracksOf(sizes, mirrored)
        const i = pick % sizes.length
        const handles = containerHandles(
          geometry({
            layout: {
              kind: 'grid',
              columns,
              rows: [],
              mirrored,
              areas: [],
              lines: [],
              free: [],
              content: { x: 0, y: 0, w: 400, h: 200 },
            },
          }),
        )
        const handle = handles.find((h) => h.id === `grid-template-columns ${i + 1}`)!
        expect(handle.x + 200).toBe(mirrored ? columns[i].at : columns[i].at + columns[i].size)
        const out = handle.outcomeOf!(pull(mirrored ? -by : by, 0, { 'grid-template-columns': sizes.map((s) => `${s}px`).join(' ') }))
        expect(out).toMatchObject({
          changes: [['grid-template-columns', sizes.map((s, k) => `${k === i ? s + by : s}px`).join(' ')]],
        })
      }),
    )
  })

  test('a child lands on the tracks that it was pulled over, by its grip and by its end', () => {
    fc.assert(
      fc.property(grid, fc.nat(), fc.nat(), fc.nat(), ({ sizes, mirrored }, a, b, c) => {
        const inParent = tracksOf(sizes, mirrored)
        const [first, span] = [a % sizes.length, 1 + (b % (sizes.length - (a % sizes.length)))]
        const run = (from: number, n: number) => {
          const all = inParent.slice(from, from + n)
          const left = Math.min(...all.map((t) => t.at))
          return { left, w: Math.max(...all.map((t) => t.at + t.size)) - left }
        }
        const own = run(first, span)
        const place: Place = {
          kind: 'grid',
          mirrored,
          items: null,
          columns: inParent.map((t) => ({ at: t.at - own.left, size: t.size })),
          rows: [{ at: 0, size: 200 }],
        }
        const handles = placeHandles(geometry({ place, boxes: [{ a: 1, b: 0, c: 0, d: 1, cx: 0, cy: 0, w: own.w, h: 200 }] }))
        const text = (from: number, n: number) => (n === 1 ? `${from + 1}` : `${from + 1} / span ${n}`)
        const to = c % (sizes.length - span + 1)
        const landed = handles.find((h) => h.id === 'cell')!.outcomeOf!(pull(run(to, span).left - own.left, 0)) as {
          words: string
          target: { x: number; w: number }
        }
        expect(landed.words).toBe(`column ${text(to, span)}, row 1`)
        expect([landed.target.x, landed.target.w]).toEqual([run(to, span).left - own.left, run(to, span).w])
        const last = first + (c % (sizes.length - first))
        const end = (i: number) => (mirrored ? inParent[i].at : inParent[i].at + inParent[i].size)
        const stretched = handles.find((h) => h.id === 'span')!
        expect(stretched.x).toBe(mirrored ? -own.w / 2 : own.w / 2)
        expect(stretched.outcomeOf!(pull(end(last) - end(first + span - 1), 0))).toMatchObject({
          words: `column ${text(first, last - first + 1)}, row 1`,
        })
      }),
    )
  })
})

test('a child of a flex line is pulled into the room that is free on either side, and back', () => {
  const place: Place = { kind: 'flex', axis: 'x', from: 0, to: 60, free: 200, freeBefore: 90 }
  const [handle] = placeHandles(geometry({ place, boxes: [{ a: 1, b: 0, c: 0, d: 1, cx: 0, cy: 0, w: 80, h: 60 }] }))
  const changes = (dx: number, written = {}) => (handle.outcomeOf!(pull(dx, 0, written)) as { changes: unknown }).changes
  expect([changes(150), changes(-60), changes(20), changes(-20)]).toEqual([[['margin-left', 'auto']], [['margin-right', 'auto']], [], []])
  expect([changes(-60, { 'margin-left': 'auto' }), changes(150, { 'margin-right': 'auto' })]).toEqual([
    [['margin-left', '0']],
    [['margin-right', '0']],
  ])
})

test('in a grid that is filled in order, a child is pulled to another place in the order', () => {
  const cells = [
    [0, 0],
    [1, 0],
    [0, 1],
  ]
  const items = cells.map(([column, row], i) => ({ source: `1.${i}`, column, row, own: i === 0 }))
  const place: Place = {
    kind: 'grid',
    mirrored: false,
    items,
    columns: [
      { at: 0, size: 100 },
      { at: 110, size: 100 },
    ],
    rows: [
      { at: 0, size: 80 },
      { at: 90, size: 80 },
    ],
  }
  const handle = (p: Place) =>
    placeHandles(geometry({ place: p, boxes: [{ a: 1, b: 0, c: 0, d: 1, cx: 0, cy: 0, w: 100, h: 80 }] })).find((h) => h.id === 'cell')!
  expect(handle(place).outcomeOf!(pull(105, 0))).toMatchObject({
    changes: [],
    words: 'place 2 of 3',
    move: { source: '1.1', where: 'after' },
  })
  expect(handle(place).outcomeOf!(pull(105, 85))).toMatchObject({
    changes: [],
    words: 'place 3 of 3',
    move: { source: '1.2', where: 'after' },
  })
  expect(handle(place).outcomeOf!(pull(3, 0))).not.toHaveProperty('move')
  // Where an element of the order is in no file, lines say it.
  expect(handle({ ...place, items: items.map((i) => ({ ...i, source: null })) }).outcomeOf!(pull(105, 0))).toMatchObject({
    changes: [
      ['grid-column', '2'],
      ['grid-row', '1'],
    ],
  })
})
