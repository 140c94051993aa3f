import { roleOf } from '../core/language'
import { checkImport, type IncomingFile, isLeftOut, safePath, unzipFiles } from '../storage/archive'
import {
  checkSize,
  folderOf,
  ImportError,
  inWords,
  isMedia,
  MOST_BYTES,
  MOST_FILES,
  readFiles,
  toolOf,
  type FolderPlace,
  type Listing,
} from '../folder'
import { LARGE } from '../live/protocol'
import { readKept, setAsideDamaged, type KeptEdits } from '../storage/kept-edits'
import { createProject, type BegunFile } from '../storage/projects'
import { db, type ImportRun } from './projects'

/**
 * Sees that files have room before they are stored, and asks the browser not to clear what is (Storage §7): without that
 * it may, and takes edits with it that no file has yet. @throws ImportError where they have none.
 */
async function makeRoom(sizes: readonly number[]): Promise<void> {
  // Some browsers ask the person, who may take their time: nothing waits for the answer.
  void navigator.storage.persist().catch(() => false)
  const { quota = 0, usage = 0 } = await navigator.storage.estimate()
  // All are stored; those that are not large are stored once more where the live page reads them.
  const needed = sizes.reduce((sum, size) => sum + size * (size < LARGE ? 2 : 1), 0)
  if (quota > 0 && usage + needed > quota)
    throw new ImportError(
      `It needs ${inWords(needed)} in the browser’s storage, and ${inWords(Math.max(0, quota - usage))} are free. Projects shows what is stored. Nothing was imported.`,
    )
}

async function keep(name: string, files: readonly IncomingFile[], run: ImportRun): Promise<string> {
  const checked = checkImport(files)
  await makeRoom(checked.map((f) => f.bytes.length))
  run.signal.throwIfAborted()
  run.onProgress({ text: `Storing ${checked.length} files`, share: 1 })
  return createProject(db, name, checked)
}

/** Brings in a zip, whole or not at all. @throws ImportError with a message for the person. */
export async function importZip(file: File, run: ImportRun): Promise<string> {
  run.onProgress({ text: `Unpacking ${file.name}`, share: 0.2 })
  if (file.size > MOST_BYTES)
    throw new ImportError(`${file.name} is ${inWords(file.size)}; a project takes up to ${inWords(MOST_BYTES)}. Nothing was imported.`)
  const bytes = new Uint8Array(await file.arrayBuffer())
  return keep(file.name.replace(/\.zip$/i, ''), await unzipFiles(file.name, bytes, run.signal), run)
}

/** A file with its path from the folder that was chosen or dropped. */
export interface LocatedFile {
  readonly path: string
  readonly file: File
}

/** Brings in the files of a folder, whole or not at all. @throws ImportError with a message for the person. */
export async function importFiles(name: string, located: readonly LocatedFile[], run: ImportRun): Promise<string> {
  const chosen = located.map((l) => ({ ...l, path: safePath(l.path) })).filter((l) => !isLeftOut(l.path))
  if (chosen.length > MOST_FILES)
    throw new ImportError(
      `There are ${chosen.length} files in ${name}; a project takes up to ${MOST_FILES}. The first beyond is “${chosen[MOST_FILES].path}”. Nothing was imported.`,
    )
  let size = 0
  for (const { path, file } of chosen) {
    size += file.size
    if (size > MOST_BYTES) throw new ImportError(`“${path}” makes ${name} larger than ${inWords(MOST_BYTES)}. Nothing was imported.`)
  }
  const files: IncomingFile[] = []
  for (const [i, { path, file }] of chosen.entries()) {
    run.signal.throwIfAborted()
    try {
      files.push({ path, bytes: new Uint8Array(await file.arrayBuffer()) })
    } catch (error) {
      throw new ImportError(`“${path}” could not be read (${String(error)}). Nothing was imported.`)
    }
    if (i % 20 === 0) run.onProgress({ text: `Reading ${i + 1} of ${chosen.length} files`, share: i / chosen.length })
  }
  return keep(name, files, run)
}

/** What was found in a folder that is about to be opened. */
export interface FoundFolder {
  /** Edits that were not saved when the folder was used last; null where it kept none. */
  readonly kept: KeptEdits | null
  /** Why the edits that it keeps cannot be read. */
  readonly damaged: string | null
  readonly place: FolderPlace
  readonly listing: Listing
  readonly include: ReadonlySet<string>
}

export async function findFolder(place: FolderPlace, include: ReadonlySet<string>, run: ImportRun): Promise<FoundFolder> {
  const folder = folderOf(place)
  run.onProgress({ text: `Looking through ${folder.name}`, share: 0 })
  const listing = await folder.list(include, run.signal, (n) =>
    run.onProgress({ text: `Looking through ${folder.name}: ${n} files`, share: 0 }),
  )
  const kept = await readKept(folder)
  return kept && 'damaged' in kept
    ? { place, listing, include, kept: null, damaged: kept.damaged }
    : { place, listing, include, kept, damaged: null }
}

/** Opens a folder as a project that is saved to it. @throws ImportError with a message for the person. */
export async function linkFolder({ place, listing, include, kept, damaged }: FoundFolder, run: ImportRun): Promise<string> {
  const { files } = listing
  const folder = folderOf(place)
  // Media that the server shows from the disk are not kept a second time.
  const own = folder.pages ? files.filter((f) => !isMedia(f.path)) : files
  checkSize(own)
  // What a server has on the disk is read when it is asked for.
  const read: readonly BegunFile[] = folder.pages
    ? own.map(({ path }) => ({ path, bytes: null }))
    : await readFiles(folder, own, run.signal, (n) =>
        run.onProgress({ text: `Reading ${n} of ${own.length} files`, share: n / own.length }),
      )
  if (!read.some((f) => roleOf(f.path) === 'page')) {
    const settings = read.some((f) => f.path === 'package.json') ? await folder.read('package.json') : null
    const tool = settings ? toolOf(new TextDecoder().decode(settings.bytes)) : null
    if (!tool) throw new ImportError(`There is no HTML file in ${folder.name}, so there is no page to show. Nothing was opened.`)
    if (!folder.development)
      throw new ImportError(
        `${tool.name} renders the pages of ${folder.name}, and has to run for that. Nothing was opened. Start Steady Brush in its folder: npx steady-brush`,
      )
  }
  await makeRoom(own.map((f) => f.size))
  if (damaged !== null) await setAsideDamaged(folder)
  run.onProgress({ text: `Storing ${read.length} files`, share: 1 })
  return createProject(db, folder.name, read, {
    place,
    include: [...include],
    kept,
    stamps: new Map(files.map((f) => [f.path, { modified: f.modified, size: f.size }])),
  })
}

/** Opens a folder that the server of this machine has, with the edits that the folder keeps. @throws ImportError */
export const linkServed = async (path: string, run: ImportRun): Promise<string> =>
  linkFolder(await findFolder({ served: path }, new Set(), run), run)

/** All files below dropped folders and files (File and Directory Entries API §5). */
export async function filesOfDrop(items: readonly FileSystemEntry[], signal: AbortSignal): Promise<LocatedFile[]> {
  const out: LocatedFile[] = []
  const todo = [...items]
  while (todo.length) {
    signal.throwIfAborted()
    const entry = todo.pop()!
    const path = entry.fullPath.replace(/^\//, '')
    if (isLeftOut(path)) continue
    if (entry.isFile) {
      const file = await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail))
      out.push({ path, file })
      if (out.length > MOST_FILES)
        throw new ImportError(`There are more than ${MOST_FILES} files, from “${path}” on. Nothing was imported.`)
    } else {
      const reader = (entry as FileSystemDirectoryEntry).createReader()
      for (;;) {
        const some = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail))
        if (some.length === 0) break
        todo.push(...some)
      }
    }
  }
  return out.sort((a, b) => (a.path < b.path ? -1 : 1))
}
