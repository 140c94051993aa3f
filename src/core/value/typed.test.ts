import { describe, expect, test } from 'vitest'
import { MOST_TYPED, parseLength, readTyped } from '.'

const LENGTHS = /^-?[\d.]+(px|em|rem|%)$|^0$|^auto$|^(calc|var|min|max)\(.*\)$/
/** What an engine takes for a property of one length, or of up to four. */
const supports = (most: number) => (value: string) => {
  const parts = value.match(/(?:[^\s(]+|\((?:[^()]|\([^()]*\))*\))+/g) ?? []
  // The tokenizer ends a dimension at a sign (CSS Syntax 3 §4.3.3).
  const all = parts.flatMap((p) => (/^[\d.]/.test(p) ? p.split(/(?<=[a-z%])(?=[+-])/) : [p])).map((p) => p.replace(/^\+/, ''))
  return all.length > 0 && all.length <= most && all.every((p) => LENGTHS.test(p))
}
const type = (text: string, current: string, most = 4) =>
  readTyped(text, { property: 'padding', lengths: true, current: parseLength(current), supports: supports(most) })

describe('what is typed into a field', () => {
  test.each<[typed: string, current: string, most: number, value: string]>([
    ['1.5em+4px', '8px', 4, 'calc(1.5em + 4px)'],
    ['1.5em + 4px', '8px', 4, 'calc(1.5em + 4px)'],
    ['100%-2rem', '8px', 1, 'calc(100% - 2rem)'],
    ['12 14', '8px', 4, '12px 14px'],
    ['12 14', '1rem', 4, '12rem 14rem'],
    ['1 0 auto', '1rem', 4, '1rem 0 auto'],
    ['4px -2px', '8px', 4, '4px -2px'],
    ['12 -4', '8px', 4, '12px -4px'],
    ['12 -4', '8px', 1, '8px'],
    ['10+2 14', '8px', 4, '12px 14px'],
    ['10 + 2 14', '8px', 4, '12px 14px'],
    ['*1.5', '8px', 1, '12px'],
    ['+4', '1rem', 1, '5rem'],
    ['-3', '5px', 1, '-3px'],
    ['(2 + 3) * 4', '0', 1, '20px'],
    ['--gap', '8px', 4, 'var(--gap)'],
    ['calc(1px + 2em)', '8px', 4, 'calc(1px + 2em)'],
    ['1px+2px', '8px', 4, '3px'],
    ['auto', '8px', 1, 'auto'],
    ['var(--a) 4', '8px', 4, 'var(--a) 4px'],
  ])('%s on %s where %i may stand', (typed, current, most, value) => expect(type(typed, current, most)).toEqual({ ok: true, value }))

  test.each(['', '  ', '}', '12 14 16 18 20', 'rgb(1,2', 'nope', '1px;2px', 'x'.repeat(10_000), '1px '.repeat(3000)])(
    '%s is none',
    (typed) => {
      const out = type(typed, '8px')
      expect(out.ok).toBe(false)
      expect(out.ok || out.why.length).toBeLessThan(120)
    },
  )

  test('a value may be as long as said', () =>
    expect(readTyped('a'.repeat(MOST_TYPED), { property: 'x', lengths: false, current: null, supports: () => true }).ok).toBe(true))
})
