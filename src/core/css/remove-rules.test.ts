import fc from 'fast-check'
import { expect, test } from 'vitest'
import { applySplices } from '../text'
import { removeRules, resolvedSelectors, Sheet, textOf } from '.'

/** A sheet without the rules of these selectors. */
function without(text: string, ...selectors: string[]): string {
  const sheet = new Sheet(text)
  const ids = [...sheet.rules()]
    .filter((s) => s.rule.kind === 'style' && selectors.includes(resolvedSelectors(s).join()))
    .map((s) => s.rule.id)
  return applySplices(text, removeRules(sheet, new Set(ids)))
}

const SHEET = `.a {
  top: 0;
}

/* Of b */
.b {
  top: 1px;
}

@media (width < 9em) {
  .c {
    top: 2px;
  }

  .d {
    top: 3px;
  }
}

.e { top: 4px; }
.f { top: 5px; }
`

test.each<[string, string[], string]>([
  ['the first', ['.a'], SHEET.slice(SHEET.indexOf('/* Of b'))],
  ['one with a comment, which stays', ['.b'], SHEET.replace('.b {\n  top: 1px;\n}\n', '')],
  ['the first of a block', ['.c'], SHEET.replace('  .c {\n    top: 2px;\n  }\n\n', '')],
  ['the last of a block', ['.d'], SHEET.replace('\n  .d {\n    top: 3px;\n  }\n', '')],
  ['all of a block, which goes with them', ['.c', '.d'], SHEET.replace(/@media[^]*?\n}\n\n/, '')],
  ['one of two lines', ['.e'], SHEET.replace('.e { top: 4px; }\n', '')],
  ['the last', ['.f'], SHEET.replace('.f { top: 5px; }\n', '')],
  ['the last two', ['.e', '.f'], SHEET.replace('\n.e { top: 4px; }\n.f { top: 5px; }\n', '')],
  ['the first two', ['.a', '.b'], SHEET.slice(SHEET.indexOf('/* Of b')).replace('.b {\n  top: 1px;\n}\n', '')],
  ['none', [], SHEET],
])('%s', (_, selectors, after) => {
  expect(without(SHEET, ...selectors)).toBe(after)
  expect(without(SHEET.replaceAll('\n', '\r\n'), ...selectors)).toBe(after.replaceAll('\n', '\r\n'))
})

test.each([
  ['.a{top:0}.b{top:1px}.c{top:2px}', '.b', '.a{top:0}.c{top:2px}'],
  ['.a{top:0} .b{top:1px} .c{top:2px}', '.b', '.a{top:0} .c{top:2px}'],
  ['@media print{.b{top:1px}}.c{top:2px}', '.b', '.c{top:2px}'],
  ['@layer x{@media print{.b{top:1px}}}', '.b', ''],
  // What holds something else, or orders layers, stays.
  ['@media print{/* x */.b{top:1px}}', '.b', '@media print{/* x */}'],
  ['@layer x;.b{top:1px}', '.b', '@layer x;'],
  ['.b { top: 0; & i { top: 1px } }', '.b', '.b { top: 0; & i { top: 1px } }'],
  ['.b{top:1px', '.b', ''],
])('%j without %s is %j', (text, selector, after) => expect(without(text, selector)).toBe(after))

test('whatever goes, all other rules stay as they were, in their order, and the sheet begins and ends as before', () => {
  const rule = fc
    .tuple(fc.constantFrom('.a', '.b', '.c > d'), fc.constantFrom('', '\n', '\n\n', ' ', '\n  '))
    .map(([s, gap]) => `${s} {\n  top: 0;\n}${gap}`)
  const item = fc.oneof(
    rule,
    fc.array(rule, { maxLength: 3 }).map((r) => `@media print {\n${r.join('')}\n}\n`),
    fc.constant('/* x */\n'),
  )
  fc.assert(
    fc.property(fc.array(item, { maxLength: 8 }), fc.array(fc.nat(20)), (items, picks) => {
      const text = items.join('')
      const sheet = new Sheet(text)
      const styles = [...sheet.rules()].filter((s) => s.rule.kind === 'style')
      const gone = new Set(picks.flatMap((n) => styles[n]?.rule.id ?? []))
      const after = applySplices(text, removeRules(sheet, gone))
      const left = [...new Sheet(after).rules()].filter((s) => s.rule.kind === 'style')
      const wanted = styles.filter((s) => !gone.has(s.rule.id))
      const said = (s: (typeof styles)[number]) => [textOf(s, s.rule.span), s.parents.length]
      expect(left.map(said)).toEqual(wanted.map(said))
      expect(after).not.toMatch(/\n[ \t]*\n[ \t]*\n[ \t]*\n[ \t]*\n/)
    }),
    { numRuns: 300 },
  )
})
