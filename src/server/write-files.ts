import { createHash, randomBytes } from 'node:crypto'
import { chmod, constants, copyFile, link, mkdir, open, readFile, realpath, rename, rm, rmdir, stat } from 'node:fs/promises'
import { basename, dirname, join, relative } from 'node:path'
import { KEPT_FOLDER, SaveError } from '../folder'
import { keptFolder, missingFolders, resolveBelow } from './folder-paths'

/** A file to be written: SHA-256 of what it is believed to hold, null for nothing, and what it is to hold. */
export interface DiskWrite {
  readonly path: string
  readonly before: string | null
  readonly after: Uint8Array
}

/** A file of a save, as the record of the save has it; paths are absolute. */
interface Placing {
  readonly path: string
  readonly file: string
  /** The new text, beside the file until it takes its place. */
  readonly fresh: string
  /** The old text, beside it while the save is under way. */
  readonly old: string
  readonly before: string | null
  readonly after: string
}

/** The record of a save that is under way: a later start finishes it or takes it back. */
interface SaveRecord {
  readonly format: 'steady-brush-save'
  readonly files: readonly Placing[]
  readonly folders: readonly string[]
}

const RECORD = 'saving.json'

export const hashOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex')

async function hashIn(file: string): Promise<string | null> {
  try {
    return hashOf(await readFile(file))
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null
    throw error
  }
}

const WORDS: Readonly<Record<string, string>> = {
  EACCES: 'there is no permission to write it',
  EPERM: 'there is no permission to write it',
  EROFS: 'the disk is read-only',
  ENOSPC: 'the disk is full',
  EDQUOT: 'the disk is full',
  EISDIR: 'there is a folder of that name',
  ENOTDIR: 'a file stands where a folder is to be',
  ENAMETOOLONG: 'its name is too long',
}

const wordsFor = (error: unknown): string =>
  WORDS[(error as NodeJS.ErrnoException).code ?? ''] ?? (error instanceof Error ? error.message : String(error))

/** Writes a file that is not there yet, so that it is on the disk then. @throws EEXIST where it is, a link too. */
export async function writeDurably(file: string, bytes: Uint8Array | string, mode?: number): Promise<void> {
  const handle = await open(file, 'wx', mode)
  try {
    await handle.writeFile(bytes)
    await handle.sync()
  } finally {
    await handle.close()
  }
  // What the process may not set by itself is set after.
  if (mode !== undefined) await chmod(file, mode)
}

// Not every file system has two names for one file; neither replaces what is there.
async function linkOrCopy(from: string, to: string): Promise<void> {
  try {
    await link(from, to)
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') throw error
    await copyFile(from, to, constants.COPYFILE_EXCL)
  }
}

// A name that was given to another file is on the disk once its folder is.
async function syncFolder(folder: string): Promise<void> {
  const handle = await open(folder, 'r').catch(() => null)
  await handle?.sync().catch(() => {})
  await handle?.close()
}

/**
 * Writes files below `root`, all of them or none: each only where it is what it is believed to be, with its mode; what is
 * read back must be what was written. Gives when each was changed (ms since 1970). @throws SaveError, PathError
 */
export async function writeFiles(root: string, writes: readonly DiskWrite[]): Promise<Map<string, number>> {
  const token = randomBytes(6).toString('hex')
  const placings: Placing[] = []
  const folders = new Set<string>()
  for (const { path, before, after } of writes) {
    const file = await resolveBelow(root, path)
    const beside = (what: string) => join(dirname(file), `.${basename(file).slice(0, 100)}.${token}.${what}.tmp`)
    placings.push({ path, file, fresh: beside('new'), old: beside('old'), before, after: hashOf(after) })
    for (const folder of await missingFolders(root, file)) folders.add(folder)
  }
  const record = join(root, KEPT_FOLDER, RECORD)
  const save: SaveRecord = { format: 'steady-brush-save', files: placings, folders: [...folders] }
  let at = ''
  try {
    for (const p of placings) {
      at = p.path
      await compare(p)
      const there = p.before === null ? null : await stat(p.file)
      // A file can be replaced where it may not be written.
      if (there && (there.mode & 0o222) === 0) throw new SaveError(p.path, 'it is read-only')
    }
    await keptFolder(root)
    await writeDurably(record, JSON.stringify(save)).catch((error: NodeJS.ErrnoException) => {
      throw error.code === 'EEXIST' ? new SaveError(at, 'another save of this folder is under way') : error
    })
  } catch (error) {
    throw error instanceof SaveError ? error : new SaveError(at, wordsFor(error))
  }
  try {
    for (const folder of folders) await mkdir(folder, { recursive: true })
    for (const [i, p] of placings.entries()) {
      at = p.path
      const there = p.before === null ? null : await stat(p.file)
      await writeDurably(p.fresh, writes[i].after, there ? there.mode & 0o7777 : undefined)
    }
    for (const p of placings) {
      at = p.path
      if (p.before !== null) await linkOrCopy(p.file, p.old)
      // As near to the change as can be, once more.
      await compare(p)
      // What came into being meanwhile is not replaced.
      if (p.before === null) await linkOrCopy(p.fresh, p.file).then(() => rm(p.fresh))
      else await rename(p.fresh, p.file)
    }
    const modified = new Map<string, number>()
    for (const p of placings) {
      at = p.path
      await syncFolder(dirname(p.file))
      if ((await hashIn(p.file)) !== p.after) throw new SaveError(p.path, 'read again, it holds something else than was written')
      modified.set(p.path, Math.floor((await stat(p.file)).mtimeMs))
    }
    await clean(record, save)
    return modified
  } catch (error) {
    const left = await takeBack(save)
    await clean(record, save)
    const why =
      (error as NodeJS.ErrnoException).code === 'EEXIST'
        ? 'it was made in the folder meanwhile'
        : error instanceof SaveError
          ? error.why
          : wordsFor(error)
    throw new SaveError(at, why, left)
  }
}

async function compare(p: Placing): Promise<void> {
  const now = await hashIn(p.file)
  if (now !== p.before)
    throw new SaveError(
      p.path,
      now === null ? 'it is gone from the folder' : `it was ${p.before === null ? 'made' : 'changed'} in the folder meanwhile`,
    )
}

// The old text takes its place again where ours stands; what others have written since is their own. Paths that could not be put back.
async function takeBack({ files, folders }: SaveRecord): Promise<string[]> {
  const left: string[] = []
  for (const p of files) {
    try {
      if ((await hashIn(p.file)) !== p.after) continue
      if (p.before === null) await rm(p.file)
      else if (p.before !== p.after) await rename(p.old, p.file)
    } catch {
      left.push(p.path)
    }
  }
  for (const folder of [...folders].reverse()) await rmdir(folder).catch(() => {})
  return left
}

async function clean(record: string, { files }: SaveRecord): Promise<void> {
  for (const p of files) await Promise.all([rm(p.fresh, { force: true }), rm(p.old, { force: true })])
  await rm(record, { force: true })
  await rmdir(dirname(record)).catch(() => {})
}

// The record may have come with the folder: what it names must be below that, links followed.
async function readRecord(root: string, text: string): Promise<SaveRecord | null> {
  try {
    const save = JSON.parse(text) as SaveRecord
    const isBelow = (path: string) =>
      resolveBelow(root, relative(root, path)).then(
        (real) => real === path,
        () => false,
      )
    const own = await Promise.all([...save.files.map((p) => p.file), ...save.folders].map(isBelow))
    const isBeside = (p: Placing, path: string) =>
      dirname(path) === dirname(p.file) && /^\..*\.[0-9a-f]{12}\.(new|old)\.tmp$/.test(basename(path))
    return save.format === 'steady-brush-save' && save.files.every((p) => isBeside(p, p.fresh) && isBeside(p, p.old)) && own.every(Boolean)
      ? save
      : null
  } catch {
    return null
  }
}

/**
 * After a save that was cut off: finishes it where each of its files is the old or the new one, else takes it back.
 * What became of it; null where there was none.
 */
export async function recoverSave(root: string): Promise<'finished' | 'taken back' | null> {
  const record = join(root, KEPT_FOLDER, RECORD)
  // Through a link it is none of ours.
  const isOwn = await realpath(record).then(
    (real) => real === record,
    () => false,
  )
  const text = isOwn ? await readFile(record, 'utf8').catch(() => null) : null
  const save = text === null ? null : await readRecord(root, text)
  if (!save) {
    // A record that was cut off itself stands for a save that had not begun.
    if (text !== null) await rm(record, { force: true })
    return null
  }
  const states = await Promise.all(
    save.files.map(async (p) => {
      const [now, fresh] = [await hashIn(p.file), await hashIn(p.fresh)]
      return now === p.after ? 'placed' : now === p.before && fresh === p.after ? 'ready' : 'other'
    }),
  )
  if (states.includes('other')) await takeBack(save)
  else for (const [i, p] of save.files.entries()) if (states[i] === 'ready') await rename(p.fresh, p.file)
  await clean(record, save)
  return states.includes('other') ? 'taken back' : 'finished'
}
