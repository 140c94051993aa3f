import fc from 'fast-check'
import { expect, test } from 'vitest'
import { saidApart } from './said-apart'

const NONE: ReadonlyMap<string, string> = new Map()
const apart = (property: string, value: string, there = NONE) =>
  saidApart({ property, value }, there)?.map((w) => `${w.property}: ${w.value}`) ?? null

/** Six numbers, as `matrix()` has them (CSS Transforms 1 §6). */
type Matrix = readonly [number, number, number, number, number, number]
const multiply = ([a, b, c, d, e, f]: Matrix, [g, h, i, j, k, l]: Matrix): Matrix => [
  a * g + c * h,
  b * g + d * h,
  a * i + c * j,
  b * i + d * j,
  a * k + c * l + e,
  b * k + d * l + f,
]
const move = (x: number, y: number): Matrix => [1, 0, 0, 1, x, y]
const grow = (x: number, y: number): Matrix => [x, 0, 0, y, 0, 0]
const turn = (deg: number): Matrix => {
  const [cos, sin] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)]
  return [cos, sin, -sin, cos, 0, 0]
}
const all = (list: readonly Matrix[]): Matrix => list.reduce(multiply, move(0, 0))

/** A function of a transform with what it does, made without what is tested. */
const FUNCTION: fc.Arbitrary<readonly [string, Matrix]> = fc
  .tuple(fc.nat(6), fc.integer({ min: -40, max: 40 }), fc.integer({ min: -40, max: 40 }))
  .map(([kind, x, y]) => {
    const list: readonly (readonly [string, Matrix])[] = [
      [`translate(${x}px, ${y}px)`, move(x, y)],
      [`translateX(${x}px)`, move(x, 0)],
      [`translateY(${y}px)`, move(0, y)],
      [`rotate(${x}deg)`, turn(x)],
      [`scale(${x / 10})`, grow(x / 10, x / 10)],
      [`scale(${x / 10}, ${y / 10})`, grow(x / 10, y / 10)],
      [`scaleY(${y / 10})`, grow(1, y / 10)],
    ]
    return list[kind]
  })

/** What the single properties do, in the order in which they apply (CSS Transforms 2 §6). */
function ofProperties(wishes: ReadonlyMap<string, string>): Matrix {
  const numbers = (property: string) =>
    wishes
      .get(property)
      ?.split(' ')
      .map((n) => Number.parseFloat(n))
  const [translate, rotate, scale] = ['translate', 'rotate', 'scale'].map(numbers)
  return all([
    ...(translate ? [move(translate[0], translate[1] ?? 0)] : []),
    ...(rotate ? [turn(rotate[0])] : []),
    ...(scale ? [grow(scale[0], scale[1] ?? scale[0])] : []),
  ])
}
const close = (matrix: Matrix) => matrix.map((n) => Math.round(n * 1e6) / 1e6 + 0)

test('a transform that is said by its single properties does the same as before', () => {
  let said = 0
  fc.assert(
    fc.property(fc.array(FUNCTION, { minLength: 1, maxLength: 3 }), (functions) => {
      const wishes = saidApart({ property: 'transform', value: functions.map(([text]) => text).join(' ') }, NONE)
      if (!wishes) return
      said++
      const map = new Map(wishes.map((w) => [w.property, w.value!]))
      expect(map.size).toBe(wishes.length)
      expect(close(ofProperties(map))).toEqual(close(all(functions.map(([, matrix]) => matrix))))
    }),
    { numRuns: 1000 },
  )
  expect(said).toBeGreaterThan(300)
})

test('with properties that are there already, what comes keeps them and does what it says beside them', () => {
  let said = 0
  const there = fc.oneof(
    fc.integer({ min: -9, max: 9 }).map((x) => new Map([['translate', `${x}px 0`]])),
    fc.integer({ min: -9, max: 9 }).map((x) => new Map([['rotate', `${x}deg`]])),
    fc.integer({ min: 1, max: 9 }).map((x) => new Map([['scale', `${x / 10}`]])),
    fc.integer({ min: 1, max: 9 }).map((x) => new Map([['scale', `${x / 10} 2`]])),
  )
  fc.assert(
    fc.property(there, FUNCTION, (has, [text, matrix]) => {
      const wishes = saidApart({ property: 'transform', value: text }, has)
      if (!wishes) return
      said++
      // The properties apply before `transform` itself, so the function came after them.
      const before = multiply(ofProperties(has), matrix)
      expect(close(ofProperties(new Map([...has, ...wishes.map((w): [string, string] => [w.property, w.value!])])))).toEqual(close(before))
    }),
    { numRuns: 600 },
  )
  expect(said).toBeGreaterThan(60)
})

test.each([
  ['scale(2) translate(1px)', NONE],
  ['rotate(3deg) rotate(4deg)', NONE],
  ['skewX(3deg)', NONE],
  ['translate3d(1px, 2px, 3px)', NONE],
  ['none', NONE],
  ['rotate(3deg)', new Map([['transform', 'skewX(2deg)']])],
  // A turn and an uneven scale are not the same in either order.
  ['rotate(3deg)', new Map([['scale', '2 1']])],
])('%s is not said apart beside %s', (value, there) => {
  expect(apart('transform', value, there)).toBeNull()
})

test('a transition is said by what is written of it', () => {
  expect(apart('transition', 'color 200ms ease-in 1s')).toEqual([
    'transition-property: color',
    'transition-duration: 200ms',
    'transition-timing-function: ease-in',
    'transition-delay: 1s',
  ])
  expect(apart('transition', 'opacity 0.3s')).toEqual(['transition-property: opacity', 'transition-duration: 0.3s'])
  expect(apart('transition', 'none')).toEqual(['transition-property: none'])
  expect(apart('transition', 'color 1s, top 2s')).toBeNull()
  expect(apart('transition', 'display 1s allow-discrete')).toBeNull()
  expect([apart('color', 'red'), saidApart({ property: 'transform', value: null }, NONE)]).toEqual([null, null])
})
