import fc from 'fast-check'
import { expect, test } from 'vitest'
import { attributesFor, parseSrcset, srcsetText } from './attribute-names'

test.each<[string, readonly (readonly [string, string])[]]>([
  [
    'a.png 1x, b.png 2x',
    [
      ['a.png', '1x'],
      ['b.png', '2x'],
    ],
  ],
  [' a.png,b.png 2x', [['a.png,b.png', '2x']]],
  [
    'a.png, b.png 640w,',
    [
      ['a.png', ''],
      ['b.png', '640w'],
    ],
  ],
  [
    'data:image/png;base64,AAA= 2x ,  c.png',
    [
      ['data:image/png;base64,AAA=', '2x'],
      ['c.png', ''],
    ],
  ],
  ['  ', []],
])('a srcset of %j', (text, out) => expect(parseSrcset(text).map((c) => [c.url, c.descriptor])).toEqual(out))

test('a srcset that is written is the one that is read', () => {
  const url = fc.stringMatching(/^[a-z./][a-z0-9./,;=:]{0,8}[a-z0-9/]$/)
  fc.assert(
    fc.property(fc.array(fc.record({ url, descriptor: fc.constantFrom('1x', '2.5x', '640w') })), (list) => {
      expect(parseSrcset(srcsetText(list))).toEqual(list)
    }),
  )
})

test('an element has its own attributes and those of all', () => {
  expect(attributesFor('img')).toEqual(expect.arrayContaining(['srcset', 'loading', 'lang']))
  expect(attributesFor('p')).not.toContain('srcset')
})
