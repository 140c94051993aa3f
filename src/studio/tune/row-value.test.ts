import { expect, test } from 'vitest'
import fc from 'fast-check'
import type { PickReport } from '../../agent/protocol'
import type { PropertyAim } from '../../core/aim'
import type { Scale } from '../../core/project'
import { parseLength, toPx } from '../../core/value'
import { inUnits, lengthIn, nearestNotch, notchesFor, pxOf, sourceUnit, tokensLike, unitContext, valueOfToken } from './row-value'

const token = (name: string, text: string, kind: 'length' | 'color' | 'other') => ({
  name,
  text,
  kind,
  path: 'a.css',
  line: 1,
})
const SCALE: Scale = {
  tokens: [
    token('--gap-2', '0.5rem', 'length'),
    token('--gap-3', '16px', 'length'),
    token('--text-2', '16px', 'length'),
    token('--ink', '#1b2a30', 'color'),
    token('--deep', 'var(--ink)', 'other'),
    token('--also-ink', 'rgb(27 42 48)', 'color'),
  ],
  breakpoints: [],
  conditions: [],
  lengths: [
    { text: '12px', count: 3, of: 'space' },
    { text: '1rem', count: 2, of: 'space' },
    { text: '7px', count: 1, of: 'space' },
    { text: '12px', count: 4, of: 'type' },
  ],
}
const report = (computed: Record<string, string> = {}): PickReport =>
  ({
    computed: { 'font-size': '20px', '--gap-2': '0.5rem', ...computed },
    parentFontSize: 10,
    rootFontSize: 16,
    facts: {
      viewport: { width: 1000, height: 500 },
      around: { width: 400, height: 200 },
      ch: 9,
      lineHeight: 30,
      rootLineHeight: 24,
      container: null,
    },
  }) as unknown as PickReport
const aim = (property: string, computed: string, written: string | null) =>
  ({ property, computed, written, candidates: [], chosen: -1 }) as unknown as PropertyAim

test('notches are the project’s own lengths, of this kind of property, each size once', () => {
  expect(notchesFor(SCALE, report(), 'padding-top').map((n) => [n.px, n.text])).toEqual([
    [8, 'var(--gap-2)'],
    [12, '12px'],
    [16, 'var(--gap-3)'],
  ])
  // A type scale is none of space, and a space scale none of type.
  expect(notchesFor(SCALE, report(), 'font-size').map((n) => n.text)).toEqual(['12px', 'var(--text-2)'])
  expect(nearestNotch(notchesFor(SCALE, report(), 'padding-top'), 13)?.text).toBe('12px')
  expect(nearestNotch([], 13)).toBeNull()
})

test('em and percentages of a font size are of the parent’s, of other properties of its own and its container’s', () => {
  expect([
    toPx(parseLength('2em')!, unitContext(report(), 'font-size')),
    toPx(parseLength('2em')!, unitContext(report(), 'margin-top')),
  ]).toEqual([20, 40])
  expect(['font-size', 'width', 'height'].map((p) => toPx(parseLength('50%')!, unitContext(report(), p)))).toEqual([5, 200, 100])
})

test('a token of the same size or colour is offered, and its value in its place', () => {
  expect(tokensLike(aim('padding-top', '16px', '16px'), SCALE, report())).toEqual(['var(--gap-3)'])
  expect(tokensLike(aim('padding-top', '16px', 'var(--gap-3)'), SCALE, report())).toEqual([])
  expect(tokensLike(aim('padding', '16px 8px', '16px 8px'), SCALE, report())).toEqual([])
  expect(tokensLike(aim('color', 'rgb(27, 42, 48)', '#1B2A30'), SCALE, report())).toEqual(['var(--ink)', 'var(--also-ink)'])
  expect(tokensLike(aim('color', 'currentcolor', null), SCALE, report())).toEqual([])
  expect(valueOfToken(aim('color', 'rgb(27, 42, 48)', 'var( --ink )'), SCALE)).toBe('#1b2a30')
  expect(valueOfToken(aim('color', 'rgb(27, 42, 48)', 'var(--deep)'), SCALE)).toBe('rgb(27, 42, 48)')
  for (const written of ['var(--ink, red)', '1px solid var(--ink)', '#fff', null])
    expect(valueOfToken(aim('color', 'red', written), SCALE)).toBeNull()
})

test('a pulled value stays in the unit of the source, where its size can be told', () => {
  const context = unitContext(report(), 'padding-top')
  // Container units without a container are of the viewport (CSS Conditional 5 §6).
  expect(
    ['1.5rem', '3%', 'calc(1px + 2px)', '4cqw', null].map((written) =>
      sourceUnit(aim('padding-top', '0', written), context, 'as the source'),
    ),
  ).toEqual(['rem', '%', 'px', 'cqw', 'px'])
  expect(sourceUnit(aim('padding-top', '0', '4px'), context, 'rem')).toBe('rem')
  const behind = {
    ...aim('padding-top', '16px', 'var(--pad)'),
    candidates: [{ ref: { kind: 'token' }, wins: true, current: '1rem' }],
    chosen: 0,
  } as unknown as PropertyAim
  expect(sourceUnit(behind, context, 'as the source')).toBe('rem')
})

test('the same size in any unit is the same size', () => {
  const context = unitContext(report(), 'padding-top')
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 4000 }).map((n) => n / 4),
      (px) => {
        for (const { text } of inUnits(px, context)) expect(Math.abs(toPx(parseLength(text)!, context)! - px)).toBeLessThan(0.06)
        expect(pxOf(`${px}px`)).toBe(px)
        expect(toPx(lengthIn(px, 'rem', context), context)).toBeCloseTo(px, 6)
      },
    ),
  )
})
