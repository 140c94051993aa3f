import { sameBytes, SaveError, type Folder, type FolderFile, type Listing, type Write } from './folder'
import { KEPT_FOLDER, whyLeftOut, type IgnoreRules, type LeftOut } from './left-out'
import { ImportError, MOST_FILES } from './limits'

const bytesOf = async (file: File): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer())

const fileOf = (path: string, file: File): FolderFile => ({
  path,
  size: file.size,
  modified: file.lastModified,
  read: () => bytesOf(file),
})

/**
 * The files below a folder (File System §2.5), without what is no source: hidden folders, installed packages, what a
 * build writes beside a `package.json`, and what `.gitignore` names; those in `include` are taken all the same.
 * @throws ImportError when there are more files than a project takes; the signal's reason when it is stopped.
 */
async function listFolder(
  root: FileSystemDirectoryHandle,
  include: ReadonlySet<string>,
  signal?: AbortSignal,
  onCount: (n: number) => void = () => {},
): Promise<Listing> {
  const files: FolderFile[] = []
  const leftOut: LeftOut[] = []
  let built = false
  // It is loaded when a folder is listed.
  const { default: ignore } = await import('ignore')
  const visit = async (folder: FileSystemDirectoryHandle, prefix: string, above: readonly IgnoreRules[]): Promise<void> => {
    const entries: FileSystemHandle[] = []
    for await (const entry of (folder as unknown as { values(): AsyncIterable<FileSystemHandle> }).values()) entries.push(entry)
    entries.sort((a, b) => (a.name < b.name ? -1 : 1))
    if (prefix === '') built = entries.some((e) => e.name === 'package.json')
    const ignoring = entries.find((e) => e.name === '.gitignore' && e.kind === 'file')
    const rules = ignoring
      ? [...above, { base: prefix, rules: ignore().add(await (await (ignoring as FileSystemFileHandle).getFile()).text()) }]
      : above
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
    if (files.length + ownFiles.length > MOST_FILES)
      throw new ImportError(`There are more than ${MOST_FILES} files, from “${prefix}${ownFiles[0].name}” on. Nothing was opened.`)
    files.push(...(await Promise.all(ownFiles.map(async (e) => fileOf(prefix + e.name, await (e as FileSystemFileHandle).getFile())))))
    onCount(files.length)
    for (const entry of kept) {
      // What names a folder that is wanted all the same names all that is in it too.
      if (entry.kind === 'directory')
        await visit(entry as FileSystemDirectoryHandle, `${prefix}${entry.name}/`, include.has(prefix + entry.name) ? [] : rules)
    }
  }
  await visit(root, '', [])
  return { files, leftOut }
}

/** A file of a folder, below folders of its own. @throws DOMException `NotFoundError` where there is none and none is to be made. */
async function fileIn(root: FileSystemDirectoryHandle, path: string, create: boolean): Promise<FileSystemFileHandle> {
  const parts = path.split('/')
  let folder = root
  for (const part of parts.slice(0, -1)) folder = await folder.getDirectoryHandle(part, { create })
  return folder.getFileHandle(parts.at(-1)!, { create })
}

/** A file as it is now; null when the folder has none of that path. */
async function readFile(root: FileSystemDirectoryHandle, path: string): Promise<{ bytes: Uint8Array; modified: number } | null> {
  try {
    const file = await (await fileIn(root, path, false)).getFile()
    return { bytes: await bytesOf(file), modified: file.lastModified }
  } catch (error) {
    if (error instanceof DOMException && (error.name === 'NotFoundError' || error.name === 'TypeMismatchError')) return null
    throw error
  }
}

/** What a file has that was made to be written. */
const EMPTY = new Uint8Array()

/** Why the platform did not read or write a file, in words. */
export const diskReason = (error: unknown): string => {
  if (!(error instanceof DOMException)) return error instanceof Error ? error.message : String(error)
  const known: Readonly<Record<string, string>> = {
    NotAllowedError: 'there is no permission to write it',
    QuotaExceededError: 'the disk is full',
    NotFoundError: 'it is gone from the folder',
    NoModificationAllowedError: 'it is read-only, or another program has it open',
    TypeMismatchError: 'there is a folder of that name',
    InvalidStateError: 'it was changed meanwhile',
    SecurityError: 'the browser does not allow it there',
  }
  return known[error.name] ?? `${error.name}: ${error.message}`
}

/**
 * Writes files, all of them or none as far as the platform allows: what each holds is compared with what it is believed
 * to, all are written beside the old ones, then each takes its place whole, and is read back. Gives when each was changed.
 * @throws SaveError; what was in place by then is put back.
 */
async function writeFiles(root: FileSystemDirectoryHandle, writes: readonly Write[]): Promise<Map<string, number>> {
  for (const { path, before } of writes) {
    let there: Uint8Array | null
    try {
      there = (await readFile(root, path))?.bytes ?? null
    } catch (error) {
      throw new SaveError(path, diskReason(error))
    }
    if (!sameBytes(there, before))
      throw new SaveError(path, there === null ? 'it is gone from the folder' : 'it was changed in the folder meanwhile')
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
      if (!sameBytes(there, write.before ?? EMPTY))
        throw new SaveError(write.path, `it was ${write.before ? 'changed' : 'made'} in the folder meanwhile`)
      await stream.close()
      placed.push(write)
    }
    const modified = new Map<string, number>()
    for (const write of writes) {
      at = write.path
      const there = await readFile(root, write.path)
      if (!there || !sameBytes(there.bytes, write.after))
        throw new SaveError(write.path, 'read again, it holds something else than was written')
      modified.set(write.path, there.modified)
    }
    return modified
  } catch (error) {
    const rest = open.filter(({ write }) => !placed.includes(write))
    await Promise.all(rest.map(({ stream }) => stream.abort().catch(() => {})))
    const left = await putBack(root, placed)
    for (const write of begun) if (write.before === null && !placed.includes(write)) await removeEmpty(root, write.path).catch(() => {})
    throw new SaveError(at, error instanceof SaveError ? error.why : diskReason(error), left)
  }
}

async function removeFile(root: FileSystemDirectoryHandle, path: string): Promise<void> {
  const parts = path.split('/')
  let folder = root
  for (const part of parts.slice(0, -1)) folder = await folder.getDirectoryHandle(part)
  await folder.removeEntry(parts.at(-1)!)
}

/** Takes a file away that was only made to be written, unless another program has written to it. */
async function removeEmpty(root: FileSystemDirectoryHandle, path: string): Promise<void> {
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

/** Not every browser has it (File System Observer). */
interface Observer {
  observe(handle: FileSystemHandle, options: { recursive: boolean }): Promise<void>
  disconnect(): void
}

/** Permissions are not in every browser that has folders (File System Access §4). */
interface Permitted {
  queryPermission?(o: { mode: 'readwrite' }): Promise<PermissionState>
  requestPermission?(o: { mode: 'readwrite' }): Promise<PermissionState>
}

/** A folder that the person picked in the browser (File System Access). */
export class PickedFolder implements Folder {
  // A browser reads files, and runs no git.
  readonly repository = null
  readonly assistants = null
  readonly development = null
  readonly pages = null

  constructor(private readonly root: FileSystemDirectoryHandle) {}

  get name(): string {
    return this.root.name
  }

  get closed(): Folder['closed'] {
    return {
      label: `Allow ${this.name} again`,
      title: `The browser asks again before ${this.name} is read and written`,
    }
  }

  async access(): Promise<PermissionState> {
    return (await (this.root as Permitted).queryPermission?.({ mode: 'readwrite' })) ?? 'granted'
  }

  async askAccess(): Promise<PermissionState> {
    return (await (this.root as Permitted).requestPermission?.({ mode: 'readwrite' })) ?? 'granted'
  }

  list(include: ReadonlySet<string>, signal?: AbortSignal, onCount?: (n: number) => void): Promise<Listing> {
    return listFolder(this.root, include, signal, onCount)
  }

  readMany(paths: readonly string[]): Promise<readonly (Uint8Array | null)[]> {
    return Promise.all(
      paths.map(async (path) => {
        try {
          return (await readFile(this.root, path))?.bytes ?? null
        } catch (error) {
          throw new ImportError(`“${path}” could not be read (${diskReason(error)}). Nothing was opened.`)
        }
      }),
    )
  }

  read(path: string): ReturnType<Folder['read']> {
    return readFile(this.root, path)
  }

  write(writes: readonly Write[]): Promise<ReadonlyMap<string, number>> {
    return writeFiles(this.root, writes)
  }

  removeEmpty(path: string): Promise<void> {
    return removeEmpty(this.root, path)
  }

  async keep(path: string, text: string): Promise<void> {
    const stream = await (await fileIn(this.root, `${KEPT_FOLDER}/${path}`, true)).createWritable()
    await stream.write(text)
    await stream.close()
  }

  async unkeep(path: string): Promise<void> {
    await removeFile(this.root, `${KEPT_FOLDER}/${path}`).catch(() => {})
    // Only where nothing else is in it.
    await this.root.removeEntry(KEPT_FOLDER).catch(() => {})
  }

  watch(tell: () => void): () => void {
    const Observed = (globalThis as unknown as { FileSystemObserver?: new (tell: () => void) => Observer }).FileSystemObserver
    if (!Observed) return () => {}
    const observer = new Observed(tell)
    // Where it cannot be observed, the window looks now and then all the same.
    observer.observe(this.root, { recursive: true }).catch(() => {})
    return () => observer.disconnect()
  }
}
