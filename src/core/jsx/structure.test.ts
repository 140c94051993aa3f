import { describe, expect, test } from 'vitest'
import { applySplices } from '../text'
import { JsxDocument } from './document'
import type { JsxPlace } from './spot'
import { duplicateJsx, insertJsx, moveJsx, removeJsx, unwrapJsx, wrapJsx } from './structure'

const QUAY = `import clsx from 'clsx'
import { Card, Mark } from './Card'

export function Quay({ boats, isOpen }) {
  if (!isOpen) return <p>Closed</p>
  return (
    <main className="quay">
      <h1>Boats & tides</h1>
      {isOpen && <Mark tone="low" />}

      <ul>
        {boats.map((boat) => (
          <li key={boat.id} className={clsx('boat', boat.late && 'late')}>
            {boat.name} <b>now</b> at the berth
          </li>
        ))}
      </ul>
      <div />
      <p>{boats.length > 1 ? <i>many</i> : <i>few</i>}</p>
      <Card title="Fares" icon={<em>x</em>} />
    </main>
  )
}
`

const doc = new JsxDocument(QUAY, 'Quay.tsx')
const of = (start: string): number => doc.elements.find((e) => QUAY.slice(e.node.start).startsWith(start))!.id
const place = (start: string, where: JsxPlace['where']): JsxPlace => ({ element: of(start), where })

// The lines that an edit takes and gives, or why it is refused.
function changed(plan: ReturnType<typeof removeJsx>): string {
  if (!plan.ok) return plan.why
  const [before, after] = [QUAY.split('\n'), applySplices(QUAY, plan.splices).split('\n')]
  let [head, tail] = [0, 0]
  while (before[head] === after[head] && head < after.length) head++
  while (before.at(-1 - tail) === after.at(-1 - tail) && tail < Math.min(before.length, after.length) - head) tail++
  return [
    ...before.slice(head, before.length - tail).map((l) => `-${l}`),
    ...after.slice(head, after.length - tail).map((l) => `+${l}`),
  ].join('\n')
}

describe('tags of JSX are changed as they would be typed', () => {
  test('taken out: with their line, with the condition or the list that they stand in, and imports that nothing uses then', () => {
    expect(changed(removeJsx(doc, [of('<div />')]))).toBe('-      <div />')
    expect(changed(removeJsx(doc, [of('<b>')]))).toBe(
      '-            {boat.name} <b>now</b> at the berth\n+            {boat.name} at the berth',
    )
    expect(changed(removeJsx(doc, [of('<Mark')]))).toBe(
      [
        "-import { Card, Mark } from './Card'",
        ...QUAY.split('\n')
          .slice(2, 8)
          .map((l) => `-${l}`),
        '-      {isOpen && <Mark tone="low" />}',
        "+import { Card } from './Card'",
        ...QUAY.split('\n')
          .slice(2, 8)
          .map((l) => `+${l}`),
      ].join('\n'),
    )
    const list = changed(removeJsx(doc, [of('<li')]))
    expect(list).toContain("-import clsx from 'clsx'")
    expect(list).not.toContain('+        {boats.map')
    expect(changed(removeJsx(doc, [of('<i>many')]))).toContain('+      <p>{boats.length > 1 ? null : <i>few</i>}</p>')
    expect(changed(removeJsx(doc, [of('<main')]))).toMatch(/^A component gives this element/)
  })

  test('duplicated: beside themselves, in a pair of <> where a function gives one, and never for a list’s own', () => {
    expect(changed(duplicateJsx(doc, [of('<h1>')]))).toBe('+      <h1>Boats & tides</h1>')
    expect(changed(duplicateJsx(doc, [of('<p>Closed')]))).toBe(
      '-  if (!isOpen) return <p>Closed</p>\n+  if (!isOpen) return (\n+    <>\n+      <p>Closed</p>\n+      <p>Closed</p>\n+    </>\n+  )',
    )
    expect(changed(duplicateJsx(doc, [of('<li')]))).toMatch(/once for each of a list/)
    expect(changed(duplicateJsx(doc, [of('<em>')]))).toMatch(/gives one element here/)
  })

  test('wrapped: a list’s key goes to what is now its element', () => {
    expect(changed(wrapJsx(doc, [of('<h1>')], 'header', 'top'))).toBe(
      '-      <h1>Boats & tides</h1>\n+      <header className="top">\n+        <h1>Boats & tides</h1>\n+      </header>',
    )
    expect(changed(wrapJsx(doc, [of('<li')], 'div', ''))).toBe(
      [
        "-          <li key={boat.id} className={clsx('boat', boat.late && 'late')}>",
        '-            {boat.name} <b>now</b> at the berth',
        '-          </li>',
        '+          <div key={boat.id}>',
        "+            <li className={clsx('boat', boat.late && 'late')}>",
        '+              {boat.name} <b>now</b> at the berth',
        '+            </li>',
        '+          </div>',
      ].join('\n'),
    )
    expect(changed(wrapJsx(doc, [of('<p>Closed')], 'div', ''))).toBe(
      '-  if (!isOpen) return <p>Closed</p>\n+  if (!isOpen) return (\n+    <div>\n+      <p>Closed</p>\n+    </div>\n+  )',
    )
  })

  test('unwrapped: what they hold moves out by a step, with <> where it is several', () => {
    expect(changed(unwrapJsx(doc, of('<b>')))).toBe(
      '-            {boat.name} <b>now</b> at the berth\n+            {boat.name} now at the berth',
    )
    expect(changed(unwrapJsx(doc, of('<ul>')))).toContain('+      {boats.map((boat) => (\n+        <li key={boat.id}')
    expect(changed(unwrapJsx(doc, of('<main')))).toMatch(/^-    <main className="quay">\n[^]*\+    <>\n[^]*\+    <\/>$/)
    expect(changed(unwrapJsx(doc, of('<Card')))).toMatch(/is a component/)
  })

  test('moved: whole lists and conditions, and nothing to where its names mean something else', () => {
    expect(changed(moveJsx(doc, [of('<Mark')], place('<h1>', 'before')))).toBe(
      '-      <h1>Boats & tides</h1>\n-      {isOpen && <Mark tone="low" />}\n+      {isOpen && <Mark tone="low" />}\n+      <h1>Boats & tides</h1>',
    )
    expect(changed(moveJsx(doc, [of('<h1>')], place('<div', 'last')))).toContain(
      '+      <div>\n+        <h1>Boats & tides</h1>\n+      </div>',
    )
    expect(changed(moveJsx(doc, [of('<li')], place('<div', 'first')))).toContain(
      '+      <div>\n+        {boats.map((boat) => (\n+          <li key={boat.id}',
    )
    const own = new JsxDocument('const A = ({ a }) => <p>{[1].map((n) => <ul><li>{n}</li></ul>)}<b>{a}</b></p>\n', 'A.jsx')
    const id = (tag: string) => own.elements.find((e) => e.tag === tag)!.id
    expect(moveJsx(own, [id('li')], { element: id('b'), where: 'before' })).toMatchObject({
      ok: false,
      why: expect.stringContaining('n means'),
    })
    expect(moveJsx(own, [id('b')], { element: id('ul'), where: 'first' })).toMatchObject({ ok: true })
    expect(moveJsx(own, [id('ul')], { element: id('li'), where: 'last' })).toMatchObject({ ok: false })
  })

  test('inserted: HTML as JSX says it, at the step of the file; names that are not known there are refused', () => {
    expect(
      changed(
        insertJsx(doc, place('<h1>', 'after'), '<p class="note" tabindex="0" style="padding-top: 4px">Mind the {tide}<br></p>', false),
      ),
    ).toBe('+      <p className="note" tabIndex={0} style={{ paddingTop: \'4px\' }}>Mind the &#123;tide&#125;<br /></p>')
    expect(changed(insertJsx(doc, place('<div', 'first'), '<ul>\n    <li>One</li>\n</ul>', false))).toBe(
      '-      <div />\n+      <div>\n+        <ul>\n+          <li>One</li>\n+        </ul>\n+      </div>',
    )
    expect(changed(insertJsx(doc, place('<h1>', 'after'), '<p>{boats.length}</p>', false))).toBe('+      <p>{boats.length}</p>')
    expect(changed(insertJsx(doc, place('<h1>', 'after'), '<p>{harbour}</p>', false))).toMatch(/harbour is not known/)
    expect(changed(insertJsx(doc, place('<h1>', 'after'), '<a onclick="go()">Go</a>', false))).toMatch(/onclick is a function in JSX/)
    expect(changed(insertJsx(doc, place('<h1>', 'after'), ' ', false))).toMatch(/nothing to insert/)
  })
})
