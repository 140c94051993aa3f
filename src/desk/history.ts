import type { Refused } from '../core/css'
import { backTo, withoutEdits } from '../core/edit'
import { applySplices } from '../core/text'
import type { SaveRow } from '../storage/db'
import type { Changes } from './changes'
import type { OpenProject } from './open-project'
import type { LedgerRow, Written } from './types'
import { planOf } from './whole-files'

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

/** The edits of the project in a row: undone, made again, taken out of the middle. */
export class EditHistory {
  constructor(
    private readonly current: OpenProject,
    private readonly changes: Changes,
  ) {}

  step(by: 'undo' | 'redo'): Promise<Written | null> {
    return this.current.inTurn(() => (by === 'undo' ? this.undoNow() : this.redoNow()))
  }

  // What someone else saved is not taken back by an undo: the last edit of ours is, carried over theirs.
  async undoNow(): Promise<Written | null> {
    const { inForce } = this.current
    const last = inForce.at(-1)
    const edge = inForce.findLastIndex((e) => e.outside)
    if (!last || edge < 0 || !(last.outside || inForce.slice(edge).every((e) => e.outside || e.undoes)))
      return this.changes.goToNow(this.current.journal.done - 1)
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

  redoNow(): Promise<Written | null> {
    return this.current.inForce.at(-1)?.undoes
      ? this.changes.goToNow(this.current.journal.done - 1)
      : this.changes.goToNow(this.current.journal.done + 1)
  }

  /** Undoes or does again until `count` edits are in force; null where there is nothing to do. */
  goTo(count: number): Promise<Written | null> {
    return this.current.inTurn(() => this.changes.goToNow(count))
  }

  /** All edits of the current take, in force or undone, and what was saved. */
  async read(): Promise<History> {
    const { edits, done } = this.current.journal
    const takenBy = new Map(this.current.inForce.flatMap((e) => (e.discards ?? []).map((s) => [s, e.seq] as const)))
    const saves = await this.current.db.saves
      .where('[project+made]')
      .between([this.current.id, -Infinity], [this.current.id, Infinity])
      .toArray()
    return {
      done,
      saves,
      edits: edits.map((e) => ({
        ...this.current.rowOf(e),
        made: e.made,
        inForce: e.seq <= done,
        outside: e.outside ?? false,
        discardedBy: takenBy.get(e.seq) ?? null,
      })),
    }
  }

  /** Takes one edit out from among the others, as an edit of its own; refused, with their names, where later ones stand on it. */
  discard(seq: number): Promise<Written | Refused> {
    return this.current.inTurn(() => this.discardNow(seq))
  }

  private async discardNow(seq: number, undoes = false): Promise<Written | Refused> {
    const without = withoutEdits(this.current.inForce, new Set([seq]), (path) => this.current.project.original(path))
    const edit = this.current.journal.edits[seq - 1]
    if (!without.ok) {
      const named = without.dependents.map((s) => this.current.journal.edits[s - 1]).map((e) => `${e.name} of ${e.label} (edit ${e.seq})`)
      return {
        ok: false,
        reason: 'not-allowed',
        why: `It cannot go by itself: ${named.join(', ')} ${named.length === 1 ? 'stands' : 'stand'} on it.`,
      }
    }
    if (without.changes.length === 0) return { ok: false, reason: 'not-found', why: 'Nothing of it is left to take out.' }
    return this.changes.record(
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

  /** Brings the files back to how they were after `count` edits, as a new edit: nothing of the history goes. */
  bringBack(count: number): Promise<Written | Refused> {
    return this.current.inTurn(() => this.bringBackNow(count))
  }

  private async bringBackNow(count: number): Promise<Written | Refused> {
    const changes = backTo(this.current.inForce, count, (path) => this.current.project.text(path)).filter(
      (c) => applySplices(this.current.project.text(c.path), c.splices) !== this.current.project.text(c.path),
    )
    if (changes.length === 0) return { ok: false, reason: 'not-found', why: 'The files are as they were then.' }
    return this.changes.record(
      planOf(changes, {
        name: 'brought back',
        before: null,
        after: count === 0 ? 'as at the beginning' : `as after edit ${count}`,
        label: 'history',
      }),
      0,
    )
  }
}
