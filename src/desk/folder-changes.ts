import type { Refused } from '../core/css'
import type { JournalEdit } from '../core/edit'
import {
  type MergePart,
  type Side,
  conflictsIn,
  decodeSource,
  differencesOf,
  lineEndOf,
  lineSplices,
  linesOf,
  mergeTexts,
  mergedText,
} from '../core/text'
import { sameBytes } from '../folder'
import type { Changes } from './changes'
import type { LinkedFolder, OutsideChange } from './linked-folder'
import type { OpenProject } from './open-project'
import type { FolderCheck } from './saved'
import type { Written } from './types'
import { planOf } from './whole-files'

/** Merges two texts that may come from one base or from another; where that makes a difference, each place where they differ is in conflict. */
function mergeOnBoth(base: string, other: string, ours: string, theirs: string): readonly MergePart[] {
  const [one, two] = [mergeTexts(base, ours, theirs), mergeTexts(other, ours, theirs)]
  return !conflictsIn(one) && !conflictsIn(two) && mergedText(one) === mergedText(two) ? one : differencesOf(ours, theirs)
}

/** What other programs change in the folder of the project, and what is asked where that meets edits of ours. */
export class FolderChanges {
  constructor(
    private readonly current: OpenProject,
    private readonly changes: Changes,
  ) {}

  private onFolder: Promise<unknown> = Promise.resolve()

  // What reads and writes the folder waits for one another: a file that is just being saved is no change of somebody else.
  alone<T>(work: () => Promise<T>): Promise<T> {
    const next = this.onFolder.then(work)
    this.onFolder = next.catch(() => {})
    return next
  }

  /** Looks whether others changed files of the folder, and takes in what does not meet with edits of ours. Null without a folder. */
  check(): Promise<FolderCheck | null> {
    // What was asked before the project was reopened and waits until then would take news from those who ask after it.
    const { folder } = this.current
    return this.alone(() => this.checkNow(folder))
  }

  async checkNow(folder: LinkedFolder | null): Promise<FolderCheck | null> {
    if (!folder) return null
    const access = await folder.access()
    // Before all is read there is nothing to compare with, and nothing was edited.
    const isComparable = !this.current.readOnly && this.current.unread.isWhole
    const changes = access === 'granted' && isComparable ? await folder.changes() : null
    return this.current.inTurn(async () => {
      // Reopened meanwhile, the project knows the folder by another reading.
      const { written, reopen, unreadable } =
        changes && folder === this.current.folder ? await this.takeInChanges(changes) : { written: [], reopen: [], unreadable: [] }
      return { access, written, reopen, unreadable, conflicts: [...this.current.conflicts.keys()] }
    })
  }

  private async takeInChanges(changes: readonly OutsideChange[]): Promise<Pick<FolderCheck, 'written' | 'reopen' | 'unreadable'>> {
    const written: Written[] = []
    const reopen: string[] = []
    const unreadable: { path: string; why: string }[] = []
    // What the folder has as it was known again, such as after a change of branches and back, is no conflict any more.
    for (const path of this.current.conflicts.keys()) if (!changes.some((c) => c.path === path)) this.current.conflicts.delete(path)
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
    if (reopen.length) this.current.outdated = true
    return { written, reopen, unreadable }
  }

  // What was written for it; `reopen` where the project has to be reopened with it; null where it makes no difference.
  private async takeInChange(change: OutsideChange): Promise<Written | 'reopen' | null> {
    if (change.kind === 'gone') return this.takeInGone(change)
    if (change.kind === 'media') {
      await this.current.folder!.seen(change)
      return 'reopen'
    }
    if (this.current.project.has(change.path) && this.current.project.readOnly(change.path) === null) return this.takeInTheirs(change)
    await this.replaceFile(change)
    return 'reopen'
  }

  private async takeInTheirs(change: OutsideChange): Promise<Written | null> {
    const { path } = change
    await this.current.setDeleted(path, false)
    const theirs = this.textOf(change)
    const ours = this.current.project.text(path)
    const saved = this.current.savedText(path)
    // Where all line ends are others, it is the lines that are compared, and theirs that are kept.
    const ends = lineEndOf(theirs)
    const isTurned = lineEndOf(saved) !== ends && saved.replace(/\r\n?|\n/g, ends) !== saved
    const inTheirs = (text: string) => (isTurned ? text.replace(/\r\n?|\n/g, ends) : text)
    const real = this.current.folder!.realBytes(path)
    // What came, and was changed again before this take was asked about it, is held against both.
    const parts =
      real && !sameBytes(real, change.bytes)
        ? mergeOnBoth(inTheirs(saved), inTheirs(decodeSource(real).text), inTheirs(ours), theirs)
        : mergeTexts(inTheirs(saved), inTheirs(ours), theirs)
    if (conflictsIn(parts)) {
      this.current.conflicts.set(path, { path, parts, theirs: change })
      return null
    }
    this.current.conflicts.delete(path)
    const text = mergedText(parts)
    const written =
      text === ours
        ? null
        : await this.changes.record(
            planOf([{ path, splices: lineSplices(ours, text) }], {
              name: 'changed',
              before: null,
              after: 'by someone else',
              label: 'in the folder',
            }),
            0,
            { outside: true },
            // Cut off in between, the folder would be known by what it had before, and its way back there would not be seen.
            this.current.folder!.rowsOf(change),
          )
    if (written && 'ok' in written) throw new Error(written.why)
    await this.current.folder!.seen(change)
    // Only now does the state know what the folder has: a save would not write this file.
    return written && { ...written, state: this.current.state() }
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
    const conflict = this.current.conflicts.get(path)
    return conflict ? { parts: conflict.parts, isDeleted: conflict.theirs.kind === 'gone' } : null
  }

  /** Settles a file that both sides changed, by a choice for each place. */
  settle(path: string, choices: readonly Side[]): Promise<Written | Refused | null> {
    return this.alone(() => this.current.inTurn(() => this.settleNow(path, choices)))
  }

  private async settleNow(path: string, choices: readonly Side[]): Promise<Written | Refused | null> {
    const conflict = this.current.conflicts.get(path)
    if (!conflict) return null
    if (conflict.theirs.kind === 'gone') return this.settleGone(path, choices[0] === 'theirs')
    // What is theirs comes in as theirs, so that it stays when the choice is undone, or left out of a save.
    const [ours, theirs, text] = [
      this.current.project.text(path),
      mergedText(
        conflict.parts,
        choices.map((c) => (c === 'theirs' ? 'theirs' : 'ours')),
      ),
      mergedText(conflict.parts, choices),
    ]
    const taken =
      theirs === ours
        ? null
        : await this.changes.record(
            planOf([{ path, splices: lineSplices(ours, theirs) }], {
              name: 'changed',
              before: null,
              after: 'by someone else',
              label: 'in the folder',
            }),
            0,
            { outside: true },
            this.current.folder?.rowsOf(conflict.theirs),
          )
    if (taken && 'ok' in taken) return taken
    // A choice is noted where it changes nothing too: it holds for this take alone.
    const kept = choices.every((c) => c === 'theirs')
      ? null
      : await this.changes.record(
          planOf([{ path, splices: lineSplices(theirs, text) }], {
            name: 'settled',
            before: null,
            after: text === theirs ? 'as it is here' : 'with what someone else changed',
            label: 'in the folder',
          }),
          0,
          { settles: true },
          this.current.folder?.rowsOf(conflict.theirs),
        )
    if (kept && 'ok' in kept) return kept
    const written =
      taken && kept ? { ...kept, sync: [...taken.sync, ...kept.sync], files: [...taken.files, ...kept.files] } : (kept ?? taken)
    this.current.conflicts.delete(path)
    await this.current.folder?.seen(conflict.theirs)
    return written ?? this.changes.unwritten(path)
  }

  // A file that nobody edited, in any take, goes with the folder's. Of one that was it is asked whether a save writes it again.
  private async takeInGone(change: OutsideChange): Promise<'reopen' | null> {
    const { path } = change
    const row = await this.current.db.files.where('[project+path]').equals([this.current.id, path]).first()
    const edits = row ? await this.editsOf(path) : []
    if (edits.some((e) => !e.outside)) {
      this.current.conflicts.set(path, {
        path,
        theirs: change,
        parts: [
          { kind: 'conflict', ours: linesOf(this.current.project.text(path)), base: linesOf(this.current.savedText(path)), theirs: [] },
        ],
      })
      return null
    }
    await this.current.folder!.forget([path])
    if (!row) return null
    if (edits.length) {
      // The journal stands on it; nobody here has anything in it that would be lost.
      await this.current.setDeleted(path, true)
      return null
    }
    await this.current.db.files.delete([this.current.id, row.key])
    return 'reopen'
  }

  private async editsOf(path: string): Promise<readonly JournalEdit[]> {
    const takes = await this.current.db.takes.where('[project+id]').between([this.current.id, ''], [this.current.id, '\uffff']).toArray()
    return [...this.current.journal.edits, ...takes.flatMap((t) => t.edits)].filter((e) => e.changes.some((c) => c.path === path))
  }

  private async settleGone(path: string, staysDeleted: boolean): Promise<Written> {
    this.current.conflicts.delete(path)
    await this.current.folder?.forget([path])
    if (staysDeleted) await this.current.setDeleted(path, true)
    return this.changes.unwritten(path)
  }

  private async replaceFile(change: OutsideChange): Promise<void> {
    const { path } = change
    const row = await this.current.db.files.where('[project+path]').equals([this.current.id, path]).first()
    const last = await this.current.db.files
      .where('[project+key]')
      .between([this.current.id, -Infinity], [this.current.id, Infinity])
      .last()
    await this.current.db.files.put({ project: this.current.id, key: row?.key ?? (last?.key ?? 0) + 1, path, bytes: change.bytes! })
    this.current.originals.set(path, change.bytes!)
    await this.current.folder!.seen(change)
  }
}
