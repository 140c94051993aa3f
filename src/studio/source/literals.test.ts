// @vitest-environment jsdom
import { css } from '@codemirror/lang-css'
import { EditorState } from '@codemirror/state'
import { afterEach, expect, test } from 'vitest'
import { INITIAL, setStudio } from '../store'
import { colorOf, literalAt, literalsIn } from './literals'

const state = (doc: string) => EditorState.create({ doc, extensions: [css()] })
const found = (doc: string) => literalsIn(state(doc), 0, doc.length).map((l) => `${l.kind} ${l.text} of ${l.property}`)

afterEach(() => setStudio(INITIAL))

test.each([
  ['a { color: #fff; top: 4px }', ['color #fff of color', 'length 4px of top']],
  ['a { border: 1px solid rgb(1 2 3 / 40%) }', ['length 1px of border', 'color rgb(1 2 3 / 40%) of border']],
  ['a { margin: -4px 1.5rem 0 auto }', ['length -4px of margin', 'length 1.5rem of margin']],
  // A word is a colour only where it is one.
  [`a { font-family: "Red Hat", 'Blue 4px'; margin: 4px /* red 2px */ 3px }`, ['length 4px of margin', 'length 3px of margin']],
  ['a { background: teal url(red.png) no-repeat }', ['color teal of background']],
  ['a { color: inherit; display: block }', []],
  // A number in a name or in a time is no length.
  ['a { animation: slide2 3s; transition: top 1s; grid-area: a1 }', []],
  ['a { width: calc(100% - 2.5em) }', ['length 100% of width', 'length 2.5em of width']],
  ['.a1 { top: 0 }', []],
  ['a { --gap: 8px }', ['length 8px of --gap']],
])('%s', (doc, wanted) => {
  expect(found(doc)).toEqual(wanted)
})

test('each stands where its text stands, and the caret in it or at its edges finds it', () => {
  const doc = 'a {\n  padding: 4px 12px;\n  color: oklch(60% 0.1 200);\n}\n'
  for (const l of literalsIn(state(doc), 0, doc.length)) {
    expect(doc.slice(l.from, l.to)).toBe(l.text)
    expect(doc.slice(l.valueFrom, l.valueFrom + l.value.length)).toBe(l.value)
    for (const at of [l.from, l.to, Math.floor((l.from + l.to) / 2)]) expect(literalAt(state(doc), at)?.text).toBe(l.text)
  }
  expect(literalAt(state(doc), doc.indexOf('padding'))).toBeNull()
})

test('a token shows the colour that it stands for, once the project has one', () => {
  expect([colorOf('var(--deep)'), found('a { color: var(--deep) }')]).toEqual([null, []])
  const token = { kind: 'color', name: '--deep', text: '#123456' }
  setStudio({ scale: { ...INITIAL.scale, tokens: [token] as never } })
  expect([colorOf('var( --deep )'), found('a { color: var(--deep) }')]).toEqual(['#123456', ['color var(--deep) of color']])
  expect(colorOf('var(--other)')).toBeNull()
})

test('a value of a great length is not looked through', () => {
  expect(found(`a { background: url(data:${'x'.repeat(5000)}) red }`)).toEqual([])
})
