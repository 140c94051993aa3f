// @vitest-environment jsdom
import { expect, test } from 'vitest'
import { outlineSheet, Sheet } from '../core/css'
import { ModuleNames, noteGenerated, writtenClasses } from './module-names'
import { outlineOnPage } from './rules-on-page'

function rulesOf(text: string): CSSRule[] {
  const style = document.createElement('style')
  style.textContent = text
  document.head.replaceChildren(style)
  return [...style.sheet!.cssRules]
}
const read = (live: string, source: string) => ModuleNames.read(rulesOf(live), outlineSheet(new Sheet(source)))

test('names are read off rule by rule, in groups too, and put into selectors as names of classes alone', () => {
  const names = read(
    '._card_a1_1 ._title_b2_4:not(._off_a1_9) > a[title=".card"] {} @media (width > 9px) { ._card_a1_1 {} }',
    '.card .title:not(.off) > a[title=".card"] {} @media (width > 9px) { .card {} }',
  )!
  expect(names.selector('.card.title > .other[data-x=".card"]:is(.off, "card")')).toBe(
    '._card_a1_1._title_b2_4 > .other[data-x=".card"]:is(._off_a1_9, "card")',
  )
  const rules = rulesOf('.card, .card:hover {} @media print { .title {} }')
  names.rename(rules)
  expect(rules.map((r) => r.cssText.replace(/\s+/g, ' ').trim()).join(' ')).toMatch(
    /\._card_a1_1, \._card_a1_1:hover.*@media print.*\._title_b2_4/,
  )
  expect(outlineOnPage(outlineSheet(new Sheet('.card { .title & {} }')), names)[0]).toMatchObject({
    prelude: '._card_a1_1',
    selectors: ['._card_a1_1'],
  })
})

test.each([
  ['another number of rules', '._a_1 {} ._b_1 {}', '.a {}'],
  ['another number of classes', '._a_1 ._b_1 {}', '.a {}'],
  ['one class with two names', '._a_1 {} ._a_2 {}', '.a {} .a {}'],
  ['names of animations, which change too', '._a_1 {} @keyframes _x_1 { to { top: 0 } }', '.a {} @keyframes x { to { top: 0 } }'],
  ['names that are not of the module', '.a {}', ':global(.a) {}'],
])('nothing is taken for sure with %s', (_, live, source) => expect(read(live, source)).toBeNull())

test('what a compiler named is none of the classes that an author wrote', () => {
  noteGenerated(rulesOf('._chart_x1_1 {} @media print { ._bar_x1_2 > b {} }'))
  const e = document.createElement('p')
  e.className = '_chart_x1_1 plain _bar_x1_2'
  expect(writtenClasses(e)).toEqual(['plain'])
})
