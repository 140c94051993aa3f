import { applySplices, composeSplices, rebase, type Splices } from '../text'
import type { FileSplices } from './intent'
import type { JournalEdit } from './journal'

export type Without =
  | { readonly ok: true; readonly changes: readonly FileSplices[] }
  /** Later edits that change what one of those to be left out wrote. */
  | { readonly ok: false; readonly dependents: readonly number[] }

/**
 * What takes some edits out of the files as all of `edits` leave them, the others kept. `original` gives the text of a
 * file before the first of them.
 */
export function withoutEdits(edits: readonly JournalEdit[], leave: ReadonlySet<number>, original: (path: string) => string): Without {
  const paths = new Set(edits.filter((e) => leave.has(e.seq)).flatMap((e) => e.changes.map((c) => c.path)))
  const dependents = new Set<number>()
  const changes: FileSplices[] = []
  for (const path of paths) {
    let text = original(path)
    /** From the text with all edits so far to the one without those left out. */
    let back: Splices = []
    for (const edit of edits) {
      for (const change of edit.changes) {
        if (change.path !== path) continue
        const after = applySplices(text, change.splices)
        if (leave.has(edit.seq)) back = composeSplices(change.inverse, back, after)
        else {
          const apart = rebase(change.splices, back)
          if (apart) back = apart.b
          // It goes too, so that those standing on it are found as well.
          else {
            dependents.add(edit.seq)
            back = composeSplices(change.inverse, back, after)
          }
        }
        text = after
      }
    }
    if (back.some((s) => s.insert !== text.slice(s.from, s.to))) changes.push({ path, splices: back })
  }
  return dependents.size ? { ok: false, dependents: [...dependents] } : { ok: true, changes }
}

/** What turns the files as `edits` leave them back to how they were after the first `count` of them. */
export function backTo(edits: readonly JournalEdit[], count: number, now: (path: string) => string): readonly FileSplices[] {
  const total = new Map<string, { text: string; splices: Splices }>()
  for (const edit of edits.slice(count).reverse()) {
    for (const c of [...edit.changes].reverse()) {
      const known = total.get(c.path)
      const before = known?.text ?? now(c.path)
      total.set(c.path, {
        text: applySplices(before, c.inverse),
        splices: known ? composeSplices(known.splices, c.inverse, now(c.path)) : c.inverse,
      })
    }
  }
  return [...total].map(([path, { splices }]) => ({ path, splices }))
}

/** How many edits at the start two journals have in common. */
export function commonStart(a: readonly JournalEdit[], b: readonly JournalEdit[]): number {
  const same = (x: JournalEdit, y: JournalEdit) =>
    x.made === y.made && x.path === y.path && JSON.stringify(x.changes) === JSON.stringify(y.changes)
  let n = 0
  while (n < a.length && n < b.length && same(a[n], b[n])) n++
  return n
}
