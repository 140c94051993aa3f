import type { Refused } from '../core/css'
import { type FileSplices, Journal, type JournalEdit, commonStart, withoutEdits } from '../core/edit'
import { roleOf } from '../core/language'
import { applySplices, conflictsIn, encodeSource, lineSplices, mergeTexts, mergedText, rebase, type Splices } from '../core/text'
import { type Take, storeTake, swapTake } from '../storage/takes'
import type { Changes } from './changes'
import type { OpenProject } from './open-project'
import type { Points } from './points'
import type { LedgerRow, Written } from './types'
import { planOf } from './whole-files'

/** What someone else did to a file, in a take; `isSettled` where it met edits of that take. */
interface FromOutside {
  readonly path: string
  readonly before: string
  readonly after: string
  readonly isSettled: boolean
}

// What each edit of someone else's after the first `common` did to its file, in order.
function outsideIn(edits: readonly JournalEdit[], common: number, now: (path: string) => string): FromOutside[] {
  const texts = new Map<string, string>()
  const out: FromOutside[] = []
  for (const edit of edits.slice(common).reverse()) {
    for (const c of [...edit.changes].reverse()) {
      const after = texts.get(c.path) ?? now(c.path)
      const before = applySplices(after, c.inverse)
      texts.set(c.path, before)
      if (edit.outside || edit.settles) out.unshift({ path: c.path, before, after, isSettled: edit.settles ?? false })
    }
  }
  return out
}

// What another take changed of a text made in ours: lines beside ours too, and nothing where both changed the same. Null where they meet.
function broughtInto(ours: string, start: string, theirs: string): Splices | null {
  const apart = rebase(lineSplices(start, theirs), lineSplices(start, ours))
  if (apart) return apart.a
  const parts = mergeTexts(start, ours, theirs)
  return conflictsIn(parts) ? null : lineSplices(ours, mergedText(parts))
}

/** The takes of the project: made, switched, and edits brought from one to the other. */
export class Takes {
  constructor(
    private readonly current: OpenProject,
    private readonly changes: Changes,
    private readonly points: Points,
  ) {}

  /** The takes of the project, the current one named by `current`. */
  async all(): Promise<{ readonly current: string; readonly list: readonly (Take & { readonly edits: number })[] }> {
    const row = await this.current.db.projects.get(this.current.id)
    const stored = await this.current.db.takes.where('[project+id]').between([this.current.id, ''], [this.current.id, '\uffff']).toArray()
    const current = row?.take ?? ''
    const list = stored
      .map((t) => ({ id: t.id, name: t.name, made: t.made, edits: t.id === current ? this.current.journal.done : t.done }))
      .sort((a, b) => a.made - b.made)
    return { current, list: list.length ? list : [{ id: '', name: 'First take', made: 0, edits: this.current.journal.done }] }
  }

  /** Makes another take, with the edits of the current one or with those that are saved alone, and switches to it. */
  newTake(name: string, from: 'here' | 'saved'): Promise<Written | null> {
    return this.current.inTurn(() => this.newTakeNow(name, from))
  }

  private async newTakeNow(name: string, from: 'here' | 'saved'): Promise<Written | null> {
    if (this.current.readOnly) throw new Error(this.current.readOnly)
    const { current, list } = await this.all()
    // The first take has a row once there is a second.
    if (current === '' && !(await this.current.db.takes.get([this.current.id, ''])))
      await storeTake(
        this.current.db,
        this.current.id,
        { id: '', name: list[0].name, made: list[0].made },
        this.current.journal.edits,
        this.current.journal.done,
      )
    const id = crypto.randomUUID()
    const count = from === 'here' ? this.current.journal.done : Math.min(this.current.saved, this.current.journal.done)
    await storeTake(this.current.db, this.current.id, { id, name, made: Date.now() }, this.current.journal.edits.slice(0, count), count)
    if (from === 'here') return this.switchTakeNow(id)
    return this.asFolderHas(id)
  }

  // What is saved is what the folder has, which may leave edits out and hold what others changed.
  private async asFolderHas(id: string): Promise<Written | null> {
    const paths = new Set([...this.current.changedPaths(), ...this.current.inForce.flatMap((e) => e.changes.map((c) => c.path))])
    const saved = new Map(
      [...paths]
        .filter((path) => this.current.project.has(path) && (!this.current.folder || this.current.folder.has(path)))
        .map((path) => [path, this.current.savedText(path)]),
    )
    const { written, outside, met } = await this.switchTo(id)
    let last = written
    for (const isMet of [true, false]) {
      const changes = [...saved].flatMap(([path, text]): FileSplices[] =>
        met.has(path) === isMet && this.current.project.text(path) !== text
          ? [{ path, splices: lineSplices(this.current.project.text(path), text) }]
          : [],
      )
      // What met edits of the other take is theirs here, whole: no undo takes it back.
      const done = changes.length
        ? await this.changes.record(
            planOf(changes, { name: 'as saved', before: null, after: 'what the folder has', label: 'takes' }),
            0,
            isMet ? { outside: true } : {},
          )
        : null
      if (done && !('ok' in done)) last = done
    }
    await this.current.folder?.seeAgain(outside)
    return last
  }

  /** Switches to another take; the one that is left is kept as it is by now. */
  switchTake(id: string): Promise<Written | null> {
    return this.current.inTurn(() => this.switchTakeNow(id))
  }

  private async switchTakeNow(id: string): Promise<Written | null> {
    const { written, outside, met } = await this.switchTo(id)
    await this.current.folder?.seeAgain(outside.filter((path) => !met.has(path)))
    return written
  }

  /**
   * Shows another take, with what others changed while the one shown so far was. Gives the files that they changed, of which
   * an earlier state is taken as known until they are seen again, and those of them where that met edits of this take.
   */
  private async switchTo(id: string): Promise<{
    readonly written: Written | null
    readonly outside: readonly string[]
    readonly met: ReadonlySet<string>
  }> {
    if (this.current.readOnly) throw new Error(this.current.readOnly)
    const { current } = await this.all()
    if (id === current) return { written: null, outside: [], met: new Set() }
    const other = await this.current.db.takes.get([this.current.id, id])
    if (!other) throw new Error('That take is gone.')
    const [mine, theirs] = [this.current.inForce, other.edits.slice(0, other.done)]
    const common = commonStart(mine, theirs)
    const steps = [
      ...mine
        .slice(common)
        .reverse()
        .flatMap((e) => [...e.changes].reverse().map((c): FileSplices => ({ path: c.path, splices: c.inverse }))),
      ...theirs.slice(common).flatMap((e) => [...e.changes]),
    ]
    const outside = outsideIn(mine, common, (path) => this.current.project.text(path))
    const saved = Math.min(this.current.saved, common)
    // Noted before the switch: where all ends in between, the next look at the folder finds what others changed.
    for (const { path, before } of [...outside].reverse())
      await this.current.folder?.unsee(path, encodeSource({ bom: this.current.project.hasBom(path), text: before }))
    const { changes, touched } = this.changes.applyAll(steps)
    try {
      await swapTake(
        this.current.db,
        this.current.id,
        { id: current, edits: this.current.journal.edits, done: this.current.journal.done },
        other,
        saved,
        [...this.current.leftOut].filter((n) => n <= common),
      )
    } catch (error) {
      this.changes.takeBack(changes)
      throw error
    }
    for (const e of mine.slice(common)) this.current.takeOut(e.adds)
    for (const e of theirs.slice(common)) this.current.bringIn(e.adds)
    this.current.journal = new Journal([...other.edits], other.done)
    // What met the edits of the other take is found again by the next look, for these.
    this.current.conflicts.clear()
    this.current.saved = saved
    this.current.leftOut = new Set([...this.current.leftOut].filter((n) => n <= common))
    // What came from outside belongs to the files, and so to every take.
    const met = new Set<string>()
    for (const { path, before, after, isSettled } of outside) {
      const ours = this.current.project.has(path) ? this.current.project.text(path) : after
      const parts = mergeTexts(before, ours, after)
      // What was settled for one take is not for another.
      if (isSettled || conflictsIn(parts)) {
        // The next look at the folder finds it, and asks.
        met.add(path)
        continue
      }
      if (met.has(path)) continue
      const text = mergedText(parts)
      if (text === ours) continue
      const done = await this.changes.record(
        planOf([{ path, splices: lineSplices(ours, text) }], {
          name: 'changed',
          before: null,
          after: 'by someone else',
          label: 'in the folder',
        }),
        0,
        { outside: true },
      )
      if ('ok' in done) throw new Error(done.why)
      changes.push(...done.edit.changes)
    }
    const changed = [...new Set(outside.map((o) => o.path))]
    const last = this.current.inForce.at(-1) ?? mine.at(-1)
    if (!last || (mine.length === common && theirs.length === common)) return { written: null, outside: changed, met }
    const all: JournalEdit = { ...last, changes, adds: [...mine, ...theirs].flatMap((e) => e.adds ?? []) }
    const keys = [...new Set(changes.flatMap((c) => (this.current.project.has(c.path) ? [c.path] : [])))]
    const written = this.changes.written(
      all,
      outside.length
        ? [
            ...touched,
            {
              sheets: keys.filter((k) => roleOf(k) === 'sheet'),
              attributes: [],
              texts: [],
              structure: keys.some((k) => roleOf(k) !== 'sheet'),
            },
          ]
        : touched,
      [],
      await this.changes.takeInClasses(
        changes.map((c) => c.path),
        touched,
      ),
      null,
    )
    return { written, outside: changed, met }
  }

  renameTake(id: string, name: string): Promise<void> {
    return this.current.inTurn(() => this.renameTakeNow(id, name))
  }

  private async renameTakeNow(id: string, name: string): Promise<void> {
    if (id === '' && !(await this.current.db.takes.get([this.current.id, ''])))
      await storeTake(this.current.db, this.current.id, { id: '', name, made: 0 }, this.current.journal.edits, this.current.journal.done)
    else await this.current.db.takes.update([this.current.id, id], { name })
  }

  /** Drops the takes named; the current one stays. */
  async dropTakes(ids: readonly string[]): Promise<void> {
    const { current } = await this.all()
    await this.current.db.takes.bulkDelete(ids.filter((id) => id !== current).map((id): [string, string] => [this.current.id, id]))
  }

  /** The edits of another take that the current one does not have. */
  async editsOnlyIn(id: string): Promise<readonly LedgerRow[]> {
    const theirs = await this.points.takeEdits(id)
    return theirs
      .slice(commonStart(this.current.inForce, theirs))
      .map((e) => ({ ...this.current.rowOf({ ...e, seq: Number.MAX_SAFE_INTEGER }), seq: e.seq }))
  }

  /** Brings edits of another take into the current one, as one edit. */
  bringFrom(id: string, seqs: readonly number[]): Promise<Written | Refused> {
    return this.current.inTurn(() => this.bringFromNow(id, seqs))
  }

  private async bringFromNow(id: string, seqs: readonly number[]): Promise<Written | Refused> {
    const theirs = await this.points.takeEdits(id)
    const common = commonStart(this.current.inForce, theirs)
    const wanted = new Set(seqs)
    const without = withoutEdits(
      theirs,
      new Set(
        theirs
          .slice(common)
          .map((e) => e.seq)
          .filter((n) => !wanted.has(n)),
      ),
      (path) => this.current.project.original(path),
    )
    if (!without.ok)
      return {
        ok: false,
        reason: 'not-allowed',
        why: `${without.dependents.map((seq) => `edit ${seq}`).join(', ')} of it ${without.dependents.length === 1 ? 'stands' : 'stand'} on edits that were not chosen.`,
      }
    const base = await this.points.projectAt({ count: common })
    const other = await this.points.projectAt({ take: id })
    const back = new Map(without.changes.map((c) => [c.path, c.splices]))
    const changes: FileSplices[] = []
    for (const path of new Set(theirs.slice(common).flatMap((e) => e.changes.map((c) => c.path)))) {
      const start = base.project.text(path)
      const ours = this.current.project.text(path)
      const splices = broughtInto(ours, start, applySplices(other.project.text(path), back.get(path) ?? []))
      if (!splices)
        return {
          ok: false,
          reason: 'not-allowed',
          why: `${path}: both takes change the same lines. Choose other edits, or make this one by hand.`,
        }
      if (splices.length) changes.push({ path, splices })
    }
    if (changes.length === 0) return { ok: false, reason: 'not-found', why: 'This take has all of that already.' }
    const { list } = await this.all()
    const adds = theirs
      .slice(common)
      .filter((e) => wanted.has(e.seq))
      .flatMap((e) => e.adds ?? [])
    return this.changes.record(
      {
        ...planOf(changes, {
          name: `${seqs.length} ${seqs.length === 1 ? 'edit' : 'edits'}`,
          before: null,
          after: `from ${list.find((t) => t.id === id)?.name ?? 'another take'}`,
          label: 'takes',
        }),
        adds,
      },
      0,
    )
  }
}
