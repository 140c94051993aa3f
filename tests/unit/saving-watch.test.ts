import 'fake-indexeddb/auto'
import Dexie from 'dexie'
import fc from 'fast-check'
import { afterAll, beforeAll, test, vi } from 'vitest'
import { Database } from '../../src/storage/db'
import { DEFAULTS } from '../../src/storage/preferences'
import { createProject } from '../../src/storage/projects'
import { Desk, type Written } from '../../src/desk'
import type { Writing } from '../../src/studio/session/writing'
import type { Timeline } from '../../src/studio/session/timeline'
import { Keeping } from '../../src/studio/session/keeping'
import { getStudio, setStudio } from '../../src/studio/store'
import { PickedFolder } from '../../src/folder'
import { asHandle, Folder } from '../support/memory-folder'

let desk: Desk
vi.mock('../../src/desk/the-desk', () => ({ theDesk: () => desk }))

/** Longest that saving may take or be silent: a look at the folder, and edits that are never read back; ms. */
const LONGEST = 9000
const SHEETS = ['a.css', 'b.css']
const TEXT = '.a {\n  top: 0;\n}\n\n.b {\n  top: 0;\n}\n'
const bytes = (text: string) => new TextEncoder().encode(text)

type Act =
  | {
      readonly act: 'edit' | 'theirs' | 'unreadable' | 'readable' | 'delete' | 'put back'
      readonly sheet: number
      readonly rule: number
    }
  | {
      readonly act: 'undo' | 'redo' | 'new take' | 'next take' | 'settle' | 'bring back' | 'disk is full' | 'disk has room' | 'read back'
    }

const place = { sheet: fc.nat(1), rule: fc.nat(1) }
const anAct: fc.Arbitrary<Act> = fc.oneof(
  { weight: 6, arbitrary: fc.record({ act: fc.constant('edit' as const), ...place }) },
  {
    weight: 5,
    arbitrary: fc.record({
      act: fc.constantFrom('theirs' as const, 'unreadable' as const, 'readable' as const, 'delete' as const, 'put back' as const),
      ...place,
    }),
  },
  {
    weight: 8,
    arbitrary: fc.record({
      act: fc.constantFrom(
        'undo' as const,
        'redo' as const,
        'new take' as const,
        'next take' as const,
        'settle' as const,
        'bring back' as const,
        'disk is full' as const,
        'disk has room' as const,
        'read back' as const,
      ),
    }),
  },
)

beforeAll(() => {
  // The window's own clock; IndexedDB keeps its own.
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval'] })
  Object.assign(globalThis, {
    addEventListener: () => {},
    removeEventListener: () => {},
    document: { visibilityState: 'visible', hasFocus: () => true },
  })
})
afterAll(() => vi.useRealTimers())

async function watch(acts: readonly Act[]): Promise<void> {
  const db = new Database()
  await db.delete()
  await db.open()
  let isFull = false
  const disk = new Folder('site', (doing) => {
    if (isFull && doing === 'write') throw new DOMException('', 'QuotaExceededError')
  })
  const files = [{ path: 'index.html', bytes: bytes('<p class="a">x') }, ...SHEETS.map((path) => ({ path, bytes: bytes(TEXT) }))]
  for (const f of files) disk.put(f.path, new TextDecoder().decode(f.bytes))
  const id = await createProject(db, 'Pier', files)
  await db.onDisk.bulkPut(files.map((f) => ({ project: id, path: f.path, bytes: null, modified: 0, size: f.bytes.length })))
  Object.assign(db.folders, { get: () => Dexie.Promise.resolve({ project: id, handle: asHandle(disk), include: [] }) })
  let next = 0

  const show = async (written: Written) => void setStudio({ ledger: written.state, revision: getStudio().revision + 1 })
  const reopen = async () => {
    desk = new Desk()
    Object.assign(desk.current, { db })
    const opened = await desk.opening.open(id, '')
    setStudio({ ledger: opened!.state })
  }
  await reopen()
  setStudio({ preferences: { ...DEFAULTS, save: 'after each edit' }, access: 'granted', status: null, pulling: null })
  const edits = { updates: { takeIn: show }, atRest: async () => {} } as unknown as Writing
  const keeping = new Keeping(edits, { showWritten: show } as unknown as Timeline, () => void reopen().then(() => keeping.look()))
  const rest = async () => {
    for (let waited = 0; waited < LONGEST; waited += 100) await vi.advanceTimersByTimeAsync(100)
  }
  keeping.watch(new PickedFolder(asHandle(disk)))
  const { useStudio } = await import('../../src/studio/store')
  const stop = useStudio.subscribe((s, before) => {
    if (s.ledger !== before.ledger) keeping.saveSoon()
  })

  const make = async (act: Act): Promise<unknown> => {
    const path = 'sheet' in act ? SHEETS[act.sheet] : ''
    switch (act.act) {
      case 'edit': {
        const text = desk.current.text(path)
        const stands = text === null ? null : await desk.places.standsAt(path, text.indexOf(act.rule ? '.b' : '.a'))
        return stands && 'rule' in stands
          ? keeping.show(() =>
              desk.editing.commit(
                {
                  kind: 'set',
                  aim: { kind: 'rule', sheet: path, rule: stands.rule },
                  name: 'top',
                  value: `${++next}px`,
                },
                1,
              ),
            )
          : null
      }
      case 'theirs':
        return disk.put(
          path,
          (disk.text(path) || TEXT).replace(act.rule ? /(\.b \{\s*top: )[^;]+/ : /(\.a \{\s*top: )[^;]+/, `$1${++next}em`),
        )
      case 'unreadable':
        return disk.putBytes(path, Uint8Array.from([0xff, 0xfe, 0x2e]))
      case 'readable':
      case 'put back':
        return disk.put(path, TEXT)
      case 'delete':
        return disk.text(path) === null ? null : disk.removeEntry(path)
      case 'undo':
      case 'redo':
        return keeping.show(() => desk.history.step(act.act as 'undo' | 'redo'))
      case 'new take':
        return keeping.show(() => desk.takes.newTake(`take ${++next}`, 'here'))
      case 'next take': {
        const { current, list } = await desk.takes.all()
        return keeping.switchTo(list[(list.findIndex((t) => t.id === current) + 1) % list.length].id)
      }
      case 'bring back':
        return keeping.show(() => desk.history.bringBack(0))
      case 'settle': {
        const [conflict] = getStudio().ledger.conflicts
        const parts = conflict ? (await desk.folder.conflict(conflict))?.parts.filter((p) => p.kind === 'conflict') : null
        return parts
          ? keeping.show(() =>
              desk.folder.settle(
                conflict,
                parts.map((_, i) => ((next + i) % 2 ? 'ours' : 'theirs')),
              ),
            )
          : null
      }
      case 'disk is full':
        isFull = true
        return null
      case 'disk has room':
        isFull = false
        return null
      case 'read back':
        for (const row of getStudio().ledger.rows) await desk.editing.judge(row.seq, { state: 'holds', elements: 1 })
        return null
    }
  }

  try {
    for (const act of acts) {
      setStudio({ status: null })
      await make(act)
      await rest()
      const { ledger, status } = getStudio()
      if (ledger.conflicts.length) continue
      const isSaved = ledger.changed.length === 0
      const isTold = status?.kind === 'error' && /Not saved|Not written|cannot be read|Save again|Look over/.test(status.text)
      if (!isSaved && !isTold)
        throw new Error(`${JSON.stringify(act)}: ${ledger.changed.join()} is not saved, and all that is said is ${JSON.stringify(status)}`)
    }
  } finally {
    stop()
    keeping.rest()
    db.close()
  }
}

test('saving after each edit is never silent: in a few seconds all is saved, or it says why not', async () => {
  await fc.assert(fc.asyncProperty(fc.array(anAct, { minLength: 50, maxLength: 50, size: 'max' }), watch), {
    numRuns: 10,
  })
}, 300_000)
