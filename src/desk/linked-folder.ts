import { decodeSource } from '../core/text'
import { diskReason, folderOf, isMedia, sameBytes, type Assistants, type Folder, type Repository, type Write } from '../folder'
import type { Database, FolderRow, OnDiskRow, SavingRow } from '../storage/db'
import { keptText, removeKept, writeKept } from '../storage/kept-edits'
import { forgetOnDisk, storeSave } from '../storage/projects'

/** Something that someone else did to a file of the folder. */
export interface OutsideChange {
  readonly path: string
  readonly kind: 'changed' | 'new' | 'gone' | 'media'
  /** What the folder has now; null where it is gone, and for media that are shown from the disk itself. */
  readonly bytes: Uint8Array | null
  readonly modified: number
  readonly size: number
}

/** What keeps a folder from being read or written, as a sentence. */
function folderFault(name: string, doing: 'read' | 'written', error: unknown): Error {
  const isGone = error instanceof DOMException && error.name === 'NotFoundError'
  return new Error(`The folder ${name} ${isGone ? 'is not there any more' : `could not be ${doing}: ${diskReason(error)}`}.`, {
    cause: error,
  })
}

/** The folder a project is saved to, and what it is known to hold. */
export class LinkedFolder {
  private readonly known = new Map<string, OnDiskRow>()
  private readonly texts = new Map<string, string>()
  private readonly folder: Folder

  constructor(
    private readonly db: Database,
    private readonly id: string,
    private readonly row: FolderRow,
    rows: readonly OnDiskRow[],
    private readonly original: (path: string) => Uint8Array | null,
  ) {
    this.folder = folderOf(row)
    for (const r of rows) this.known.set(r.path, r)
  }

  get name(): string {
    return this.folder.name
  }

  /** What can be done where it cannot be reached. */
  get howToOpen(): string {
    return this.folder.closed.title
  }

  get assistants(): Assistants | null {
    return this.folder.assistants
  }

  get repository(): Repository | null {
    return this.folder.repository
  }

  /** Whether the browser lets it be read and written; asking for it again takes the window. */
  access(): Promise<PermissionState> {
    return this.folder.access()
  }

  /** Paths whose files there are not what the project was begun with. */
  get differing(): string[] {
    return [...this.known.values()].filter((r) => r.bytes !== null).map((r) => r.path)
  }

  has(path: string): boolean {
    return this.known.has(path)
  }

  /** How large a file of the folder was last; bytes. */
  sizeOf(path: string): number {
    return this.known.get(path)?.size ?? 0
  }

  private isShownFromDisk(path: string): boolean {
    return this.folder.pages !== null && isMedia(path) && this.original(path) === null
  }

  /** Files that the page shows from the disk itself, and the project does not hold. */
  get media(): string[] {
    return [...this.known.keys()].filter((path) => this.isShownFromDisk(path))
  }

  /** One of those as it is now. @throws Error when it is gone. */
  async readMedia(path: string): Promise<Uint8Array> {
    const there = await this.folder.read(path)
    if (!there) throw new Error(`${path} is gone from the folder ${this.name}.`)
    return there.bytes
  }

  /** What the folder was last known to have; null for nothing. */
  bytes(path: string): Uint8Array | null {
    const row = this.known.get(path)
    return row ? (row.bytes ?? this.original(path)) : null
  }

  text(path: string): string {
    let text = this.texts.get(path)
    if (text === undefined) {
      const bytes = this.bytes(path)
      text = bytes ? decodeSource(bytes).text : ''
      if (bytes) this.texts.set(path, text)
    }
    return text
  }

  /** Files as they are, one after another; null for each that is gone. */
  readMany(paths: readonly string[]): Promise<readonly (Uint8Array | null)[]> {
    return this.folder.readMany(paths)
  }

  private note(rows: readonly OnDiskRow[]): void {
    for (const r of rows) {
      this.known.set(r.path, r)
      this.texts.delete(r.path)
    }
  }

  private rowOf(path: string, bytes: Uint8Array, modified: number): OnDiskRow {
    return {
      project: this.id,
      path,
      bytes: sameBytes(bytes, this.original(path)) ? null : bytes,
      modified,
      size: bytes.length,
    }
  }

  /**
   * What was changed there since it was last read or written; a file is read only where its date or size is another.
   * @throws Error with a sentence for people where the folder cannot be read.
   */
  async changes(): Promise<OutsideChange[]> {
    try {
      return await this.changesNow()
    } catch (error) {
      throw folderFault(this.name, 'read', error)
    }
  }

  private async changesNow(): Promise<OutsideChange[]> {
    const { files } = await this.folder.list(new Set(this.row.include))
    const out: OutsideChange[] = []
    const same: OnDiskRow[] = []
    for (const { path, size, modified, read } of files) {
      const row = this.known.get(path)
      if (row && row.modified === modified && row.size === size) continue
      if (this.isShownFromDisk(path)) {
        out.push({ path, kind: 'media', bytes: null, modified, size })
        continue
      }
      const bytes = await read()
      // Taken back to what it was before, what a take was still to be asked about is a change all the same.
      if (row && !row.since && sameBytes(bytes, this.bytes(path))) same.push({ ...row, modified, size })
      else out.push({ path, kind: row ? 'changed' : 'new', bytes, modified, size })
    }
    if (same.length) {
      await this.db.onDisk.bulkPut(same)
      this.note(same)
    }
    const there = new Set(files.map((f) => f.path))
    for (const path of this.known.keys()) if (!there.has(path)) out.push({ path, kind: 'gone', bytes: null, modified: 0, size: 0 })
    return out
  }

  /** What the folder is known to have with a change. */
  rowsOf(c: OutsideChange): readonly OnDiskRow[] {
    if (c.bytes) return [this.rowOf(c.path, c.bytes, c.modified)]
    return c.kind === 'media' ? [{ project: this.id, path: c.path, bytes: null, modified: c.modified, size: c.size }] : []
  }

  /** Takes note of what the folder has: it is what later changes and saves start from. */
  async seen(change: OutsideChange): Promise<void> {
    const rows = this.rowsOf(change)
    await this.db.onDisk.bulkPut([...rows])
    this.note(rows)
  }

  /** Takes an earlier state of a file for the one that is known, so that the next look finds what was changed since. */
  async unsee(path: string, earlier: Uint8Array): Promise<void> {
    const known = this.known.get(path)
    // What is gone from the folder has no state there that a later look could compare.
    if (!known) return
    const { bytes, modified, size } = known
    const row = { ...this.rowOf(path, earlier, 0), since: known.since ?? { bytes, modified, size } }
    await this.db.onDisk.put(row)
    this.note([row])
  }

  private really(path: string): OnDiskRow | null {
    const row = this.known.get(path)
    return row?.since ? { project: this.id, path, ...row.since } : null
  }

  /** What it really had last, where an earlier state is taken for that. */
  realBytes(path: string): Uint8Array | null {
    const row = this.really(path)
    return row && (row.bytes ?? this.original(path))
  }

  /** Knows again of these files what was known before {@link unsee}; of all others what that made of it. */
  async seeAgain(paths: readonly string[]): Promise<void> {
    const rows = paths.flatMap((path) => this.really(path) ?? [])
    await this.db.onDisk.bulkPut(rows)
    this.note(rows)
  }

  /** Files that were gone before they were read. */
  readonly gone = new Set<string>()

  /** Knows no more of such a file. */
  lost(path: string): void {
    this.known.delete(path)
    this.gone.add(path)
  }

  /** Takes note that files are gone: a save may write them again. */
  async forget(paths: readonly string[]): Promise<void> {
    await forgetOnDisk(this.db, this.id, paths)
    for (const p of paths) {
      this.known.delete(p)
      this.texts.delete(p)
    }
  }

  /**
   * Keeps what of the project is not saved yet in the folder, or, with `unsaved` 0, nothing more.
   * @throws Error with a sentence for people where the folder cannot be written.
   */
  async keep(unsaved: number): Promise<void> {
    try {
      if (unsaved === 0) await removeKept(this.folder, this.id)
      else await writeKept(this.folder, await keptText(this.db, this.id, unsaved))
    } catch (error) {
      throw folderFault(this.name, 'written', error)
    }
  }

  /** Writes files and notes the save. @throws SaveError when it was not made. */
  async save(
    files: readonly { readonly path: string; readonly after: Uint8Array }[],
    done: number,
    leftOut: readonly number[],
  ): Promise<void> {
    const writes: Write[] = files.map((f) => ({ ...f, before: this.bytes(f.path) }))
    // What is under way is stated first: when it is cut off, its files are known by it.
    await this.db.saving.put({ project: this.id, done, leftOut, files })
    let modified: ReadonlyMap<string, number>
    try {
      modified = await this.folder.write(writes)
    } catch (error) {
      await this.db.saving.delete(this.id)
      throw error
    }
    const rows = files.map((f) => this.rowOf(f.path, f.after, modified.get(f.path) ?? 0))
    await storeSave(this.db, { project: this.id, made: Date.now(), done, leftOut, files: files.map((f) => f.path) }, rows)
    this.note(rows)
  }

  /** After a save that was cut off: takes note of each file that has the new text. Whether all have, so that the save is made. */
  async recover(saving: SavingRow): Promise<boolean> {
    const rows: OnDiskRow[] = []
    for (const { path, after } of saving.files) {
      const there = await this.folder.read(path)
      if (there && sameBytes(there.bytes, after)) rows.push(this.rowOf(path, after, there.modified))
      else if (!this.known.has(path)) await this.folder.removeEmpty(path).catch(() => {})
    }
    const whole = rows.length === saving.files.length
    if (whole)
      await storeSave(
        this.db,
        {
          project: this.id,
          made: Date.now(),
          done: saving.done,
          leftOut: saving.leftOut,
          files: rows.map((r) => r.path),
        },
        rows,
      )
    else {
      await this.db.onDisk.bulkPut(rows)
      await this.db.saving.delete(this.id)
    }
    this.note(rows)
    return whole
  }
}
