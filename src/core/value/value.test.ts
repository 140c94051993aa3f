import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import {
  isAddressOf,
  pictureInScript,
  contrast,
  switched,
  nearestPassing,
  convert,
  evaluateLength,
  family,
  formatColor,
  formatLength,
  functions,
  gradient,
  notationOf,
  parseColor,
  parseLength,
  shadow,
  tracks,
  transition,
  type Length,
  type UnitContext,
} from '.'

const context: UnitContext = {
  fontSize: 20,
  rootFontSize: 16,
  viewportWidth: 1000,
  viewportHeight: 500,
  percent: 200,
  ch: 9,
  lineHeight: 30,
  rootLineHeight: 24,
  container: { width: 640, height: 300 },
}

describe('lengths', () => {
  test.each<[string, string, string | null]>([
    ['125+10+10', '0', '145px'],
    ['*1.5', '8px', '12px'],
    ['+4', '1rem', '5rem'],
    ['50% - 2rem', '0', 'calc(50% - 2rem)'],
    ['2rem * 1.5', '0', '3rem'],
    ['(2 + 3) * 4', '0', '20px'],
    ['-3', '5px', '-3px'],
    ['10/4', '0', '2.5px'],
    ['1/0', '0', null],
    ['auto', '0', null],
    ['2px * 3px', '0', null],
    ['1.005rem', '0', '1.005rem'],
    ['0', '4px', '0'],
    ['1px 2em', '8px', null],
    ['0.5rem 33px 7px 1rem', '0', null],
    ['(1px + 2em', '0', null],
    ['2 * (1rem + 1px)', '0', 'calc(2 * (1rem + 1px))'],
  ])('%s on %s', (typed, now, out) => expect(evaluateLength(typed, parseLength(now))).toBe(out))

  test.each(['px', 'rem', 'em', '%', 'vw', 'vh', 'pt', 'cm', 'ch', 'lh', 'rlh', 'cqw', 'cqh', 'cqmin'])(
    'px to %s and back keeps the rendered size',
    (unit) => {
      fc.assert(
        fc.property(fc.double({ min: -500, max: 500, noNaN: true }), (number) => {
          const there = convert({ number, unit: 'px' }, unit, context) as Length
          expect(convert(there, 'px', context)!.number).toBeCloseTo(number, 6)
        }),
      )
    },
  )

  test('sums and products as they are typed come to what they come to by hand, whatever the brackets and spaces', () => {
    type Sum = { readonly text: string; readonly px: number }
    const { sum } = fc.letrec<{ sum: Sum }>((tie) => ({
      sum: fc.oneof(
        { maxDepth: 4 },
        fc.integer({ min: 1, max: 40 }).map((n): Sum => ({ text: `${n}px`, px: n })),
        fc.tuple(tie('sum'), tie('sum'), fc.constantFrom(' + ', ' - ')).map(([a, b, op]): Sum => ({
          text: `(${a.text}${op}${b.text})`,
          px: op === ' + ' ? a.px + b.px : a.px - b.px,
        })),
        fc
          .tuple(tie('sum'), fc.integer({ min: 2, max: 9 }), fc.constantFrom('*', ' * ', '/', ' / '))
          .map(([a, n, op]): Sum => ({ text: `${a.text}${op}${n}`, px: op.includes('*') ? a.px * n : a.px / n })),
        fc.tuple(fc.integer({ min: 2, max: 9 }), tie('sum')).map(([n, a]): Sum => ({ text: `${n} * ${a.text}`, px: a.px * n })),
      ),
    }))
    fc.assert(
      fc.property(sum, ({ text, px }) => {
        const out = evaluateLength(text, null)
        expect(out, text).not.toBeNull()
        expect(Math.abs(parseLength(out!)!.number - px), `${text} came to ${out}`).toBeLessThanOrEqual(0.005001) // px are written to two places
      }),
    )
  })

  test('written as the file does', () => {
    expect(formatLength({ number: 0.5, unit: 'rem' }, { leadingZero: false })).toBe('.5rem')
    expect(formatLength({ number: -0.25, unit: 'em' }, { leadingZero: false })).toBe('-.25em')
    expect([formatLength({ number: 0, unit: 'px' }), formatLength({ number: 0, unit: '%' })]).toEqual(['0', '0%'])
  })
})

describe('colours keep the notation of the source', () => {
  test.each([
    ['#0c6b74', '#0c6b74'],
    ['#FFF', '#FFF'],
    ['rgb(1 2 3)', 'rgb(1 2 3)'],
    ['rgb(20 50 63 / 12%)', 'rgb(20 50 63 / 12%)'],
    ['hsl(200 50% 40%)', 'hsl(200 50% 40%)'],
    ['oklch(60% 0.1 200)', 'oklch(60% 0.1 200)'],
    ['#ffffff', '#ffffff'],
    ['rgba(1, 2, 3, 0.5)', 'rgba(1, 2, 3, 0.5)'],
    ['hwb(200deg 20% 30%)', 'hwb(200deg 20% 30%)'],
    ['lab(50% 20 -30 / 0.5)', 'lab(50% 20 -30 / 0.5)'],
    ['lch(50% 30 120)', 'lch(50% 30 120)'],
    ['oklab(60% 0.1 -0.1)', 'oklab(60% 0.1 -0.1)'],
    ['color(display-p3 0.2 0.5 0.8)', 'color(display-p3 0.2 0.5 0.8)'],
    ['hsla(200, 50%, 40%, 0.25)', 'hsla(200, 50%, 40%, 0.25)'],
  ])('%s', (text, out) => {
    expect(formatColor(parseColor(text)!, notationOf(text))).toBe(out)
  })
  test('contrast as WCAG counts it', () => expect(contrast(parseColor('#000')!, parseColor('#fff')!)).toBeCloseTo(21, 5))

  test('the nearest passing colour passes, and one that passes is kept', () => {
    const ground = parseColor('#f4f1ea')!
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0xffffff }), (n) => {
        const color = parseColor(`#${n.toString(16).padStart(6, '0')}`)!
        const found = nearestPassing(color, ground, 4.5)!
        expect(contrast(parseColor(formatColor(found, notationOf('#123')))!, ground)).toBeGreaterThanOrEqual(4.5)
      }),
      { numRuns: 60, seed: 2 },
    )
  })
})

describe('values are printed as they were read', () => {
  const same: [string, { parse(t: string): unknown; format(v: never): string }, string[]][] = [
    [
      'shadows',
      shadow,
      ['none', '0 1px 2px red', 'inset 0 0 0 1px rgb(0 0 0 / 20%), 2px 2px', 'red 1px 2px 3px 4px', '0 0 calc(1px + 2px) var(--c)'],
    ],
    ['functions', functions, ['none', 'blur(2px) drop-shadow(0 1px 2px red)', 'rotate(3deg) scale(1.1, 2)']],
    [
      'gradients',
      gradient,
      [
        'linear-gradient(red, blue)',
        'linear-gradient(to right, red 0%, 30%, blue 50% 60%)',
        'radial-gradient(circle at 50% 50%, rgb(1 2 3), transparent)',
        'repeating-conic-gradient(from 20deg, red, blue)',
      ],
    ],
    ['tracks', tracks, ['none', '1fr 2fr', '[a b] 10px [c] minmax(10px, 1fr) repeat(auto-fill, minmax(8rem, 1fr))']],
    ['transitions', transition, ['all 1s', 'color .2s ease, top 1s linear 2s', 'opacity 0s cubic-bezier(0, 1, .5, 1) 1s allow-discrete']],
    ['families', family, ['serif', '"A B", Inter, sans-serif', "'C', Georgia"]],
  ]
  test.each(same.flatMap(([what, codec, list]) => list.map((text) => [what, text, codec] as const)))('%s: %s', (_, text, codec) => {
    const value = codec.parse(text)
    expect(value).not.toBeNull()
    expect(codec.format(value as never)).toBe(text)
  })

  test('what cannot be read is null', () => {
    expect([
      shadow.parse('1px'),
      functions.parse('blur(2px) red'),
      gradient.parse('url(a)'),
      tracks.parse('subgrid'),
      transition.parse('a b 1s'),
      tracks.parseAreas('"a b" "c"'),
    ]).toEqual([null, null, null, null, null, null])
    expect(tracks.formatAreas(tracks.parseAreas('"a b" "c d"')!)).toBe('"a b" "c d"')
  })
})

describe('tracks are resized in their own unit', () => {
  const inUnit = (px: number, unit: string) =>
    formatLength(convert({ number: px, unit: 'px' }, unit, context) ?? { number: px, unit: 'px' })
  test.each<[string, number, number, number[], string | null]>([
    ['1fr 1fr', 0, 300, [200, 200], '3fr 1fr'],
    ['200px 1fr', 0, 240, [200, 400], '240px 1fr'],
    ['10rem 1fr', 0, 240, [160, 400], '15rem 1fr'],
    ['1fr', 0, 240, [400], '240px'],
    ['repeat(3, 1fr)', 1, 200, [100, 100, 100], '1fr 4fr 1fr'],
    ['repeat(auto-fill, 80px)', 0, 100, [80, 80], null],
    ['[a] auto [b] 1fr [c]', 0, 120, [90, 300], '[a] 120px [b] 1fr [c]'],
    ['minmax(100px, 1fr) 1fr', 0, 300, [200, 200], 'minmax(100px, 3fr) 1fr'],
    ['minmax(100px, 200px) 1fr', 0, 150, [200, 200], 'minmax(100px, 150px) 1fr'],
    ['1fr', 1, 50, [100, 50], null],
  ])('%s, track %i to %i px', (text, index, px, sizes, out) => expect(tracks.resize(text, index, px, sizes, inUnit)).toBe(out))
})

describe('gradients on their box', () => {
  const box = { w: 200, h: 100 }
  const read = (text: string) => gradient.parse(text)!
  test('angles, centres and rays are those of the specification', () => {
    expect(
      ['to right', 'to top', '45deg', '0.5turn', ''].map((line) => gradient.angleOf({ ...read('linear-gradient(red, blue)'), line }, box)),
    ).toEqual([90, 0, 45, 180, 180])
    expect(gradient.angleOf(read('linear-gradient(to top right, red, blue)'), box)).toBeCloseTo(26.565, 2)
    expect(gradient.lineLength(90, box)).toBeCloseTo(200)
    expect(gradient.centreOf(read('radial-gradient(circle at top 20px left 10%, red, blue)'), box)).toEqual({
      x: 20,
      y: 20,
    })
    expect(gradient.centreOf(read('radial-gradient(circle at 25% bottom, red, blue)'), box)).toEqual({ x: 50, y: 100 })
    expect([
      gradient.rayLength(read('radial-gradient(circle closest-side, red, blue)'), box),
      gradient.rayLength(read('radial-gradient(30px, red, blue)'), box),
    ]).toEqual([50, 30])
    expect(gradient.rayLength(read('radial-gradient(red, blue)'), box)).toBeCloseTo(141.42, 1)
  })
  test('stops without a position are spread, and none stands before the one ahead of it', () => {
    expect(gradient.stopShares(read('linear-gradient(red, lime, blue)'), 200)).toEqual([0, 0.5, 1])
    expect(gradient.stopShares(read('linear-gradient(red 50px, lime 10%, blue)'), 200)).toEqual([0.25, 0.25, 1])
  })
  test('turned, moved and re-centred, all else stays as written', () => {
    expect(gradient.format(gradient.withAngle(read('linear-gradient(to right in oklch, red, blue)'), 45))).toBe(
      'linear-gradient(45deg in oklch, red, blue)',
    )
    expect(gradient.format(gradient.withAngle(read('conic-gradient(at 10% 20%, red, blue)'), -90))).toBe(
      'conic-gradient(from 270deg at 10% 20%, red, blue)',
    )
    expect(gradient.format(gradient.withCentre(read('radial-gradient(circle at center, red, blue)'), { x: 50, y: 50 }, box))).toBe(
      'radial-gradient(circle at 25% 50%, red, blue)',
    )
    expect(gradient.format(gradient.withStop(read('linear-gradient(red 10px, blue)'), 0, 0.25, 200))).toBe(
      'linear-gradient(red 50px, blue)',
    )
    expect(gradient.format(gradient.withStop(read('linear-gradient(red, blue 80% 90%)'), 1, 0.5, 200))).toBe(
      'linear-gradient(red, blue 50% 90%)',
    )
  })
})

describe('items switched off are comments where they stood', () => {
  const codecs = [
    [shadow, ','],
    [functions, ' '],
    [transition, ','],
  ] as const
  test.each<[number, string, boolean[]]>([
    [0, '0 1px red, 2px 2px blue', [false, false]],
    [0, '0 1px red /* , 2px 2px blue */', [false, true]],
    [0, '/* 0 1px red, */ 2px 2px blue', [true, false]],
    [0, '/* 0 1px red, 2px 2px blue */ none', [true, true]],
    [0, '0 0 red /* , 1px 1px blue */, 3px 3px green', [false, true, false]],
    [1, 'blur(2px) /* sepia(1) */ contrast(2)', [false, true, false]],
    [1, '/* blur(2px) */ none', [true]],
    [2, 'color 1s /* , top 2s, left 3s */', [false, true, true]],
  ])('%i: %s', (at, text, off) => {
    const [codec, separator] = codecs[at] as unknown as [typeof functions, ',' | ' ']
    const items = switched.parse(text, codec, separator)!
    expect(items.map((i) => i.off)).toEqual(off)
    expect(switched.format(items, codec, separator)).toBe(text)
  })
  test('any items, on and off, are read as they were written', () => {
    const item = fc.record({
      name: fc.constantFrom('blur', 'sepia'),
      args: fc.constantFrom('1', '2px'),
      off: fc.boolean(),
    })
    fc.assert(
      fc.property(fc.array(item, { minLength: 1, maxLength: 6 }), (items) => {
        expect(switched.parse(switched.format(items, functions, ' '), functions, ' ')).toEqual(items)
      }),
    )
  })
  test('a comment that says something else is not ours', () =>
    expect([switched.parse('0 0 red /* hairline */', shadow, ','), switched.parse('0 0 rgb(0 /* x */ 0 0)', shadow, ',')]).toEqual([
      null,
      null,
    ]))
})

test.each([
  ['repeat(3, 1fr)', 'repeat(4, 1fr)'],
  ['200px repeat(2, minmax(0, 1fr))', '200px repeat(3, minmax(0, 1fr))'],
  ['1fr 1fr', '1fr 1fr 1fr'],
  ['1fr 2fr', '1fr 2fr 1fr'],
  ['repeat(2, 1fr 2fr)', 'repeat(2, 1fr 2fr) 1fr'],
  ['repeat(auto-fill, 9rem)', 'repeat(auto-fill, 9rem) 1fr'],
  ['none', '1fr'],
  ['8px 8px', '8px 8px 8px'],
])('one track more than %s is %s', (text, more) => expect(tracks.format(tracks.withOneMore(tracks.parse(text)!))).toBe(more))

test.each([
  ['repeat(3, 1fr)', 0, 'repeat(2, 1fr)'],
  ['repeat(2, 1fr)', 0, '1fr'],
  ['1fr 2fr', 1, '1fr'],
  ['9px repeat(2, 1fr 2fr)', 1, '9px 1fr 2fr'],
])('%s without its track %i is %s', (text, at, less) => expect(tracks.format(tracks.withOneLess(tracks.parse(text)!, at))).toBe(less))

test.each([
  ['/src/pages/tug.svg', './tug.svg', true],
  ['/src/pages/tug.svg?t=17', '../pages/tug.svg', true],
  ['/_next/static/media/tug.0a1b2c3d.svg', '@/tug.svg', true],
  ['/_next/image?url=%2F_next%2Fstatic%2Fmedia%2Ftug.0a1b2c3d.png&w=64&q=75', './tug.png', true],
  ['/src/pages/tug-small.svg', './tug.svg', false],
  ['/src/pages/tug.old.svg', './tug.svg', false],
  ['/src/pages/tug.png', './tug.svg', false],
  ['/a%', './tug.svg', false],
  ['/tug.svg', './tug', false],
])('%s is the address of %s: %s', (address, module, is) => {
  expect(isAddressOf(address, module)).toBe(is)
})

test.each([
  ['src/pages/Tides.tsx', 'src/pages/flag.svg', './flag.svg'],
  ['src/pages/Tides.tsx', 'src/sea/the flag.svg', '../sea/the flag.svg'],
  ['src/pages/Tides.tsx', 'public/sea/the flag.svg', '/sea/the%20flag.svg'],
])('a script at %s names %s as %s', (from, path, said) => {
  expect(pictureInScript(from, path)).toBe(said)
})
