import 'fake-indexeddb/auto'
import { expect, test } from 'vitest'
import { Database } from '../../src/storage/db'
import { createProject, loadProject } from '../../src/storage/projects'
import { KeepingDesk } from '../../src/studio/desk/keeping-desk'

const bytes = (text: string) => new TextEncoder().encode(text)
const SHEET = '.a { top: 0; }\n.b { top: 0; }\n'

async function open() {
  const db = new Database()
  const id = await createProject(db, 'Pier', [{ path: 'index.html', bytes: bytes('<link rel="stylesheet" href="a.css"><p class="a">x') }, { path: 'a.css', bytes: bytes(SHEET) }])
  const desk = new KeepingDesk()
  await desk.open(id, '')
  return { db, id, desk, set: (rule: number, value: string) => desk.commit({ kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule }, name: 'top', value }, 1) }
}

test('when the room is used up, what can be worked out again makes way; else the edit is not made, and can be once there is room', async () => {
  const { db, id, desk, set } = await open()
  await set(1, '1px')
  await db.vocabularies.put({ key: 'k', made: 1, index: {} as never })
  let full = 1
  const { edits } = (desk as unknown as { db: Database }).db
  const put = edits.put.bind(edits)
  edits.put = ((...args: Parameters<typeof put>) => (full-- > 0 ? Promise.reject(new DOMException('no room', 'QuotaExceededError')) : put(...args))) as typeof edits.put
  await set(2, '2px')
  expect(await db.vocabularies.count()).toBe(0)
  const now = desk.text('a.css')
  expect(now).toBe('.a { top: 1px; }\n.b { top: 2px; }\n')
  full = 9
  await expect(set(1, '3px')).rejects.toThrow(/no room left to store it/)
  expect(desk.text('a.css')).toBe(now)
  full = 0
  expect((await loadProject(db, id))!.edits.map((e) => e.after)).toEqual(['1px', '2px'])
  await set(1, '3px')
  expect((await loadProject(db, id))!.edits.map((e) => e.after)).toEqual(['1px', '2px', '3px'])
})

test('the ledger has what no save has; an edit that was taken out is in neither', async () => {
  const { desk, set } = await open()
  await set(1, '1px')
  await set(2, '2px')
  const gone = await desk.discard(1)
  expect('state' in gone && gone.state.rows.map((r) => r.after)).toEqual(['2px'])
  expect(desk.text('a.css')).toBe('.a { top: 0; }\n.b { top: 2px; }\n')
  const back = await desk.goTo(2)
  expect(back!.state.rows.map((r) => r.after)).toEqual(['1px', '2px'])
  expect(await desk.patch([2])).toContain('+.a { top: 1px; }')
  expect(await desk.patch([2])).not.toContain('2px')
})
