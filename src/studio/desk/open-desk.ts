import { proxy } from 'comlink'
import type { Refused } from '../../core/css'
import {
  applicable,
  type FileChange,
  type FileSplices,
  fits,
  type Intent,
  Journal,
  type JournalEdit,
  type NewFile,
  type PlannedEdit,
  type Verdict,
} from '../../core/edit'
import { roleOf } from '../../core/language'
import { Project, type Scale, scaleOf, type Touched } from '../../core/project'
import { applySplices, diffSplice, LineFeeds, lineEndOf, textMark } from '../../core/text'
import type { SyncOp } from '../../agent/protocol'
import type { PublishedFile } from '../../live/protocol'
import { Database, type ViewRow } from '../../storage/db'
import { loadProject, storeDone, storeEdit, storeVerdict } from '../../storage/projects'
import { readClassList } from '../../core/utility'
import { PageClient } from '../../page'
import { Turns } from '../turns'
import { mimeType } from '../../live/mime'
import { inBatches, publishedFile } from './batches'
import { LinkedFolder } from './linked-folder'
import { PageSync } from './page-sync'
import { planning } from './planning'
import type { Conflict, DeskState, LedgerRow, OpenedProject, PageTree, Shown, Written } from './types'
import { Vocabularies, type VocabularyState } from './vocabularies'

const isFull = (error: unknown): boolean => /quota/i.test(`${String((error as { inner?: unknown }).inner)} ${String(error)}`)

/** How long reading ahead works at a time; ms. */
const SLICE = 30

/** The open project, away from the interface's thread: reads, plans, writes to the journal and to IndexedDB. */
export class OpenDesk {
  protected readonly db = new Database()
  protected project: Project | null = null
  protected journal = new Journal()
  protected id = ''
  protected folder: LinkedFolder | null = null
  /** Edits up to this one were in the last save, but for those it left out. */
  protected saved = 0
  protected leftOut: ReadonlySet<number> = new Set()
  /** The files as the project was begun with them. */
  protected originals = new Map<string, Uint8Array>()
  protected readonly conflicts = new Map<string, Conflict>()
  protected deleted = new Set<string>()
  /** Files came or went in the folder that the project has yet to be opened again with. */
  protected outdated = false
  protected readOnly: string | null = null
  protected script = ''
  protected others = new Map<string, Uint8Array>()
  protected vocabularies: Vocabularies | null = null
  protected vocabularyState: VocabularyState | null = null
  protected tellVocabulary: (state: VocabularyState) => void = () => {}
  /** Whether the live origin has an older compiled sheet. */
  protected compiledAgain = false

  protected get opened(): Project {
    if (!this.project) throw new RangeError('No project is open')
    return this.project
  }

  private readonly turns = new Turns()

  /** What changes the project takes turns: each begins with what the one before it left. */
  protected inTurn<T>(work: () => Promise<T>): Promise<T> {
    return this.turns.take(work)
  }

  /** Opens a project and replays its journal; null when there is none of that id. */
  open(id: string, agentScript: string): Promise<OpenedProject | null> {
    return this.inTurn(() => this.openNow(id, agentScript))
  }

  private async openNow(id: string, agentScript: string): Promise<OpenedProject | null> {
    const loaded = await loadProject(this.db, id)
    if (!loaded) return null
    this.id = id
    this.script = agentScript
    this.project = new Project(loaded.files)
    this.others = new Map(loaded.files.filter((f) => !this.project!.has(f.path)).map((f) => [f.path, f.bytes]))
    // Nobody reads it back any more.
    const edits = loaded.edits.map((e): JournalEdit =>
      e.verdict.state === 'pending' ? { ...e, verdict: { state: 'unread', why: 'the page was left before it could be' } } : e,
    )
    // What was not made on these files is not applied to them.
    const good = applicable(edits, (path) =>
      this.project!.has(path) && this.project!.readOnly(path) === null ? this.project!.original(path) : null,
    )
    const lost = edits.length - good
    this.journal = new Journal(edits.slice(0, good), Math.min(loaded.row.done, good))
    for (const edit of edits.slice(0, this.journal.done)) {
      this.applyAll(edit.changes)
      this.bringIn(edit.adds)
    }
    this.saved = loaded.row.saved ?? 0
    this.leftOut = new Set(loaded.row.leftOut)
    this.deleted = new Set(loaded.row.deleted)
    this.conflicts.clear()
    this.outdated = false
    this.originals = new Map(loaded.files.map((f) => [f.path, f.bytes]))
    this.folder = loaded.folder && new LinkedFolder(this.db, id, loaded.folder, loaded.onDisk, (path) => this.originals.get(path) ?? null)
    if (this.folder && loaded.saving && (await this.folder.access()) === 'granted' && (await this.folder.recover(loaded.saving))) {
      this.saved = loaded.saving.done
      this.leftOut = new Set(loaded.saving.leftOut)
    }
    this.vocabularyState = null
    this.vocabularies = new Vocabularies(
      this.db,
      this.project,
      () => [...this.opened.writtenPaths(), ...this.others.keys()],
      (path) => this.readText(path),
      (state) => {
        this.vocabularyState = state
        this.tellVocabulary(state)
      },
    )
    await this.vocabularies.open()
    await this.db.projects.update(id, { opened: Date.now() })
    const paths = loaded.files.map((f) => f.path)
    const scale = scaleOf(this.project, (sheet) => !sheet.isLong)
    return {
      id,
      name: loaded.row.name,
      pages: this.project.pages(),
      sheets: this.project.sheetPaths(),
      written: this.project.writtenPaths(),
      readOnly: paths.flatMap((path) => {
        const why = this.project!.has(path) ? this.project!.readOnly(path) : null
        return why ? [{ path, why }] : []
      }),
      images: [...paths, ...(this.folder?.media ?? [])].filter((p) => mimeType(p).startsWith('image/')),
      scale,
      view: loaded.view,
      state: this.state(),
      lost,
    }
  }

  protected readText(path: string): string | null {
    if (this.opened.has(path)) return this.opened.text(path)
    const bytes = this.others.get(path)
    return bytes ? new TextDecoder().decode(bytes) : null
  }

  private isReading = false

  /**
   * Reads the sheets that are too long to be waited for at the start, a part at a time. Gives what the project measures
   * with then; null when there are none, or it was stopped.
   */
  async readAhead(tell: (path: string, share: number) => void): Promise<Scale | null> {
    const { opened } = this
    const long = opened.allSheets().filter((ref) => ref.sheet.isLong)
    if (long.length === 0) return null
    this.isReading = true
    for (const ref of long) {
      for (const share of ref.sheet.readAhead(SLICE)) {
        if (!this.isReading || this.project !== opened) return null
        tell(ref.path, share)
        // What is asked for meanwhile goes first.
        await new Promise((done) => setTimeout(done))
      }
    }
    this.vocabularies?.learn()
    return this.scale()
  }

  /** Lets the rest of long sheets be read when it is needed. */
  stopReading(): void {
    this.isReading = false
  }

  /** Has `tell` hear how far the vocabulary of utility classes is read, now and whenever that changes. */
  onVocabulary(tell: (state: VocabularyState) => void): void {
    this.tellVocabulary = tell
    if (this.vocabularyState) tell(this.vocabularyState)
  }

  protected state(): DeskState {
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

  protected scale(): Scale {
    return scaleOf(this.opened)
  }

  protected rowOf(e: JournalEdit): LedgerRow {
    return {
      seq: e.seq,
      path: e.path,
      line: this.opened.has(e.path) && e.seq <= this.journal.done ? this.opened.lineAt(e.path, this.journal.offsetNow(e.seq)) : 1,
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
  protected unsaved(): JournalEdit[] {
    const open = this.journal.edits.slice(0, this.journal.done).filter((e) => (e.seq > this.saved || this.leftOut.has(e.seq)) && !e.outside)
    const taken = new Set(open.flatMap((e) => e.discards ?? []))
    const seqs = new Set(open.map((e) => e.seq))
    return open.filter((e) => !taken.has(e.seq) && !e.discards?.every((s) => seqs.has(s)))
  }

  /** Files that are not what the folder has, or, without one, what the project was begun with. */
  protected changedPaths(): string[] {
    const { folder } = this
    const paths = folder
      ? [
          ...new Set([...this.opened.changedPaths(), ...folder.differing, ...this.opened.writtenPaths().filter((p) => !folder.has(p))]),
        ].filter((p) => this.opened.has(p) && !this.deleted.has(p) && (!folder.has(p) || this.opened.text(p) !== this.savedText(p)))
      : this.opened.changedPaths()
    return [...paths, ...this.added.filter((f) => !folder?.has(f.path)).map((f) => f.path)]
  }

  /** Whether a file that someone else deleted in the folder stays so, until it is edited or comes back there. */
  protected async setDeleted(path: string, isDeleted: boolean): Promise<void> {
    if (this.deleted.has(path) === isDeleted) return
    if (isDeleted) this.deleted.add(path)
    else this.deleted.delete(path)
    await this.db.projects.update(this.id, { deleted: [...this.deleted] })
  }

  /** The text of a file as it was saved last. */
  protected savedText(path: string): string {
    return this.folder?.has(path) ? this.folder.text(path) : this.opened.original(path)
  }

  /** Files that edits in force brought in. */
  protected get added(): readonly NewFile[] {
    return this.journal.edits.slice(0, this.journal.done).flatMap((e) => e.adds ?? [])
  }

  protected bringIn(files: readonly NewFile[] = []): void {
    for (const f of files) this.others.set(f.path, f.bytes)
  }

  protected takeOut(files: readonly NewFile[] = []): void {
    for (const f of files) this.others.delete(f.path)
  }

  /** What an edit brings in that is not there yet; null where another file has the name. */
  protected newFiles(plan: PlannedEdit): NewFile[] | null {
    const same = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((x, i) => x === b[i])
    const there = (f: NewFile) => this.others.get(f.path)
    const all = plan.adds ?? []
    return all.some((f) => there(f) && !same(there(f)!, f.bytes)) ? null : all.filter((f) => !there(f))
  }

  protected publishedFile(path: string): PublishedFile {
    const body =
      this.project!.has(path) || path === this.vocabularies?.target
        ? this.opened.published(path, this.script + (this.vocabularies?.head ?? ''))
        : this.others.get(path)!
    return publishedFile(path, body)
  }

  /**
   * Files for the live origin, in batches that a message can carry: first the page that is to be shown and all that
   * pages ask for, or, as `rest`, the other pages. `each` says whether to go on; false where it did not.
   */
  async publish(
    shown: string,
    rest: boolean,
    each: (files: PublishedFile[], done: number, of: number) => Promise<boolean>,
  ): Promise<boolean> {
    const pages = this.opened.pages()
    // Pages that the shown one names may stand in its frames, so they cannot wait.
    const text = pages.includes(shown) ? this.opened.text(shown) : ''
    const first = new Set(pages.filter((p) => p === shown || text.includes(p.split('/').at(-1)!)))
    const paths = rest
      ? pages.filter((p) => !first.has(p))
      : [
          ...new Set([
            ...first,
            ...this.opened.sheetPaths(),
            ...this.opened.textPaths(),
            ...this.others.keys(),
            ...(this.vocabularies?.target ? [this.vocabularies.target] : []),
          ]),
        ]
    if (
      !(await inBatches(
        paths,
        rest ? 10 : 200,
        (path) => this.publishedFile(path),
        (files, done) => each(files, done, paths.length),
      ))
    )
      return false
    // While the engine reads long sheets, they are taken apart here too.
    if (!rest)
      setTimeout(() => {
        for (const { sheet } of this.opened.allSheets()) if (sheet.isLong) void sheet.statements
      })
    return true
  }

  /** What the page has of sheets. */
  readonly pageSync = proxy(new PageSync(() => this.opened))

  protected page: PageClient | null = null

  /** The port to the live page's agent that previews go through, past the interface's own thread. */
  usePage(port: MessagePort): void {
    this.page?.close()
    this.page = new PageClient(
      port,
      () => {},
      () => {},
    )
  }

  /** Loads what plans edits before it is asked for. */
  async prepare(): Promise<void> {
    await planning()
  }

  private plans = 0
  /** The plan that was shown last as it will be written. */
  private planned: {
    readonly id: number
    readonly of: Project
    readonly revision: number
    readonly plan: PlannedEdit
  } | null = null

  /** Plans an intent and shows it on the page; nothing is written. `exact` for the last step, which can be committed and is read back. */
  async show(intent: Intent, exact: boolean): Promise<({ ok: true } & Shown) | Refused> {
    const { planIntent } = await planning()
    const plan = planIntent(this.opened, intent)
    if (!plan.ok) return plan
    if (exact) this.planned = { id: ++this.plans, of: this.opened, revision: this.opened.textRevision, plan }
    const shown = {
      ok: true as const,
      plan: exact ? this.plans : null,
      before: plan.before,
      after: plan.after,
      moves: plan.moves ?? [],
      otherwise: plan.isOtherwise ? plan.label : null,
      selectors: plan.selectors,
      props: plan.props ?? [],
      meant: plan.meant ?? null,
    }
    try {
      // The rules of new classes come to the page for good: without an element that has the class they do nothing.
      const lists = plan.preview.filter((op) => op.op === 'classes')
      if (exact && lists.length && this.compile(lists.map((op) => op.value ?? '')))
        await this.page?.ask('sync', { ops: this.compiledSheet() })
      await this.page?.ask('preview', { ops: plan.preview, clear: false, exact })
      return { ...shown, onPage: true }
    } catch {
      return { ...shown, onPage: false }
    }
  }

  /** Takes what is shown off the page again. */
  async hide(): Promise<boolean> {
    try {
      await this.page?.ask('preview', { ops: [], clear: true, exact: true })
      return true
    } catch {
      return false
    }
  }

  /** Writes an edit: to the text, the journal and IndexedDB, in that order; a failed store takes the rest back. */
  commit(intent: Intent, reach: number, because?: string): Promise<Written | Refused> {
    return this.inTurn(async () => {
      const { planIntent } = await planning()
      const plan = planIntent(this.opened, intent)
      return plan.ok ? this.write(plan, reach, because) : plan
    })
  }

  /** Writes the plan that was shown, as it was shown; refused as stale where the text is another since. */
  commitPlan(id: number, reach: number, because?: string): Promise<Written | Refused> {
    return this.inTurn(async () => {
      const { planned } = this
      if (planned?.id !== id || planned.of !== this.opened || planned.revision !== this.opened.textRevision)
        return { ok: false, reason: 'stale', why: 'The source was changed meanwhile. Try again.' }
      return this.write(planned.plan, reach, because)
    })
  }

  private async write(plan: PlannedEdit, reach: number, because?: string): Promise<Written | Refused> {
    const isSame = ({ path, splices }: FileSplices) => applySplices(this.opened.text(path), splices) === this.opened.text(path)
    if (!plan.adds?.length && plan.changes.every(isSame))
      return { ok: false, reason: 'nothing-new', why: 'The source says that already; nothing was written.' }
    return this.record(plan, reach, { ...(because && { because }) })
  }

  /** Makes a planned edit, in a turn: in the text, in IndexedDB, and in the journal. */
  protected async record(
    plan: PlannedEdit,
    reach: number,
    more: Pick<JournalEdit, 'discards' | 'outside' | 'settles' | 'because' | 'undoes'> = {},
  ): Promise<Written | Refused> {
    if (this.readOnly) return { ok: false, reason: 'read-only', why: this.readOnly }
    const adds = this.newFiles(plan)
    if (!adds)
      return {
        ok: false,
        reason: 'bad-name',
        why: `The project has another file of the name ${plan.adds!.map((f) => f.path).join(' or ')}.`,
      }
    const trees: PageTree[] = []
    const { changes, touched } = this.applyAll(plan.changes, trees, true)
    const edit: JournalEdit = {
      ...(adds.length > 0 && { adds }),
      ...more,
      seq: this.journal.done + 1,
      changes,
      path: plan.path,
      name: plan.name,
      before: plan.before,
      after: plan.after,
      at: plan.at,
      label: plan.label,
      element: plan.element,
      part: plan.part,
      did: plan.did,
      reach,
      made: Date.now(),
      verdict: { state: 'pending' },
    }
    try {
      await this.stored(() => storeEdit(this.db, this.id, edit))
    } catch (error) {
      this.takeBack(changes)
      throw new Error(
        isFull(error)
          ? 'The browser has no room left to store it, so the edit was not made. Make room (Projects shows how much is used) or take your edits away as a patch, then try again.'
          : `The edit could not be stored, so it was not made: ${String(error)}`,
        { cause: error },
      )
    }
    this.saved = Math.min(this.saved, edit.seq - 1)
    this.leftOut = new Set([...this.leftOut].filter((n) => n < edit.seq))
    this.journal.add(edit)
    this.bringIn(adds)
    // Who edits a file that another program deleted wants it; an undo and what comes from outside ask for nothing.
    if (!edit.outside && !edit.undoes) for (const c of changes) await this.setDeleted(c.path, false)
    return this.written(
      edit,
      touched,
      trees,
      await this.takeInClasses(
        plan.changes.map((c) => c.path),
        touched,
      ),
      plan.isElement ? this.elementAt(plan.path, plan.at) : null,
    )
  }

  // Where the room is used up, what can be worked out again makes way first.
  private async stored(work: () => Promise<void>): Promise<void> {
    try {
      await work()
    } catch (error) {
      if (!isFull(error)) throw error
      await this.db.vocabularies.clear().catch(() => {})
      await work()
    }
  }

  protected compile(lists: readonly string[]): boolean {
    const isOther = this.vocabularies?.compile(lists.flatMap((list) => readClassList(list).map((c) => c.name))) ?? false
    this.compiledAgain ||= isOther
    return isOther
  }

  protected compiledSheet(): SyncOp[] {
    const key = this.vocabularies?.target
    return key ? [{ op: 'sheet', sheet: key, text: this.opened.sheet(key)!.sheet.text, outline: this.opened.outline(key) }] : []
  }

  // `marked`: each change is to name the text that it is made on.
  protected applyAll(
    changes: readonly FileSplices[],
    trees: PageTree[] | null = null,
    marked = false,
  ): { changes: FileChange[]; touched: Touched[] } {
    const made: FileChange[] = []
    const touched: Touched[] = []
    try {
      for (const { path, splices } of changes) {
        const before = trees && this.mayRestructure(path, splices) ? this.published(path) : null
        const of = marked ? textMark(this.opened.text(path)) : undefined
        const done = this.opened.apply(path, splices)
        if (trees && done.touched.structure && before !== null)
          trees.push({ file: this.opened.keyOf(path), before, after: this.published(path) })
        made.push({ path, splices, inverse: done.inverse, ...(of && { of }) })
        touched.push(done.touched)
      }
    } catch (error) {
      // One file that cannot be changed leaves none of them changed.
      this.takeBack(made)
      throw error
    }
    return { changes: made, touched }
  }

  // Whether tags come or go, so that the page has to be told its tree again.
  protected mayRestructure(path: string, splices: FileSplices['splices']): boolean {
    return (
      roleOf(path) === 'page' && splices.some((s) => s.insert.includes('<') || this.opened.text(path).slice(s.from, s.to).includes('<'))
    )
  }

  protected published(path: string): string {
    const { body } = this.publishedFile(path)
    return typeof body === 'string' ? body : new TextDecoder().decode(body)
  }

  protected takeBack(changes: readonly FileChange[]): void {
    for (const c of [...changes].reverse()) this.opened.apply(c.path, c.inverse)
  }

  step(by: 'undo' | 'redo'): Promise<Written | null> {
    return this.inTurn(() => (by === 'undo' ? this.undoNow() : this.redoNow()))
  }

  protected undoNow(): Promise<Written | null> {
    return this.goToNow(this.journal.done - 1)
  }

  protected redoNow(): Promise<Written | null> {
    return this.goToNow(this.journal.done + 1)
  }

  /** Undoes or does again until `count` edits are in force; null where there is nothing to do. */
  goTo(count: number): Promise<Written | null> {
    return this.inTurn(() => this.goToNow(count))
  }

  protected async goToNow(count: number): Promise<Written | null> {
    const { edits, done } = this.journal
    if (count === done || count < 0 || count > edits.length) return null
    if (this.readOnly) throw new Error(this.readOnly)
    const back = count < done
    const steps = back ? edits.slice(count, done).reverse() : edits.slice(done, count)
    if (!back && !steps.every((e, i) => i > 0 || e.changes.every((c) => this.opened.has(c.path) && fits(c, this.opened.text(c.path))))) {
      this.journal.forgetUndone()
      throw new Error('The next edit was made on another text, so it cannot be done again.')
    }
    const trees: PageTree[] = []
    const { changes, touched } = this.applyAll(
      steps.flatMap((e) =>
        back ? [...e.changes].reverse().map((c): FileSplices => ({ path: c.path, splices: c.inverse })) : [...e.changes],
      ),
      trees,
    )
    try {
      await this.stored(async () => void (await storeDone(this.db, this.id, count)))
    } catch (error) {
      this.takeBack(changes)
      throw new Error(`The step could not be stored, so it was not made: ${String(error)}`, { cause: error })
    }
    this.journal.moved(count - done)
    for (const e of steps)
      if (back) this.takeOut(e.adds)
      else this.bringIn(e.adds)
    const last = steps.at(-1)!
    const all: JournalEdit =
      steps.length === 1 ? last : { ...last, changes: steps.flatMap((e) => e.changes), adds: steps.flatMap((e) => e.adds ?? []) }
    return this.written(
      all,
      touched,
      trees,
      await this.takeInClasses(
        changes.map((c) => c.path),
        touched,
      ),
      null,
    )
  }

  /** Has the compiled sheet follow an edit of class lists or of the theme; whether it is another. */
  protected async takeInClasses(paths: readonly string[], touched: readonly Touched[]): Promise<boolean> {
    const lists = touched.flatMap((t) => t.attributes.flatMap((a) => (a.name === 'class' && a.value !== null ? [a.value] : [])))
    const more = touched.some((t) => t.structure)
      ? paths.filter((p) => roleOf(p) === 'page').map((p) => this.opened.text(p).replace(/["'<>=]/g, ' '))
      : []
    const compiled = this.compile([...lists, ...more])
    const themed = (await this.vocabularies?.changed(paths)) ?? false
    this.compiledAgain ||= themed
    return compiled || themed
  }

  /** The element whose start tag stands at an offset. */
  protected elementAt(path: string, at: number): string | null {
    const found = this.opened.tree(path).elements.find((e) => e.startTag?.from === at)
    return found ? this.opened.sourceOf(path, found.id) : null
  }

  /** Counts what was written. */
  protected writes = 0

  /** What was written as it is by now, for a window that has taken in something written later: whole sheets, or the page again. */
  upToDate(written: Written): Written {
    const isOfSheets = written.sync.every((op) => op.op === 'sheet' || op.op === 'rules')
    const sync: SyncOp[] = isOfSheets
      ? this.pageSync.wholeSheets(written.sync.flatMap((op) => ('sheet' in op ? [op.sheet] : [])))
      : [{ op: 'reload' }]
    const files = written.files.flatMap(({ path }) => (this.opened.has(path) || this.others.has(path) ? [this.publishedFile(path)] : []))
    return { ...written, state: this.state(), sync, files, scale: scaleOf(this.opened) }
  }

  protected written(
    edit: JournalEdit,
    touched: readonly Touched[],
    trees: readonly PageTree[],
    compiled: boolean,
    chosen: string | null,
  ): Written {
    const restructured = touched.filter((t) => t.structure)
    // A tree says attributes and texts too; of several of one page only loading it again is sure.
    const sync: SyncOp[] =
      restructured.length > trees.length || new Set(trees.map((x) => x.file)).size < trees.length
        ? [{ op: 'reload' }]
        : [
            ...(compiled ? this.compiledSheet() : []),
            ...trees.map((t): SyncOp => ({ op: 'tree', ...t })),
            ...this.pageSync.of(touched.filter((t) => !t.structure)),
          ]
    const stale = this.compiledAgain && this.vocabularies?.target ? [this.vocabularies.target] : []
    this.compiledAgain = false
    const added = (edit.adds ?? []).filter((f) => this.others.has(f.path))
    const files = [...new Set([...edit.changes, ...added].map((f) => f.path).concat(stale))].map((path) => this.publishedFile(path))
    return { order: ++this.writes, state: this.state(), sync, files, path: edit.path, edit, chosen, scale: scaleOf(this.opened) }
  }

  judge(seq: number, verdict: Verdict): Promise<DeskState> {
    return this.inTurn(async () => {
      const edit = this.journal.judge(seq, verdict)
      if (edit) await storeVerdict(this.db, this.id, edit)
      return this.state()
    })
  }

  text(path: string): string | null {
    return this.opened.has(path) || path === this.vocabularies?.target ? this.opened.text(path) : null
  }

  /** Writes what was typed into a file, from `base` to `text`, both with line feeds alone; other edits made since `base` stay. Null where there is nothing to write. */
  typed(path: string, base: string, text: string): Promise<Written | Refused | null> {
    return this.inTurn(() => this.typedNow(path, base, text))
  }

  private async typedNow(path: string, base: string, text: string): Promise<Written | Refused | null> {
    const now = this.opened.text(path)
    const feeds = new LineFeeds(now)
    const typed = diffSplice(base, text)
    if (!typed) return null
    const other = diffSplice(base, feeds.text)
    const isBefore = !other || typed.to <= other.from
    if (!isBefore && typed.from < other.to)
      return {
        ok: false,
        reason: 'bad-value',
        why: 'Another edit changed the file in the same place. Undo it, or take back what was typed.',
      }
    const by = isBefore ? 0 : other.insert.length - (other.to - other.from)
    const change = { from: typed.from + by, to: typed.to + by, insert: typed.insert }
    const insert = lineEndOf(now) === '\n' ? change.insert : change.insert.replace(/\n/g, lineEndOf(now))
    const { planIntent } = await planning()
    const plan = planIntent(this.opened, {
      kind: 'typed',
      path,
      splices: [{ from: feeds.toFile(change.from), to: feeds.toFile(change.to), insert }],
    })
    return plan.ok ? this.write(plan, 0) : plan
  }

  async saveView(view: Omit<ViewRow, 'project'>): Promise<void> {
    if (this.id) await this.db.views.put({ ...view, project: this.id })
  }

  protected bytes(path: string): Uint8Array {
    return this.opened.has(path) ? this.opened.bytes(path) : this.others.get(path)!
  }
}
