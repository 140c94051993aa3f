import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Region } from '../../core/edit'
import type { Drawing } from '../store'
import { cellAt, cellsBetween, freeCell, guessRegion, isFree, sizesIn, tracksIn } from './drawing'

const SIZE = fc.constantFrom('1fr', '2fr', '0.5fr', '100px', '6rem', '10%', 'auto', 'minmax(0, 1fr)', '0')

test('tracks stand one behind the other with the gap between, and shares fill what is left', () => {
  fc.assert(
    fc.property(fc.array(SIZE, { minLength: 1, maxLength: 6 }), fc.constantFrom('0', '10px', '1rem', 'nonsense'), (sizes, gap) => {
      const room = 2000
      const tracks = tracksIn(sizes, gap, room)
      const between = gap === '10px' ? 10 : gap === '1rem' ? 16 : 0
      for (const [i, t] of tracks.entries()) {
        expect(t.size).toBeGreaterThanOrEqual(0)
        expect(t.at).toBeCloseTo(i === 0 ? 0 : tracks[i - 1].at + tracks[i - 1].size + between, 6)
        // Within a track and in the gap behind it, a point is of that track.
        if (t.size > 0) expect(cellAt(tracks, t.at + t.size / 2)).toBe(i + 1)
      }
      const last = tracks.at(-1)!
      if (sizes.some((s) => /fr|auto/.test(s))) expect(last.at + last.size).toBeCloseTo(room, 6)
      expect(cellAt(tracks, -50)).toBe(1)
    }),
  )
  expect(tracksIn(['1fr', '3fr', '100px'], '0', 500).map((t) => t.size)).toEqual([100, 300, 100])
  expect(sizesIn(' 1fr  minmax(10px, calc(1px + 2fr)) auto ')).toEqual(['1fr', 'minmax(10px, calc(1px + 2fr))', 'auto'])
})

const drawing = (regions: readonly Region[], more: Partial<Drawing> = {}): Drawing =>
  ({ columns: ['1fr', '1fr', '1fr', '1fr'], rows: 3, regions, hasMain: false, ...more }) as Drawing

const CORNER = fc.record({ column: fc.integer({ min: 1, max: 4 }), row: fc.integer({ min: 1, max: 3 }) })

test('regions that are drawn one after another share no cell, each has a name of its own, and landmarks stand once', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(CORNER, CORNER), { maxLength: 8 }), fc.boolean(), (drawn, hasMain) => {
      let now = drawing([], { hasMain })
      for (const [a, b] of drawn) {
        const cells = cellsBetween(a, b)
        expect(cellsBetween(b, a)).toEqual(cells)
        if (isFree(cells, now)) now = { ...now, regions: [...now.regions, guessRegion(cells, now)] }
      }
      const taken = now.regions.flatMap((r) =>
        Array.from({ length: r.rowEnd - r.row }, (_, y) =>
          Array.from({ length: r.columnEnd - r.column }, (__, x) => `${r.row + y} ${r.column + x}`),
        ).flat(),
      )
      expect(new Set(taken).size).toBe(taken.length)
      expect(new Set(now.regions.map((r) => r.name)).size).toBe(now.regions.length)
      for (const tag of ['header', 'footer', 'nav', 'main', 'aside'])
        expect(now.regions.filter((r) => r.tag === tag).length).toBeLessThanOrEqual(tag === 'main' && hasMain ? 0 : 1)
      // A region by keys goes to the first cell that nothing has.
      const free = freeCell(now)
      expect(free === null).toBe(taken.length === 12)
      if (free) expect(taken).not.toContain(`${free.row} ${free.column}`)
    }),
  )
})

test('what is drawn is called by where it stands', () => {
  const whole = (row: number) => ({ column: 1, columnEnd: 5, row, rowEnd: row + 1 })
  const header = guessRegion(whole(1), drawing([]))
  const footer = guessRegion(whole(3), drawing([header]))
  expect([header.tag, footer.tag]).toEqual(['header', 'footer'])
  const nav = guessRegion(whole(2), drawing([header]))
  expect(nav.tag).toBe('nav')
  expect(guessRegion({ column: 2, columnEnd: 5, row: 2, rowEnd: 3 }, drawing([header])).tag).toBe('main')
  expect(guessRegion({ column: 1, columnEnd: 2, row: 2, rowEnd: 3 }, drawing([header])).tag).toBe('aside')
  // One that the page has already is not made twice.
  expect(guessRegion({ column: 2, columnEnd: 5, row: 2, rowEnd: 3 }, drawing([header], { hasMain: true })).tag).not.toBe('main')
  expect(isFree({ column: 0, columnEnd: 2, row: 1, rowEnd: 2 }, drawing([]))).toBe(false)
  expect(isFree({ column: 4, columnEnd: 6, row: 1, rowEnd: 2 }, drawing([]))).toBe(false)
  // A region may stay where it is while it is changed.
  expect(isFree(whole(1), drawing([header]), 0)).toBe(true)
})
