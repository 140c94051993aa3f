import fc from 'fast-check'
import { expect, test } from 'vitest'
import { attribute, classesOf, languageOf, type SourceElement } from '../language'
import { matcher } from '../project'
import { aroundKey, subjectKey } from '.'

const COMPOUNDS = [
  '.a',
  '.b',
  '.md\\:a',
  '#x',
  'p',
  'div',
  'span',
  '*',
  'div.a',
  '.b#x',
  '.a:is(.b, #x)',
  ':is(.a .b)',
  '[class~="a b > .c"]',
  '.a:not(p > .b)',
  ':where(.b) ',
  'div[id="x y"].a',
]
const COMBINATORS = [' ', '>', ' > ', ' + ', '~', '\n\t>  ', '  ']

const selectors = fc
  .array(fc.tuple(fc.constantFrom(...COMBINATORS), fc.constantFrom(...COMPOUNDS.map((c) => c.trim()))), {
    minLength: 1,
    maxLength: 4,
  })
  .map((parts) => parts.map(([combinator, compound], i) => (i ? combinator : '') + compound).join(''))

const keysOf = (e: SourceElement): string[] => ['*', e.tag, `#${attribute(e, 'id')}`, ...classesOf(e).map((c) => `.${c}`)]

test('an element that a selector matches has what the selector asks for outright, and stands in what it asks for around it', () => {
  const tag = fc.record({
    tag: fc.constantFrom('section', 'div', 'span'),
    classes: fc.subarray(['a', 'b', 'md:a']),
    id: fc.boolean(),
    deeper: fc.boolean(),
  })
  let matches = 0
  let around = 0
  fc.assert(
    fc.property(fc.array(tag, { minLength: 2, maxLength: 7 }), selectors, (tags, selector) => {
      const open = tags.map((t) => `<${t.tag} class="${t.classes.join(' ')}"${t.id ? ' id="x"' : ''}>${t.deeper ? '' : `</${t.tag}>`}`)
      const tree = languageOf('a.html')!.read(`<!DOCTYPE html><body><p class="a">x</p>${open.join('')}`, 'a.html').tree!
      const isMatch = matcher(tree, [selector])
      if (!isMatch) throw new Error(selector)
      for (const e of tree.elements) {
        if (!isMatch(e)) continue
        matches++
        expect([selector, keysOf(e)]).toEqual([selector, expect.arrayContaining([subjectKey(selector)])])
        const key = aroundKey(selector)
        if (key === null) continue
        around++
        const above: string[] = []
        for (let up = e.parent; up; up = up.parent) above.push(...keysOf(up))
        expect([selector, above]).toEqual([selector, expect.arrayContaining([key])])
      }
    }),
    { numRuns: 1500 },
  )
  expect(matches).toBeGreaterThan(300)
  expect(around).toBeGreaterThan(50)
})

test('what the last combinator does not ask for outright, or asks of a sibling, is not looked for', () => {
  expect(['.a > .b', '.a .b', 'nav.md\\:x>.b', '#x :hover', '.a:is(.c) .b'].map(aroundKey)).toEqual(['.a', '.a', '.md:x', '#x', '.a'])
  expect(['.b', '.a + .b', '.a ~ .b', '* .b', ':is(.a) .b', '[x="a b"] .b', 'svg|a', ':is(.a .b)'].map(aroundKey)).toEqual(
    Array.from({ length: 8 }, () => null),
  )
})

test.each([
  ['.row-1 .cell', '.cell', '.row-1'],
  ['main.wide#x .a.b', '.a', '#x'],
  ['MAIN p', 'p', 'main'],
  ['.a', '.a', null],
  ['ul li a', 'a', 'li'],
  ['.a > .b', '.b', '.a'],
])('%s is about %s in %s', (selector, subject, around) => {
  expect([subjectKey(selector), aroundKey(selector)]).toEqual([subject, around])
})
