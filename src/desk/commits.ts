import type { JournalEdit } from '../core/edit'
import type { Project } from '../core/project'
import { encodeSource } from '../core/text'
import type { CommitFile, Committed, GitState, Repository } from '../folder'
import type { LinkedFolder } from './linked-folder'
import { committedText, nearest, type TextOf } from './own-edits'
import type { Saved } from './saved'

/** What commits are made of. */
interface Parts {
  folder(): LinkedFolder | null
  opened(): Project
  /** The edits of the journal that count, the first one first. */
  inForce(): readonly JournalEdit[]
  /** The files without our edits, and without those since each of the last saves. */
  withoutOurs(): Promise<readonly TextOf[]>
  /** A file as it is now. */
  bytes(path: string): Uint8Array
  save(leave: readonly number[], leaveOthers: readonly string[]): Promise<Saved>
  /** Has what reads and writes the folder take turns. */
  alone<T>(work: () => Promise<T>): Promise<T>
  noteBranch(branch: string | undefined): Promise<void>
}

/** The repository of the folder that the project is saved to, where it has one. */
export class Commits {
  constructor(private readonly parts: Parts) {}

  /** What git says of the folder; null where there is no repository that can be reached. */
  async state(): Promise<GitState | null> {
    return (
      (await this.parts
        .folder()
        ?.repository?.state()
        .catch(() => null)) ?? null
    )
  }

  /** The commits since the folder was opened, as a patch series; null where there are none. */
  async series(): Promise<string | null> {
    return (await this.parts.folder()?.repository?.series()) ?? null
  }

  /** The same, with the branch noted for the list of projects. @throws Error while nobody can be asked: what was noted stays. */
  async note(): Promise<GitState | null> {
    const folder = this.parts.folder()
    if (!folder?.repository) return null
    const state = await folder.repository.state()
    if (folder === this.parts.folder()) await this.parts.noteBranch(state?.branch ?? undefined)
    return state
  }

  /** Saves as the project does, and commits what our saved edits change in files, those of earlier saves with them. */
  async saveAndCommit(
    leave: readonly number[],
    leaveOthers: readonly string[],
    message: string,
    branch: string | null,
  ): Promise<{ readonly saved: Saved; readonly committed: Committed | null }> {
    const saved = await this.parts.save(leave, leaveOthers)
    const folder = this.parts.folder()
    if (!saved.ok || !folder?.repository) return { saved, committed: null }
    const { repository } = folder
    return this.parts.alone(async () => {
      try {
        const files = await this.ourFiles(folder, repository)
        return {
          saved,
          committed: 'why' in files ? { ok: false, why: files.why } : await repository.commit({ message, branch, files }),
        }
      } catch (error) {
        return { saved, committed: { ok: false, why: error instanceof Error ? error.message : String(error) } }
      }
    })
  }

  // Of the files that saved edits of ours stand in, the text without those that the last commit does not have, and as it was saved.
  private async ourFiles(folder: LinkedFolder, repository: Repository): Promise<readonly CommitFile[] | { readonly why: string }> {
    const opened = this.parts.opened()
    const ours = this.parts.inForce().filter((e) => !e.outside)
    const states = await this.parts.withoutOurs()
    if (states.length === 0)
      return {
        why: 'Not committed: changes of someone else stand on ours, so they cannot be told apart. Commit the files in git.',
      }
    const added = ours.flatMap((e) => e.adds ?? []).map((f): CommitFile => ({ path: f.path, before: null, after: f.bytes }))
    const paths = [...new Set(ours.flatMap((e) => e.changes.map((c) => c.path)))].filter((path) => opened.has(path))
    const committed = paths.length ? await repository.committed(paths) : []
    const texts = paths.map((path, i): CommitFile => {
      const there = committed[i] === null ? null : committedText(committed[i])
      const before = (there === null ? null : nearest(there, states, path)) ?? states[0](path)
      return {
        path,
        before: encodeSource({ bom: opened.hasBom(path), text: before }),
        after: folder.bytes(path) ?? this.parts.bytes(path),
      }
    })
    const files = [...texts, ...added].filter((f) => folder.has(f.path))
    return files.length ? files : { why: 'No edit of ours is saved that could be committed.' }
  }
}
