import { roleOf } from '../core/language'
import { unzip, zip, type AsyncZippable } from 'fflate'
import { ImportError, inWords, MOST_BYTES, MOST_FILES } from '../folder'
import { crc32, zipDirectory, type ZipEntry } from './zip-directory'

/** A file to bring in. */
export interface IncomingFile {
  readonly path: string
  readonly bytes: Uint8Array
}

/** How many bytes are checked in one go. */
const AT_ONCE = 4 * 1024 * 1024

const LEFT_OUT = new Set(['node_modules', '__MACOSX'])

/** Whether a path is left out of a project: in a hidden folder, in `node_modules`, or a hidden file itself. */
export const isLeftOut = (path: string): boolean =>
  path.split('/').some((part) => LEFT_OUT.has(part) || (part.startsWith('.') && part !== '.' && part !== '..'))

/**
 * A path as the project keeps it: `/` between folders, none before. @throws ImportError when it climbs out of the
 * folder it was brought in, or cannot be a path.
 */
export function safePath(path: string): string {
  const parts = path
    .replaceAll('\\', '/')
    .split('/')
    .filter((p) => p !== '' && p !== '.')
  if (parts.includes('..') || /^[a-z]:[\\/]/i.test(path) || path.startsWith('/'))
    throw new ImportError(`“${path}” leads out of the folder it is in. Nothing was imported.`)
  if (path.includes('\0') || parts.length === 0 || parts.includes('__proto__'))
    throw new ImportError(`“${path}” cannot be the name of a file. Nothing was imported.`)
  return parts.join('/')
}

/** Drops the folder that all files share, as when a folder was zipped with itself. */
export function withoutSharedFolder(files: readonly IncomingFile[]): IncomingFile[] {
  const first = files[0]?.path.split('/')
  if (!first || first.length < 2 || files.some((f) => f.path.split('/')[0] !== first[0] || !f.path.includes('/'))) return [...files]
  return files.map((f) => ({ ...f, path: f.path.slice(first[0].length + 1) }))
}

/** Checks what is to become a project. @throws ImportError with a message for the person. */
export function checkImport(files: readonly IncomingFile[]): IncomingFile[] {
  const kept = withoutSharedFolder(files)
  const size = kept.reduce((n, f) => n + f.bytes.length, 0)
  if (kept.length > MOST_FILES)
    throw new ImportError(`There are ${kept.length} files; a project takes up to ${MOST_FILES}. Nothing was imported.`)
  if (size > MOST_BYTES) {
    const largest = kept.reduce((a, b) => (a.bytes.length > b.bytes.length ? a : b))
    throw new ImportError(
      `The files add up to ${inWords(size)}; a project takes up to ${inWords(MOST_BYTES)}. The largest is “${largest.path}”. Nothing was imported.`,
    )
  }
  const seen = new Set<string>()
  for (const { path } of kept) {
    if (seen.has(path)) throw new ImportError(`“${path}” is there twice. Nothing was imported.`)
    seen.add(path)
  }
  if (!kept.some((f) => roleOf(f.path) === 'page'))
    throw new ImportError('There is no HTML file in it, so there is no page to show. Nothing was imported.')
  return kept
}

/** The files of a zip. @throws ImportError when it is damaged, too large, or holds a path that climbs out. */
export async function unzipFiles(name: string, bytes: Uint8Array, signal?: AbortSignal): Promise<IncomingFile[]> {
  const directory = zipDirectory(bytes)
  if (!directory) throw new ImportError(`${name} is damaged or is not a zip: it has no list of its files at its end. Nothing was imported.`)
  const listed = new Map<string, ZipEntry>()
  for (const entry of directory) {
    if (listed.has(entry.name)) throw new ImportError(`${name} holds “${entry.name}” twice. Nothing was imported.`)
    listed.set(entry.name, entry)
  }
  let total = 0
  let count = 0
  let refusal: ImportError | null = null
  const entries = await new Promise<Record<string, Uint8Array>>((done, fail) => {
    const stop = unzip(
      bytes,
      {
        // Sizes are checked before anything is inflated: a small zip can hold a very large file.
        filter: (file) => {
          if (refusal || file.name.endsWith('/')) return false
          try {
            if (isLeftOut(safePath(file.name))) return false
          } catch (error) {
            refusal = error as ImportError
            return false
          }
          total += file.originalSize
          count++
          if (total > MOST_BYTES)
            refusal = new ImportError(`“${file.name}” makes ${name} larger than ${inWords(MOST_BYTES)} unpacked. Nothing was imported.`)
          else if (count > MOST_FILES)
            refusal = new ImportError(`${name} holds more than ${MOST_FILES} files, from “${file.name}” on. Nothing was imported.`)
          return !refusal
        },
      },
      (error, out) =>
        error ? fail(new ImportError(`${name} is damaged or is not a zip (${error.message}). Nothing was imported.`)) : done(out),
    )
    signal?.addEventListener('abort', () => {
      stop()
      fail(signal.reason)
    })
  })
  if (refusal) throw refusal
  const out: IncomingFile[] = []
  let checked = 0
  for (const [path, data] of Object.entries(entries)) {
    const entry = listed.get(path)
    if (entry && entry.size !== data.length)
      throw new ImportError(`${name} says that “${path}” has ${entry.size} bytes, and it has ${data.length}. Nothing was imported.`)
    if (entry && entry.crc !== crc32(data))
      throw new ImportError(`“${path}” in ${name} is damaged: its checksum is another. Nothing was imported.`)
    out.push({ path: safePath(path), bytes: data })
    // The window goes on being drawn.
    checked += data.length
    if (checked > AT_ONCE) {
      checked = 0
      signal?.throwIfAborted()
      await new Promise((done) => setTimeout(done))
    }
  }
  return out
}

export const zipOf = (files: readonly IncomingFile[]): Promise<Uint8Array> => {
  const tree: AsyncZippable = {}
  for (const f of files) tree[f.path] = f.bytes
  return new Promise((done, fail) => zip(tree, { level: 6 }, (error, out) => (error ? fail(error) : done(out))))
}
