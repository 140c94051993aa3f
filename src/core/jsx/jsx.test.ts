import { parse } from '@babel/parser'
import { expect, test } from 'vitest'
import { readStamp, STAMP_ATTRIBUTE } from '../html'
import { textMark } from '../text'
import { stampTags } from './stamp'
import { jsxTags } from './tags'

const SOURCE = `import { Menu } from './Menu'
type Props<T> = { a: T }
export const List = <T,>({ items, ...rest }: Props<T> & { items: string[] }) => (
  <>
    <React.Fragment key="a" /><Suspense></Suspense>
    <ul className="list" {...rest}>
      {items.map((i) => <li key={i} title="a > b" onClick={() => (1 > 0 ? <b>x</b> : null)}>{i}</li>)}
    </ul>
    <Menu.Item of={<i />} />
    <svg:rect width={2}/><my-box
      x="1"
    ></my-box>
    {/* <p>no tag</p> */ '<p>'}
  </>
)
`

test('the tags of a file, each with where another attribute can stand', () => {
  const tags = jsxTags(SOURCE, 'src/List.tsx')
  expect(tags.map((t) => `${t.name} ${t.isHost}`)).toEqual([
    'React.Fragment false',
    'Suspense false',
    'ul true',
    'li true',
    'b true',
    'Menu.Item false',
    'i true',
    'svg:rect true',
    'my-box true',
  ])
  for (const t of tags) {
    expect(SOURCE.startsWith(`<${t.name}`, t.from)).toBe(true)
    expect(SOURCE[t.to - 1]).toBe('>')
    expect(SOURCE.slice(t.end, t.to)).toMatch(/^\s*\/?>$/)
  }
})

test('stamps name each tag but those of React itself, and change nothing else: no line, no other attribute, no tree', () => {
  const path = 'src/a "b" & c/List.tsx'
  const stamped = stampTags(SOURCE, path)
  expect(stamped.split('\n')).toHaveLength(SOURCE.split('\n').length)
  const found = [...stamped.matchAll(new RegExp(` ${STAMP_ATTRIBUTE}="([^"]*)"`, 'g'))]
  expect(found.reduceRight((text, m) => text.slice(0, m.index) + text.slice(m.index + m[0].length), stamped)).toBe(SOURCE)
  const tags = jsxTags(SOURCE, path)
  expect(
    found
      .map((m) => {
        const stamp = readStamp(m[1].replaceAll('&quot;', '"').replaceAll('&amp;', '&'))!
        expect(stamp).toMatchObject({ path, mark: textMark(SOURCE) })
        return tags[stamp.nth].name
      })
      .toSorted(),
  ).toEqual(['ul', 'li', 'b', 'Menu.Item', 'i', 'svg:rect', 'my-box'].toSorted())
  expect(() => parse(stamped, { sourceType: 'module', plugins: ['jsx', 'typescript'] })).not.toThrow()
  expect(jsxTags(stamped, path).map((t) => t.name)).toEqual(tags.map((t) => t.name))
})

test('what is no stamp is none, and a file that cannot be read has no tags', () => {
  for (const text of ['', '1', '1 2', 'x 2.a src/a.tsx', `1 2.a ${'x'.repeat(2000)}`, '12345678 2.a src/a.tsx'])
    expect(readStamp(text)).toBeNull()
  expect(() => jsxTags('<p>', 'a.tsx')).toThrow(SyntaxError)
})
