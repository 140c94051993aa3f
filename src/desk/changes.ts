import type { SyncOp } from '../agent/protocol'
import type { Refused } from '../core/css'
import { type FileChange, type FileSplices, type JournalEdit, type PlannedEdit, fits } from '../core/edit'
import { languageNameOf, roleOf } from '../core/language'
import { type Touched, scaleOf } from '../core/project'
import { textMark } from '../core/text'
import type { OnDiskRow } from '../storage/db'
import { storeDone, storeEdit } from '../storage/projects'
import type { OpenProject } from './open-project'
import type { PageSync } from './page-sync'
import { tokensOf, type Publishing } from './publishing'
import type { PageTree, Written } from './types'

const isFull = (error: unknown): boolean => /quota/i.test(`${String((error as { inner?: unknown }).inner)} ${String(error)}`)

/** Makes edits and takes them back: in the text, in IndexedDB and in the journal, and says what the page needs for it. */
export class Changes {
  constructor(
    private readonly current: OpenProject,
    private readonly publishing: Publishing,
    private readonly pageSync: PageSync,
  ) {}

  /** Makes a planned edit, in a turn: in the text, in IndexedDB, and in the journal. `onDisk` is what the folder is known to have with it, stored as one with the edit. */
  async record(
    plan: PlannedEdit,
    reach: number,
    more: Pick<JournalEdit, 'discards' | 'outside' | 'settles' | 'because' | 'undoes'> = {},
    onDisk: readonly OnDiskRow[] = [],
  ): Promise<Written | Refused> {
    if (this.current.readOnly) return { ok: false, reason: 'read-only', why: this.current.readOnly }
    const adds = this.current.newFiles(plan)
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
      seq: this.current.journal.done + 1,
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
      await this.stored(() => storeEdit(this.current.db, this.current.id, edit, onDisk))
    } catch (error) {
      this.takeBack(changes)
      throw new Error(
        isFull(error)
          ? 'The browser has no room left to store it, so the edit was not made. Make room (Projects shows how much is used) or take your edits away as a patch, then try again.'
          : `The edit could not be stored, so it was not made: ${String(error)}`,
        { cause: error },
      )
    }
    this.current.saved = Math.min(this.current.saved, edit.seq - 1)
    this.current.leftOut = new Set([...this.current.leftOut].filter((n) => n < edit.seq))
    this.current.journal.add(edit)
    this.current.bringIn(adds)
    // Who edits a file that another program deleted wants it; an undo and what comes from outside ask for nothing.
    if (!edit.outside && !edit.undoes) for (const c of changes) await this.current.setDeleted(c.path, false)
    return this.written(
      edit,
      touched,
      trees,
      await this.takeInClasses(
        plan.changes.map((c) => c.path),
        touched,
      ),
      plan.isElement ? this.current.elementAt(plan.path, plan.at) : null,
    )
  }

  // Where the room is used up, what can be worked out again makes way first.
  private async stored(work: () => Promise<void>): Promise<void> {
    try {
      await work()
    } catch (error) {
      if (!isFull(error)) throw error
      await this.current.db.vocabularies.clear().catch(() => {})
      await work()
    }
  }

  // `marked`: each change is to name the text that it is made on.
  applyAll(
    changes: readonly FileSplices[],
    trees: PageTree[] | null = null,
    marked = false,
  ): { changes: FileChange[]; touched: Touched[] } {
    const made: FileChange[] = []
    const touched: Touched[] = []
    try {
      for (const { path, splices } of changes) {
        const before = trees && this.mayRestructure(path, splices) ? this.publishing.published(path) : null
        const of = marked ? textMark(this.current.project.text(path)) : undefined
        const done = this.current.project.apply(path, splices)
        if (trees && done.touched.structure && before !== null)
          trees.push({ file: this.current.project.keyOf(path), before, after: this.publishing.published(path) })
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

  // Whether tags come or go, so that the page has to be sent its tree again.
  mayRestructure(path: string, splices: FileSplices['splices']): boolean {
    return (
      roleOf(path) === 'page' &&
      splices.some((s) => s.insert.includes('<') || this.current.project.text(path).slice(s.from, s.to).includes('<'))
    )
  }

  takeBack(changes: readonly FileChange[]): void {
    for (const c of [...changes].reverse()) this.current.project.apply(c.path, c.inverse)
  }

  async goToNow(count: number): Promise<Written | null> {
    const { edits, done } = this.current.journal
    if (count === done || count < 0 || count > edits.length) return null
    if (this.current.readOnly) throw new Error(this.current.readOnly)
    const back = count < done
    const steps = back ? edits.slice(count, done).reverse() : edits.slice(done, count)
    if (
      !back &&
      !steps.every(
        (e, i) => i > 0 || e.changes.every((c) => this.current.project.has(c.path) && fits(c, this.current.project.text(c.path))),
      )
    ) {
      this.current.journal.forgetUndone()
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
      await this.stored(async () => void (await storeDone(this.current.db, this.current.id, count)))
    } catch (error) {
      this.takeBack(changes)
      throw new Error(`The step could not be stored, so it was not made: ${String(error)}`, { cause: error })
    }
    this.current.journal.moved(count - done)
    for (const e of steps)
      if (back) this.current.takeOut(e.adds)
      else this.current.bringIn(e.adds)
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
  async takeInClasses(paths: readonly string[], touched: readonly Touched[]): Promise<boolean> {
    const lists = touched.flatMap((t) => t.attributes.flatMap((a) => (a.name === 'class' && a.value !== null ? [a.value] : [])))
    const more = touched.some((t) => t.structure)
      ? paths.filter((p) => roleOf(p) === 'page' || languageNameOf(p) === 'jsx').map((p) => tokensOf(this.current.project.text(p)))
      : []
    const compiled = this.publishing.compile([...lists, ...more])
    const themed = (await this.current.vocabularies?.changed(paths)) ?? false
    this.publishing.compiledAgain ||= themed
    return compiled || themed
  }

  /** Counts what was written. */
  writes = 0

  /** What was written as it is by now, for a window that has taken in something written later: whole sheets, or the page again. */
  upToDate(written: Written): Written {
    const isOfSheets = written.sync.every((op) => op.op === 'sheet' || op.op === 'rules')
    const sync: SyncOp[] = isOfSheets
      ? this.pageSync.wholeSheets(written.sync.flatMap((op) => ('sheet' in op ? [op.sheet] : [])))
      : [{ op: 'reload' }]
    const files = written.files.flatMap(({ path }) =>
      this.current.project.has(path) || this.current.others.has(path) ? [this.publishing.publishedFile(path)] : [],
    )
    return { ...written, state: this.current.state(), sync, files, scale: scaleOf(this.current.project) }
  }

  written(edit: JournalEdit, touched: readonly Touched[], trees: readonly PageTree[], compiled: boolean, chosen: string | null): Written {
    const restructured = touched.filter((t) => t.structure)
    // A tree says attributes and texts too; of several of one page only loading it again is sure.
    const sync: SyncOp[] =
      restructured.length > trees.length || new Set(trees.map((x) => x.file)).size < trees.length
        ? [{ op: 'reload' }, ...(compiled ? this.publishing.compiledSheet() : []), ...this.pageSync.of(touched.filter((t) => !t.structure))]
        : [
            ...(compiled ? this.publishing.compiledSheet() : []),
            ...trees.map((t): SyncOp => ({ op: 'tree', ...t })),
            ...this.pageSync.of(touched.filter((t) => !t.structure)),
          ]
    const stale = this.publishing.compiledAgain && this.current.vocabularies?.target ? [this.current.vocabularies.target] : []
    this.publishing.compiledAgain = false
    const added = (edit.adds ?? []).filter((f) => this.current.others.has(f.path))
    const files = [...new Set([...edit.changes, ...added].map((f) => f.path).concat(stale))].map((path) =>
      this.publishing.publishedFile(path),
    )
    return {
      order: ++this.writes,
      state: this.current.state(),
      sync,
      files,
      isCompiled: compiled,
      path: edit.path,
      edit,
      chosen,
      scale: scaleOf(this.current.project),
    }
  }

  unwritten(path: string): Written {
    return {
      state: this.current.state(),
      order: this.writes,
      sync: [],
      files: [],
      isCompiled: false,
      path,
      edit: this.current.journal.edits.at(-1)!,
      chosen: null,
      scale: this.current.scale(),
    }
  }
}
