import 'fake-indexeddb/auto'
import { expect, test } from 'vitest'
import { PickedFolder } from '../../src/folder'
import { Database } from '../../src/storage/db'
import { keptText, readKept, removeKept, setAsideDamaged, writeKept } from '../../src/storage/kept-edits'
import { createProject } from '../../src/storage/projects'
import { Desk } from '../../src/desk'
import { asHandle, Folder } from '../support/memory-folder'

const bytes = (text: string) => new TextEncoder().encode(text)
const SHEET = '.a { top: 0; }\n.b { top: 0; }\n'
const KEPT = '.steady-brush/unsaved.json'

/** A project with edits of one of its files, and the folder that they are kept in. */
async function edited() {
  const db = new Database()
  const id = await createProject(db, 'Pier', [
    { path: 'index.html', bytes: bytes('<link rel="stylesheet" href="a.css"><p class="a">x') },
    { path: 'a.css', bytes: bytes(SHEET) },
    { path: 'b.css', bytes: bytes('') },
  ])
  const desk = new Desk()
  await desk.opening.open(id, '')
  for (const [rule, value] of [
    [1, '1px'],
    [2, '2px'],
  ] as const)
    await desk.editing.commit({ kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule }, name: 'top', value }, 1)
  const disk = new Folder('pier').put('a.css', SHEET)
  return { db, id, desk, disk, folder: new PickedFolder(asHandle(disk)) }
}

test('what is kept of a project is its journal, and of its files those that were edited, byte for byte', async () => {
  const { db, id, disk, folder } = await edited()
  await writeKept(folder, await keptText(db, id, 2))
  const kept = await readKept(folder)
  if (!kept || 'damaged' in kept) throw new Error('not kept')
  expect([kept.id, kept.unsaved, kept.project.done]).toEqual([id, 2, 2])
  expect(kept.edits.map((e) => [e.before, e.after])).toEqual([
    ['0', '1px'],
    ['0', '2px'],
  ])
  expect(kept.files).toEqual([{ path: 'a.css', bytes: bytes(SHEET) }])
  // Git does not see it, and the files themselves stay as they are.
  expect([disk.text('.steady-brush/.gitignore'), disk.text('a.css')]).toEqual(['*\n', SHEET])
})

test('edits kept later take the place of those before; another project takes away its own alone', async () => {
  const { db, id, desk, disk, folder } = await edited()
  await writeKept(folder, await keptText(db, id, 2))
  await desk.history.step('undo')
  await writeKept(folder, await keptText(db, id, 1))
  expect(await readKept(folder)).toMatchObject({ unsaved: 1, project: { done: 1 } })
  await removeKept(folder, 'another')
  expect(disk.text(KEPT)).not.toBeNull()
  await removeKept(folder, id)
  expect([disk.text(KEPT), disk.text('.steady-brush/.gitignore'), await readKept(folder)]).toEqual([null, null, null])
})

test.each<[string, (text: string) => string]>([
  ['text that is cut off', (text) => text.slice(0, text.length / 2)],
  ['another kind of file', () => '{"format":"other","version":1}'],
  ['a later version', (text) => text.replace('"version":1', '"version":99')],
  ['nothing', () => ''],
  ['null', () => 'null'],
  ['an edit without its changes', (text) => text.replace(/"changes":\[[^]*?\],"/, '"changes":null,"')],
  ['a file without bytes', (text) => text.replace(/"bytes":\{"base64":"[^"]*"\}/, '"bytes":"text"')],
  ['a project that is not begun', (text) => text.replace('"done":2', '"done":"2"')],
])('%s is said to be damaged, and set aside before others are kept', async (_, damage) => {
  const { db, id, disk, folder } = await edited()
  const text = await keptText(db, id, 2)
  const other = damage(text)
  expect(other).not.toBe(text)
  disk.put(KEPT, other)
  const read = await readKept(folder)
  expect(read).toEqual({ damaged: expect.stringMatching(/./) })
  await setAsideDamaged(folder)
  await writeKept(folder, text)
  expect(disk.text('.steady-brush/damaged.json')).toBe(other)
  expect(await readKept(folder)).toMatchObject({ id })
  // What is set aside stays hidden from git once the edits are saved.
  await removeKept(folder, id)
  expect([disk.text(KEPT), disk.text('.steady-brush/.gitignore')]).toEqual([null, '*\n'])
})
