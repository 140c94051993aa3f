import { Journal, type JournalEdit, type NewFile, type PlannedEdit, withoutEdits } from '../core/edit'
import { loadLanguages } from '../core/language'
import { Project, type Scale, scaleOf } from '../core/project'
import { applySplices } from '../core/text'
import { Database, type ViewRow } from '../storage/db'
import { storeRead, type UnreadFile } from '../storage/projects'
import type { LinkedFolder } from './linked-folder'
import { Turns } from './turns'
import type { Conflict, DeskState, LedgerRow } from './types'
import { UnreadFiles } from './unread-files'
import { Vocabularies } from './vocabularies'

const NONE_UNREAD = new UnreadFiles([], { read: async () => [], take: async () => {} })

/** The files without some edits. */
export type Without =
  /** `paths` are those that differ for it. */
  | { readonly ok: true; readonly paths: readonly string[]; readonly text: (path: string) => string }
  /** Edits that change what one of those to be left out wrote. */
  | { readonly ok: false; readonly dependents: readonly number[] }

/** The open project, away from the interface's thread: its files, its journal, and what was saved of it. */
export class OpenProject {
  readonly db = new Database()
  journal = new Journal()
  id = ''
  folder: LinkedFolder | null = null
  /** Edits up to this one were in the last save, but for those it left out. */
  saved = 0
  leftOut: ReadonlySet<number> = new Set()
  /** The files as the project was begun with them. */
  originals = new Map<string, Uint8Array>()
  /** Files that are no source texts. */
  others = new Map<string, Uint8Array>()
  readonly conflicts = new Map<string, Conflict>()
  deleted = new Set<string>()
  /** Files came or went in the folder that the project has yet to be opened again with. */
  outdated = false
  /** Why nothing may be changed here; null where it may. */
  readOnly: string | null = null
  vocabularies: Vocabularies | null = null
  /** Files of the folder that it was opened without. */
  unread: UnreadFiles = NONE_UNREAD
  private held: Project | null = null

  /** Its files; throws where no project is open. */
  get project(): Project {
    if (!this.held) throw new RangeError('No project is open')
    return this.held
  }

  set project(project: Project) {
    this.held = project
  }

  private readonly turns = new Turns()

  /** What changes the project takes turns: each begins with what the one before it left. */
  inTurn<T>(work: () => Promise<T>): Promise<T> {
    return this.turns.take(work)
  }

  /** The files as they are, but without some edits; the edits that stand on those where that cannot be. */
  without(leave: ReadonlySet<number>): Without {
    const without = withoutEdits(this.inForce, leave, (path) => this.project.original(path))
    if (!without.ok) return without
    const back = new Map(without.changes.map((c) => [c.path, c.splices]))
    return { ok: true, paths: [...back.keys()], text: (path) => applySplices(this.project.text(path), back.get(path) ?? []) }
  }

  /** Ends once all of its files are read; null where they are. */
  get whole(): Promise<void> | null {
    return this.unread.isWhole ? null : this.unread.readAll()
  }

  /** Takes in files that were read. */
  async takeRead(files: readonly (UnreadFile & { readonly bytes: Uint8Array | null })[]): Promise<void> {
    const { project, folder, others, originals } = this
    const read = files.flatMap((f) => (f.bytes ? [{ ...f, bytes: f.bytes }] : []))
    await loadLanguages(read.map((f) => f.path))
    await storeRead(this.db, this.id, read)
    for (const f of files) {
      if (f.bytes === null) {
        project.drop(f.path)
        folder?.lost(f.path)
        continue
      }
      originals.set(f.path, f.bytes)
      if (!project.has(f.path)) others.set(f.path, f.bytes)
    }
    project.fill(read)
  }

  readText(path: string): string | null {
    if (this.project.has(path)) return this.project.text(path)
    const bytes = this.others.get(path)
    return bytes ? new TextDecoder().decode(bytes) : null
  }

  state(): DeskState {
    const { edits, done } = this.journal
    return {
      done,
      undone: Math.max(0, this.saved - done),
      folder: this.folder?.name ?? null,
      conflicts: [...this.conflicts.keys()],
      readOnly: this.readOnly,
      rows: this.unsaved().map((e) => this.rowOf(e)),
      changed: this.changedPaths(),
      canUndo: this.journal.undoable !== null,
      canRedo: edits.length > done,
    }
  }

  scale(): Scale {
    return scaleOf(this.project)
  }

  rowOf(e: JournalEdit): LedgerRow {
    return {
      seq: e.seq,
      path: e.path,
      line: this.project.has(e.path) && e.seq <= this.journal.done ? this.project.lineAt(e.path, this.journal.offsetNow(e.seq)) : 1,
      name: e.name,
      before: e.before,
      after: e.after,
      label: e.label,
      element: e.element ?? null,
      part: e.part ?? null,
      did: e.did ?? null,
      reach: e.reach,
      verdict: e.verdict,
    }
  }

  /** Edits in force that no save has, without those that were taken out again and what took them out. */
  unsaved(): JournalEdit[] {
    const open = this.journal.edits.slice(0, this.journal.done).filter((e) => (e.seq > this.saved || this.leftOut.has(e.seq)) && !e.outside)
    const taken = new Set(open.flatMap((e) => e.discards ?? []))
    const seqs = new Set(open.map((e) => e.seq))
    return open.filter((e) => !taken.has(e.seq) && !e.discards?.every((s) => seqs.has(s)))
  }

  get inForce(): readonly JournalEdit[] {
    return this.journal.edits.slice(0, this.journal.done)
  }

  /** Files that are not what the folder has, or, without one, what the project was begun with. */
  changedPaths(): string[] {
    const { folder } = this
    const paths = folder
      ? [
          ...new Set([...this.project.changedPaths(), ...folder.differing, ...this.project.writtenPaths().filter((p) => !folder.has(p))]),
        ].filter((p) => this.project.has(p) && !this.deleted.has(p) && (!folder.has(p) || this.project.text(p) !== this.savedText(p)))
      : this.project.changedPaths()
    return [...paths, ...this.added.filter((f) => !folder?.has(f.path)).map((f) => f.path)]
  }

  /** Whether a file that someone else deleted in the folder stays so, until it is edited or comes back there. */
  async setDeleted(path: string, isDeleted: boolean): Promise<void> {
    if (this.deleted.has(path) === isDeleted) return
    if (isDeleted) this.deleted.add(path)
    else this.deleted.delete(path)
    await this.db.projects.update(this.id, { deleted: [...this.deleted] })
  }

  /** The text of a file as it was saved last. */
  savedText(path: string): string {
    return this.folder?.has(path) ? this.folder.text(path) : this.project.original(path)
  }

  /** Files that edits in force brought in. */
  get added(): readonly NewFile[] {
    return this.journal.edits.slice(0, this.journal.done).flatMap((e) => e.adds ?? [])
  }

  bringIn(files: readonly NewFile[] = []): void {
    for (const f of files) this.others.set(f.path, f.bytes)
  }

  takeOut(files: readonly NewFile[] = []): void {
    for (const f of files) this.others.delete(f.path)
  }

  /** What an edit brings in that is not there yet; null where another file has the name. */
  newFiles(plan: PlannedEdit): NewFile[] | null {
    const same = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((x, i) => x === b[i])
    const there = (f: NewFile) => this.others.get(f.path)
    const all = plan.adds ?? []
    return all.some((f) => there(f) && !same(there(f)!, f.bytes)) ? null : all.filter((f) => !there(f))
  }

  /** The element whose start tag stands at an offset. */
  elementAt(path: string, at: number): string | null {
    const found = this.project.tree(path).elements.find((e) => e.startTag?.from === at)
    return found ? this.project.sourceOf(path, found.id) : null
  }

  text(path: string): string | null {
    return this.project.has(path) || path === this.vocabularies?.target ? this.project.text(path) : null
  }

  /** The same, also of a file that is still to be read. */
  async textOnceRead(path: string): Promise<string | null> {
    await this.unread.readNow([path])
    return this.text(path)
  }

  bytes(path: string): Uint8Array {
    return this.project.has(path) ? this.project.bytes(path) : this.others.get(path)!
  }

  /** Has nothing changed here, with the reason, or lets it be again. */
  setReadOnly(why: string | null): DeskState {
    this.readOnly = why
    return this.state()
  }

  async saveView(view: Omit<ViewRow, 'project'>): Promise<void> {
    if (this.id) await this.db.views.put({ ...view, project: this.id })
  }
}
