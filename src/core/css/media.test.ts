import fc from 'fast-check'
import { expect, test } from 'vitest'
import { isNarrower, schemeOf, widthRange, widthToShow } from './media'

const px = fc.integer({ min: 0, max: 60 }).map((n) => n * 20)
/** A condition on the width with what it means, told apart from how it is read (Media Queries 4 §2.4). */
const condition = fc.oneof(
  fc.tuple(fc.constantFrom('min', 'max'), px, fc.constantFrom('px', 'em', 'rem')).map(([which, n, unit]) => ({
    text: `(${which}-width: ${unit === 'px' ? n : n / 16}${unit})`,
    holds: (w: number) => (which === 'min' ? w >= n : w <= n),
  })),
  fc.tuple(px, px, fc.constantFrom(' and ', ' AND ')).map(([a, b, and]) => ({
    text: `screen and (min-width:${a}px)${and}(max-width : ${b}px)`,
    holds: (w: number) => w >= a && w <= b,
  })),
  fc.tuple(px, fc.constantFrom('<', '<=', '>', '>=')).map(([n, op]) => ({
    text: `(width ${op} ${n}px)`,
    holds: (w: number) => (op === '<' ? w < n : op === '<=' ? w <= n : op === '>' ? w > n : w >= n),
  })),
  fc.tuple(px, px, fc.constantFrom('<', '<='), fc.constantFrom('<', '<=')).map(([a, b, x, y]) => ({
    text: `(${a}px ${x} width ${y} ${b}px)`,
    holds: (w: number) => (x === '<' ? a < w : a <= w) && (y === '<' ? w < b : w <= b),
  })),
  fc.tuple(px, px).map(([a, b]) => ({ text: `(${a}px >= width > ${b}px)`, holds: (w: number) => a >= w && w > b })),
)
const WIDTHS = Array.from({ length: 1300 }, (_, w) => w)

test('the widths of a condition are those at which it holds', () => {
  fc.assert(
    fc.property(condition, ({ text, holds }) => {
      const { min, max } = widthRange(text)!
      expect(WIDTHS.filter((w) => w >= min && w <= max)).toEqual(WIDTHS.filter(holds))
    }),
  )
})

test.each([
  '(min-width: 10px) and (hover: hover)',
  'print and (min-width: 10px)',
  'not screen and (min-width: 10px)',
  '(prefers-color-scheme: dark)',
  '(min-width: calc(1px + 2px))',
])('%s is about more than widths', (text) => {
  expect(widthRange(text)).toBeNull()
})

test('the width to show is the nearest at which a condition holds and, where there is one, none that is narrower', () => {
  fc.assert(
    fc.property(condition, fc.integer({ min: 1, max: 1250 }), fc.array(condition, { maxLength: 4 }), (asked, now, others) => {
      const shown = widthToShow(
        asked.text,
        now,
        others.map((o) => o.text),
      )
      const narrower = others.filter((o) => isNarrower(widthRange(o.text), widthRange(asked.text)))
      const at = WIDTHS.filter((w) => w > 0 && asked.holds(w))
      const alone = at.filter((w) => !narrower.some((o) => o.holds(w)))
      const wanted = alone.length ? alone : at
      if (wanted.length === 0) expect(shown).toBeNull()
      else expect(Math.abs((shown ?? now) - now)).toBe(Math.min(...wanted.map((w) => Math.abs(w - now))))
      if (wanted.length) expect(wanted).toContain(shown ?? now)
    }),
    { numRuns: 400 },
  )
})

test('a colour scheme is read from a condition', () => {
  expect(['(prefers-color-scheme: dark)', 'screen and (PREFERS-COLOR-SCHEME:light)', '(min-width: 1px)'].map(schemeOf)).toEqual([
    'dark',
    'light',
    null,
  ])
})
