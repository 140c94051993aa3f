import { backTo, commonStart, type FileSplices, Journal, type JournalEdit, type PlannedEdit, withoutEdits } from '../../core/edit'
import type { Refused } from '../../core/css'
import { roleOf } from '../../core/language'
import { Project } from '../../core/project'
import { applySplices, conflictsIn, createPatch, encodeSource, lineSplices, mergedText, mergeTexts, rebase } from '../../core/text'
import type { PublishedFile } from '../../live/protocol'
import type { SaveRow } from '../../storage/db'
import { storeTake, swapTake, type Take } from '../../storage/takes'
import type { LedgerRow, Written } from './types'
import { inBatches, publishedFile } from './batches'
import { ReadingDesk } from './reading-desk'

export interface HistoryRow extends LedgerRow {
  readonly made: number
  readonly inForce: boolean
  readonly outside: boolean
  /** The later edit in force that took it out; null where it counts. */
  readonly discardedBy: number | null
}

export interface History {
  readonly edits: readonly HistoryRow[]
  readonly saves: readonly SaveRow[]
  readonly done: number
}

/** A state of the project: as after so many edits of the current take, or as another take has it. */
export type Point = { readonly count: number } | { readonly take: string }

/** What someone else did to a file, in a take; `isSettled` where it met edits of that take. */
interface FromOutside {
  readonly path: string
  readonly before: string
  readonly after: string
  readonly isSettled: boolean
}

/** An edit of whole files, as the ledger is to name it. */
export const planOf = (changes: readonly FileSplices[], words: Pick<PlannedEdit, 'name' | 'before' | 'after' | 'label'>): PlannedEdit => ({
  ok: true,
  changes,
  path: changes[0].path,
  at: changes[0].splices[0]?.from ?? 0,
  selectors: [],
  preview: [],
  ...words,
})

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

const s = (seq: number): string => `edit ${seq}`

/** The edits of the project in a row, the takes that have others, and the project as any of those make it. */
export class HistoryDesk extends ReadingDesk {
  protected get inForce(): readonly JournalEdit[] {
    return this.journal.edits.slice(0, this.journal.done)
  }

  /** All edits of the current take, in force or undone, and what was saved. */
  async history(): Promise<History> {
    const { edits, done } = this.journal
    const takenBy = new Map(this.inForce.flatMap((e) => (e.discards ?? []).map((s) => [s, e.seq] as const)))
    const saves = await this.db.saves.where('[project+made]').between([this.id, -Infinity], [this.id, Infinity]).toArray()
    return {
      done,
      saves,
      edits: edits.map((e) => ({
        ...this.rowOf(e),
        made: e.made,
        inForce: e.seq <= done,
        outside: e.outside ?? false,
        discardedBy: takenBy.get(e.seq) ?? null,
      })),
    }
  }

  /** Takes one edit out from among the others, as an edit of its own; refused, with their names, where later ones stand on it. */
  discard(seq: number): Promise<Written | Refused> {
    return this.inTurn(() => this.discardNow(seq))
  }

  private async discardNow(seq: number, undoes = false): Promise<Written | Refused> {
    const without = withoutEdits(this.inForce, new Set([seq]), (path) => this.opened.original(path))
    const edit = this.journal.edits[seq - 1]
    if (!without.ok) {
      const named = without.dependents.map((s) => this.journal.edits[s - 1]).map((e) => `${e.name} of ${e.label} (${s(e.seq)})`)
      return {
        ok: false,
        reason: 'not-allowed',
        why: `It cannot go by itself: ${named.join(', ')} ${named.length === 1 ? 'stands' : 'stand'} on it.`,
      }
    }
    if (without.changes.length === 0) return { ok: false, reason: 'not-found', why: 'Nothing of it is left to take out.' }
    return this.record(
      planOf(without.changes, {
        name: edit.name,
        before: edit.after,
        after: edit.before ?? 'as before',
        label: edit.label,
      }),
      edit.reach,
      { discards: [seq], ...(undoes && { undoes: true as const }) },
    )
  }

  // What someone else saved is not taken back by an undo: the last edit of ours is, carried over theirs.
  protected override async undoNow(): Promise<Written | null> {
    const { inForce } = this
    const last = inForce.at(-1)
    const edge = inForce.findLastIndex((e) => e.outside)
    if (!last || edge < 0 || !(last.outside || inForce.slice(edge).every((e) => e.outside || e.undoes))) return super.undoNow()
    const taken = new Set(inForce.flatMap((e) => e.discards ?? []))
    const ours = inForce.findLast((e) => !e.outside && !e.discards && !taken.has(e.seq))
    if (!ours)
      throw new Error(`${inForce[edge].path} was changed by someone else, which is not undone here. History takes it out by itself.`)
    const done = await this.discardNow(ours.seq, true)
    if ('ok' in done)
      throw new Error(
        `${ours.name} of ${ours.label} stands under what someone else changed in ${inForce[edge].path}, so it cannot be undone by itself.`,
      )
    return done
  }

  protected override redoNow(): Promise<Written | null> {
    return this.inForce.at(-1)?.undoes ? this.goToNow(this.journal.done - 1) : super.redoNow()
  }

  /** Brings the files back to how they were after `count` edits, as a new edit: nothing of the history goes. */
  bringBack(count: number): Promise<Written | Refused> {
    return this.inTurn(() => this.bringBackNow(count))
  }

  private async bringBackNow(count: number): Promise<Written | Refused> {
    const changes = backTo(this.inForce, count, (path) => this.opened.text(path)).filter(
      (c) => applySplices(this.opened.text(c.path), c.splices) !== this.opened.text(c.path),
    )
    if (changes.length === 0) return { ok: false, reason: 'not-found', why: 'The files are as they were then.' }
    return this.record(
      planOf(changes, {
        name: 'brought back',
        before: null,
        after: count === 0 ? 'as at the beginning' : `as after edit ${count}`,
        label: 'history',
      }),
      0,
    )
  }

  private async projectAt(point: Point): Promise<{ project: Project; adds: Map<string, Uint8Array> }> {
    const edits = 'count' in point ? this.journal.edits.slice(0, point.count) : await this.takeEdits(point.take)
    const files = await this.db.files.where('[project+key]').between([this.id, -Infinity], [this.id, Infinity]).toArray()
    const project = new Project(files)
    const adds = new Map(this.others)
    for (const e of edits) {
      for (const c of e.changes) project.apply(c.path, c.splices)
      for (const f of e.adds ?? []) adds.set(f.path, f.bytes)
    }
    return { project, adds }
  }

  /** Files of another state of the project, for a page beside the one shown. */
  async publishPoint(point: Point, script: string, each: (files: PublishedFile[]) => Promise<void>): Promise<void> {
    const { project, adds } = await this.projectAt(point)
    // Classes that only that state has are compiled with those of the current one.
    this.compile(project.pages().map((p) => project.text(p).replace(/["'<>=]/g, ' ')))
    const compiled = this.vocabularies?.target
    const bodyOf = (path: string) =>
      path === compiled
        ? this.opened.published(path, '')
        : project.has(path)
          ? project.published(path, script + (this.vocabularies?.head ?? ''))
          : adds.get(path)!
    await inBatches(
      [...new Set([...project.writtenPaths(), ...adds.keys(), ...(compiled ? [compiled] : [])])],
      200,
      (path) => publishedFile(path, bodyOf(path)),
      async (files) => {
        await each(files)
        return true
      },
    )
  }

  /** What differs from another state of the project to the current one, as a patch. */
  async difference(point: Point): Promise<string> {
    const { project } = await this.projectAt(point)
    const paths = this.opened.writtenPaths().filter((p) => project.has(p) && project.text(p) !== this.opened.text(p))
    return createPatch(
      paths.map((path) => ({
        path,
        before: project.text(path),
        after: this.opened.text(path),
        bom: this.opened.hasBom(path),
      })),
    )
  }

  /** The takes of the project, the current one named by `current`. */
  async takes(): Promise<{ readonly current: string; readonly list: readonly (Take & { readonly edits: number })[] }> {
    const row = await this.db.projects.get(this.id)
    const stored = await this.db.takes.where('[project+id]').between([this.id, ''], [this.id, '\uffff']).toArray()
    const current = row?.take ?? ''
    const list = stored
      .map((t) => ({ id: t.id, name: t.name, made: t.made, edits: t.id === current ? this.journal.done : t.done }))
      .sort((a, b) => a.made - b.made)
    return { current, list: list.length ? list : [{ id: '', name: 'First take', made: 0, edits: this.journal.done }] }
  }

  private async takeEdits(id: string): Promise<readonly JournalEdit[]> {
    const row = await this.db.takes.get([this.id, id])
    if (!row) throw new Error('That take is gone.')
    return row.edits.slice(0, row.done)
  }

  /** Makes another take, with the edits of the current one or with those that are saved alone, and switches to it. */
  newTake(name: string, from: 'here' | 'saved'): Promise<Written | null> {
    return this.inTurn(() => this.newTakeNow(name, from))
  }

  private async newTakeNow(name: string, from: 'here' | 'saved'): Promise<Written | null> {
    if (this.readOnly) throw new Error(this.readOnly)
    const { current, list } = await this.takes()
    // The first take has a row once there is a second.
    if (current === '' && !(await this.db.takes.get([this.id, ''])))
      await storeTake(this.db, this.id, { id: '', name: list[0].name, made: list[0].made }, this.journal.edits, this.journal.done)
    const id = crypto.randomUUID()
    const count = from === 'here' ? this.journal.done : Math.min(this.saved, this.journal.done)
    await storeTake(this.db, this.id, { id, name, made: Date.now() }, this.journal.edits.slice(0, count), count)
    if (from === 'here') return this.switchTakeNow(id)
    return this.asFolderHas(id)
  }

  // What is saved is what the folder has, which may leave edits out and hold what others changed.
  private async asFolderHas(id: string): Promise<Written | null> {
    const paths = new Set([...this.changedPaths(), ...this.inForce.flatMap((e) => e.changes.map((c) => c.path))])
    const saved = new Map(
      [...paths]
        .filter((path) => this.opened.has(path) && (!this.folder || this.folder.has(path)))
        .map((path) => [path, this.savedText(path)]),
    )
    const { written, outside, met } = await this.switchTo(id)
    let last = written
    for (const isMet of [true, false]) {
      const changes = [...saved].flatMap(([path, text]): FileSplices[] =>
        met.has(path) === isMet && this.opened.text(path) !== text ? [{ path, splices: lineSplices(this.opened.text(path), text) }] : [],
      )
      // What met edits of the other take is theirs here, whole: no undo takes it back.
      const done = changes.length
        ? await this.record(
            planOf(changes, { name: 'as saved', before: null, after: 'what the folder has', label: 'takes' }),
            0,
            isMet ? { outside: true } : {},
          )
        : null
      if (done && !('ok' in done)) last = done
    }
    await this.folder?.seeAgain(outside)
    return last
  }

  /** Switches to another take; the one that is left is kept as it is by now. */
  switchTake(id: string): Promise<Written | null> {
    return this.inTurn(() => this.switchTakeNow(id))
  }

  private async switchTakeNow(id: string): Promise<Written | null> {
    const { written, outside, met } = await this.switchTo(id)
    await this.folder?.seeAgain(outside.filter((path) => !met.has(path)))
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
    if (this.readOnly) throw new Error(this.readOnly)
    const { current } = await this.takes()
    if (id === current) return { written: null, outside: [], met: new Set() }
    const other = await this.db.takes.get([this.id, id])
    if (!other) throw new Error('That take is gone.')
    const [mine, theirs] = [this.inForce, other.edits.slice(0, other.done)]
    const common = commonStart(mine, theirs)
    const steps = [
      ...mine
        .slice(common)
        .reverse()
        .flatMap((e) => [...e.changes].reverse().map((c): FileSplices => ({ path: c.path, splices: c.inverse }))),
      ...theirs.slice(common).flatMap((e) => [...e.changes]),
    ]
    const outside = outsideIn(mine, common, (path) => this.opened.text(path))
    const saved = Math.min(this.saved, common)
    // Noted before the switch: where all ends in between, the next look at the folder finds what others changed.
    for (const { path, before } of [...outside].reverse())
      await this.folder?.unsee(path, encodeSource({ bom: this.opened.hasBom(path), text: before }))
    const { changes, touched } = this.applyAll(steps)
    try {
      await swapTake(
        this.db,
        this.id,
        { id: current, edits: this.journal.edits, done: this.journal.done },
        other,
        saved,
        [...this.leftOut].filter((n) => n <= common),
      )
    } catch (error) {
      this.takeBack(changes)
      throw error
    }
    for (const e of mine.slice(common)) this.takeOut(e.adds)
    for (const e of theirs.slice(common)) this.bringIn(e.adds)
    this.journal = new Journal([...other.edits], other.done)
    // What met the edits of the other take is found again by the next look, for these.
    this.conflicts.clear()
    this.saved = saved
    this.leftOut = new Set([...this.leftOut].filter((n) => n <= common))
    // What came from outside belongs to the files, and so to every take.
    const met = new Set<string>()
    for (const { path, before, after, isSettled } of outside) {
      const ours = this.opened.has(path) ? this.opened.text(path) : after
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
      const done = await this.record(
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
    const last = this.inForce.at(-1) ?? mine.at(-1)
    if (!last || (mine.length === common && theirs.length === common)) return { written: null, outside: changed, met }
    const all: JournalEdit = { ...last, changes, adds: [...mine, ...theirs].flatMap((e) => e.adds ?? []) }
    const keys = [...new Set(changes.flatMap((c) => (this.opened.has(c.path) ? [c.path] : [])))]
    const written = this.written(
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
      await this.takeInClasses(
        changes.map((c) => c.path),
        touched,
      ),
      null,
    )
    return { written, outside: changed, met }
  }

  renameTake(id: string, name: string): Promise<void> {
    return this.inTurn(() => this.renameTakeNow(id, name))
  }

  private async renameTakeNow(id: string, name: string): Promise<void> {
    if (id === '' && !(await this.db.takes.get([this.id, ''])))
      await storeTake(this.db, this.id, { id: '', name, made: 0 }, this.journal.edits, this.journal.done)
    else await this.db.takes.update([this.id, id], { name })
  }

  /** Drops the takes named; the current one stays. */
  async dropTakes(ids: readonly string[]): Promise<void> {
    const { current } = await this.takes()
    await this.db.takes.bulkDelete(ids.filter((id) => id !== current).map((id): [string, string] => [this.id, id]))
  }

  /** The edits of another take that the current one does not have. */
  async editsOnlyIn(id: string): Promise<readonly LedgerRow[]> {
    const theirs = await this.takeEdits(id)
    return theirs
      .slice(commonStart(this.inForce, theirs))
      .map((e) => ({ ...this.rowOf({ ...e, seq: Number.MAX_SAFE_INTEGER }), seq: e.seq }))
  }

  /** Brings edits of another take into the current one, as one edit. */
  bringFrom(id: string, seqs: readonly number[]): Promise<Written | Refused> {
    return this.inTurn(() => this.bringFromNow(id, seqs))
  }

  private async bringFromNow(id: string, seqs: readonly number[]): Promise<Written | Refused> {
    const theirs = await this.takeEdits(id)
    const common = commonStart(this.inForce, theirs)
    const wanted = new Set(seqs)
    const without = withoutEdits(
      theirs,
      new Set(
        theirs
          .slice(common)
          .map((e) => e.seq)
          .filter((n) => !wanted.has(n)),
      ),
      (path) => this.opened.original(path),
    )
    if (!without.ok)
      return {
        ok: false,
        reason: 'not-allowed',
        why: `${without.dependents.map(s).join(', ')} of it ${without.dependents.length === 1 ? 'stands' : 'stand'} on edits that were not chosen.`,
      }
    const base = await this.projectAt({ count: common })
    const other = await this.projectAt({ take: id })
    const back = new Map(without.changes.map((c) => [c.path, c.splices]))
    const changes: FileSplices[] = []
    for (const path of new Set(theirs.slice(common).flatMap((e) => e.changes.map((c) => c.path)))) {
      const start = base.project.text(path)
      const both = rebase(
        lineSplices(start, applySplices(other.project.text(path), back.get(path) ?? [])),
        lineSplices(start, this.opened.text(path)),
      )
      if (!both)
        return {
          ok: false,
          reason: 'not-allowed',
          why: `${path}: both takes change the same lines. Choose other edits, or make this one by hand.`,
        }
      const splices = both.a
      if (splices.length) changes.push({ path, splices })
    }
    if (changes.length === 0) return { ok: false, reason: 'not-found', why: 'This take has all of that already.' }
    const { list } = await this.takes()
    const adds = theirs
      .slice(common)
      .filter((e) => wanted.has(e.seq))
      .flatMap((e) => e.adds ?? [])
    return this.record(
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
