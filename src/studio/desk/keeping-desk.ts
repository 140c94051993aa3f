import { proxy, transfer } from 'comlink'
import { changedRules, type JournalEdit, withoutEdits } from '../../core/edit'
import type { Refused } from '../../core/css'
import { languageOf } from '../../core/language'
import type { SheetRef } from '../../core/project'
import {
  applySplices,
  conflictsIn,
  createPatch,
  decodeSource,
  encodeSource,
  gitPath,
  lineEndOf,
  linesOf,
  lineSplices,
  mergedText,
  mergeTexts,
  type MergePart,
  type Side,
} from '../../core/text'
import type { SyncOp } from '../../agent/protocol'
import { zipOf } from '../../storage/archive'
import { newFilePatch } from '../../storage/binary-patch'
import { diskReason, SaveError } from '../../folder'
import { Commits } from './commits'
import { Handing } from './handing'
import type { LinkedFolder, OutsideChange } from './linked-folder'
import type { FolderCheck, Saved } from './saved'
import type { DeskState, LedgerRow, Written } from './types'
import { HistoryDesk, planOf } from './history-desk'

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

async function changesIn(folder: LinkedFolder): Promise<OutsideChange[]> {
  try {
    return await folder.changes()
  } catch (error) {
    const isGone = error instanceof DOMException && error.name === 'NotFoundError'
    throw new Error(`The folder ${folder.name} ${isGone ? 'is not there any more' : `could not be read: ${diskReason(error)}`}.`, {
      cause: error,
    })
  }
}

/** What the project keeps and gives: saves, history, takes, files to take away. */
export class KeepingDesk extends HistoryDesk {
  /** The repository of the folder. */
  readonly git = proxy(
    new Commits({
      folder: () => this.folder,
      opened: () => this.opened,
      inForce: () => this.inForce,
      bytes: (path) => this.bytes(path),
      save: (leave, leaveOthers) => this.save(leave, leaveOthers),
      alone: (work) => this.alone(work),
      noteBranch: async (branch) => void (await this.db.folders.update(this.id, { branch })),
    }),
  )

  /** What is wished for, and what assistants and colleagues are told. */
  readonly handing = proxy(
    new Handing({
      folder: () => this.folder,
      opened: () => this.opened,
      unsaved: () => this.unsaved().map((edit) => ({ edit, row: this.rowOf(edit) })),
      row: async () => ({ id: this.id, ...(await this.db.projects.get(this.id)) }),
      keep: async (wishes) => void (await this.db.projects.update(this.id, { wishes })),
    }),
  )

  /** What makes the page show the files as saved, or as they are now again; `whole` when styles and attributes are all of it. */
  asSaved(saved: boolean): { ops: SyncOp[]; whole: boolean } {
    // Saved is what the folder was given, which may have left an edit out.
    const texts = this.changedPaths().flatMap((path) =>
      this.opened.has(path) ? [{ path, splices: lineSplices(this.opened.text(path), this.savedText(path)) }] : [],
    )
    return this.opened.trial((apply) => {
      const back = texts.map(({ path, splices }) => ({ path, ...apply(path, splices) }))
      const whole = !back.some((d) => d.touched.structure)
      if (saved) return { ops: this.pageSync.whole(back.map((d) => d.touched)), whole }
      const forth = [...back].reverse().map(({ path, inverse }) => apply(path, inverse).touched)
      return { ops: this.pageSync.whole(forth), whole }
    })
  }

  /** Has nothing changed here, with the reason, or lets it be again. */
  setReadOnly(why: string | null): DeskState {
    this.readOnly = why
    return this.state()
  }

  private onFolder: Promise<unknown> = Promise.resolve()

  // What reads and writes the folder waits for one another: a file that is just being saved is no change of somebody else.
  private alone<T>(work: () => Promise<T>): Promise<T> {
    const next = this.onFolder.then(work)
    this.onFolder = next.catch(() => {})
    return next
  }

  /** Looks whether others changed files of the folder, and takes in what does not meet with edits of ours. Null without a folder. */
  checkFolder(): Promise<FolderCheck | null> {
    // What was asked before the project was reopened and waits until then would take news from those who ask after it.
    const { folder } = this
    return this.alone(() => this.check(folder))
  }

  private async check(folder: LinkedFolder | null): Promise<FolderCheck | null> {
    if (!folder) return null
    const access = await folder.access()
    const changes = access === 'granted' && !this.readOnly ? await changesIn(folder) : null
    return this.inTurn(async () => {
      // Reopened meanwhile, the project knows the folder by another reading.
      const { written, reopen, unreadable } =
        changes && folder === this.folder ? await this.takeInChanges(changes) : { written: [], reopen: [], unreadable: [] }
      return { access, written, reopen, unreadable, conflicts: [...this.conflicts.keys()] }
    })
  }

  private async takeInChanges(changes: readonly OutsideChange[]): Promise<Pick<FolderCheck, 'written' | 'reopen' | 'unreadable'>> {
    const written: Written[] = []
    const reopen: string[] = []
    const unreadable: { path: string; why: string }[] = []
    // What the folder has as it was known again, such as after a change of branches and back, is no conflict any more.
    for (const path of this.conflicts.keys()) if (!changes.some((c) => c.path === path)) this.conflicts.delete(path)
    for (const change of changes) {
      try {
        const done = await this.takeInChange(change)
        if (done === 'reopen') reopen.push(change.path)
        else if (done) written.push(done)
      } catch (error) {
        // The others are taken in all the same. This one is found again at the next look, and told as long as it is so.
        unreadable.push({ path: change.path, why: error instanceof Error ? error.message : String(error) })
      }
    }
    if (reopen.length) this.outdated = true
    return { written, reopen, unreadable }
  }

  // What was written for it; `reopen` where the project has to be reopened with it; null where it makes no difference.
  private async takeInChange(change: OutsideChange): Promise<Written | 'reopen' | null> {
    if (change.kind === 'gone') return this.takeInGone(change)
    if (change.kind === 'media') {
      await this.folder!.seen([change])
      return 'reopen'
    }
    if (this.opened.has(change.path) && this.opened.readOnly(change.path) === null) return this.takeInTheirs(change)
    await this.replaceFile(change)
    return 'reopen'
  }

  private async takeInTheirs(change: OutsideChange): Promise<Written | null> {
    const { path } = change
    await this.setDeleted(path, false)
    const theirs = this.textOf(change)
    const ours = this.opened.text(path)
    const saved = this.savedText(path)
    // Where all line ends are others, it is the lines that are compared, and theirs that are kept.
    const ends = lineEndOf(theirs)
    const isTurned = lineEndOf(saved) !== ends && saved.replace(/\r\n?|\n/g, ends) !== saved
    const inTheirs = (text: string) => (isTurned ? text.replace(/\r\n?|\n/g, ends) : text)
    const parts = mergeTexts(inTheirs(saved), inTheirs(ours), theirs)
    if (conflictsIn(parts)) {
      this.conflicts.set(path, { path, parts, theirs: change })
      return null
    }
    this.conflicts.delete(path)
    const text = mergedText(parts)
    const written =
      text === ours
        ? null
        : await this.record(
            planOf([{ path, splices: lineSplices(ours, text) }], {
              name: 'changed',
              before: null,
              after: 'by someone else',
              label: 'in the folder',
            }),
            0,
            { outside: true },
          )
    if (written && 'ok' in written) throw new Error(written.why)
    await this.folder!.seen([change])
    return written
  }

  // What someone else saved in another encoding has no lines to compare.
  private textOf({ path, bytes }: OutsideChange): string {
    try {
      return decodeSource(bytes!).text
    } catch (error) {
      throw new Error(
        `${path}: someone else saved it so that it cannot be read any more (${error instanceof Error ? error.message : String(error)}). It stays as it is here, and is not written.`,
        { cause: error },
      )
    }
  }

  /** Both sides of the places that both changed in a file, or all of it where it was deleted in the folder; null when there are none. */
  conflict(path: string): { readonly parts: readonly MergePart[]; readonly isDeleted: boolean } | null {
    const conflict = this.conflicts.get(path)
    return conflict ? { parts: conflict.parts, isDeleted: conflict.theirs.kind === 'gone' } : null
  }

  /** Settles a file that both sides changed, by a choice for each place. */
  settle(path: string, choices: readonly Side[]): Promise<Written | Refused | null> {
    return this.alone(() => this.inTurn(() => this.settleNow(path, choices)))
  }

  private async settleNow(path: string, choices: readonly Side[]): Promise<Written | Refused | null> {
    const conflict = this.conflicts.get(path)
    if (!conflict) return null
    if (conflict.theirs.kind === 'gone') return this.settleGone(path, choices[0] === 'theirs')
    // What is theirs comes in as theirs, so that it stays when the choice is undone, or left out of a save.
    const [ours, theirs, text] = [
      this.opened.text(path),
      mergedText(
        conflict.parts,
        choices.map((c) => (c === 'theirs' ? 'theirs' : 'ours')),
      ),
      mergedText(conflict.parts, choices),
    ]
    const taken =
      theirs === ours
        ? null
        : await this.record(
            planOf([{ path, splices: lineSplices(ours, theirs) }], {
              name: 'changed',
              before: null,
              after: 'by someone else',
              label: 'in the folder',
            }),
            0,
            { outside: true },
          )
    if (taken && 'ok' in taken) return taken
    // A choice is noted where it changes nothing too: it holds for this take alone.
    const kept = choices.every((c) => c === 'theirs')
      ? null
      : await this.record(
          planOf([{ path, splices: lineSplices(theirs, text) }], {
            name: 'settled',
            before: null,
            after: text === theirs ? 'as it is here' : 'with what someone else changed',
            label: 'in the folder',
          }),
          0,
          { settles: true },
        )
    if (kept && 'ok' in kept) return kept
    const written =
      taken && kept ? { ...kept, sync: [...taken.sync, ...kept.sync], files: [...taken.files, ...kept.files] } : (kept ?? taken)
    this.conflicts.delete(path)
    await this.folder?.seen([conflict.theirs])
    return written ?? this.unwritten(path)
  }

  private unwritten(path: string): Written {
    return {
      state: this.state(),
      order: this.writes,
      sync: [],
      files: [],
      path,
      edit: this.journal.edits.at(-1)!,
      chosen: null,
      scale: this.scale(),
    }
  }

  // A file that nobody edited, in any take, goes with the folder's. Of one that was it is asked whether a save writes it again.
  private async takeInGone(change: OutsideChange): Promise<'reopen' | null> {
    const { path } = change
    const row = await this.db.files.where('[project+path]').equals([this.id, path]).first()
    const edits = row ? await this.editsOf(path) : []
    if (edits.some((e) => !e.outside)) {
      this.conflicts.set(path, {
        path,
        theirs: change,
        parts: [{ kind: 'conflict', ours: linesOf(this.opened.text(path)), base: linesOf(this.savedText(path)), theirs: [] }],
      })
      return null
    }
    await this.folder!.forget([path])
    if (!row) return null
    if (edits.length) {
      // The journal stands on it; nobody here has anything in it that would be lost.
      await this.setDeleted(path, true)
      return null
    }
    await this.db.files.delete([this.id, row.key])
    return 'reopen'
  }

  private async editsOf(path: string): Promise<readonly JournalEdit[]> {
    const takes = await this.db.takes.where('[project+id]').between([this.id, ''], [this.id, '\uffff']).toArray()
    return [...this.journal.edits, ...takes.flatMap((t) => t.edits)].filter((e) => e.changes.some((c) => c.path === path))
  }

  private async settleGone(path: string, staysDeleted: boolean): Promise<Written> {
    this.conflicts.delete(path)
    await this.folder?.forget([path])
    if (staysDeleted) await this.setDeleted(path, true)
    return this.unwritten(path)
  }

  private async replaceFile(change: OutsideChange): Promise<void> {
    const { path } = change
    const row = await this.db.files.where('[project+path]').equals([this.id, path]).first()
    const last = await this.db.files.where('[project+key]').between([this.id, -Infinity], [this.id, Infinity]).last()
    await this.db.files.put({ project: this.id, key: row?.key ?? (last?.key ?? 0) + 1, path, bytes: change.bytes! })
    this.originals.set(path, change.bytes!)
    await this.folder!.seen([change])
  }

  /** The bytes of files as they are with some edits, and the other changes of `others`, left out; null for the edits that stand on those. */
  private contents(leave: ReadonlySet<number>, others: readonly string[]): Contents | { ok: false; dependents: readonly number[] } {
    const without = withoutEdits(this.inForce, leave, (path) => this.opened.original(path))
    if (!without.ok) return without
    const back = new Map(without.changes.map((c) => [c.path, c.splices]))
    const unedited = others.length ? this.withoutUnsaved() : null
    const text = (path: string) => {
      const now = applySplices(this.opened.text(path), back.get(path) ?? [])
      return unedited && others.includes(path) ? mergedText(mergeTexts(unedited(path), now, this.savedText(path))) : now
    }
    const adds = new Set(
      this.inForce
        .filter((e) => !leave.has(e.seq))
        .flatMap((e) => e.adds ?? [])
        .map((f) => f.path),
    )
    return {
      ok: true,
      text,
      adds,
      bytes: (path) =>
        this.opened.has(path) && (back.has(path) || others.includes(path))
          ? encodeSource({ bom: this.opened.hasBom(path), text: text(path) })
          : this.bytes(path),
    }
  }

  /** The files as they are without any edit that the ledger shows; null where they cannot be told apart. */
  private withoutUnsaved(): ((path: string) => string) | null {
    const without = withoutEdits(
      this.inForce,
      new Set(
        this.inForce
          .filter((e) => e.seq > this.saved || this.leftOut.has(e.seq))
          .filter((e) => !e.outside)
          .map((e) => e.seq),
      ),
      (path) => this.opened.original(path),
    )
    if (!without.ok) return null
    const back = new Map(without.changes.map((c) => [c.path, c.splices]))
    return (path) => applySplices(this.opened.text(path), back.get(path) ?? [])
  }

  private otherChanges(): OtherChange[] {
    const unedited = this.withoutUnsaved()
    if (!unedited) return []
    return this.changedPaths().flatMap((path): OtherChange[] => {
      if (!this.opened.has(path) || (this.folder !== null && !this.folder.has(path))) return []
      const [before, now] = [this.savedText(path), unedited(path)]
      if (before === now) return []
      return [{ path, isStoodOn: conflictsIn(mergeTexts(now, this.opened.text(path), before)) > 0 }]
    })
  }

  /** What a save would write, with some edits and other changes left out of it. */
  review(leave: readonly number[], leaveOthers: readonly string[] = []): Review {
    const edits = this.unsaved().map((e) => this.rowOf(e))
    const others = this.otherChanges()
    const now = this.contents(new Set(leave), this.leavable(others, leaveOthers))
    return now.ok ? { files: this.filesOf(now), edits, others, dependents: [] } : { files: [], edits, others, dependents: now.dependents }
  }

  private filesOf(now: Contents): ReviewedFile[] {
    return this.changedPaths().flatMap((path): ReviewedFile[] => {
      const isAdded = !this.opened.has(path)
      if (isAdded) return now.adds.has(path) ? [{ path, patch: '', isNew: true }] : []
      const isNew = this.folder !== null && !this.folder.has(path)
      const before = isNew ? '' : this.savedText(path)
      const after = now.text(path)
      return before === after ? [] : [{ path, isNew, patch: createPatch([{ path, before, after, bom: this.opened.hasBom(path) }]) }]
    })
  }

  private leavable(others: readonly OtherChange[], paths: readonly string[]): readonly string[] {
    return others.filter((o) => !o.isStoodOn && paths.includes(o.path)).map((o) => o.path)
  }

  /** Writes what has changed to the folder, but for some edits and other changes; when it cannot, nothing is lost and the reason is given. */
  save(leave: readonly number[], leaveOthers: readonly string[] = []): Promise<Saved> {
    const { folder } = this
    return this.alone(() => this.saveNow(folder, leave, leaveOthers))
  }

  private async saveNow(folder: LinkedFolder | null, leave: readonly number[], leaveOthers: readonly string[]): Promise<Saved> {
    if (!folder) return { ok: false, why: 'The project is not linked to a folder.' }
    if (this.readOnly) return { ok: false, why: this.readOnly }
    let check: FolderCheck | null
    try {
      check = await this.check(folder)
    } catch (error) {
      return {
        ok: false,
        why: `Not saved. ${error instanceof Error ? error.message : String(error)} Every edit is safe here.`,
      }
    }
    return this.inTurn(async () =>
      folder === this.folder
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
    if (this.conflicts.size)
      return {
        ok: false,
        why: `${[...this.conflicts.keys()].join(', ')}: someone else changed the same places in the folder, or deleted the file. Settle that first.`,
        ...(check && { check }),
      }
    // Until it is opened again, a file that went would be written again.
    if (check.written.length || this.outdated)
      return { ok: false, why: 'Someone else changed the folder meanwhile. Look over it once more.', check }
    const now = this.contents(new Set(leave), this.leavable(leaveOthers.length ? this.otherChanges() : [], leaveOthers))
    if (!now.ok) return { ok: false, why: 'Other edits stand on those that are left out.' }
    const held = new Set(check.unreadable.map((u) => u.path))
    const files = this.filesOf(now)
      .filter(({ path }) => !held.has(path))
      .map(({ path }) => ({ path, after: now.bytes(path) }))
    try {
      await folder.save(files, this.journal.done, leave)
    } catch (error) {
      if (!(error instanceof SaveError)) throw error
      return {
        ok: false,
        why: `Not saved. ${error.message}.${error.written.length ? ` ${error.written.join(', ')} could not be put back and has the new text.` : ' No file was changed.'} Every edit is safe here.`,
      }
    }
    this.saved = this.journal.done
    this.leftOut = new Set(leave)
    return { ok: true, state: this.state(), files: files.length, held: check.unreadable }
  }

  /** What lets the live page read media from the disk; null where they are published. */
  async mediaKey(): Promise<string | null> {
    return (await this.folder?.mediaKey()) ?? null
  }

  /** Keeps unsaved edits and takes in the linked folder too; where not `on`, or with nothing unsaved, keeps nothing there. */
  keepUnsaved(on: boolean): Promise<void> {
    const { folder } = this
    return this.alone(async () => {
      if (!folder || folder !== this.folder || this.readOnly || (await folder.access()) !== 'granted') return
      const isNeeded = on && (this.changedPaths().length > 0 || (await this.takes()).list.length > 1)
      await folder.keep(isNeeded ? Math.max(1, this.unsaved().length) : 0)
    })
  }

  async zip(leave: readonly number[] = [], leaveOthers: readonly string[] = []): Promise<Uint8Array> {
    const now = this.contents(new Set(leave), this.leavable(this.otherChanges(), leaveOthers))
    if (!now.ok) throw new Error('Other edits stand on those that are left out.')
    const added = new Set(this.added.map((f) => f.path))
    const paths = [...this.opened.writtenPaths(), ...[...this.others.keys()].filter((p) => !added.has(p) || now.adds.has(p))]
    const media = await Promise.all((this.folder?.media ?? []).map(async (path) => ({ path, bytes: await this.folder!.readMedia(path) })))
    const out = await zipOf([...paths.map((path) => ({ path, bytes: now.bytes(path) })), ...media])
    return transfer(out, [out.buffer as ArrayBuffer])
  }

  /** The rules that say something new since the last save, with just that; `told` names the file of each. */
  changedCss(told: boolean): string {
    const parts = this.opened.allSheets().flatMap((ref) => {
      if (ref.generated !== null) return []
      const rules = changedRules(this.savedSheet(ref), ref)
        .map((r) => r.text)
        .join(ref.style.lineEnd.repeat(2))
      return rules ? [told ? `/* ${ref.path} */\n${rules}` : rules] : []
    })
    return parts.length ? `${parts.join('\n\n')}\n` : ''
  }

  // What a sheet held when it was saved: the one in the same place of its file.
  private savedSheet({ key, path }: SheetRef): string {
    const at = this.opened.sheetsIn(path).findIndex((s) => s.key === key)
    return languageOf(path)!.read(this.savedText(path)).sheets()[at]?.sheet.text ?? ''
  }

  /** What can be taken of an element: what was changed for it, the selector of the current rule, one that names it alone. */
  async about(
    source: string,
    selectors: readonly string[],
  ): Promise<{ readonly selector: string; readonly changed: string; readonly html: string } | null> {
    const found = this.opened.element(source)
    if (!found) return null
    const wanted = new Set(selectors)
    const changed = this.opened
      .allSheets()
      .filter((ref) => ref.generated === null)
      .flatMap((ref) => {
        return changedRules(this.savedSheet(ref), ref)
          .filter((rule) => rule.selectors.some((s) => wanted.has(s)))
          .map((rule) => rule.text)
      })
    return {
      selector: found.tree.uniqueSelector(found.element),
      changed: changed.join('\n\n'),
      html: await this.html([source]),
    }
  }

  file(path: string): Uint8Array {
    return this.bytes(path)
  }

  async patch(leave: readonly number[] = [], leaveOthers: readonly string[] = []): Promise<string> {
    const { files, dependents } = this.review(leave, leaveOthers)
    if (dependents.length) throw new Error('Other edits stand on those that are left out.')
    const added = await Promise.all(
      this.added.filter((f) => files.some((x) => x.path === f.path)).map((f) => newFilePatch((prefix) => gitPath(prefix, f.path), f.bytes)),
    )
    return added.join('') + files.map((f) => f.patch).join('')
  }
}
