import ignore, { type Ignore } from 'ignore'
import { ImportError, MOST_BYTES, MOST_FILES, inWords } from './archive'

/** A file of a folder: its path from there with `/` between folders, and when the folder says it was changed (ms since 1970). */
export interface FolderFile {
  readonly path: string
  readonly file: File
}

/** A folder that is left out, and why. */
export interface LeftOut {
  readonly path: string
  readonly why: 'hidden' | 'packages' | 'build output' | '.gitignore'
}

export interface Listing {
  readonly files: readonly FolderFile[]
  readonly leftOut: readonly LeftOut[]
}

const BUILD = new Set(['dist', 'build', 'out', 'coverage', 'target', '_site', 'public_html'])

/** The folder in a linked folder that edits which are not saved yet are kept in. */
export const KEPT_FOLDER = '.steady-brush'

/** Files that are read at once. */
const AT_ONCE = 64

interface Rules {
  readonly base: string
  readonly rules: Ignore
}

const bytesOf = async (file: File): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer())

/**
 * The files below a folder (File System §2.5), without what is no source: hidden folders, installed packages, what a
 * build writes beside a `package.json`, and what `.gitignore` names; those in `include` are taken all the same.
 * @throws ImportError when there are more files than a project takes; the signal's reason when it is stopped.
 */
export async function listFolder(root: FileSystemDirectoryHandle, include: ReadonlySet<string>, signal?: AbortSignal, onCount: (n: number) => void = () => {}): Promise<Listing> {
  const files: FolderFile[] = []
  const leftOut: LeftOut[] = []
  let built = false
  const visit = async (folder: FileSystemDirectoryHandle, prefix: string, above: readonly Rules[]): Promise<void> => {
    const entries: FileSystemHandle[] = []
    for await (const entry of (folder as unknown as { values(): AsyncIterable<FileSystemHandle> }).values()) entries.push(entry)
    entries.sort((a, b) => (a.name < b.name ? -1 : 1))
    if (prefix === '') built = entries.some((e) => e.name === 'package.json')
    const ignoring = entries.find((e) => e.name === '.gitignore' && e.kind === 'file')
    const rules = ignoring ? [...above, { base: prefix, rules: ignore().add(await (await (ignoring as FileSystemFileHandle).getFile()).text()) }] : above
    signal?.throwIfAborted()
    const kept = entries.filter((entry) => {
      const path = prefix + entry.name
      const why = whyLeftOut(entry.name, path, entry.kind === 'directory', built, rules)
      if (!why || include.has(path)) return true
      // What we keep there ourselves is no file of the person's.
      if (entry.kind === 'directory' && path !== KEPT_FOLDER) leftOut.push({ path, why })
      return false
    })
    // Each takes its time to answer: those of a folder are asked at once.
    const ownFiles = kept.filter((e) => e.kind === 'file')
    if (files.length + ownFiles.length > MOST_FILES) throw new ImportError(`There are more than ${MOST_FILES} files, from “${prefix}${ownFiles[0].name}” on. Nothing was opened.`)
    files.push(...(await Promise.all(ownFiles.map(async (e) => ({ path: prefix + e.name, file: await (e as FileSystemFileHandle).getFile() })))))
    onCount(files.length)
    for (const entry of kept) {
      // What names a folder that is wanted all the same names all that is in it too.
      if (entry.kind === 'directory') await visit(entry as FileSystemDirectoryHandle, `${prefix}${entry.name}/`, include.has(prefix + entry.name) ? [] : rules)
    }
  }
  await visit(root, '', [])
  return { files, leftOut }
}

/** Files that other programs write beside those they have open. */
const TEMPORARY = /\.(crswap|crdownload|swp|swo|swx|tmp|temp|part|bak~)$|~$|^~\$|^#.*#$|^4913$/i

function whyLeftOut(name: string, path: string, isFolder: boolean, built: boolean, rules: readonly Rules[]): LeftOut['why'] | null {
  if (!isFolder && TEMPORARY.test(name)) return 'hidden'
  if (name.startsWith('.')) return 'hidden'
  if (name === 'node_modules') return 'packages'
  if (isFolder && built && BUILD.has(name)) return 'build output'
  const ignored = rules.some(({ base, rules: r }) => r.ignores(path.slice(base.length) + (isFolder ? '/' : '')))
  return ignored ? '.gitignore' : null
}

/** Reads files whole. @throws ImportError naming the one that cannot be read, or that makes it too large. */
export async function readFiles(files: readonly FolderFile[], signal?: AbortSignal, onProgress: (done: number) => void = () => {}): Promise<{ path: string; bytes: Uint8Array }[]> {
  const out: { path: string; bytes: Uint8Array }[] = []
  let size = 0
  for (let at = 0; at < files.length; at += AT_ONCE) {
    signal?.throwIfAborted()
    const some = files.slice(at, at + AT_ONCE)
    for (const { path, file } of some) {
      size += file.size
      if (size > MOST_BYTES) throw new ImportError(`“${path}” makes it larger than ${inWords(MOST_BYTES)}. Nothing was opened.`)
    }
    out.push(...(await Promise.all(some.map(async ({ path, file }) => ({ path, bytes: await bytesOf(file).catch((error: unknown) => {
      throw new ImportError(`“${path}” could not be read (${String(error)}). Nothing was opened.`)
    }) })))))
    onProgress(out.length)
  }
  return out
}

/** A file of a folder, below folders of its own. @throws DOMException `NotFoundError` where there is none and none is to be made. */
export async function fileIn(root: FileSystemDirectoryHandle, path: string, create: boolean): Promise<FileSystemFileHandle> {
  const parts = path.split('/')
  let folder = root
  for (const part of parts.slice(0, -1)) folder = await folder.getDirectoryHandle(part, { create })
  return folder.getFileHandle(parts.at(-1)!, { create })
}

/** A file as it is now; null when the folder has none of that path. */
export async function readFile(root: FileSystemDirectoryHandle, path: string): Promise<{ bytes: Uint8Array; modified: number } | null> {
  try {
    const file = await (await fileIn(root, path, false)).getFile()
    return { bytes: await bytesOf(file), modified: file.lastModified }
  } catch (error) {
    if (error instanceof DOMException && (error.name === 'NotFoundError' || error.name === 'TypeMismatchError')) return null
    throw error
  }
}

export const sameBytes = (a: Uint8Array | null, b: Uint8Array | null): boolean => a === b || (a !== null && b !== null && a.length === b.length && a.every((x, i) => x === b[i]))

/** A file to be written: what the folder is believed to have, null for nothing, and what it is to have. */
export interface Write {
  readonly path: string
  readonly before: Uint8Array | null
  readonly after: Uint8Array
}

/** A save that was not made, or not to its end; the message names the file and the cause. */
export class SaveError extends Error {
  override readonly name = 'SaveError'
  /** `written`: files that have the new text although the save failed, since they could not be put back. */
  constructor(readonly path: string, why: string, readonly written: readonly string[] = []) {
    super(`${path}: ${why}`)
  }
}

/** What a file has that was made to be written. */
const EMPTY = new Uint8Array()

/** Why the platform did not read or write a file, in words. */
export const diskReason = (error: unknown): string => {
  if (!(error instanceof DOMException)) return String(error)
  const known: Readonly<Record<string, string>> = { NotAllowedError: 'there is no permission to write it', QuotaExceededError: 'the disk is full', NotFoundError: 'it is gone from the folder', NoModificationAllowedError: 'it is read-only, or another program has it open', TypeMismatchError: 'there is a folder of that name', InvalidStateError: 'it was changed meanwhile', SecurityError: 'the browser does not allow it there' }
  return known[error.name] ?? `${error.name}: ${error.message}`
}

/**
 * Writes files, all of them or none as far as the platform allows: what each holds is compared with what it is believed
 * to, all are written beside the old ones, then each takes its place whole, and is read back. Gives when each was changed.
 * @throws SaveError; what was in place by then is put back.
 */
export async function writeFiles(root: FileSystemDirectoryHandle, writes: readonly Write[]): Promise<Map<string, number>> {
  for (const { path, before } of writes) {
    let there: Uint8Array | null
    try {
      there = (await readFile(root, path))?.bytes ?? null
    } catch (error) {
      throw new SaveError(path, diskReason(error))
    }
    if (!sameBytes(there, before)) throw new SaveError(path, there === null ? 'it is gone from the folder' : 'it was changed in the folder meanwhile')
  }
  const open: { write: Write; stream: FileSystemWritableFileStream }[] = []
  const begun: Write[] = []
  const placed: Write[] = []
  let at = ''
  try {
    for (const write of writes) {
      at = write.path
      begun.push(write)
      const stream = await (await fileIn(root, write.path, true)).createWritable()
      open.push({ write, stream })
      await stream.write(write.after as Uint8Array<ArrayBuffer>)
    }
    for (const { write, stream } of open) {
      at = write.path
      // Another program may have written it since: what it holds is looked at once more, as near to the change as can be.
      const there = (await readFile(root, write.path))?.bytes ?? null
      if (!sameBytes(there, write.before ?? EMPTY)) throw new SaveError(write.path, `it was ${write.before ? 'changed' : 'made'} in the folder meanwhile`)
      await stream.close()
      placed.push(write)
    }
    const modified = new Map<string, number>()
    for (const write of writes) {
      at = write.path
      const there = await readFile(root, write.path)
      if (!there || !sameBytes(there.bytes, write.after)) throw new SaveError(write.path, 'read again, it holds something else than was written')
      modified.set(write.path, there.modified)
    }
    return modified
  } catch (error) {
    const rest = open.filter(({ write }) => !placed.includes(write))
    await Promise.all(rest.map(({ stream }) => stream.abort().catch(() => {})))
    const left = await putBack(root, placed)
    for (const write of begun) if (write.before === null && !placed.includes(write)) await removeEmpty(root, write.path).catch(() => {})
    throw error instanceof SaveError ? new SaveError(at, error.message.slice(error.path.length + 2), left) : new SaveError(at, diskReason(error), left)
  }
}

export async function removeFile(root: FileSystemDirectoryHandle, path: string): Promise<void> {
  const parts = path.split('/')
  let folder = root
  for (const part of parts.slice(0, -1)) folder = await folder.getDirectoryHandle(part)
  await folder.removeEntry(parts.at(-1)!)
}

/** Takes a file away that was only made to be written, unless another program has written to it. */
export async function removeEmpty(root: FileSystemDirectoryHandle, path: string): Promise<void> {
  if ((await readFile(root, path))?.bytes.length === 0) await removeFile(root, path)
}

async function putBack(root: FileSystemDirectoryHandle, placed: readonly Write[]): Promise<string[]> {
  const left: string[] = []
  for (const { path, before, after } of placed) {
    try {
      // What another program has written over ours since is its own.
      if (!sameBytes((await readFile(root, path))?.bytes ?? null, after)) continue
      if (before === null) await removeFile(root, path)
      else {
        const stream = await (await fileIn(root, path, false)).createWritable()
        await stream.write(before as Uint8Array<ArrayBuffer>)
        await stream.close()
      }
    } catch {
      left.push(path)
    }
  }
  return left
}
