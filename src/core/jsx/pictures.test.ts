import { expect, test } from 'vitest'
import { applySplices } from '../text'
import { JsxDocument } from './document'
import { removeJsxAttribute, setJsxAttribute } from './edit'

/** A file after an edit of an attribute of its first tag with that name; the reason where it is refused. */
function edited(text: string, tag: string, name: string, value: string | null): string {
  const doc = new JsxDocument(text, 'src/Pier.tsx')
  const element = doc.elements.find((e) => e.tag === tag)!
  const plan = value === null ? removeJsxAttribute(doc, element, name) : setJsxAttribute(doc, element, name, value)
  return plan.ok ? applySplices(text, plan.splices) : `refused: ${plan.why}`
}

const PIER = `import { Menu } from './Menu'
import boat from './boat.svg'

export const Pier = () => <img src={boat} alt="" />
`

test('the picture that an import gives is read as the import says it', () => {
  const [image] = new JsxDocument(PIER, 'src/Pier.tsx').elements
  expect(image.attributes).toEqual([
    { name: 'src', value: './boat.svg' },
    { name: 'alt', value: '' },
  ])
  const other = PIER.replace('./boat.svg', './boat.svg?react')
  expect(new JsxDocument(other, 'src/Pier.tsx').elements[0].attributes.map((a) => a.name)).toEqual(['alt'])
})

test.each<[what: string, before: string, tag: string, value: string | null, after: string]>([
  [
    'one that is called after its file',
    PIER,
    'img',
    '../sea/tug-small.png',
    PIER.replaceAll('boat}', 'tugSmall}').replace('boat from', 'tugSmall from').replace('./boat.svg', '../sea/tug-small.png'),
  ],
  [
    'one in a part of its name',
    PIER.replaceAll(/\bboat\b(?!\.)/g, 'boatImage'),
    'img',
    './tug.svg',
    PIER.replaceAll(/\bboat\b(?!\.)/g, 'tugImage').replace('./boat.svg', './tug.svg'),
  ],
  [
    'one that is not',
    PIER.replaceAll(/\bboat\b(?!\.)/g, 'logo'),
    'img',
    './tug.svg',
    PIER.replaceAll(/\bboat\b(?!\.)/g, 'logo').replace('./boat.svg', './tug.svg'),
  ],
  [
    'a name that is taken',
    PIER.replace('Menu }', 'Menu as tug }'),
    'img',
    './tug.svg',
    PIER.replace('Menu }', 'Menu as tug }')
      .replace('boat from', 'tug2 from')
      .replace('{boat}', '{tug2}')
      .replace('./boat.svg', './tug.svg'),
  ],
  [
    'an address in its place',
    PIER,
    'img',
    '/boat.png',
    PIER.replace("import boat from './boat.svg'\n", '').replace('{boat}', '"/boat.png"'),
  ],
  ['the same', PIER, 'img', './boat.svg', PIER],
  ['none', PIER, 'img', null, PIER.replace("import boat from './boat.svg'\n", '').replace(' src={boat}', '')],
])('a picture that one tag shows: %s', (_, before, tag, value, after) => {
  expect(edited(before, tag, 'src', value)).toBe(after)
})

test('what other tags show stays as it is: the other picture has an import of its own, as the file writes them', () => {
  const both = `"use client";\nimport boat from "./boat.svg";\nimport { Menu } from "./Menu";\nexport const Pier = () => (\n  <p>\n    <img src={boat.src} />\n    <b style={{ background: boat }} />\n  </p>\n);\n`
  expect(edited(both, 'img', 'src', './tug.svg')).toBe(
    both.replace('"./boat.svg";', '"./boat.svg";\nimport tug from "./tug.svg";').replace('boat.src', 'tug.src'),
  )
  // What is imported already is taken from there, and what nothing uses then goes.
  const known = PIER.replace("'./boat.svg'", "'./boat.svg'\nimport ferry from './tug.svg'").replace('alt=""', 'alt={ferry}')
  expect(edited(known, 'img', 'src', './tug.svg')).toBe(known.replace("import boat from './boat.svg'\n", '').replace('{boat}', '{ferry}'))
})

test('an address gives way to an import, which stands behind directives; a new attribute has one too', () => {
  const text = `'use client'\nexport const Pier = () => <img src="/boat.png" />\n`
  const after = `'use client'\n\nimport tug from './tug.svg'\n\nexport const Pier = () => <img src={tug} />\n`
  expect(edited(text, 'img', 'src', './tug.svg')).toBe(after)
  expect(edited(text.replace(' src="/boat.png"', ''), 'img', 'src', './tug.svg')).toBe(after)
  // A link is no picture.
  expect(edited(text.replace('img src', 'a href'), 'a', 'href', './tug.svg')).toContain('href="./tug.svg"')
})

test('a framework that takes the size from the import keeps one', () => {
  const text = PIER.replace('{ Menu }', 'Image').replace('./Menu', 'next/image').replace('<img', '<Image')
  expect(edited(text, 'Image', 'src', '/tug.png')).toMatch(/refused: .*width and a height/)
  expect(edited(text.replace('alt=""', 'fill alt=""'), 'Image', 'src', '/tug.png')).toContain('<Image src="/tug.png" fill')
})
