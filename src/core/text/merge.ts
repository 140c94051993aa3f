import { diffArrays } from 'diff'
import type { Splices } from './splice'

/** A stretch of a merge: lines that are settled, or both sides' of a place that both changed; each line with its line end. */
export type MergePart =
  | { readonly kind: 'same'; readonly lines: readonly string[] }
  | {
      readonly kind: 'conflict'
      readonly ours: readonly string[]
      readonly base: readonly string[]
      readonly theirs: readonly string[]
    }

export type Side = 'ours' | 'theirs' | 'both'

/** Lines with their line ends; put together they are the text. */
export const linesOf = (text: string): string[] => text.match(/[^\n\r]*(?:\r\n|\n|\r)|[^\n\r]+$/g) ?? []

/** Lines `from` to `to` of a text and what stands for them in another. */
export interface LineHunk {
  readonly from: number
  readonly to: number
  readonly lines: readonly string[]
}

/** Changes of lines that are looked for one by one; texts that differ in more are taken to differ from the first to the last. */
const MOST_CHANGES = 4000

/** What differs between two lists of lines. */
// By Myers' algorithm, whose time grows with the number of changes: a sheet has thousands of lines that are alike, such as `}`.
export function lineHunks(before: readonly string[], after: readonly string[]): LineHunk[] {
  const found = diffArrays([...before], [...after], { maxEditLength: MOST_CHANGES })
  if (!found) {
    let [head, tail] = [0, 0]
    const most = Math.min(before.length, after.length)
    while (head < most && before[head] === after[head]) head++
    while (tail < most - head && before[before.length - 1 - tail] === after[after.length - 1 - tail]) tail++
    return [{ from: head, to: before.length - tail, lines: after.slice(head, after.length - tail) }]
  }
  const out: { from: number; to: number; lines: string[] }[] = []
  let at = 0
  for (const part of found) {
    const length = part.value.length
    if (part.added || part.removed) {
      if (out.at(-1)?.to !== at) out.push({ from: at, to: at, lines: [] })
      const hunk = out.at(-1)!
      if (part.added) hunk.lines.push(...part.value)
      else hunk.to += length
    }
    if (!part.added) at += length
  }
  return out
}

/** Each place where two texts differ, as one that both changed: what they were made from is not known. */
export function differencesOf(ours: string, theirs: string): readonly MergePart[] {
  const lines = linesOf(ours)
  const out: MergePart[] = []
  let at = 0
  for (const h of lineHunks(lines, linesOf(theirs))) {
    if (h.from > at) out.push({ kind: 'same', lines: lines.slice(at, h.from) })
    out.push({ kind: 'conflict', ours: lines.slice(h.from, h.to), base: [], theirs: h.lines })
    at = h.to
  }
  return at < lines.length ? [...out, { kind: 'same', lines: lines.slice(at) }] : out
}

/** Ours and theirs, both made from `base`, line by line. */
export function mergeTexts(base: string, ours: string, theirs: string): readonly MergePart[] {
  const lines = linesOf(base)
  const sides = { ours: lineHunks(lines, linesOf(ours)), theirs: lineHunks(lines, linesOf(theirs)) }
  const all = [
    ...sides.ours.map((h) => ({ ...h, side: 'ours' as const })),
    ...sides.theirs.map((h) => ({ ...h, side: 'theirs' as const })),
  ].sort((a, b) => a.from - b.from || a.to - b.to)
  const parts: MergePart[] = []
  const same = (more: readonly string[]) => {
    const last = parts.at(-1)
    if (last?.kind === 'same') parts[parts.length - 1] = { kind: 'same', lines: [...last.lines, ...more] }
    else if (more.length) parts.push({ kind: 'same', lines: more })
  }
  let at = 0
  for (let i = 0; i < all.length;) {
    const group = [all[i]]
    let to = all[i].to
    // Changes that touch are one place: what stands beside a change may be meant with it.
    for (i++; i < all.length && all[i].from <= to; i++) {
      group.push(all[i])
      to = Math.max(to, all[i].to)
    }
    const { from } = group[0]
    same(lines.slice(at, from))
    const of = (side: 'ours' | 'theirs'): string[] => {
      const out: string[] = []
      let next = from
      for (const h of group) {
        if (h.side !== side) continue
        out.push(...lines.slice(next, h.from), ...h.lines)
        next = h.to
      }
      return [...out, ...lines.slice(next, to)]
    }
    const [a, b] = [of('ours'), of('theirs')]
    const [onlyOurs, onlyTheirs] = [group.every((h) => h.side === 'ours'), group.every((h) => h.side === 'theirs')]
    if (onlyOurs) same(a)
    else if (onlyTheirs || a.join('') === b.join('')) same(b)
    else parts.push({ kind: 'conflict', ours: a, base: lines.slice(from, to), theirs: b })
    at = to
  }
  same(lines.slice(at))
  return parts
}

export const conflictsIn = (parts: readonly MergePart[]): number => parts.filter((p) => p.kind === 'conflict').length

/** The merged text, with a choice for each conflict in order. @throws RangeError when one is missing. */
export function mergedText(parts: readonly MergePart[], choices: readonly Side[] = []): string {
  let next = 0
  return parts
    .map((part) => {
      if (part.kind === 'same') return part.lines.join('')
      const choice = choices[next++]
      if (choice === undefined) throw new RangeError(`Conflict ${next} has no choice`)
      if (choice !== 'both') return part[choice].join('')
      const ours = part.ours.join('')
      // A last line without a line end must not run into the first of the other side.
      return ours + (ours !== '' && part.theirs.length > 0 && !/[\r\n]$/.test(ours) ? '\n' : '') + part.theirs.join('')
    })
    .join('')
}

/** What turns one text into another, in whole lines: what stays is not touched. */
export function lineSplices(before: string, after: string): Splices {
  const [a, b] = [linesOf(before), linesOf(after)]
  const starts = [0]
  for (const line of a) starts.push(starts.at(-1)! + line.length)
  return lineHunks(a, b).map(({ from, to, lines }) => ({ from: starts[from], to: starts[to], insert: lines.join('') }))
}
