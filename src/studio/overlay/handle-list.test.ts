import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { Geometry, PickReport } from '../../agent/protocol'
import { handlesOf } from './handle-list'

type Sides = readonly [number, number, number, number]
interface Box {
  readonly w: number
  readonly h: number
  readonly padding: Sides
  readonly border: Sides
  readonly margin: Sides
}

const geometry = ({ w, h, ...sides }: Box, more: Partial<Geometry> = {}): Geometry =>
  ({
    boxes: [{ a: 1, b: 0, c: 0, d: 1, cx: 0, cy: 0, w, h }],
    ...sides,
    gaps: [],
    layout: null,
    place: null,
    edges: null,
    ...more,
  }) as Geometry

const report = (computed: Record<string, string> = {}, more: Record<string, unknown> = {}): PickReport =>
  ({
    info: { tag: 'div' },
    computed: { display: 'block', position: 'static', 'box-sizing': 'border-box', ...computed },
    direction: 'ltr',
    facts: { textLines: 0, lineHeight: 0 },
    ...more,
  }) as unknown as PickReport

const SIDES = fc.tuple(fc.nat(20), fc.nat(20), fc.nat(20), fc.nat(20))
const BOX = fc.record({
  w: fc.integer({ min: 10, max: 800 }),
  h: fc.integer({ min: 5, max: 500 }),
  padding: SIDES,
  border: SIDES,
  margin: SIDES,
})
const ROOMY: Box = { w: 400, h: 200, padding: [1, 2, 3, 4], border: [0, 0, 0, 0], margin: [5, 6, 7, 8] }
const of = (handles: ReturnType<typeof handlesOf>, property: string) => handles.find((h) => h.property === property)

test('each side has its own length, and is pulled the way that makes it longer', () => {
  fc.assert(
    fc.property(BOX, (box) => {
      const handles = handlesOf(geometry(box), report())
      const edges = ['top', 'right', 'bottom', 'left']
      for (const h of handles.filter((x) => x.kind === 'padding' || x.kind === 'margin')) {
        const [name, edge] = h.property.split('-')
        const sides = name === 'padding' ? box.padding : box.margin
        expect(h.px).toBe(sides[edges.indexOf(edge)])
        expect(h.axis).toBe(edge === 'left' || edge === 'right' ? 'x' : 'y')
        // A margin grows away from the box, a padding into it.
        const outward = edge === 'right' || edge === 'bottom' ? 1 : -1
        expect(h.sign).toBe(name === 'margin' ? outward : -outward)
        // The other side is the one across.
        expect([h.opposite, h.all]).toEqual([`${name}-${edges[(edges.indexOf(edge) + 2) % 4]}`, name])
      }
      // None of two is named alike, and a small box has none on its text.
      expect(new Set(handles.map((h) => h.id)).size).toBe(handles.length)
      if (box.w < 120 || box.h < 60) for (const h of handles) expect(Math.abs(h.x) > box.w / 2 || Math.abs(h.y) > box.h / 2).toBe(true)
      if (box.w < 30 || box.h < 15) expect(handles).toEqual([])
    }),
  )
})

test('a size is what its property says: with content-box without padding and border', () => {
  fc.assert(
    fc.property(BOX, fc.boolean(), (box, isBorderBox) => {
      const handles = handlesOf(geometry(box), report({ 'box-sizing': isBorderBox ? 'border-box' : 'content-box' }))
      const width = of(handles, 'width')
      if (!width) return
      const extra = isBorderBox ? 0 : box.padding[1] + box.padding[3] + box.border[1] + box.border[3]
      expect(width.px).toBe(box.w - extra)
    }),
  )
  // It grows to the left where lines run from right to left.
  const rtl = of(handlesOf(geometry(ROOMY), report({}, { direction: 'rtl' })), 'width')!
  expect([rtl.sign, Math.sign(rtl.x)]).toEqual([-1, -1])
})

test('what is in lines has no size of its own; what is turned, or in several boxes, has no handles', () => {
  const inline = handlesOf(geometry(ROOMY), report({ display: 'inline' }))
  expect(inline.map((h) => h.property).sort()).toEqual(['margin-left', 'margin-right', 'padding-left', 'padding-right'])
  expect(of(handlesOf(geometry(ROOMY), report({ display: 'inline' }, { info: { tag: 'img' } })), 'width')?.px).toBe(400)
  const [box] = geometry(ROOMY).boxes
  expect(handlesOf(geometry(ROOMY, { boxes: [{ ...box, b: 0.2 }] }), report())).toEqual([])
  expect(handlesOf(geometry(ROOMY, { boxes: [box, box] }), report())).toEqual([])
  expect(handlesOf(geometry(ROOMY, { boxes: [] }), report())).toEqual([])
})

test('an offset is pulled where the element has a position, a gap where there is one on the page', () => {
  const placed = handlesOf(geometry(ROOMY), report({ position: 'absolute', left: '10px', top: 'auto' }))
  expect([of(placed, 'left')?.px, of(placed, 'top')]).toEqual([10, undefined])
  expect(of(handlesOf(geometry(ROOMY), report({ left: '10px' })), 'left')).toBeUndefined()
  const gaps = [{ x: 100, y: 0, w: 24, h: 200 }]
  const gap = of(handlesOf(geometry(ROOMY, { gaps }), report({ 'column-gap': '24px', 'row-gap': 'normal' })), 'column-gap')
  expect([gap?.px, gap?.axis, gap?.x]).toEqual([24, 'x', 112 - 200])
  // What stands between for another reason is no gap.
  expect(of(handlesOf(geometry(ROOMY, { gaps }), report({ 'column-gap': '8px' })), 'column-gap')).toBeUndefined()
})

test('a radius that is pulled level is one length; pulled down too, it has two, in the unit of the source', () => {
  const handle = of(handlesOf(geometry(ROOMY), report({ 'border-top-left-radius': '16px' })), 'border-radius')!
  expect(handle.px).toBe(16)
  const pull = (dx: number, dy: number, written: string | null) =>
    handle.outcomeOf!({ dx, dy, inUnit: (px, unit) => (unit === 'rem' ? `${px / 16}rem` : `${px}${unit}`), written: () => written })
  expect(pull(8, 3, '16px')).toBe('length')
  expect(pull(8, 16, '16px')).toMatchObject({ changes: [['border-radius', '24px / 32px']] })
  expect(pull(16, 16, '1rem / 2rem')).toMatchObject({ changes: [['border-radius', '2rem / 2rem']] })
  expect(pull(-40, 16, null)).toMatchObject({ changes: [['border-radius', '0px / 32px']] })
})
