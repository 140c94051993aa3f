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
  ['an animation in the place of a rule', '@keyframes _x_1 {}', '.x {}'],
  ['another name for a class of all', '._a_1 {}', ':global(.a) {}'],
])('nothing is taken for sure with %s', (_, live, source) => expect(read(live, source)).toBeNull())

test('animations have the names of the page, in declarations and rules, and nothing else of that name', () => {
  const names = read(
    '._spin_a1 { animation-name: _spin_b1; } @keyframes _spin_b1 { to { top: 0 } }',
    '.spin { animation-name: spin; } @keyframes spin { to { top: 0 } }',
  )!
  expect(
    names.declarations('animation: 1s spin, fade 2s spin; content: "spin"; -webkit-animation-name:spin; --animation: spin; spin: 1'),
  ).toBe('animation: 1s _spin_b1, fade 2s _spin_b1; content: "spin"; -webkit-animation-name:_spin_b1; --animation: spin; spin: 1')
  expect(outlineOnPage(outlineSheet(new Sheet('@keyframes spin { to { top: 0 } }')), names)[0].prelude.trim()).toBe('_spin_b1')
})

test('what an author says is of all pages has no other name, and what is of the module has', () => {
  const names = read(
    '._card_a1 .open > ._title_a2 {} .dark .night ._card_a1 {} .all, ._card_a1 {}',
    '.card :global(.open) > .title {} :global .dark .night :local(.card) {} :global .all, .card {}',
  )!
  expect(names.selector('.card:global(.title) .title')).toBe('._card_a1.title ._title_a2')
  expect(names.selector(':global .card .x, .card')).toBe('.card .x, ._card_a1')
})

test('what a compiler named is none of the classes that an author wrote', () => {
  noteGenerated(rulesOf('._chart_x1_1 {} @media print { ._bar_x1_2 > b {} }'))
  const e = document.createElement('p')
  e.className = '_chart_x1_1 plain _bar_x1_2'
  expect(writtenClasses(e)).toEqual(['plain'])
})
