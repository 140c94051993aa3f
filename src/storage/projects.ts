import type { JournalEdit } from '../core/edit'
import type { FolderPlace } from '../folder'
import type { KeptEdits } from './kept-edits'
import { fitting } from './row-checks'
import type { Database, FileRow, FolderRow, OnDiskRow, ProjectRow, SaveRow, SavingRow, ViewRow } from './db'

/** An id that is free and can be a host name's label (RFC 1034 §3.5). */
export async function freeId(db: Database, name: string): Promise<string> {
  const stem =
    name
      .toLowerCase()
      .normalize('NFKD')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 40)
      .replace(/-+$/, '') || 'project'
  const taken = new Set(await db.projects.toCollection().primaryKeys())
  if (!taken.has(stem)) return stem
  for (let n = 2; ; n++) if (!taken.has(`${stem}-${n}`)) return `${stem}-${n}`
}

/** A folder that a new project is linked to, with what it said of its files when they were read. */
export interface Link {
  readonly place: FolderPlace
  readonly include: readonly string[]
  readonly stamps: ReadonlyMap<string, { readonly modified: number; readonly size: number }>
  /** Edits that the folder kept, made on files as they were before. */
  readonly kept: KeptEdits | null
}

/** A file that a project begins with; without bytes where it is one of the folder that is read later. */
export interface BegunFile {
  readonly path: string
  readonly bytes: Uint8Array | null
}

/** Stores a new project, whole or not at all. */
export async function createProject(db: Database, name: string, files: readonly BegunFile[], link: Link | null = null): Promise<string> {
  const kept = link?.kept ?? null
  const before = new Map(kept?.files.map((f) => [f.path, f]))
  const own = new Set(files.map((f) => f.path))
  const begun = [...files.map((f) => before.get(f.path) ?? f), ...[...before.values()].filter((f) => !own.has(f.path))].map((f, i) => ({
    ...f,
    key: i + 1,
  }))
  const read = begun.flatMap((f) => (f.bytes ? [{ ...f, bytes: f.bytes }] : []))
  return db.transaction('rw', [db.projects, db.files, db.folders, db.onDisk, db.edits, db.takes], async () => {
    const id = await freeId(db, name)
    const now = Date.now()
    const journal = fitting(read, kept?.edits ?? [], kept?.project.done ?? 0)
    await db.files.bulkAdd(read.map(({ key, path, bytes }): FileRow => ({ project: id, key, path, bytes })))
    await db.projects.add({ id, name, created: now, opened: now, ...kept?.project, done: journal.done })
    if (!link) return id
    const keys = new Map(begun.map((f) => [f.path, f.key]))
    const listed = [...link.stamps]
      .filter(([path]) => !before.has(path))
      .map(([path, stamp]) => ({ path, key: keys.get(path) ?? null, ...stamp }))
    await db.folders.add({
      project: id,
      ...link.place,
      include: link.include,
      listed,
      ...(read.length < begun.length && { isPartial: true }),
    })
    if (!kept) return id
    // Known as when the edits were kept: the first look at the folder finds what was changed since.
    await db.onDisk.bulkAdd(kept.onDisk.map((r) => ({ project: id, path: r.path, bytes: r.bytes, modified: 0, size: -1 })))
    await db.edits.bulkAdd(journal.edits.map((e) => ({ ...e, project: id })))
    await db.takes.bulkAdd(kept.takes.map((t) => ({ ...t, ...fitting(read, t.edits, t.done), project: id })))
    return id
  })
}

/** A file of a project that is still to be read. */
export type UnreadFile = Pick<FileRow, 'key' | 'path'> & { readonly size: number }

export interface LoadedProject {
  readonly row: ProjectRow
  readonly files: FileRow[]
  readonly edits: JournalEdit[]
  readonly view: ViewRow | null
  readonly folder: FolderRow | null
  readonly onDisk: OnDiskRow[]
  /** Files of the folder that are still to be read. */
  readonly unread: readonly UnreadFile[]
  /** What was being saved when the project was last left in the middle of it. */
  readonly saving: SavingRow | null
}

const ofProject = (id: string): [[string, number], [string, number]] => [
  [id, -Infinity],
  [id, Infinity],
]

export async function loadProject(db: Database, id: string): Promise<LoadedProject | null> {
  const loaded = await db.transaction('r', [db.projects, db.files, db.edits, db.views, db.folders, db.onDisk, db.saving], async () => {
    const row = await db.projects.get(id)
    if (!row) return null
    const files = await db.files
      .where('[project+key]')
      .between(...ofProject(id))
      .toArray()
    const edits = await db.edits
      .where('[project+seq]')
      .between(...ofProject(id))
      .sortBy('seq')
    const onDisk = await db.onDisk.where('[project+path]').between([id, ''], [id, '\uffff']).toArray()
    const folder = (await db.folders.get(id)) ?? null
    const [isRead, isKnown] = [new Set(files.map((f) => f.path)), new Set(onDisk.map((r) => r.path))]
    const listed = folder?.listed ?? []
    return {
      row,
      files,
      edits,
      onDisk: [
        ...onDisk,
        ...listed.flatMap(({ path, size, modified }) => (isKnown.has(path) ? [] : [{ project: id, path, bytes: null, size, modified }])),
      ],
      unread: folder?.isPartial
        ? listed.flatMap(({ key, path, size }) => (key === null || isRead.has(path) ? [] : [{ key, path, size }]))
        : [],
      view: (await db.views.get(id)) ?? null,
      folder,
      saving: (await db.saving.get(id)) ?? null,
    }
  })
  // Who opens it for the first time has no view yet, and the page shows without what reads one.
  return loaded && { ...loaded, view: loaded.view && (await import('./view')).readView(loaded.view) }
}

/** Stores files that were read from the folder. */
export async function storeRead(db: Database, project: string, files: readonly Omit<FileRow, 'project'>[]): Promise<void> {
  await db.files.bulkPut(files.map(({ key, path, bytes }) => ({ project, key, path, bytes })))
}

/** Notes that all files of the folder are read, but for those that were gone by then. */
export async function storeWhole(db: Database, project: string, gone: ReadonlySet<string>): Promise<void> {
  await db.folders
    .where('project')
    .equals(project)
    .modify((row) => {
      delete (row as { isPartial?: boolean }).isPartial
      Object.assign(row, { listed: row.listed?.filter((r) => !gone.has(r.path)) })
    })
}

/** Takes files away from what is known of the folder. */
export async function forgetOnDisk(db: Database, project: string, paths: readonly string[]): Promise<void> {
  const gone = new Set(paths)
  await db.transaction('rw', [db.onDisk, db.folders], async () => {
    await db.onDisk.bulkDelete(paths.map((path): [string, string] => [project, path]))
    await db.folders
      .where('project')
      .equals(project)
      .modify((row) => void Object.assign(row, { listed: row.listed?.filter((r) => !gone.has(r.path)) }))
  })
}

/** Stores an edit; those that were undone before it are gone for good. */
export async function storeEdit(db: Database, project: string, edit: JournalEdit, onDisk: readonly OnDiskRow[] = []): Promise<void> {
  await db.transaction('rw', db.projects, db.edits, db.onDisk, async () => {
    await Promise.all([
      onDisk.length > 0 && db.onDisk.bulkPut([...onDisk]),
      db.edits.where('[project+seq]').between([project, edit.seq], [project, Infinity], false, true).delete(),
      db.edits.put({ ...edit, project }),
      db.projects
        .where('id')
        .equals(project)
        .modify((row) => void Object.assign(row, { done: edit.seq, ...savedBefore(row.saved ?? 0, row.leftOut ?? [], edit.seq) })),
    ])
  })
}

// Edits that were saved and undone are gone once another takes their place.
const savedBefore = (saved: number, leftOut: readonly number[], seq: number): { saved: number; leftOut: number[] } => ({
  saved: Math.min(saved, seq - 1),
  leftOut: leftOut.filter((n) => n < seq),
})

/** Notes that a save is over: what the folder has now, and which edits it holds. */
export async function storeSave(db: Database, row: SaveRow, onDisk: readonly OnDiskRow[]): Promise<void> {
  await db.transaction('rw', [db.projects, db.saves, db.saving, db.onDisk], async () => {
    await db.onDisk.bulkPut([...onDisk])
    await db.saves.put(row)
    await db.saving.delete(row.project)
    await db.projects.update(row.project, { saved: row.done, leftOut: row.leftOut })
  })
}

/** Takes a project and all that belongs to it away. */
export async function removeProject(db: Database, id: string): Promise<void> {
  await db.transaction(
    'rw',
    [db.projects, db.files, db.edits, db.views, db.folders, db.onDisk, db.saves, db.saving, db.takes, db.preferences],
    async () => {
      await Promise.all([
        db.projects.delete(id),
        db.views.delete(id),
        db.folders.delete(id),
        db.saving.delete(id),
        db.preferences.delete(id),
        db.files
          .where('[project+key]')
          .between(...ofProject(id))
          .delete(),
        db.edits
          .where('[project+seq]')
          .between(...ofProject(id))
          .delete(),
        db.saves
          .where('[project+made]')
          .between(...ofProject(id))
          .delete(),
        db.onDisk.where('[project+path]').between([id, ''], [id, '\uffff']).delete(),
        db.takes.where('[project+id]').between([id, ''], [id, '\uffff']).delete(),
      ])
    },
  )
}

export const storeVerdict = (db: Database, project: string, edit: JournalEdit): Promise<number> =>
  db.edits.update([project, edit.seq], { verdict: edit.verdict })

export const storeDone = (db: Database, project: string, done: number): Promise<number> => db.projects.update(project, { done })
