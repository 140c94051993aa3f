import fc from 'fast-check'
import { expect, test } from 'vitest'
import { longhandsOf, partOfShorthand, setInShorthand } from '.'
import { Project } from '../project'

const set = (shorthand: string, value: string, changes: Record<string, string>) =>
  setInShorthand(shorthand, value, new Map(Object.entries(changes)))

test.each([
  ['background', '#fff url(a.png) no-repeat', { 'background-color': 'red' }, 'red url(a.png) no-repeat'],
  ['background', '#fff', { 'background-image': 'url(b.png)' }, '#fff url(b.png)'],
  ['background', 'url(a.png) no-repeat', { 'background-size': 'cover' }, 'url(a.png) 0 0 / cover no-repeat'],
  ['background', 'url(a.png) center/10px auto no-repeat', { 'background-size': '50% 20px' }, 'url(a.png) center/50% 20px no-repeat'],
  ['background', 'url(a.png) left 10px top 4px', { 'background-position-x': 'right 2px' }, 'url(a.png) right 2px top 4px'],
  ['background', 'url(a.png) top left', { 'background-position-x': '5px', 'background-position-y': '6px' }, 'url(a.png) 5px 6px'],
  [
    'background',
    'url(a.png), linear-gradient(red, blue) fixed',
    { 'background-repeat': 'no-repeat, repeat-x' },
    'url(a.png) no-repeat, linear-gradient(red, blue) repeat-x fixed',
  ],
  ['background', 'url(a.png), red', { 'background-size': 'cover' }, null],
  ['background', 'url(a.png) padding-box', { 'background-clip': 'content-box' }, 'url(a.png) padding-box content-box'],
  ['background', 'url(a.png) content-box', { 'background-origin': 'border-box' }, 'url(a.png) border-box content-box'],
  ['background', 'var(--whole)', { 'background-size': 'cover' }, null],
  ['background', '#fff', { 'background-image': 'url(img/b.png), linear-gradient(rgb(0 0 0 / 10%), red)' }, null],
  [
    'background',
    '#fff',
    { 'background-image': 'linear-gradient(rgb(0 0 0 / 10%), url(a/b))' },
    '#fff linear-gradient(rgb(0 0 0 / 10%), url(a/b))',
  ],
  ['background', 'none', { 'background-image': 'url(b.png)' }, 'url(b.png)'],
  ['border-block-end', '1px solid #ccc', { 'border-bottom-color': 'red' }, '1px solid red'],
  ['border-inline-start', 'solid #ccc', { 'border-left-width': '2px' }, 'solid #ccc 2px'],
  ['border-inline-color', 'red', { 'border-right-color': 'blue' }, 'red blue'],
  ['background-position', 'top left', { 'background-position-x': '3px' }, '3px top'],
  ['transition', 'color .2s ease, top 1s', { 'transition-duration': '.5s' }, 'color .5s ease, top .5s'],
  ['transition', 'color .2s ease, top 1s', { 'transition-duration': '.5s, 2s' }, 'color .5s ease, top 2s'],
  ['transition', 'color .2s, top 1s', { 'transition-property': 'left' }, null],
  ['transition', 'color .2s, top 1s', { 'transition-timing-function': 'ease-in, linear' }, 'color .2s ease-in, top 1s linear'],
  ['transition', 'color', { 'transition-delay': '1s' }, null],
  ['animation', 'spin 1s infinite', { 'animation-duration': '2s' }, 'spin 2s infinite'],
  ['animation', 'spin 1s infinite', { 'animation-direction': 'alternate' }, 'spin 1s infinite alternate'],
  ['animation', '1s spin', { 'animation-name': 'roll' }, '1s roll'],
  ['grid-area', '1 / 2', { 'grid-row-end': '4' }, '1 / 2 / 4'],
  ['grid-area', 'map', { 'grid-column-start': '2', 'grid-column-end': '3' }, null],
  ['grid-column', '1/3', { 'grid-column-end': 'span 2' }, '1/span 2'],
  ['grid-column', '2', { 'grid-column-end': '4' }, '2 / 4'],
  ['grid-column', 'main', { 'grid-column-start': 'side', 'grid-column-end': 'side' }, 'side'],
  ['grid-template', 'auto 1fr / 1fr 2fr', { 'grid-template-columns': '10px 1fr' }, 'auto 1fr / 10px 1fr'],
  ['grid-template', '"a b" 2em\n  "c d" / 1fr 1fr', { 'grid-template-areas': '"a a" "c d"' }, '"a a" 2em\n  "c d" / 1fr 1fr'],
  ['grid', 'auto-flow / 1fr 1fr', { 'grid-template-columns': '1fr' }, 'auto-flow / 1fr'],
  ['grid', 'auto-flow / 1fr 1fr', { 'grid-template-rows': '1fr' }, null],
] as const)('%s: %s with %j', (shorthand, value, changes, expected) =>
  expect(set(shorthand, value, changes as unknown as Record<string, string>)).toBe(expected),
)

test('what stands in a function is known by its name, and by the variables that are defined', () => {
  const project = new Project([
    {
      key: 1,
      path: 'a.css',
      bytes: new TextEncoder().encode(
        ':root { --ink: #123; --paper: light-dark(#fff, var(--ink)); --also: var(--paper); --pad: clamp(1rem, 2vw, 3rem); --twice: calc(var(--pad) * 2); --ratio: calc(16 / 9); --loop: var(--pool); --pool: var(--loop); --both: 1px } .a { --both: red }',
      ),
    },
  ])
  const known = (shorthand: string, value: string, changes: Record<string, string>) =>
    setInShorthand(shorthand, value, new Map(Object.entries(changes)), project.knowledge)
  const kinds = [
    'var(--ink)',
    'var(--also)',
    'var(--twice)',
    'var(--ratio)',
    'var(--loop)',
    'var(--both)',
    'rgb(var(--ink) / 50%)',
    'rgb(var(--none))',
    'rgb(var(--none, 1 2 3))',
    'linear-gradient(var(--ink), var(--paper))',
    'env(x)',
    'calc(var(--pad))var(--ink)',
    'light-dark(var(--ink), 1px)',
  ]
  expect(kinds.map((k) => project.knowledge.kindOf(k))).toEqual([
    'color',
    'color',
    'length',
    null,
    null,
    null,
    'color',
    null,
    'color',
    'image',
    null,
    null,
    null,
  ])
  expect(known('background', 'light-dark(var(--ink), #fff)', { 'background-color': 'teal' })).toBe('teal')
  expect(known('background', 'linear-gradient(var(--ink), red) no-repeat', { 'background-color': 'teal' })).toBe(
    'linear-gradient(var(--ink), red) no-repeat teal',
  )
  expect(
    known('border', 'var(--twice) solid color-mix(in oklab, var(--ink) 20%, white)', {
      'border-top-color': 'red',
      'border-right-color': 'red',
      'border-bottom-color': 'red',
      'border-left-color': 'red',
    }),
  ).toBe('var(--twice) solid red')
  expect(known('border-top', '1px solid rgb(var(--none))', { 'border-top-color': 'red' })).toBe(null)
})

test('a grid line set is the line read, and the others stay', () => {
  const line = fc.constantFrom('auto', '1', '3', 'span 2', 'a', 'b')
  const shorthand = fc.constantFrom('grid-row', 'grid-column', 'grid-area')
  fc.assert(
    fc.property(shorthand, fc.array(line, { minLength: 1, maxLength: 4 }), fc.nat(3), line, (name, written, at, text) => {
      const longhands = longhandsOf(name)
      const value = written.slice(0, longhands.length).join(' / ')
      const index = at % longhands.length
      const next = set(name, value, { [longhands[index]]: text })
      if (next === null) return
      longhands.forEach((l, i) => expect(partOfShorthand(name, next, l)).toBe(i === index ? text : partOfShorthand(name, value, l)))
    }),
  )
})

test('a position set on one axis leaves the other', () => {
  const part = fc.constantFrom('10px', '50%', 'center')
  fc.assert(
    fc.property(part, part, part, (x, y, next) => {
      const value = set('background-position', `${x} ${y}`, { 'background-position-x': next })!
      expect([
        partOfShorthand('background-position', value, 'background-position-x'),
        partOfShorthand('background-position', value, 'background-position-y'),
      ]).toEqual([next, y])
    }),
  )
})
