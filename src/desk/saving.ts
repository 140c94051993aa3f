import type { SyncOp } from '../agent/protocol'
import { conflictsIn, createPatch, encodeSource, lineSplices, mergeTexts, mergedText } from '../core/text'
import { SaveError } from '../folder'
import type { FolderChanges } from './folder-changes'
import type { LinkedFolder } from './linked-folder'
import type { OpenProject } from './open-project'
import type { PageSync } from './page-sync'
import type { FolderCheck, Saved } from './saved'
import type { Takes } from './takes'
import type { LedgerRow } from './types'

export interface ReviewedFile {
  readonly path: string
  /** As `git diff` says it. */
  readonly patch: string
  readonly isNew: boolean
}

/** What a save would change in a file that none of the edits shown does: what was saved, and was undone since or is of another take. */
export interface OtherChange {
  readonly path: string
  /** Whether edits stand on it, so that it cannot be left out while they are written. */
  readonly isStoodOn: boolean
}

export interface Review {
  readonly files: readonly ReviewedFile[]
  readonly edits: readonly LedgerRow[]
  readonly others: readonly OtherChange[]
  /** Edits that cannot stay while those left out go: they change what those wrote. */
  readonly dependents: readonly number[]
}

/** The files as they are with something left out, and those that edits brought in. */
interface Contents {
  readonly ok: true
  readonly bytes: (path: string) => Uint8Array
  readonly text: (path: string) => string
  readonly adds: ReadonlySet<string>
}

/** What a save writes to the folder, looked over before. */
export class Saving {
  constructor(
    private readonly current: OpenProject,
    private readonly pageSync: PageSync,
    private readonly takes: Takes,
    private readonly folder: FolderChanges,
  ) {}

  /** The bytes of files as they are with some edits, and the other changes of `others`, left out; null for the edits that stand on those. */
  contents(leave: ReadonlySet<number>, others: readonly string[]): Contents | { ok: false; dependents: readonly number[] } {
    const without = this.current.without(leave)
    if (!without.ok) return without
    const unedited = others.length ? this.withoutUnsaved() : null
    const text = (path: string) => {
      const now = without.text(path)
      return unedited && others.includes(path) ? mergedText(mergeTexts(unedited(path), now, this.current.savedText(path))) : now
    }
    const adds = new Set(
      this.current.inForce
        .filter((e) => !leave.has(e.seq))
        .flatMap((e) => e.adds ?? [])
        .map((f) => f.path),
    )
    return {
      ok: true,
      text,
      adds,
      bytes: (path) =>
        this.current.project.has(path) && (without.paths.includes(path) || others.includes(path))
          ? encodeSource({ bom: this.current.project.hasBom(path), text: text(path) })
          : this.current.bytes(path),
    }
  }

  /** The files as they are without any edit that the ledger shows; null where they cannot be distinguished. */
  private withoutUnsaved(): ((path: string) => string) | null {
    const unsaved = this.current.inForce.filter((e) => !e.outside && (e.seq > this.current.saved || this.current.leftOut.has(e.seq)))
    const without = this.current.without(new Set(unsaved.map((e) => e.seq)))
    return without.ok ? without.text : null
  }

  otherChanges(): OtherChange[] {
    const unedited = this.withoutUnsaved()
    if (!unedited) return []
    return this.current.changedPaths().flatMap((path): OtherChange[] => {
      if (!this.current.project.has(path) || (this.current.folder !== null && !this.current.folder.has(path))) return []
      const [before, now] = [this.current.savedText(path), unedited(path)]
      if (before === now) return []
      return [{ path, isStoodOn: conflictsIn(mergeTexts(now, this.current.project.text(path), before)) > 0 }]
    })
  }

  /** What a save would write, with some edits and other changes left out of it. */
  review(leave: readonly number[], leaveOthers: readonly string[] = []): Review {
    const edits = this.current.unsaved().map((e) => this.current.rowOf(e))
    const others = this.otherChanges()
    const now = this.contents(new Set(leave), this.leavable(others, leaveOthers))
    return now.ok ? { files: this.filesOf(now), edits, others, dependents: [] } : { files: [], edits, others, dependents: now.dependents }
  }

  private filesOf(now: Contents): ReviewedFile[] {
    return this.current.changedPaths().flatMap((path): ReviewedFile[] => {
      const isAdded = !this.current.project.has(path)
      if (isAdded) return now.adds.has(path) ? [{ path, patch: '', isNew: true }] : []
      const isNew = this.current.folder !== null && !this.current.folder.has(path)
      const before = isNew ? '' : this.current.savedText(path)
      const after = now.text(path)
      return before === after
        ? []
        : [{ path, isNew, patch: createPatch([{ path, before, after, bom: this.current.project.hasBom(path) }]) }]
    })
  }

  leavable(others: readonly OtherChange[], paths: readonly string[]): readonly string[] {
    return others.filter((o) => !o.isStoodOn && paths.includes(o.path)).map((o) => o.path)
  }

  /** Writes what has changed to the folder, but for some edits and other changes; when it cannot, nothing is lost and the reason is given. */
  save(leave: readonly number[], leaveOthers: readonly string[] = []): Promise<Saved> {
    const { folder } = this.current
    return this.folder.alone(() => this.saveNow(folder, leave, leaveOthers))
  }

  private async saveNow(folder: LinkedFolder | null, leave: readonly number[], leaveOthers: readonly string[]): Promise<Saved> {
    if (!folder) return { ok: false, why: 'The project is not linked to a folder.' }
    if (this.current.readOnly) return { ok: false, why: this.current.readOnly }
    let check: FolderCheck | null
    try {
      check = await this.folder.checkNow(folder)
    } catch (error) {
      return {
        ok: false,
        why: `Not saved. ${error instanceof Error ? error.message : String(error)} Every edit is safe here.`,
      }
    }
    return this.current.inTurn(async () =>
      folder === this.current.folder
        ? this.writeToFolder(folder, leave, leaveOthers, check)
        : { ok: false, why: 'The project was reopened. Save again.' },
    )
  }

  private async writeToFolder(
    folder: LinkedFolder,
    leave: readonly number[],
    leaveOthers: readonly string[],
    check: FolderCheck | null,
  ): Promise<Saved> {
    if (check?.access !== 'granted') return { ok: false, why: 'The browser does not let the folder be written.', ...(check && { check }) }
    if (this.current.conflicts.size)
      return {
        ok: false,
        why: `${[...this.current.conflicts.keys()].join(', ')}: someone else changed the same places in the folder, or deleted the file. Settle that first.`,
        ...(check && { check }),
      }
    // Until it is opened again, a file that went would be written again.
    if (check.written.length || this.current.outdated)
      return { ok: false, why: 'Someone else changed the folder meanwhile. Look over it once more.', check }
    const now = this.contents(new Set(leave), this.leavable(leaveOthers.length ? this.otherChanges() : [], leaveOthers))
    if (!now.ok) return { ok: false, why: 'Other edits stand on those that are left out.' }
    const held = new Set(check.unreadable.map((u) => u.path))
    const files = this.filesOf(now)
      .filter(({ path }) => !held.has(path))
      .map(({ path }) => ({ path, after: now.bytes(path) }))
    try {
      await folder.save(files, this.current.journal.done, leave)
    } catch (error) {
      if (!(error instanceof SaveError)) throw error
      return {
        ok: false,
        why: `Not saved. ${error.message}.${error.written.length ? ` ${error.written.join(', ')} could not be put back and has the new text.` : ' No file was changed.'} Every edit is safe here.`,
      }
    }
    this.current.saved = this.current.journal.done
    this.current.leftOut = new Set(leave)
    return { ok: true, state: this.current.state(), files: files.length, held: check.unreadable }
  }

  /** Keeps unsaved edits and takes in the linked folder too; where not `on`, or with nothing unsaved, keeps nothing there. */
  keepUnsaved(on: boolean): Promise<void> {
    const { folder } = this.current
    return this.folder.alone(async () => {
      if (!folder || folder !== this.current.folder || this.current.readOnly || (await folder.access()) !== 'granted') return
      const isNeeded = on && (this.current.changedPaths().length > 0 || (await this.takes.all()).list.length > 1)
      await folder.keep(isNeeded ? Math.max(1, this.current.unsaved().length) : 0)
    })
  }

  /** What makes the page show the files as saved, or as they are now again; `whole` when styles and attributes are all of it. */
  asSaved(saved: boolean): { ops: SyncOp[]; whole: boolean } {
    // Saved is what the folder was given, which may have left an edit out.
    const texts = this.current
      .changedPaths()
      .flatMap((path) =>
        this.current.project.has(path)
          ? [{ path, splices: lineSplices(this.current.project.text(path), this.current.savedText(path)) }]
          : [],
      )
    return this.current.project.trial((apply) => {
      const back = texts.map(({ path, splices }) => ({ path, ...apply(path, splices) }))
      const whole = !back.some((d) => d.touched.structure)
      if (saved) return { ops: this.pageSync.whole(back.map((d) => d.touched)), whole }
      const forth = [...back].reverse().map(({ path, inverse }) => apply(path, inverse).touched)
      return { ops: this.pageSync.whole(forth), whole }
    })
  }
}
