import { transfer } from 'comlink'
import { type Touched } from '../../core/project'
import { createPatch, gitPath } from '../../core/text'
import type { SyncOp } from '../../agent/protocol'
import { zipOf } from '../../storage/archive'
import { newFilePatch } from '../../storage/binary-patch'

import { ReadingDesk } from './reading-desk'

/** What the project keeps and gives: saves, history, takes, files to take away. */
export class KeepingDesk extends ReadingDesk {
  /** What makes the page show the files as saved, or as they are now again; `whole` when styles and attributes are all of it. */
  asSaved(saved: boolean): { ops: SyncOp[]; whole: boolean } {
    const edits = this.journal.edits.slice(0, this.journal.done)
    const back: Touched[] = []
    for (const edit of [...edits].reverse()) for (const c of [...edit.changes].reverse()) back.push(this.opened.apply(c.path, c.inverse).touched)
    const then = saved ? this.syncOf(back) : []
    const forth = edits.flatMap((edit) => edit.changes.map((c) => this.opened.apply(c.path, c.splices).touched))
    const now = saved ? [] : this.syncOf(forth)
    return { ops: saved ? then : now, whole: !back.some((t) => t.structure) }
  }

  async zip(): Promise<Uint8Array> {
    const paths = [...this.opened.writtenPaths(), ...this.others.keys()]
    const out = await zipOf(paths.map((path) => ({ path, bytes: this.bytes(path) })))
    return transfer(out, [out.buffer as ArrayBuffer])
  }

  file(path: string): Uint8Array {
    return this.bytes(path)
  }

  async patch(): Promise<string> {
    const added = await Promise.all(this.added.map((f) => newFilePatch((prefix) => gitPath(prefix, f.path), f.bytes)))
    return added.join('') + createPatch(this.opened.changedPaths().map((path) => ({
      path, before: this.opened.original(path), after: this.opened.text(path), bom: this.opened.hasBom(path),
    })))
  }
}
