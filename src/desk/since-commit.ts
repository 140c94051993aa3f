import { changedParts, type ChangedPart } from '../core/text'
import type { OpenProject } from './open-project'
import { committedText, nearest, withoutOurs } from './own-edits'
import type { Saving } from './saving'

/** What a file would be after a save, against the last commit. */
export interface FileSinceCommit {
  readonly path: string
  readonly is: 'changed' | 'new' | 'deleted' | 'conflicted'
  /** Its changed lines; null where it is no text of the project. */
  readonly parts: readonly ChangedPart[] | null
}

export interface SinceCommit {
  readonly files: readonly FileSinceCommit[]
  /** Files that differ and are not looked at any more, since there are too many. */
  readonly more: number
  /** Whether our edits are distinguished from what others changed; not where others changed what an edit wrote. */
  readonly isToldApart: boolean
}

/** Files that are compared at most. */
const MOST = 500

/** What the folder would have after a save, against the commit that is checked out: our edits and what was changed outside. */
export class SinceLastCommit {
  constructor(
    private readonly current: OpenProject,
    private readonly saving: Saving,
  ) {}

  /** Null where there is no repository, or no commit yet, or where other edits stand on what is left out. */
  async files(leave: readonly number[], leaveOthers: readonly string[]): Promise<SinceCommit | null> {
    const { folder } = this.current
    const state = await folder?.repository?.state()
    if (!folder?.repository || !state || state.head === null) return null
    const now = this.saving.contents(new Set(leave), this.saving.leavable(this.saving.otherChanges(), leaveOthers))
    if (!now.ok) return null
    const reviewed = this.saving.review(leave, leaveOthers).files.map((f) => f.path)
    const all = [...new Set([...state.changed.map((c) => c.path), ...reviewed])].sort()
    const paths = all.slice(0, MOST)
    if (paths.length === 0) return { files: [], more: 0, isToldApart: true }
    const committed = await folder.repository.committed(paths)
    const before = await withoutOurs(this.current)
    const files = paths.flatMap((path, i): FileSinceCommit[] => {
      const told = state.changed.find((c) => c.path === path)
      const is = told?.is ?? (committed[i] === null ? 'new' : 'changed')
      const isGone = is === 'deleted' && !reviewed.includes(path)
      const old = committedText(committed[i])
      if (old === null || !this.current.project.has(path)) return [{ path, is, parts: null }]
      const parts = isGone ? changedParts(old, '', '') : changedParts(old, nearest(old, before, path) ?? now.text(path), now.text(path))
      return parts.length || is === 'conflicted' ? [{ path, is, parts }] : []
    })
    return { files, more: all.length - paths.length, isToldApart: before.length > 0 }
  }
}
