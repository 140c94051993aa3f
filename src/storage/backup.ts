import { exportDB, importInto } from 'dexie-export-import'
import { ImportError } from './archive'
import type { Database } from './db'

/** Tables that a backup leaves out: handles of folders are this browser's own, and vocabularies can be worked out again. */
const LEFT_OUT = new Set(['folders', 'vocabularies', 'saving'])

/** The whole workspace as one file. */
export const backUp = (db: Database): Promise<Blob> => exportDB(db, { filter: (table) => !LEFT_OUT.has(table) })

/** Brings a backup back; projects of an id that is taken already are replaced only with `replace`. @throws ImportError when it is none. */
export async function restore(db: Database, file: Blob): Promise<number> {
  let head: unknown
  try {
    head = JSON.parse(await file.text())
  } catch {
    throw new ImportError('This is no backup: it cannot be read as JSON. Nothing was changed.')
  }
  if (typeof head !== 'object' || head === null) throw new ImportError('This is no backup of Steady Brush. Nothing was changed.')
  const data = head as { formatName?: unknown; data?: { databaseName?: unknown; databaseVersion?: unknown; data?: readonly { tableName?: unknown; rows?: readonly unknown[] }[] } }
  if (data.formatName !== 'dexie' || data.data?.databaseName !== db.name) throw new ImportError('This is no backup of Steady Brush. Nothing was changed.')
  if (Number(data.data.databaseVersion) > db.verno) throw new ImportError('This backup was made by a later version of Steady Brush. Nothing was changed.')
  const known = new Set(db.tables.map((t) => t.name))
  const other = data.data.data?.find((t) => !known.has(String(t.tableName)))
  if (other) throw new ImportError(`This backup has a table ${String(other.tableName)} that there is none of. Nothing was changed.`)
  await importInto(db, file, { overwriteValues: true, acceptVersionDiff: true })
  return data.data.data?.find((t) => t.tableName === 'projects')?.rows?.length ?? 0
}
