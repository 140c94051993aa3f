import type { JournalEdit } from '../core/edit'
import type { Database, FileRow, ProjectRow, ViewRow } from './db'
import { readView } from './view'

/** A file to bring in. */
export interface IncomingFile {
  readonly path: string
  readonly bytes: Uint8Array
}

/** An id that is free and can be a host name's label (RFC 1034 §3.5). */
async function freeId(db: Database, name: string): Promise<string> {
  const stem = name.toLowerCase().normalize('NFKD').replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '').slice(0, 40).replace(/-+$/, '') || 'project'
  const taken = new Set(await db.projects.toCollection().primaryKeys())
  if (!taken.has(stem)) return stem
  for (let n = 2; ; n++) if (!taken.has(`${stem}-${n}`)) return `${stem}-${n}`
}

/** Stores a new project, whole or not at all. */
export async function createProject(db: Database, name: string, files: readonly IncomingFile[]): Promise<string> {
  return db.transaction('rw', db.projects, db.files, async () => {
    const id = await freeId(db, name)
    const now = Date.now()
    await db.files.bulkAdd(files.map((f, i): FileRow => ({ project: id, key: i + 1, path: f.path, bytes: f.bytes })))
    await db.projects.add({ id, name, created: now, opened: now, done: 0 })
    return id
  })
}

export interface LoadedProject {
  readonly row: ProjectRow
  readonly files: FileRow[]
  readonly edits: JournalEdit[]
  readonly view: ViewRow | null
}

export async function loadProject(db: Database, id: string): Promise<LoadedProject | null> {
  return db.transaction('r', db.projects, db.files, db.edits, db.views, async () => {
    const row = await db.projects.get(id)
    if (!row) return null
    const files = await db.files.where('[project+key]').between([id, -Infinity], [id, Infinity]).toArray()
    const edits = await db.edits.where('[project+seq]').between([id, -Infinity], [id, Infinity]).sortBy('seq')
    return { row, files, edits, view: readView(await db.views.get(id)) }
  })
}

/** Stores an edit; those that were undone before it are gone for good. */
export async function storeEdit(db: Database, project: string, edit: JournalEdit): Promise<void> {
  await db.transaction('rw', db.projects, db.edits, async () => {
    await db.edits.where('[project+seq]').between([project, edit.seq], [project, Infinity], true, true).delete()
    await db.edits.put({ ...edit, project })
    await db.projects.update(project, { done: edit.seq })
  })
}

export const storeVerdict = (db: Database, project: string, edit: JournalEdit): Promise<number> =>
  db.edits.update([project, edit.seq], { verdict: edit.verdict })

export const storeDone = (db: Database, project: string, done: number): Promise<number> => db.projects.update(project, { done })
