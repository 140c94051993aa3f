import { changedRules } from '../core/edit'
import type { SheetRef } from '../core/project'
import { gitPath } from '../core/text'
import { zipOf } from '../storage/archive'
import { newFilePatch } from '../storage/binary-patch'
import { transfer } from 'comlink'
import type { OpenProject } from './open-project'
import type { Places } from './places'
import type { Saving } from './saving'

/** What leaves Steady Brush as text or files, other than by a save. */
export class Exports {
  constructor(
    private readonly current: OpenProject,
    private readonly saving: Saving,
    private readonly places: Places,
  ) {}

  async zip(leave: readonly number[] = [], leaveOthers: readonly string[] = []): Promise<Uint8Array> {
    const now = this.saving.contents(new Set(leave), this.saving.leavable(this.saving.otherChanges(), leaveOthers))
    if (!now.ok) throw new Error('Other edits stand on those that are left out.')
    const added = new Set(this.current.added.map((f) => f.path))
    const paths = [
      ...this.current.project.writtenPaths(),
      ...[...this.current.others.keys()].filter((p) => !added.has(p) || now.adds.has(p)),
    ]
    const media = await Promise.all(
      (this.current.folder?.media ?? []).map(async (path) => ({ path, bytes: await this.current.folder!.readMedia(path) })),
    )
    const out = await zipOf([...paths.map((path) => ({ path, bytes: now.bytes(path) })), ...media])
    return transfer(out, [out.buffer as ArrayBuffer])
  }

  /** The rules that say something new since the last save, with just that; `told` names the file of each. */
  changedCss(told: boolean): string {
    const parts = this.current.project.allSheets().flatMap((ref) => {
      if (ref.generated !== null) return []
      const rules = changedRules(this.savedSheet(ref), ref)
        .map((r) => r.text)
        .join(ref.style.lineEnd.repeat(2))
      return rules ? [told ? `/* ${ref.path} */\n${rules}` : rules] : []
    })
    return parts.length ? `${parts.join('\n\n')}\n` : ''
  }

  // What a sheet held when it was saved.
  private savedSheet(ref: SheetRef): string {
    return this.current.project.sheetTextIn(ref, this.current.savedText(ref.path)) ?? ''
  }

  /** What can be taken of an element: what was changed for it, the selector of the current rule, one that names it alone. */
  async about(
    source: string,
    selectors: readonly string[],
  ): Promise<{ readonly selector: string; readonly changed: string; readonly html: string } | null> {
    const found = this.current.project.element(source)
    if (!found) return null
    const wanted = new Set(selectors)
    const changed = this.current.project
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
      html: await this.places.html([source]),
    }
  }

  file(path: string): Uint8Array {
    return this.current.bytes(path)
  }

  async patch(leave: readonly number[] = [], leaveOthers: readonly string[] = []): Promise<string> {
    const { files, dependents } = this.saving.review(leave, leaveOthers)
    if (dependents.length) throw new Error('Other edits stand on those that are left out.')
    const added = await Promise.all(
      this.current.added
        .filter((f) => files.some((x) => x.path === f.path))
        .map((f) => newFilePatch((prefix) => gitPath(prefix, f.path), f.bytes)),
    )
    return added.join('') + files.map((f) => f.patch).join('')
  }
}
