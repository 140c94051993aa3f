import { expect, test } from 'vitest'
import { Project } from '../project'
import { planDataText } from './plan-data-text'

const PAGE = "import { fares } from './fares'\nexport const List = () => fares.map((f) => <li key={f.id}>{f.name}</li>)\n"

/** The files with another text where the one that an element of `List.tsx` shows comes from; or why it is not written. */
function written(files: Readonly<Record<string, string>>, was: string, text: string): Record<string, string> | string {
  const all = { 'List.tsx': PAGE, ...files }
  const project = new Project(Object.entries(all).map(([path, t], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(t) })))
  const plan = planDataText(project, 'List.tsx', '1.1', was, text)
  if (!plan.ok) return plan.why
  for (const c of plan.changes) project.apply(c.path, c.splices)
  return Object.fromEntries(
    Object.keys(all).flatMap((path) => (project.text(path) === all[path as never] ? [] : [[path, project.text(path)]])),
  )
}

test.each([
  // A literal of a module, in its quotes, with what those need escaped.
  [
    "export const fares = [{ id: 1, name: 'Single' }]\n",
    'fares.ts',
    'Single',
    "Day's return",
    "export const fares = [{ id: 1, name: 'Day\\'s return' }]\n",
  ],
  [
    'export const fares = [{ name: "Single" }]\n',
    'fares.ts',
    ' Single ',
    'Say "two"',
    'export const fares = [{ name: "Say \\"two\\"" }]\n',
  ],
  ['export const name = `Single`\n', 'fares.ts', 'Single', '`a` ${b}', 'export const name = `\\`a\\` \\${b}`\n'],
  // JSON stays JSON.
  ['[{ "name": "Single" }]\n', 'fares.json', 'Single', 'a "b"\\', '[{ "name": "a \\"b\\"\\\\" }]\n'],
])('%s', (text, path, was, becomes, wanted) => {
  const done = written({ [path]: text }, was, becomes)
  expect(done).toEqual({ [path]: wanted })
  if (path.endsWith('.json')) expect(JSON.parse(wanted)[0].name).toBe(becomes)
})

test('of several that say it, the one in the file that the page imports is changed', () => {
  const far = { 'other/notes.ts': "export const note = 'Single'\n" }
  expect(written({ 'fares.ts': "export const fares = [{ name: 'Single' }]\n", ...far }, 'Single', 'Return')).toEqual({
    'fares.ts': "export const fares = [{ name: 'Return' }]\n",
  })
  // The file that shows it comes before those that it imports.
  const own = PAGE.replace('export', "const first = { name: 'Single' }\nexport")
  expect(written({ 'List.tsx': own, 'fares.ts': "export const fares = [{ name: 'Single' }]\n" }, 'Single', 'Return')).toEqual({
    'List.tsx': own.replace("'Single'", "'Return'"),
  })
})

test('what no literal says, and what several as near say, is not written: the places are named', () => {
  expect(written({}, 'Single', 'Return')).toBe('This text comes from data, and no literal of the project says it.')
  expect(written({}, '  ', 'Return')).toBe('This text comes from data.')
  const twice = "export const fares = [\n  { name: 'Single' },\n  { name: 'Single' },\n]\n"
  expect(written({ 'fares.ts': twice }, 'Single', 'Return')).toBe(
    'This text comes from data, which says it in fares.ts:2, fares.ts:3. Change it in Source.',
  )
  const many = Array.from({ length: 5 }, (_, i) => [`data/${i}.ts`, "export const a = 'Single'\n"])
  expect(written(Object.fromEntries(many), 'Single', 'Return')).toMatch(/data\/0\.ts:1, data\/1\.ts:1, data\/2\.ts:1 and 2 more/)
  // A part of a literal is another text.
  expect(written({ 'fares.ts': "export const a = 'Single fare'\n" }, 'Single', 'Return')).toMatch(/no literal/)
})
