import { changedParts, decodeSource, EncodingError, lineHunks, linesOf, type ChangedPart } from '../core/text'
import type { OpenProject } from './open-project'
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

/** Saves that a commit may have been made after, the last ones. */
const MOST_SAVES = 20

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
    const before = await this.withoutOurs()
    const files = paths.flatMap((path, i): FileSinceCommit[] => {
      const told = state.changed.find((c) => c.path === path)
      const is = told?.is ?? (committed[i] === null ? 'new' : 'changed')
      const isGone = is === 'deleted' && !reviewed.includes(path)
      const old = textOf(committed[i])
      if (old === null || !this.current.project.has(path)) return [{ path, is, parts: null }]
      const parts = isGone ? changedParts(old, '', '') : changedParts(old, nearest(old, before, path) ?? now.text(path), now.text(path))
      return parts.length || is === 'conflicted' ? [{ path, is, parts }] : []
    })
    return { files, more: all.length - paths.length, isToldApart: before.length > 0 }
  }

  // The files without our edits, and without those since each of the last saves: a commit may have what was saved before.
  private async withoutOurs(): Promise<((path: string) => string)[]> {
    const { inForce, db, id } = this.current
    const saves = await db.saves.where('[project+made]').between([id, -Infinity], [id, Infinity]).reverse().limit(MOST_SAVES).toArray()
    return [0, ...new Set(saves.map((s) => s.done))].flatMap((done) => {
      const ours = inForce.filter((e) => !e.outside && e.seq > done).map((e) => e.seq)
      const without = this.current.without(new Set(ours))
      return without.ok ? [without.text] : []
    })
  }
}

// The text that differs from the committed one in the fewest lines: the first of those that are as near.
function nearest(committed: string, texts: readonly ((path: string) => string)[], path: string): string | null {
  const old = linesOf(committed)
  let best: { readonly text: string; readonly differing: number } | null = null
  for (const text of new Set(texts.map((of) => of(path)))) {
    const differing = lineHunks(old, linesOf(text)).reduce((n, h) => n + h.to - h.from + h.lines.length, 0)
    if (!best || differing < best.differing) best = { text, differing }
  }
  return best?.text ?? null
}

// Nothing for a file that is not there; null for what is no text.
function textOf(bytes: Uint8Array | null): string | null {
  if (bytes === null) return ''
  try {
    return decodeSource(bytes).text
  } catch (error) {
    if (error instanceof EncodingError) return null
    throw error
  }
}
