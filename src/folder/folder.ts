import type { Assistants } from './assistants'
import type { Development } from './development'
import { ImportError, inWords, MOST_BYTES } from './limits'
import type { LeftOut } from './left-out'
import type { Repository } from './repository'
import type { ServedPages } from './served-pages'

/** A file of a folder: its path from there with `/` between folders, its size in bytes, and when the folder says it was changed (ms since 1970). */
export interface FolderFile {
  readonly path: string
  readonly size: number
  readonly modified: number
  readonly read: () => Promise<Uint8Array>
}

export interface Listing {
  readonly files: readonly FolderFile[]
  readonly leftOut: readonly LeftOut[]
}

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
  constructor(
    readonly path: string,
    readonly why: string,
    readonly written: readonly string[] = [],
  ) {
    super(`${path}: ${why}`)
  }
}

/** A folder on a disk, wherever it is reached from. Nothing above asks how. */
export interface Folder {
  readonly name: string
  /** What is said where it cannot be reached, and what can be done then. */
  readonly closed: { readonly label: string; readonly title: string }
  /** What serves its live pages from the disk, media too, which the project then does not hold; null where all is published. */
  readonly pages: ServedPages | null
  /** Assistants that can be shown what is chosen and wished for; null where there is no server to speak with them. */
  readonly assistants: Assistants | null
  /** What renders the pages of a project of components; null where no server of this machine can be started for them. */
  readonly development: Development | null
  /** The git repository that it is in, where that can be reached; null where it cannot. */
  readonly repository: Repository | null
  /** Whether it can be read and written now. */
  access(): Promise<PermissionState>
  /** Asks the person for that; only a press of theirs may. Throws what to do instead where nobody can be asked. */
  askAccess(): Promise<PermissionState>
  /**
   * The files below it, without what is no source: hidden folders, installed packages, what a build writes beside a
   * `package.json`, and what `.gitignore` names; those in `include` are listed all the same.
   * @throws ImportError when there are more files than a project takes; the signal's reason when it is stopped.
   */
  list(include: ReadonlySet<string>, signal?: AbortSignal, onCount?: (n: number) => void): Promise<Listing>
  /** Files as they are now, one after another; null for each that the folder does not have. */
  readMany(paths: readonly string[]): Promise<readonly (Uint8Array | null)[]>
  /** A file as it is now; null when the folder has none of that path. */
  read(path: string): Promise<{ readonly bytes: Uint8Array; readonly modified: number } | null>
  /**
   * Writes files, all of them or none: what each holds is compared with what it is believed to, each takes its place
   * whole, and is read back. Gives when each was changed. @throws SaveError; what was in place by then is put back.
   */
  write(writes: readonly Write[]): Promise<ReadonlyMap<string, number>>
  /** Takes a file away that was only made to be written, unless another program has written to it. */
  removeEmpty(path: string): Promise<void>
  /** Writes a file of ours in `.steady-brush`, whatever it held. */
  keep(path: string, text: string): Promise<void>
  /** Takes a file of ours in `.steady-brush` away, and that folder with the last. */
  unkeep(path: string): Promise<void>
  /** Calls `tell` when something was changed in it, where the platform reports that; ends with what is returned. */
  watch(tell: () => void): () => void
}

/** Files that are read at once, and bytes. */
const AT_ONCE = 400
const BYTES_AT_ONCE = 8 * 1024 * 1024

export const sameBytes = (a: Uint8Array | null, b: Uint8Array | null): boolean =>
  a === b || (a !== null && b !== null && a.length === b.length && a.every((x, i) => x === b[i]))

/** @throws ImportError naming the file that makes it more than a project takes. */
export function checkSize(files: readonly FolderFile[]): void {
  let size = 0
  for (const file of files) {
    size += file.size
    if (size > MOST_BYTES) throw new ImportError(`“${file.path}” makes it larger than ${inWords(MOST_BYTES)}. Nothing was opened.`)
  }
}

/** Reads files whole. @throws ImportError naming the one that cannot be read. */
export async function readFiles(
  folder: Folder,
  files: readonly FolderFile[],
  signal?: AbortSignal,
  onProgress: (done: number) => void = () => {},
): Promise<{ path: string; bytes: Uint8Array }[]> {
  const out: { path: string; bytes: Uint8Array }[] = []
  while (out.length < files.length) {
    signal?.throwIfAborted()
    const some: FolderFile[] = []
    for (
      let bytes = 0;
      some.length < AT_ONCE && bytes < BYTES_AT_ONCE && out.length + some.length < files.length;
      bytes += some.at(-1)!.size
    )
      some.push(files[out.length + some.length])
    const read = await folder.readMany(some.map((f) => f.path))
    for (const [i, { path }] of some.entries()) {
      const bytes = read[i]
      if (!bytes) throw new ImportError(`“${path}” could not be read (it is gone from the folder). Nothing was opened.`)
      out.push({ path, bytes })
    }
    onProgress(out.length)
  }
  return out
}
