import Dexie from 'dexie'
import { exportDB, importInto } from 'dexie-export-import'
import { ImportError } from '../folder'
import { Database, type EditRow, type FileRow, type ProjectRow, type SaveRow, type TakeRow } from './db'
import { freeId, removeProject } from './projects'
import { fitting, rowChecks } from './row-checks'

/** Tables that a backup leaves out: handles of folders are this browser's own, and vocabularies can be worked out again. */
const LEFT_OUT = new Set(['folders', 'vocabularies', 'saving'])

/** The whole workspace as one file. @throws Error naming a project whose files are not all read yet. */
export async function backUp(db: Database): Promise<Blob> {
  const partial = await db.folders.filter((row) => row.isPartial === true).first()
  if (partial) {
    const name = (await db.projects.get(partial.project))?.name ?? partial.project
    throw new Error(`Not all files of ${name} are read from its folder yet. Open it, wait for that, and make the backup then.`)
  }
  return exportDB(db, { filter: (table) => !LEFT_OUT.has(table) })
}

/** A project that a backup brought back. */
export interface Restored {
  readonly id: string
  readonly name: string
  /** The id that it had, where that was taken and it stands beside the other now. */
  readonly beside: string | null
  /** Edits that were not made on its files, and were left out. */
  readonly lost: number
}

/** A project of a backup, before anything of it is stored. */
interface Packed {
  readonly row: ProjectRow
  readonly files: readonly FileRow[]
  readonly edits: readonly EditRow[]
  readonly takes: readonly TakeRow[]
  readonly saves: readonly SaveRow[]
}

async function read(db: Database, file: Blob): Promise<Database> {
  let head: unknown
  try {
    head = JSON.parse(await file.text())
  } catch {
    throw new ImportError('This is no backup: it cannot be read as JSON. Nothing was changed.')
  }
  if (typeof head !== 'object' || head === null) throw new ImportError('This is no backup of Steady Brush. Nothing was changed.')
  const data = head as {
    formatName?: unknown
    data?: { databaseName?: unknown; databaseVersion?: unknown; data?: readonly { tableName?: unknown }[] }
  }
  if (data.formatName !== 'dexie' || data.data?.databaseName !== db.name)
    throw new ImportError('This is no backup of Steady Brush. Nothing was changed.')
  if (Number(data.data.databaseVersion) > db.verno)
    throw new ImportError('This backup was made by a later version of Steady Brush. Nothing was changed.')
  const known = new Set(db.tables.map((t) => t.name))
  const other = data.data.data?.find((t) => !known.has(String(t.tableName)))
  if (other) throw new ImportError(`This backup has a table ${String(other.tableName)} that there is none of. Nothing was changed.`)
  // It is unpacked beside what is there, and looked through before any of it counts.
  const aside = new Database(`${db.name}-restoring`)
  await aside.delete()
  await aside.open()
  try {
    await importInto(aside, file, { overwriteValues: true, acceptVersionDiff: true, acceptNameDiff: true })
  } catch (error) {
    await aside.delete()
    throw new ImportError(`This backup is damaged (${error instanceof Error ? error.message : String(error)}). Nothing was changed.`)
  }
  return aside
}

/** What a backup holds. @throws ImportError when it is none, or a row of it is not what it is to be. */
async function unpack(aside: Database): Promise<Packed[]> {
  const checks = await rowChecks()
  const check = (kind: keyof typeof checks, value: unknown, what: string) => {
    try {
      checks[kind](value)
    } catch (error) {
      throw new ImportError(
        `This backup is damaged: ${what}: ${error instanceof Error ? error.message : String(error)}. Nothing was changed.`,
      )
    }
  }
  const out: Packed[] = []
  for (const row of await aside.projects.toArray()) {
    check('project', row, 'a project')
    // Whatever its keys are: a row that is no number is to be found out, not passed over.
    const [from, to] = [
      [row.id, Dexie.minKey],
      [row.id, Dexie.maxKey],
    ]
    const files = await aside.files.where('[project+key]').between(from, to).toArray()
    const edits = await aside.edits.where('[project+seq]').between(from, to).toArray()
    const takes = await aside.takes.where('[project+id]').between(from, to).toArray()
    const saves = await aside.saves.where('[project+made]').between(from, to).toArray()
    for (const t of takes) check('take', t, `a take of ${row.name}`)
    for (const s of saves) check('save', s, `a save of ${row.name}`)
    for (const f of files) check('file', f, `a file of ${row.name}`)
    for (const e of [...edits, ...takes.flatMap((t) => t.edits)]) check('edit', e, `an edit of ${row.name}`)
    out.push({ row, files, edits, takes, saves })
  }
  return out
}

/**
 * Brings a backup back: its projects come beside what is there, under another id where theirs is taken, and take the place
 * of those named in `replace` only. Each is stored whole or not at all, with the edits that were made on its files.
 * @throws ImportError when it is no backup; nothing was changed then.
 */
export async function restore(db: Database, file: Blob, replace: ReadonlySet<string> = new Set()): Promise<Restored[]> {
  const aside = await read(db, file)
  try {
    const packed = await unpack(aside)
    const out: Restored[] = []
    for (const p of packed) out.push(await store(db, aside, p, replace.has(p.row.id)))
    const own = await aside.preferences.get('')
    if (own && !(await db.preferences.get(''))) await db.preferences.put(own)
    return out
  } finally {
    await aside.delete()
  }
}

async function store(db: Database, aside: Database, { row, files, edits, takes, saves }: Packed, replace: boolean): Promise<Restored> {
  const good = fitting(files, edits, row.done)
  const tables = [db.projects, db.files, db.edits, db.views, db.folders, db.onDisk, db.saves, db.saving, db.takes, db.preferences]
  const preferences = await aside.preferences.get(row.id)
  return db.transaction('rw', tables, async (): Promise<Restored> => {
    const isTaken = (await db.projects.get(row.id)) !== undefined
    if (isTaken && replace) await removeProject(db, row.id)
    const id = isTaken && !replace ? await freeId(db, row.id) : row.id
    const name = id === row.id ? row.name : `${row.name}, from a backup`
    await db.files.bulkAdd(files.map((f) => ({ ...f, project: id })))
    await db.edits.bulkAdd(good.edits.map((e) => ({ ...e, project: id })))
    await db.takes.bulkAdd(takes.map((t) => ({ ...t, ...fitting(files, t.edits, t.done), project: id })))
    await db.saves.bulkAdd(saves.map((s) => ({ ...s, project: id })))
    if (preferences) await db.preferences.put({ ...preferences, scope: id })
    // The folder that it was saved to is not known any more: all that was edited is unsaved.
    await db.projects.add({ ...row, id, name, done: good.done, saved: 0, leftOut: [] })
    return { id, name, beside: id === row.id ? null : row.id, lost: edits.length - good.edits.length }
  })
}

/** The projects of a backup whose ids are taken, by their names there and here. @throws ImportError when it is none. */
export async function takenBy(
  db: Database,
  file: Blob,
): Promise<{ readonly id: string; readonly name: string; readonly here: string; readonly edits: number }[]> {
  const aside = await read(db, file)
  try {
    const found = await Promise.all((await aside.projects.toArray()).map(async (row) => ({ row, here: await db.projects.get(row.id) })))
    return await Promise.all(
      found.flatMap(({ row, here }) =>
        here
          ? [
              db.edits
                .where('[project+seq]')
                .between([row.id, -Infinity], [row.id, Infinity])
                .count()
                .then((edits) => ({ id: row.id, name: row.name, here: here.name, edits })),
            ]
          : [],
      ),
    )
  } finally {
    await aside.delete()
  }
}
