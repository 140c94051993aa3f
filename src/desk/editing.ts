import type { Refused } from '../core/css'
import type { FileSplices, Intent, PlannedEdit, Verdict } from '../core/edit'
import { Project } from '../core/project'
import { LineFeeds, applySplices, diffSplice, lineEndOf } from '../core/text'
import { PageClient } from '../page'
import { storeVerdict } from '../storage/projects'
import type { Changes } from './changes'
import type { OpenProject } from './open-project'
import { planning } from './planning'
import type { Publishing } from './publishing'
import type { DeskState, Reading, Shown, Written } from './types'

/** Intents planned once, shown on the page, and written as they were shown. */
export class Editing {
  constructor(
    private readonly current: OpenProject,
    private readonly publishing: Publishing,
    private readonly changes: Changes,
  ) {}

  page: PageClient | null = null

  /** The port to the live page's agent that previews go through, past the interface's own thread. */
  usePage(port: MessagePort): void {
    this.page?.close()
    this.page = new PageClient(
      port,
      () => {},
      () => {},
    )
  }

  private plans = 0

  /** The plan that was shown last as it will be written. */
  private planned: {
    readonly id: number
    readonly of: Project
    readonly revision: number
    readonly plan: PlannedEdit
  } | null = null

  /**
   * Plans an intent and shows it on the page; nothing is written. `exact` for the last step, which can be committed; `reading`
   * is what is to be read of the page for it where the plan does not say more.
   */
  async show(intent: Intent, exact: boolean, reading: Reading | null = null): Promise<({ ok: true } & Shown) | Refused> {
    const { planIntent } = await planning()
    const plan = planIntent(this.current.project, intent)
    if (!plan.ok) return plan
    if (exact) this.planned = { id: ++this.plans, of: this.current.project, revision: this.current.project.textRevision, plan }
    const shown = {
      ok: true as const,
      plan: exact ? this.plans : null,
      before: plan.before,
      after: plan.after,
      moves: plan.moves ?? [],
      otherwise: plan.isOtherwise ? plan.label : null,
      meant: plan.meant ?? null,
    }
    const what = reading && {
      ...reading,
      selectors: plan.selectors.length ? plan.selectors : reading.selectors,
      props: plan.meant?.map((m) => m.name) ?? (reading.props.length ? reading.props : (plan.props ?? [])),
    }
    try {
      // The rules of new classes come to the page for good: without an element that has the class they do nothing.
      const lists = plan.preview.filter((op) => op.op === 'classes')
      if (exact && lists.length && this.publishing.compile(lists.map((op) => op.value ?? '')))
        await this.page?.ask('sync', { ops: this.publishing.compiledSheet() })
      const seen = await this.page?.ask('preview', { ops: plan.preview, clear: false, exact, read: what })
      return { ...shown, onPage: true, read: what && seen ? { what, seen } : null }
    } catch {
      return { ...shown, onPage: false, read: null }
    }
  }

  /** Takes what is shown off the page again. */
  async hide(): Promise<boolean> {
    try {
      await this.page?.ask('preview', { ops: [], clear: true, exact: true, read: null })
      return true
    } catch {
      return false
    }
  }

  /** Writes an edit: to the text, the journal and IndexedDB, in that order; a failed store takes the rest back. */
  commit(intent: Intent, reach: number, because?: string): Promise<Written | Refused> {
    return this.current.inTurn(async () => {
      const { planIntent } = await planning()
      const plan = planIntent(this.current.project, intent)
      return plan.ok ? this.write(plan, reach, because) : plan
    })
  }

  /** Writes the plan that was shown, as it was shown; refused as stale where the text is another since. */
  commitPlan(id: number, reach: number, because?: string): Promise<Written | Refused> {
    return this.current.inTurn(async () => {
      const { planned } = this
      if (planned?.id !== id || planned.of !== this.current.project || planned.revision !== this.current.project.textRevision)
        return { ok: false, reason: 'stale', why: 'The source was changed meanwhile. Try again.' }
      return this.write(planned.plan, reach, because)
    })
  }

  private async write(plan: PlannedEdit, reach: number, because?: string): Promise<Written | Refused> {
    const isSame = ({ path, splices }: FileSplices) =>
      applySplices(this.current.project.text(path), splices) === this.current.project.text(path)
    if (!plan.adds?.length && plan.changes.every(isSame))
      return { ok: false, reason: 'nothing-new', why: 'The source says that already; nothing was written.' }
    return this.changes.record(plan, reach, { ...(because && { because }) })
  }

  judge(seq: number, verdict: Verdict): Promise<DeskState> {
    return this.current.inTurn(async () => {
      const edit = this.current.journal.judge(seq, verdict)
      if (edit) await storeVerdict(this.current.db, this.current.id, edit)
      return this.current.state()
    })
  }

  /** Writes what was typed into a file, from `base` to `text`, both with line feeds alone; other edits made since `base` stay. Null where there is nothing to write. */
  typed(path: string, base: string, text: string): Promise<Written | Refused | null> {
    return this.current.inTurn(() => this.typedNow(path, base, text))
  }

  private async typedNow(path: string, base: string, text: string): Promise<Written | Refused | null> {
    const now = this.current.project.text(path)
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
    const plan = planIntent(this.current.project, {
      kind: 'typed',
      path,
      splices: [{ from: feeds.toFile(change.from), to: feeds.toFile(change.to), insert }],
    })
    return plan.ok ? this.write(plan, 0) : plan
  }
}
