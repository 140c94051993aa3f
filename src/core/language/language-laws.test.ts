import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { applySplices, normalizeSplices, type Splice } from '../text'
import type { SourceFile } from './language'
import { languageNameOf } from './roles'
import { languageOf } from './table'

/** Files of each language, as people write them. */
const FOLDERS = [
  'demo/brinewick',
  'demo/brinewick-desk/src',
  'tests/fixtures/components',
  'tests/fixtures/mole-vue',
  'tests/fixtures/mole-svelte',
]
const FILES = FOLDERS.flatMap((folder) =>
  readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile() && languageOf(e.name) && !e.parentPath.includes('node_modules'))
    .map((e) => join(e.parentPath, e.name)),
).filter((path) => readFileSync(path).length < 30_000)

const ASTRO = `---
const tides = ['High 06:12', 'Low 12:40']
---
<ul class="tides">{tides.map((t) => <li class="tide">{t}</li>)}</ul>
<style>
  .tides { display: grid; gap: 4px }
  .tide:first-child { font-weight: 600 }
</style>
`

const BY_LANGUAGE = new Map<string, { path: string; text: string }[]>()
for (const { path, text } of [...FILES.map((f) => ({ path: f, text: readFileSync(f, 'utf8') })), { path: 'Tides.astro', text: ASTRO }]) {
  const name = languageNameOf(path)!
  BY_LANGUAGE.set(name, [...(BY_LANGUAGE.get(name) ?? []), { path, text }])
}

/** What is put into a text: what its language has a meaning for, and what it has not. */
const INSERTS = [
  '',
  'x',
  ' ',
  '\n',
  '"',
  '{',
  '}',
  '<b class="w">w</b>',
  '</',
  '/*',
  '*/',
  'color: red;',
  'className="a"',
  'é𝄞',
  '<style>',
  '-->',
  '`${',
]

/** All that a reader of a file can ask, without what says how often it was changed. */
const asked = (file: SourceFile) => ({
  text: file.text,
  elements: file.tree?.elements.map(({ id, tag, parent, startTag, endTag, attributes, texts }) => {
    return { id, tag, parent: parent?.id, startTag, endTag, attributes: attributes.map((a) => [a.name, a.value]), texts: [...texts] }
  }),
  sheets: file.sheets().map(({ element, base, sheet }) => ({
    element,
    base,
    text: sheet.text,
    rules: [...sheet.rules()].map(({ rule, statement }) => [
      rule.id,
      rule.kind,
      statement.start + rule.span.from,
      statement.start + rule.span.to,
    ]),
  })),
})

/** The same without ids, which are others after another reading. */
const meant = (file: SourceFile) => {
  const { text, elements, sheets } = asked(file)
  const order = new Map(elements?.map((e, i) => [e.id, i]))
  return {
    text,
    elements: elements?.map(({ id: _id, parent, ...rest }) => ({ ...rest, parent: parent === undefined ? undefined : order.get(parent) })),
    sheets: sheets.map(({ rules, base, text: own }) => ({ base, own, rules: rules.map(([, ...rest]) => rest) })),
  }
}

const spliceOf = (text: string, [at, length, insert]: readonly [number, number, string]): Splice => {
  const from = at % (text.length + 1)
  return { from, to: Math.min(text.length, from + length), insert }
}

const edits = fc.array(fc.tuple(fc.nat(1_000_000), fc.nat(12), fc.constantFrom(...INSERTS)), { minLength: 1, maxLength: 5 })

describe.each([...BY_LANGUAGE])('%s', (_, files) => {
  const sample = fc.tuple(fc.constantFrom(...files), edits)

  test('a file after edits is what its text would be read as', () =>
    fc.assert(
      fc.property(sample, ([{ path, text }, steps]) => {
        const file = languageOf(path)!.read(text, path)
        let expected = text
        for (const step of steps) {
          const splices = normalizeSplices([spliceOf(expected, step)])
          expected = applySplices(expected, splices)
          file.apply(splices)
        }
        expect(meant(file)).toEqual(meant(languageOf(path)!.read(expected, path)))
      }),
      { numRuns: 150 },
    ))

  test('edits that are tried leave nothing behind, and can be tried on others that are', () =>
    fc.assert(
      fc.property(sample, ([{ path, text }, steps]) => {
        const file = languageOf(path)!.read(text, path)
        const before = asked(file)
        const back: (() => void)[] = []
        for (const step of steps) {
          back.push(file.applyForNow(normalizeSplices([spliceOf(file.text, step)])).takeBack)
          asked(file)
        }
        for (const takeBack of back.reverse()) takeBack()
        expect(asked(file)).toEqual(before)
      }),
      { numRuns: 100 },
    ))

  test('an edit and what undoes it give the file back, and elements that no edit touched keep their ids', () =>
    fc.assert(
      fc.property(sample, ([{ path, text }, [step]]) => {
        const file = languageOf(path)!.read(text, path)
        const before = asked(file)
        const splice = spliceOf(text, step)
        file.apply([splice])
        const untouched = file.tree?.elements.filter((e) => e.endTag && e.endTag.to < splice.from).map((e) => [e.id, e.tag]) ?? []
        const were = new Map(before.elements?.map((e) => [e.id, e.tag]))
        // What stands wholly before an edit may be read otherwise by it, but never as an element that was another's.
        for (const [id, tag] of untouched) if (were.has(id as number)) expect(were.get(id as number)).toBe(tag)
        file.apply([{ from: splice.from, to: splice.from + splice.insert.length, insert: text.slice(splice.from, splice.to) }])
        expect(meant(file)).toEqual(meant(languageOf(path)!.read(text, path)))
      }),
      { numRuns: 100 },
    ))
})
