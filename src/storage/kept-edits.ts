import type { JournalEdit } from '../core/edit'
import { base64Of, KEPT_FOLDER, type Folder } from '../folder'
import type { Database, ProjectRow, TakeRow } from './db'
import { rowChecks } from './row-checks'

/** Where a linked folder keeps the edits that are not saved yet. Git does not see it: the folder ignores itself. */
const KEPT = 'unsaved.json'
const DAMAGED = 'damaged.json'
const IGNORE = '.gitignore'
const FORMAT = 'steady-brush-unsaved'
const VERSION = 1

/** What of a project its folder does not have: the journal, the takes, and the files that those change as they were at the beginning. */
export interface KeptEdits {
  /** The project that wrote it. */
  readonly id: string
  /** ms since 1970. */
  readonly made: number
  /** How many edits the ledger showed. */
  readonly unsaved: number
  readonly project: Pick<ProjectRow, 'done' | 'saved' | 'leftOut' | 'take' | 'deleted'>
  readonly edits: readonly JournalEdit[]
  readonly takes: readonly Omit<TakeRow, 'project'>[]
  readonly files: readonly { readonly path: string; readonly bytes: Uint8Array }[]
  /** The same files as the folder was known to have them; null for as at the beginning. */
  readonly onDisk: readonly { readonly path: string; readonly bytes: Uint8Array | null }[]
}

// Bytes stand in JSON as base64 (RFC 4648 §4).
const pack = (_: string, value: unknown): unknown => (value instanceof Uint8Array ? { base64: base64Of(value) } : value)
const unpack = (_: string, value: unknown): unknown => {
  const base64 =
    typeof value === 'object' && value !== null && Object.keys(value).length === 1 ? (value as { base64?: unknown }).base64 : undefined
  return typeof base64 === 'string' ? Uint8Array.from(atob(base64), (c) => c.charCodeAt(0)) : value
}

function withoutProject<T extends { readonly project: string }>(row: T): Omit<T, 'project'> {
  const { project: _project, ...rest } = row
  return rest
}

/** What is to be kept of a project, as text. */
export async function keptText(db: Database, id: string, unsaved: number): Promise<string> {
  const tables = [db.projects, db.edits, db.takes, db.files, db.onDisk, db.folders]
  const { row, edits, takes, files, onDisk } = await db.transaction('r', tables, async () => {
    const edits = await db.edits.where('[project+seq]').between([id, -Infinity], [id, Infinity]).sortBy('seq')
    const takes = await db.takes.where('[project+id]').between([id, ''], [id, '\uffff']).toArray()
    const edited = new Set([...edits, ...takes.flatMap((t) => t.edits)].flatMap((e) => e.changes.map((c) => c.path)))
    const keys = [...edited].map((path): [string, string] => [id, path])
    const found = await db.onDisk.where('[project+path]').anyOf(keys).toArray()
    // What is as it was listed first has no row of its own.
    const isFound = new Set(found.map((r) => r.path))
    const listed = (await db.folders.get(id))?.listed?.filter((r) => edited.has(r.path) && !isFound.has(r.path)) ?? []
    return {
      row: await db.projects.get(id),
      edits,
      takes,
      files: await db.files.where('[project+path]').anyOf(keys).toArray(),
      onDisk: [...found, ...listed.map((r) => ({ path: r.path, bytes: null }))],
    }
  })
  const kept: KeptEdits = {
    id,
    made: Date.now(),
    unsaved,
    project: { done: row!.done, saved: row!.saved, leftOut: row!.leftOut, take: row!.take, deleted: row!.deleted },
    edits: edits.map(withoutProject),
    takes: takes.map(withoutProject),
    files: files.map(({ path, bytes }) => ({ path, bytes })),
    onDisk: onDisk.map(({ path, bytes }) => ({ path, bytes })),
  }
  return JSON.stringify({ format: FORMAT, version: VERSION, ...kept }, pack)
}

/** @throws Error in words when it is no such text. */
async function readKeptText(text: string): Promise<KeptEdits> {
  const data = JSON.parse(text, unpack) as KeptEdits & { format?: unknown; version?: unknown }
  if (data?.format !== FORMAT || data.version !== VERSION) throw new Error('it is of another kind or version')
  const checks = await rowChecks()
  checks.project({ id: 'kept', name: 'kept', done: data.project?.done })
  for (const e of [...data.edits, ...data.takes.flatMap((t) => t.edits)]) checks.edit(e)
  for (const [i, f] of data.files.entries()) checks.file({ key: i + 1, ...f })
  for (const r of data.onDisk)
    if (typeof r.path !== 'string' || !(r.bytes === null || r.bytes instanceof Uint8Array)) throw new Error('a file of it has no bytes')
  return data
}

const readOwn = (folder: Folder, name: string): ReturnType<Folder['read']> => folder.read(`${KEPT_FOLDER}/${name}`)

/** The edits that a folder keeps; null where it keeps none; in words, what is wrong with those it keeps. */
export async function readKept(folder: Folder): Promise<KeptEdits | null | { readonly damaged: string }> {
  const file = await readOwn(folder, KEPT)
  if (!file) return null
  try {
    return await readKeptText(new TextDecoder().decode(file.bytes))
  } catch (error) {
    return { damaged: error instanceof Error ? error.message : String(error) }
  }
}

/** Keeps edits in their folder, in place of those it kept before. */
export async function writeKept(folder: Folder, text: string): Promise<void> {
  if (!(await readOwn(folder, IGNORE))) await folder.keep(IGNORE, '*\n')
  await folder.keep(KEPT, text)
}

/** Sets edits aside that cannot be read, so that none that are kept later take their place. */
export async function setAsideDamaged(folder: Folder): Promise<void> {
  const file = await readOwn(folder, KEPT)
  if (file) await folder.keep(DAMAGED, new TextDecoder().decode(file.bytes))
}

/** Takes away what a folder keeps of this project; `.steady-brush` goes where nothing else is in it. */
export async function removeKept(folder: Folder, id: string): Promise<void> {
  const kept = await readKept(folder)
  if (!kept || !('id' in kept) || kept.id !== id) return
  await folder.unkeep(KEPT)
  if (!(await readOwn(folder, DAMAGED))) await folder.unkeep(IGNORE)
}
