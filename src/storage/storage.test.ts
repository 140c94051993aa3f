import 'fake-indexeddb/auto'
import '../../tests/support/blob-reader'
import Dexie from 'dexie'
import { describe, expect, test } from 'vitest'
import type { JournalEdit } from '../core/edit'
import { ImportError } from '../folder'
import { Database } from './db'
import { CHOICES, DEFAULTS, loadPreferences, readPreferences, storePreferences } from './preferences'
import { createProject, loadProject, removeProject, storeEdit, storeSave } from './projects'
import { storeTake, swapTake } from './takes'

const { backUp, restore, takenBy } = await import('./backup')

const bytes = (text: string) => new TextEncoder().encode(text)
const FILES = [
  { path: 'index.html', bytes: bytes('\ufeff<p>é</p>\r\n') },
  { path: 'a.css', bytes: bytes('p{}') },
]
const edit = (seq: number, more: Partial<JournalEdit> = {}): JournalEdit => ({
  seq,
  changes: [{ path: 'a.css', splices: [{ from: 2, to: 2, insert: 'x' }], inverse: [{ from: 2, to: 3, insert: '' }] }],
  path: 'a.css',
  name: 'color',
  before: null,
  after: 'x',
  at: 2,
  label: 'p',
  reach: 1,
  made: 1000 + seq,
  verdict: { state: 'holds', elements: 1 },
  ...more,
})
let count = 0
const fresh = () => new Database(`test ${++count}`)

/** The stores of each version as it was, in order. */
const VERSIONS: readonly Readonly<Record<string, string>>[] = [
  { projects: 'id, opened', files: '[project+key], [project+path]', edits: '[project+seq]', views: 'project' },
  { vocabularies: 'key, made' },
]

describe('storage', () => {
  test.each([1, 2])('what version %i stored is there after the migration', async (version) => {
    const name = `old ${version}`
    const old = new Dexie(name)
    VERSIONS.slice(0, version).forEach((stores, i) => old.version(i + 1).stores(stores))
    await old.table('projects').add({ id: 'pier', name: 'Pier', created: 1, opened: 2, done: 1 })
    await old.table('files').bulkAdd(FILES.map((f, i) => ({ project: 'pier', key: i + 1, ...f })))
    await old.table('edits').add({ ...edit(1), project: 'pier' })
    await old.table('views').add({ project: 'pier', page: '/', width: null, scrollX: 0, scrollY: 7, picked: null, mode: 'pick' })
    old.close()
    const db = new Database(name)
    const loaded = await loadProject(db, 'pier')
    expect(loaded).toMatchObject({
      row: { name: 'Pier', done: 1 },
      edits: [{ seq: 1, after: 'x' }],
      view: { scrollY: 7 },
      folder: null,
      onDisk: [],
      saving: null,
    })
    expect(loaded!.files.map((f) => f.bytes)).toEqual(FILES.map((f) => f.bytes))
    // What is new works on it.
    await storeEdit(db, 'pier', edit(2))
    await storeSave(db, { project: 'pier', made: 5, done: 2, leftOut: [1], files: ['a.css'] }, [])
    expect((await loadProject(db, 'pier'))!.row).toMatchObject({ done: 2, saved: 2, leftOut: [1] })
    db.close()
  })

  test('an edit after an undo past a save takes back what the save had of it', async () => {
    const db = fresh()
    const id = await createProject(db, 'Pier', FILES)
    for (const n of [1, 2, 3]) await storeEdit(db, id, edit(n))
    await storeSave(db, { project: id, made: 5, done: 3, leftOut: [1, 3], files: [] }, [])
    await storeEdit(db, id, edit(2, { after: 'y' }))
    const { row, edits } = (await loadProject(db, id))!
    expect([row.saved, row.leftOut, edits.map((e) => e.after)]).toEqual([1, [1], ['x', 'y']])
  })

  test('a project goes with all that is its, and nothing else', async () => {
    const db = fresh()
    const [a, b] = [await createProject(db, 'Pier', FILES), await createProject(db, 'Pier', FILES)]
    expect(a).not.toBe(b)
    for (const id of [a, b]) {
      await storeEdit(db, id, edit(1))
      await storeTake(db, id, { id: 't', name: 'T', made: 1 }, [edit(1)], 1)
      await storePreferences(db, id, { units: 'rem' })
    }
    await removeProject(db, a)
    const left = await Promise.all(db.tables.map(async (t) => [t.name, await t.count()]))
    expect(Object.fromEntries(left)).toMatchObject({ projects: 1, files: 2, edits: 1, takes: 1, preferences: 1 })
    expect((await loadProject(db, b))!.edits).toHaveLength(1)
  })

  test('a take that is swapped in has its edits, and the other keeps its own', async () => {
    const db = fresh()
    const id = await createProject(db, 'Pier', FILES)
    for (const n of [1, 2]) await storeEdit(db, id, edit(n))
    await storeTake(db, id, { id: '', name: 'One', made: 0 }, [], 0)
    await storeTake(db, id, { id: 'b', name: 'Two', made: 1 }, [edit(1), edit(2, { after: 'other' }), edit(3)], 2)
    await swapTake(db, id, { id: '', edits: [edit(1), edit(2)], done: 2 }, (await db.takes.get([id, 'b']))!, 1, [])
    const { row, edits } = (await loadProject(db, id))!
    expect([row.take, row.done, row.saved, edits.map((e) => e.after)]).toEqual(['b', 2, 1, ['x', 'other', 'x']])
    expect((await db.takes.get([id, '']))!.edits.map((e) => e.after)).toEqual(['x', 'x'])
  })

  test('what is no backup changes nothing; one that comes back is a story', async () => {
    const db = fresh()
    const id = await createProject(db, 'Pier', FILES)
    const file = (data: object) =>
      JSON.stringify({
        formatName: 'dexie',
        formatVersion: 1,
        data: { databaseName: db.name, databaseVersion: 3, tables: [], data: [], ...data },
      })
    for (const bad of [
      '',
      '{',
      '{}',
      '[]',
      '"x"',
      'null',
      file({ databaseName: 'other' }),
      file({ databaseVersion: 93 }),
      file({ data: [{ tableName: 'sparkles', rows: [] }] }),
    ])
      await expect(restore(db, new Blob([bad]))).rejects.toThrow(ImportError)
    expect((await loadProject(db, id))!.files).toHaveLength(2)
  })

  test('a backup comes back beside a project that has its id by now; in its place only when that is asked for', async () => {
    const db = fresh()
    const id = await createProject(db, 'Pier', FILES)
    await storeEdit(db, id, edit(1, { after: 'kept' }))
    const file = await backUp(db)
    await removeProject(db, id)
    // Another project has taken the id meanwhile.
    expect(await createProject(db, 'Pier', [{ path: 'other.html', bytes: bytes('<p>other') }])).toBe(id)
    await storePreferences(db, '', { theme: 'dark' })
    expect(await takenBy(db, file)).toEqual([{ id, name: 'Pier', here: 'Pier', edits: 0 }])
    expect(await restore(db, file)).toEqual([{ id: 'pier-2', name: 'Pier, from a backup', beside: id, lost: 0 }])
    expect((await loadProject(db, id))!.files.map((f) => f.path)).toEqual(['other.html'])
    expect(await loadProject(db, 'pier-2')).toMatchObject({ edits: [{ after: 'kept' }], row: { done: 1, saved: 0 } })
    expect((await loadPreferences(db, id)).all).toMatchObject({ theme: 'dark' })
    expect(await restore(db, file, new Set([id]))).toMatchObject([{ id, beside: null }])
    expect((await loadProject(db, id))!.files.map((f) => f.bytes)).toEqual(FILES.map((f) => f.bytes))
  })

  test('a backup with a damaged row changes nothing; edits that were not made on its files are left out and counted', async () => {
    const db = fresh()
    const id = await createProject(db, 'Pier', FILES)
    for (const n of [1, 2, 3]) await storeEdit(db, id, edit(n))
    const data = JSON.parse(await (await backUp(db)).text()) as {
      data: { data: { tableName: string; rows: Record<string, unknown>[] }[] }
    }
    const rows = (table: string) => data.data.data.find((t) => t.tableName === table)!.rows
    const whole = JSON.stringify(data)
    const damage = async (work: () => void) => {
      work()
      const blob = new Blob([JSON.stringify(data)])
      Object.assign(data, JSON.parse(whole))
      return restore(db, blob)
    }
    await expect(damage(() => (rows('edits')[1].seq = 'two'))).rejects.toThrow(ImportError)
    await expect(damage(() => Object.assign(rows('files')[0], { bytes: 'text', $types: undefined }))).rejects.toThrow(/damaged/)
    await expect(damage(() => (rows('projects')[0].done = -1))).rejects.toThrow(/damaged/)
    await expect(damage(() => (rows('projects')[0].id = '../up'))).rejects.toThrow(/damaged/)
    await expect(damage(() => (rows('projects')[0].wishes = [{ words: 'Wider', sources: ['1.2; any'] }]))).rejects.toThrow(/damaged/)
    await expect(damage(() => rows('takes').push({ project: id, id: 'b', name: 'B', made: 1, edits: {}, done: 0 }))).rejects.toThrow(
      /damaged/,
    )
    await expect(damage(() => rows('saves').push({ project: id, made: 1, done: 'all', leftOut: [], files: [] }))).rejects.toThrow(/damaged/)
    expect(await db.projects.toCollection().primaryKeys()).toEqual([id])
    expect(
      await damage(
        () =>
          (rows('edits')[1].changes = [
            {
              path: 'a.css',
              splices: [{ from: 50, to: 51, insert: '' }],
              inverse: [{ from: 50, to: 50, insert: 'z' }],
            },
          ]),
      ),
    ).toMatchObject([{ lost: 2 }])
    expect(await loadProject(db, 'pier-2')).toMatchObject({ row: { done: 1 }, edits: [{ seq: 1 }] })
  })
})

describe('preferences', () => {
  test('each is read by itself; a damaged one falls back and is named', async () => {
    expect(await readPreferences({ theme: 'dark', units: 'furlong', motion: null, sparkle: 1 })).toEqual({
      values: { theme: 'dark' },
      damaged: ['units', 'motion', 'sparkle'],
    })
    for (const bad of [7, 'x', []]) expect(await readPreferences(bad)).toEqual({ values: {}, damaged: ['all of them'] })
    expect(await readPreferences(DEFAULTS)).toEqual({ values: DEFAULTS, damaged: [] })
    for (const [key, choices] of Object.entries(CHOICES))
      for (const c of choices) expect((await readPreferences({ [key]: c })).damaged).toEqual([])
  })

  test('those of a project stand before those for all', async () => {
    const db = fresh()
    await storePreferences(db, '', { theme: 'dark', units: 'px' })
    await storePreferences(db, 'pier', { units: 'rem' })
    const { all, own } = await loadPreferences(db, 'pier')
    expect({ ...DEFAULTS, ...all, ...own }).toMatchObject({ theme: 'dark', units: 'rem', motion: 'system' })
  })
})
