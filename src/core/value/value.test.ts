import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { contrast, nearestPassing, convert, evaluateLength, family, formatColor, formatLength, functions, gradient, notationOf, parseColor, parseLength, shadow, tracks, transition, type Length, type UnitContext } from '.'

const context: UnitContext = { fontSize: 20, rootFontSize: 16, viewportWidth: 1000, viewportHeight: 500, percent: 200, ch: 9, lineHeight: 30, rootLineHeight: 24, container: { width: 640, height: 300 } }

describe('lengths', () => {
  test.each<[string, string, string | null]>([
    ['125+10+10', '0', '145px'], ['*1.5', '8px', '12px'], ['+4', '1rem', '5rem'], ['50% - 2rem', '0', 'calc(50% - 2rem)'], ['2rem * 1.5', '0', '3rem'], ['(2 + 3) * 4', '0', '20px'],
    ['-3', '5px', '-3px'], ['10/4', '0', '2.5px'], ['1/0', '0', null], ['auto', '0', null], ['2px * 3px', '0', null], ['1.005rem', '0', '1.005rem'], ['0', '4px', '0'],
  ])('%s on %s', (typed, now, out) => expect(evaluateLength(typed, parseLength(now))).toBe(out))

  test.each(['px', 'rem', 'em', '%', 'vw', 'vh', 'pt', 'cm', 'ch', 'lh', 'rlh', 'cqw', 'cqh', 'cqmin'])('px to %s and back keeps the rendered size', (unit) => {
    fc.assert(fc.property(fc.double({ min: -500, max: 500, noNaN: true }), (number) => {
      const there = convert({ number, unit: 'px' }, unit, context) as Length
      expect(convert(there, 'px', context)!.number).toBeCloseTo(number, 6)
    }))
  })

  test('written as the file does', () => {
    expect(formatLength({ number: 0.5, unit: 'rem' }, { leadingZero: false })).toBe('.5rem')
    expect(formatLength({ number: -0.25, unit: 'em' }, { leadingZero: false })).toBe('-.25em')
    expect([formatLength({ number: 0, unit: 'px' }), formatLength({ number: 0, unit: '%' })]).toEqual(['0', '0%'])
  })
})

describe('colours keep the notation of the source', () => {
  test.each([['#0c6b74', '#0c6b74'], ['#FFF', '#FFF'], ['rgb(1 2 3)', 'rgb(1 2 3)'], ['rgb(20 50 63 / 12%)', 'rgb(20 50 63 / 12%)'], ['hsl(200 50% 40%)', 'hsl(200 50% 40%)'], ['oklch(60% 0.1 200)', 'oklch(60% 0.1 200)'], ['#ffffff', '#ffffff'], ['rgba(1, 2, 3, 0.5)', 'rgba(1, 2, 3, 0.5)'], ['hwb(200deg 20% 30%)', 'hwb(200deg 20% 30%)'], ['lab(50% 20 -30 / 0.5)', 'lab(50% 20 -30 / 0.5)'], ['lch(50% 30 120)', 'lch(50% 30 120)'], ['oklab(60% 0.1 -0.1)', 'oklab(60% 0.1 -0.1)'], ['color(display-p3 0.2 0.5 0.8)', 'color(display-p3 0.2 0.5 0.8)'], ['hsla(200, 50%, 40%, 0.25)', 'hsla(200, 50%, 40%, 0.25)']])('%s', (text, out) => {
    expect(formatColor(parseColor(text)!, notationOf(text))).toBe(out)
  })
  test('contrast as WCAG counts it', () => expect(contrast(parseColor('#000')!, parseColor('#fff')!)).toBeCloseTo(21, 5))

  test('the nearest passing colour passes, and one that passes is kept', () => {
    const ground = parseColor('#f4f1ea')!
    fc.assert(fc.property(fc.integer({ min: 0, max: 0xffffff }), (n) => {
      const color = parseColor(`#${n.toString(16).padStart(6, '0')}`)!
      const found = nearestPassing(color, ground, 4.5)!
      expect(contrast(parseColor(formatColor(found, notationOf('#123')))!, ground)).toBeGreaterThanOrEqual(4.5)
    }), { numRuns: 60, seed: 2 })
  })
})

describe('values are printed as they were read', () => {
  const same: [string, { parse(t: string): unknown; format(v: never): string }, string[]][] = [
    ['shadows', shadow, ['none', '0 1px 2px red', 'inset 0 0 0 1px rgb(0 0 0 / 20%), 2px 2px', 'red 1px 2px 3px 4px', '0 0 calc(1px + 2px) var(--c)']],
    ['functions', functions, ['none', 'blur(2px) drop-shadow(0 1px 2px red)', 'rotate(3deg) scale(1.1, 2)']],
    ['gradients', gradient, ['linear-gradient(red, blue)', 'linear-gradient(to right, red 0%, 30%, blue 50% 60%)', 'radial-gradient(circle at 50% 50%, rgb(1 2 3), transparent)', 'repeating-conic-gradient(from 20deg, red, blue)']],
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
    expect([shadow.parse('1px'), functions.parse('blur(2px) red'), gradient.parse('url(a)'), tracks.parse('subgrid'), transition.parse('a b 1s'), tracks.parseAreas('"a b" "c"')]).toEqual([null, null, null, null, null, null])
    expect(tracks.formatAreas(tracks.parseAreas('"a b" "c d"')!)).toBe('"a b" "c d"')
  })
})
