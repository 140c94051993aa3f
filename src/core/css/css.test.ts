import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { applySplices } from '../text'
import {
  declarationsOf,
  measureHouseStyle,
  removeDeclaration,
  setDeclaration,
  setImportant,
  Sheet,
  switchOff,
  switchOn,
  type CssItem,
  type EditPlan,
  type RuleSite,
  type Wanted,
} from '.'

const shape = (items: readonly CssItem[]): unknown => items.map((i) => [i.kind, i.span, 'children' in i ? shape(i.children) : 0])
const shapes = (s: Sheet) => s.statements.map((st) => [st.text, st.start, st.linesBefore, shape(st.items)])

const piece = fc.constantFrom(
  '.a{color:red}',
  '\n',
  ' ',
  '{',
  '}',
  ';',
  '/*',
  '*/',
  '"',
  "'",
  '(',
  ')',
  '@media (a){',
  '@import "x";',
  'a:hover',
  ':',
  'b{c:d;',
  '--x:{a;b}',
  '\\',
  'url(',
  '<!--',
  '!important',
  '\r\n',
  '&:is(x){y:z}',
  ',',
)
const css = fc.array(piece, { maxLength: 24 }).map((p) => p.join(''))

describe('a sheet', () => {
  test('is read the same after an edit as from scratch', () => {
    fc.assert(
      fc.property(css, fc.nat(), fc.nat(), css, (text, a, b, insert) => {
        const from = Math.min(a % (text.length + 1), b % (text.length + 1))
        const to = Math.max(a % (text.length + 1), b % (text.length + 1))
        const sheet = new Sheet(text)
        sheet.apply([{ from, to, insert }])
        const after = applySplices(text, [{ from, to, insert }])
        expect(sheet.text).toBe(after)
        expect(shapes(sheet)).toEqual(shapes(new Sheet(after)))
        expect(new Set([...sheet.rules()].map((r) => r.rule.id)).size).toBe([...sheet.rules()].length)
      }),
      { numRuns: 3000, seed: 7 },
    )
  })

  test('keeps the ids of rules that an edit moves', () => {
    const sheet = new Sheet('.a{color:red}\n@media print{.b{x:y}}\n.c{}')
    const ids = [...sheet.rules()].map((r) => r.rule.id)
    sheet.apply([{ from: 0, to: 0, insert: '.new{}\n' }])
    sheet.apply([{ from: sheet.text.indexOf('x:y'), to: sheet.text.indexOf('x:y'), insert: 'z:1;' }])
    expect([...sheet.rules()].slice(1).map((r) => r.rule.id)).toEqual(ids)
  })

  test('reads 2,000 levels of nesting and unclosed everything', () => {
    const deep = new Sheet('a{'.repeat(2000))
    expect([...deep.rules()].length).toBe(2000)
    expect(new Sheet(`${'(['.repeat(50000)}`).length).toBe(100000)
  })
})

const first = (sheet: Sheet, at = 0): RuleSite => [...sheet.rules()].filter((r) => r.rule.kind === 'style')[at]
const change = (text: string, plan: (sheet: Sheet, site: RuleSite) => EditPlan, at = 0): string => {
  const sheet = new Sheet(text)
  const result = plan(sheet, first(sheet, at))
  return result.ok ? applySplices(text, result.splices) : `refused: ${result.reason}`
}
const set = (text: string, name: string, value: string, more: Partial<Wanted> = {}, at = 0): string =>
  change(text, (sheet, site) => setDeclaration(site, measureHouseStyle(sheet), { name, value, ...more }), at)

describe('setting a declaration', () => {
  test.each<[string, string, string, string]>([
    ['.a {\n  color: red;\n}', 'color', 'blue', '.a {\n  color: blue;\n}'],
    ['.a {\n\tpadding: 8px 16px;\n}', 'padding-left', '20px', '.a {\n\tpadding: 8px 16px 8px 20px;\n}'],
    ['.a { padding: 8px 16px 8px 20px }', 'padding-left', '16px', '.a { padding: 8px 16px }'],
    ['.a { padding: 4px 4px 4px 4px }', 'padding-top', '5px', '.a { padding: 5px 4px 4px 4px }'],
    ['.a { padding: var(--p) }', 'padding-top', '5px', '.a { padding: var(--p); padding-top: 5px }'],
    ['.a { padding: 1px /* wide */ 2px }', 'padding-right', '3px', '.a { padding: 1px /* wide */ 3px 1px 2px }'],
    ['.a{color:red}', 'padding', '4px', '.a{color:red;padding:4px}'],
    ['.a{color:red;margin:0}.b{}.c{x:y}', 'margin-top', '4px', '.a{color:red;margin:4px 0 0}.b{}.c{x:y}'],
    ['.a {\n  color: red; /* why */\n  top: 0\n}', 'background', 'blue', '.a {\n  color: red; /* why */\n  background: blue;\n  top: 0\n}'],
    ['.a {\r\n    color: red;\r\n}\r\n', 'padding', '4px', '.a {\r\n    color: red;\r\n    padding: 4px;\r\n}\r\n'],
    ['.a {}\n.b {\n  x: y;\n}', 'color', 'red', '.a {\n  color: red;\n}\n.b {\n  x: y;\n}'],
    ['.a {\n  &:hover { x: y }\n}', 'color', 'red', '.a {\n  color: red;\n  &:hover { x: y }\n}'],
    ['.a { color: red !important }', 'color', 'blue', '.a { color: blue !important }'],
    ['.a { color: red; color: oklch(50% 0 0) }', 'color', 'blue', '.a { color: red; color: blue }'],
    ['.a { border: 1px solid red }', 'border-top-color', 'blue', '.a { border: 1px solid red; border-top-color: blue }'],
    ['.a { border-top: 1px solid red }', 'border-top-color', 'blue', '.a { border-top: 1px solid blue }'],
    ['.a { border: 1px solid red }', 'border-color', 'blue', '.a { border: 1px solid blue }'],
    ['.a { border: 1px solid red }', 'border-width', '1px 2px', '.a { border: 1px solid red; border-width: 1px 2px }'],
    ['.a { border: thin dotted }', 'border-color', '#abc', '.a { border: thin dotted #abc }'],
    ['.a { flex: 1 }', 'flex-shrink', '0', '.a { flex: 1 0 }'],
    ['.a { flex: 1 1 180px }', 'flex-basis', '200px', '.a { flex: 1 1 200px }'],
    ['.a { font: 400 1rem/1.5 "X Y", serif }', 'font-size', '2rem', '.a { font: 400 2rem/1.5 "X Y", serif }'],
    ['.a { font: 400 1rem/1.5 "X Y", serif }', 'line-height', '1.2', '.a { font: 400 1rem/1.2 "X Y", serif }'],
    ['.a { border-radius: 4px / 8px }', 'border-top-left-radius', '6px 8px', '.a { border-radius: 6px 4px 4px / 8px }'],
    ['.a { background: url(x.png) no-repeat }', 'background-color', 'red', '.a { background: url(x.png) no-repeat red }'],
    ['.a { background: #fff }', 'background-color', 'red', '.a { background: red }'],
    ['.a { transition: background-color .15s }', 'transition-duration', '.3s', '.a { transition: background-color .3s }'],
    ['.a { grid-area: 1 / 2 }', 'grid-row-end', 'span 2', '.a { grid-area: 1 / 2 / span 2 }'],
    ['.a { padding-inline-start: 4px }', 'padding-left', '8px', '.a { padding-inline-start: 8px }'],
    ['.a { overflow: hidden }', 'overflow-y', 'auto', '.a { overflow: hidden auto }'],
    ['.a { padding-top: 1px; padding: 4px }', 'padding-top', '6px', '.a { padding-top: 1px; padding: 6px 4px 4px }'],
    ['.a { padding: 1px; padding-top: 4px }', 'padding', '6px 8px', '.a { padding: 6px 8px; padding-top: 6px }'],
    ['.a { gap: 4px }', 'gap', '4px 8px', '.a { gap: 4px 8px }'],
  ])('%j: %s %s', (before, name, value, after) => {
    expect(set(before, name, value)).toBe(after)
  })

  test('a value that would end the declaration or the rule is refused', () => {
    for (const bad of ['red; x: y', 'red }', '', 'red !important', '"x', '/*', 'url(']) {
      expect(set('.a { color: blue }', 'color', bad)).toBe('refused: bad-value')
    }
  })

  test('important is written and taken back as the file does it', () => {
    expect(set('.a { color: red }', 'color', 'red', { important: true })).toBe('.a { color: red !important }')
    expect(change('.a{x:y!important}.b{}.c{d:e}', (s, site) => setImportant(site, measureHouseStyle(s), 0, false))).toBe(
      '.a{x:y}.b{}.c{d:e}',
    )
  })
})

describe('removing and switching off', () => {
  test.each([
    ['.a {\n  color: red;\n  top: 0;\n}', '.a {\n  top: 0;\n}'],
    ['.a{color:red;top:0}', '.a{top:0}'],
    ['.a { color: red; top: 0 }', '.a { top: 0 }'],
    ['.a { color: red }', '.a {}'],
  ])('%j', (before, after) => {
    expect(change(before, (_, site) => removeDeclaration(site, 0))).toBe(after)
  })

  test('the last of a one-line rule leaves with the semicolon before it', () => {
    expect(change('.a{x:y;color:red}', (_, site) => removeDeclaration(site, 1))).toBe('.a{x:y}')
  })

  test('off and on give the same bytes', () => {
    for (const text of ['.a {\n  color: red;\n  top: 0\n}', '.a{color:red;top:0}', '.a { top: 0 }']) {
      const count = declarationsOf(first(new Sheet(text)).rule).length
      for (let i = 0; i < count; i++) {
        const off = change(text, (_, site) => switchOff(site, i))
        expect(off).toContain('/* ')
        expect(change(off, (_, site) => switchOn(site, 0))).toBe(text)
      }
    }
  })
})

test('a file that keeps families of properties together gets new ones among them', () => {
  const rules = ['a', 'b', 'c'].map((n) => `.${n} { position: relative; display: flex; margin: 0; color: red; font-size: 1em }`).join('\n')
  const sheet = new Sheet(`${rules}\n.d { position: static; color: red }`)
  const style = measureHouseStyle(sheet)
  expect(style.order).toBe('grouped')
  const site = [...sheet.rules()][3]
  const plan = setDeclaration(site, style, { name: 'display', value: 'grid' })
  expect(plan.ok && applySplices(sheet.text, plan.splices)).toContain('.d { position: static; display: grid; color: red }')
})
