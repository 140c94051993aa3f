import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { expect, test } from 'vitest'
import { Database } from '../../src/storage/db'
import { createProject, loadProject } from '../../src/storage/projects'
import { LinkedFolder, Desk } from '../../src/desk'
import { openLinkedDesk } from '../support/desk-in-memory'
import { asHandle, Folder } from '../support/memory-folder'

const bytes = (text: string) => new TextEncoder().encode(text)
const SHEET = '.a { top: 0; }\n.b { top: 0; }\n'

async function open() {
  const db = new Database()
  const id = await createProject(db, 'Pier', [
    { path: 'index.html', bytes: bytes('<link rel="stylesheet" href="a.css"><p class="a">x') },
    { path: 'a.css', bytes: bytes(SHEET) },
  ])
  const desk = new Desk()
  await desk.opening.open(id, '')
  return {
    db,
    id,
    desk,
    set: (rule: number, value: string) =>
      desk.editing.commit({ kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule }, name: 'top', value }, 1),
  }
}

test('when the room is used up, what can be worked out again makes way; else the edit is not made, and can be once there is room', async () => {
  const { db, id, desk, set } = await open()
  await set(1, '1px')
  await db.vocabularies.put({ key: 'k', made: 1, index: {} as never })
  let full = 1
  const { edits } = desk.current.db
  const put = edits.put.bind(edits)
  edits.put = ((...args: Parameters<typeof put>) =>
    full-- > 0 ? Promise.reject(new DOMException('no room', 'QuotaExceededError')) : put(...args)) as typeof edits.put
  await set(2, '2px')
  expect(await db.vocabularies.count()).toBe(0)
  const now = desk.current.text('a.css')
  expect(now).toBe('.a { top: 1px; }\n.b { top: 2px; }\n')
  full = 9
  await expect(set(1, '3px')).rejects.toThrow(/no room left to store it/)
  expect(desk.current.text('a.css')).toBe(now)
  full = 0
  expect((await loadProject(db, id))!.edits.map((e) => e.after)).toEqual(['1px', '2px'])
  await set(1, '3px')
  expect((await loadProject(db, id))!.edits.map((e) => e.after)).toEqual(['1px', '2px', '3px'])
})

test('the ledger has what no save has; an edit that was taken out is in neither', async () => {
  const { desk, set } = await open()
  await set(1, '1px')
  await set(2, '2px')
  const gone = await desk.history.discard(1)
  expect('state' in gone && gone.state.rows.map((r) => r.after)).toEqual(['2px'])
  expect(desk.current.text('a.css')).toBe('.a { top: 0; }\n.b { top: 2px; }\n')
  const back = await desk.history.goTo(2)
  expect(back!.state.rows.map((r) => r.after)).toEqual(['1px', '2px'])
  expect(await desk.exports.patch([2])).toContain('+.a { top: 1px; }')
  expect(await desk.exports.patch([2])).not.toContain('2px')
})

test('an edit that was never read back is told as such once the project is opened again, and waits for nothing', async () => {
  const { id, desk, set } = await open()
  await set(1, '1px')
  await desk.editing.judge(1, { state: 'holds', elements: 1 })
  await set(2, '2px')
  const again = await new Desk().opening.open(id, '')
  expect(again!.state.rows.map((r) => r.verdict.state)).toEqual(['holds', 'unread'])
})

const NAMES = ['a', 'b', 'c', 'd', 'e', 'f']
const many = (values: readonly string[]) => NAMES.map((n, i) => `.${n} {\n  top: ${values[i]};\n}\n`).join('\n')

/** Asked for without waiting for the answer to what was asked for before, or after it. */
type Asked = {
  readonly waits: boolean
  readonly what: 'set' | 'type' | 'undo' | 'redo' | 'judge' | 'discard' | 'open' | 'save'
  readonly rule: number
  readonly value: number
}

test('whatever is asked for at once takes its turn: the project opened again is the open one, and the ledger has what the folder has not', async () => {
  const asked: fc.Arbitrary<Asked> = fc.record({
    waits: fc.boolean(),
    what: fc.constantFrom('set', 'set', 'type', 'undo', 'redo', 'judge', 'discard', 'open', 'save'),
    rule: fc.nat(5),
    value: fc.integer({ min: 1, max: 9 }),
  })
  let edits = 0
  await fc.assert(
    fc.asyncProperty(fc.array(asked, { minLength: 3, maxLength: 12 }), fc.boolean(), async (asks, hasFolder) => {
      const start = many(['0', '0', '0', '0', '0', '0'])
      const files = [
        { path: 'index.html', bytes: bytes('<p>') },
        { path: 's.css', bytes: bytes(start) },
      ]
      const disk = new Folder('site').put('index.html', '<p>').put('s.css', start)
      const db = new Database()
      const id = await createProject(db, 'Pier', files)
      const desk = new Desk()
      await desk.opening.open(id, '')
      if (hasFolder)
        Object.assign(desk.current, {
          folder: new LinkedFolder(
            db,
            id,
            { project: id, handle: asHandle(disk), include: [] },
            files.map((f) => ({ project: id, path: f.path, bytes: null, modified: 0, size: f.bytes.length })),
            (path) => files.find((f) => f.path === path)!.bytes,
          ),
        })
      const ask = ({ what, rule, value }: Asked): Promise<unknown> => {
        const now = desk.current.text('s.css')!
        switch (what) {
          case 'set':
            return desk.editing.commit(
              { kind: 'set', aim: { kind: 'rule', sheet: 's.css', rule: rule + 1 }, name: 'top', value: `${value}px` },
              1,
            )
          case 'type':
            return desk.editing.typed('s.css', now, now.replace(/top: [^;]+/, `top: ${value}em`))
          case 'judge':
            return desk.editing.judge(value, { state: 'holds', elements: 1 })
          case 'discard':
            return desk.history.discard(value)
          // A project with a folder is opened by its handle, which this database cannot hold.
          case 'open':
            return hasFolder ? desk.folder.check() : desk.opening.open(id, '')
          case 'save':
            return desk.saving.save([])
          default:
            return desk.history.step(what)
        }
      }
      const answers: Promise<unknown>[] = []
      for (const one of asks) {
        const answer = ask(one).catch(() => {})
        answers.push(answer)
        if (one.waits) await answer
      }
      const given = await Promise.all(answers)
      edits += given.filter((g) => typeof g === 'object' && g !== null && 'edit' in g).length
      const again = new Desk()
      const opened = (await again.opening.open(id, ''))!
      expect(again.current.text('s.css')).toBe(desk.current.text('s.css'))
      expect((await db.edits.where('project').equals(id).sortBy('seq')).map((e) => e.seq)).toEqual(
        (await again.history.read()).edits.map((e) => e.seq),
      )
      expect(opened.state.done).toBe((await desk.history.read()).done)
      const { rows, undone } = await desk.editing.judge(0, { state: 'holds', elements: 1 })
      if (hasFolder && disk.text('s.css') !== desk.current.text('s.css')) expect(rows.length + undone).toBeGreaterThan(0)
    }),
    { numRuns: 150 },
  )
  expect(edits).toBeGreaterThan(300)
}, 120_000)

test('a file that someone took away is not written again by a save that comes before the project is opened again', async () => {
  const db = new Database()
  const files = [
    { path: 'index.html', bytes: bytes('<p>') },
    { path: 'a.css', bytes: bytes(SHEET) },
    { path: 'b.css', bytes: bytes(SHEET) },
  ]
  const disk = files.reduce((d, f) => d.put(f.path, new TextDecoder().decode(f.bytes)), new Folder('site'))
  const id = await createProject(db, 'Pier', files)
  const row = { project: id, handle: asHandle(disk), include: [] }
  await db.onDisk.bulkPut(files.map((f) => ({ project: id, path: f.path, bytes: null, modified: 0, size: f.bytes.length })))
  const desk = new Desk()
  const openIt = async () => {
    await desk.opening.open(id, '')
    Object.assign(desk.current, {
      folder: new LinkedFolder(
        db,
        id,
        row,
        await db.onDisk.where('project').equals(id).toArray(),
        (path) => files.find((f) => f.path === path)!.bytes,
      ),
    })
  }
  await openIt()
  await desk.editing.commit({ kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule: 1 }, name: 'top', value: '1px' }, 1)
  await disk.removeEntry('b.css')
  expect((await desk.folder.check())!.reopen).toEqual(['b.css'])
  expect(await desk.saving.save([])).toMatchObject({ ok: false, why: expect.stringMatching(/changed the folder meanwhile/) })
  expect([disk.text('a.css'), disk.text('b.css')]).toEqual([SHEET, null])
  await openIt()
  expect(await desk.saving.save([])).toMatchObject({ ok: true, files: 1 })
  expect([disk.text('a.css'), disk.text('b.css')]).toEqual(['.a { top: 1px; }\n.b { top: 0; }\n', null])
})

test('what a new name would write is told line by line; scripts that say the old one, and a name that is taken, are told beside it', async () => {
  const db = new Database()
  const id = await createProject(db, 'Pier', [
    { path: 'index.html', bytes: bytes('<link rel="stylesheet" href="a.css">\n<p class="boat late">x\n') },
    { path: 'a.css', bytes: bytes('.boat, .late .boat-bell { top: 0 }\n.boat:hover {\n  .late & { top: 1px }\n}\n') },
    {
      path: 'js/deck.js',
      bytes: bytes('// boats\nconst bell = ".boat-bell"\ndocument.querySelector(".boat").hidden = true\n'),
    },
  ])
  const desk = new Desk()
  await desk.opening.open(id, '')
  expect(await desk.reading.namesOf('a.css', 1)).toEqual({
    selector: '.boat, .late .boat-bell',
    classes: ['boat', 'late', 'boat-bell'],
  })
  expect(await desk.reading.namesOf('a.css', 99)).toBeNull()
  const told = await desk.reading.wouldWrite({ kind: 'rename-class', from: 'boat', to: 'ferry' })
  expect(told.ok && told.files.map((f) => [f.path, f.places])).toEqual([
    ['a.css', 2],
    ['index.html', 1],
  ])
  expect(told.ok && told.files[0].patch).toContain('+.ferry, .late .boat-bell { top: 0 }')
  expect(await desk.reading.besidesRename({ kind: 'rename-class', from: 'boat', to: 'late' })).toEqual({
    scripts: [{ path: 'js/deck.js', line: 3 }],
    taken: true,
  })
  expect(await desk.reading.besidesRename({ kind: 'rename-class', from: 'late', to: 'never' })).toEqual({ scripts: [], taken: false })
  expect(await desk.reading.wouldWrite({ kind: 'rename-class', from: 'boat', to: '' })).toMatchObject({ ok: false })
  // Nothing of that was written.
  expect(desk.current.text('a.css')).toContain('.boat:hover')
})

test('what the source says already is no edit', async () => {
  const { desk, set } = await open()
  expect(await set(1, '0')).toMatchObject({ ok: false, reason: 'nothing-new' })
  expect(await set(1, '1px')).toMatchObject({ path: 'a.css' })
  expect(await set(1, '1px')).toMatchObject({ ok: false, reason: 'nothing-new' })
  expect(desk.current.text('a.css')).toBe('.a { top: 1px; }\n.b { top: 0; }\n')
})

/** A project of one page and sheets that is linked to a folder that has the same. */
async function linked(sheets: Readonly<Record<string, string>>) {
  const { db, id, disk, desk } = await openLinkedDesk({ 'index.html': '<p class="a">x', ...sheets })
  const set = (rule: number, value: string, sheet = 'a.css') =>
    desk.editing.commit({ kind: 'set', aim: { kind: 'rule', sheet, rule }, name: 'top', value }, 1)
  return { db, id, disk, desk, set, now: () => desk.current.text('a.css') }
}
const ALL = '.a { top: 0; }\n\n.b { top: 0; }\n\n.c { top: 0; }\n'

test('undo takes back the last edit of ours and leaves what came from the folder; redo brings ours back', async () => {
  const { disk, desk, set, now } = await linked({ 'a.css': ALL })
  await set(1, '1px')
  await set(2, '2px')
  disk.put('a.css', ALL.replace('.c { top: 0', '.c { top: 9em'))
  await desk.folder.check()
  const both = now()!
  expect(both).toBe('.a { top: 1px; }\n\n.b { top: 2px; }\n\n.c { top: 9em; }\n')
  await desk.history.step('undo')
  expect(now()).toBe('.a { top: 1px; }\n\n.b { top: 0; }\n\n.c { top: 9em; }\n')
  await desk.history.step('undo')
  expect(now()).toBe('.a { top: 0; }\n\n.b { top: 0; }\n\n.c { top: 9em; }\n')
  // Nothing of ours is left: what is theirs is named, and stays.
  await expect(desk.history.step('undo')).rejects.toThrow(/a\.css was changed by someone else/)
  await desk.history.step('redo')
  await desk.history.step('redo')
  expect(now()).toBe(both)
})

test('what came from the folder while one take was current is in the other too, or is shown against it', async () => {
  const { disk, desk, set, now } = await linked({ 'a.css': ALL })
  await desk.takes.newTake('Second', 'here')
  const { current: second } = await desk.takes.all()
  await set(2, '2px')
  disk.put('a.css', ALL.replace('.c { top: 0', '.c { top: 9em'))
  await desk.folder.check()
  await desk.takes.switchTake('')
  expect(now()).toBe(ALL.replace('.c { top: 0', '.c { top: 9em'))
  await set(1, '1px')
  await desk.takes.switchTake(second)
  expect(now()).toBe('.a { top: 0; }\n\n.b { top: 2px; }\n\n.c { top: 9em; }\n')
  // Their word on a rule that the first take has its own on.
  disk.put('a.css', disk.text('a.css')!.replace('.a { top: 0', '.a { top: 8em'))
  await desk.folder.check()
  await desk.takes.switchTake('')
  expect(now()).toContain('.a { top: 1px; }')
  expect((await desk.folder.check())!.conflicts).toEqual(['a.css'])
  expect(JSON.stringify(await desk.folder.conflict('a.css'))).toContain('8em')
  expect((await desk.saving.save([])).ok).toBe(false)
  await desk.folder.settle('a.css', ['theirs'])
  expect(await desk.saving.save([])).toMatchObject({ ok: true })
  expect(disk.text('a.css')).toBe('.a { top: 8em; }\n\n.b { top: 0; }\n\n.c { top: 9em; }\n')
})

test('a file that someone deleted goes where nobody edited it; else it is asked, and an answer holds until it is edited again', async () => {
  const { db, id, disk, desk, set } = await linked({ 'a.css': ALL, 'b.css': SHEET })
  await desk.takes.newTake('Second', 'here')
  const { current: second } = await desk.takes.all()
  await set(1, '1px')
  await desk.takes.switchTake('')
  // The other take edits it: it is kept for that, and asked about.
  await disk.removeEntry('a.css')
  await disk.removeEntry('b.css')
  const check = (await desk.folder.check())!
  expect([check.reopen, check.conflicts]).toEqual([['b.css'], ['a.css']])
  expect(await desk.folder.conflict('a.css')).toMatchObject({ isDeleted: true, parts: [{ theirs: [] }] })
  expect((await desk.saving.save([])).ok).toBe(false)
  // It comes back as it was: there is nothing to ask.
  disk.put('a.css', ALL)
  expect((await desk.folder.check())!.conflicts).toEqual([])
  await disk.removeEntry('a.css')
  expect((await desk.folder.check())!.conflicts).toEqual(['a.css'])
  await desk.folder.settle('a.css', ['theirs'])
  const again = new Desk()
  await again.opening.open(id, '')
  const link = async () =>
    Object.assign(again.current, {
      folder: new LinkedFolder(
        db,
        id,
        { project: id, handle: asHandle(disk), include: [] },
        (await db.onDisk.where('project').equals(id).toArray()).filter((r) => r.path === 'index.html'),
        () => bytes('<p class="a">x'),
      ),
    })
  await link()
  await again.folder.check()
  await again.saving.save([])
  expect(disk.text('a.css')).toBe(null)
  await again.takes.switchTake(second)
  expect(again.current.text('a.css')).toContain('.a { top: 1px; }')
  await again.saving.save([])
  expect(disk.text('a.css')).toBe(null)
  await again.editing.commit({ kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule: 2 }, name: 'top', value: '2px' }, 1)
  await again.saving.save([])
  expect(disk.text('a.css')).toBe('.a { top: 1px; }\n\n.b { top: 2px; }\n\n.c { top: 0; }\n')
})

test('as saved, and a take begun from what is saved, are what the folder was given: without what was left out', async () => {
  const { disk, desk, set, now } = await linked({ 'a.css': ALL })
  await set(1, '1px')
  await set(2, '2px')
  await desk.saving.save([1])
  await set(3, '3px')
  const edited = now()
  expect(disk.text('a.css')).toBe('.a { top: 0; }\n\n.b { top: 2px; }\n\n.c { top: 0; }\n')
  await desk.saving.asSaved(true)
  await desk.saving.asSaved(false)
  expect(now()).toBe(edited)
  await desk.takes.newTake('From saved', 'saved')
  expect(now()).toBe(disk.text('a.css'))
  await desk.takes.switchTake('')
  expect(now()).toBe(edited)
})

test('a file that someone saved so that it cannot be read is told and not written; the others are taken in and saved', async () => {
  const { disk, desk, set } = await linked({ 'a.css': ALL, 'b.css': SHEET, 'c.css': SHEET })
  await set(1, '1px')
  await set(1, '1px', 'b.css')
  const broken = new Uint8Array([0x2e, 0xff, 0xfe, 0x00, 0xd8])
  Object.assign(disk.entries.get('b.css')!, { bytes: broken, modified: 1e9 })
  disk.put('c.css', SHEET.replace('0', '7em'))
  const check = (await desk.folder.check())!
  expect(check.unreadable.map((u) => u.path)).toEqual(['b.css'])
  expect(desk.current.text('c.css')).toBe(SHEET.replace('0', '7em'))
  expect(await desk.saving.save([])).toMatchObject({ ok: true, files: 1, held: [{ path: 'b.css' }] })
  expect(disk.text('a.css')).toContain('.a { top: 1px; }')
  expect((disk.entries.get('b.css') as unknown as { bytes: Uint8Array }).bytes).toEqual(broken)
  expect(desk.current.text('b.css')).toContain('.a { top: 1px; }')
})

test('line ends that someone turned, and no other change, are no conflict: our edits stay, with theirs', async () => {
  const { disk, desk, set, now } = await linked({ 'a.css': ALL })
  await set(1, '1px')
  disk.put('a.css', ALL.replaceAll('\n', '\r\n'))
  const check = (await desk.folder.check())!
  expect(check.conflicts).toEqual([])
  expect(now()).toBe(ALL.replace('.a { top: 0', '.a { top: 1px').replaceAll('\n', '\r\n'))
  expect(await desk.saving.save([])).toMatchObject({ ok: true })
  expect(disk.text('a.css')).toBe(now())
})

test('a journal is checked against its files when it is opened: what was not made on them is left out and told', async () => {
  const { db, id, set } = await linked({ 'a.css': ALL })
  await set(1, '1px')
  await set(2, '2px')
  await set(3, '3px')
  // The second edit as another text would have it.
  const second = (await db.edits.get([id, 2]))!
  await db.edits.put({
    ...second,
    changes: second.changes.map((c) => ({
      ...c,
      of: 'x',
      splices: c.splices.map((s) => ({ ...s, from: s.from - 3, to: s.to - 3 })),
    })),
  })
  const again = new Desk()
  const opened = (await again.opening.open(id, ''))!
  expect(opened.lost).toBe(2)
  expect(again.current.text('a.css')).toBe(ALL.replace('.a { top: 0', '.a { top: 1px'))
})

test('what a save would write besides the edits is a row of the review, and stays in the folder where it is left out', async () => {
  const { disk, desk, set, now } = await linked({ 'a.css': ALL })
  await set(1, '1px')
  await set(2, '2px')
  await desk.saving.save([])
  const saved = disk.text('a.css')
  await desk.history.step('undo')
  // Undone since, and an edit beside it.
  await set(3, '3px')
  expect((await desk.saving.review([])).others).toEqual([{ path: 'a.css', isStoodOn: false }])
  expect((await desk.saving.review([], ['a.css'])).files[0].patch).not.toMatch(/^[-+].b /m)
  expect(await desk.saving.save([], ['a.css'])).toMatchObject({ ok: true, files: 1 })
  expect(disk.text('a.css')).toBe(saved!.replace('.c { top: 0', '.c { top: 3px'))
  expect(now()).toBe(saved!.replace('2px', '0').replace('.c { top: 0', '.c { top: 3px'))
  // It is still there to be written, and with an edit on the same line it is not left out.
  expect((await desk.saving.review([])).others).toHaveLength(1)
  await set(2, '4px')
  expect((await desk.saving.review([])).others).toEqual([{ path: 'a.css', isStoodOn: true }])
  expect(await desk.saving.save([], ['a.css'])).toMatchObject({ ok: true })
  expect(disk.text('a.css')).toBe(now())
})

test('a folder that cannot be read is told, and nothing is written', async () => {
  const { disk, desk, set } = await linked({ 'a.css': ALL })
  await set(1, '1px')
  disk.values = () => {
    throw new DOMException('', 'NotFoundError')
  }
  expect(await desk.saving.save([])).toMatchObject({
    ok: false,
    why: expect.stringMatching(/The folder site is not there any more/),
  })
})
