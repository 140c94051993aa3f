import { diff3Merge, diffIndices } from 'node-diff3'
import type { Splices } from './splice'

/** A stretch of a merge: lines that are settled, or both sides' of a place that both changed; each line with its line end. */
export type MergePart = { readonly kind: 'same'; readonly lines: readonly string[] } | { readonly kind: 'conflict'; readonly ours: readonly string[]; readonly base: readonly string[]; readonly theirs: readonly string[] }

export type Side = 'ours' | 'theirs' | 'both'

/** Lines with their line ends; put together they are the text. */
export const linesOf = (text: string): string[] => text.match(/[^\n\r]*(?:\r\n|\n|\r)|[^\n\r]+$/g) ?? []

/** Ours and theirs, both made from `base`, line by line. */
export function mergeTexts(base: string, ours: string, theirs: string): readonly MergePart[] {
  return diff3Merge(linesOf(ours), linesOf(base), linesOf(theirs), { excludeFalseConflicts: true }).map((part): MergePart =>
    part.conflict ? { kind: 'conflict', ours: part.conflict.a, base: part.conflict.o, theirs: part.conflict.b } : { kind: 'same', lines: part.ok ?? [] })
}

export const conflictsIn = (parts: readonly MergePart[]): number => parts.filter((p) => p.kind === 'conflict').length

/** The merged text, with a choice for each conflict in order. @throws RangeError when one is missing. */
export function mergedText(parts: readonly MergePart[], choices: readonly Side[] = []): string {
  let next = 0
  return parts.map((part) => {
    if (part.kind === 'same') return part.lines.join('')
    const choice = choices[next++]
    if (choice === undefined) throw new RangeError(`Conflict ${next} has no choice`)
    if (choice !== 'both') return part[choice].join('')
    const ours = part.ours.join('')
    // A last line without a line end must not run into the first of the other side.
    return ours + (ours !== '' && part.theirs.length > 0 && !/[\r\n]$/.test(ours) ? '\n' : '') + part.theirs.join('')
  }).join('')
}

/** What turns one text into another, in whole lines: what stays is not touched. */
export function lineSplices(before: string, after: string): Splices {
  const [a, b] = [linesOf(before), linesOf(after)]
  const starts = [0]
  for (const line of a) starts.push(starts.at(-1)! + line.length)
  return diffIndices(a, b).map(({ buffer1: [from, length], buffer2: [to, count] }) => ({ from: starts[from], to: starts[from + length], insert: b.slice(to, to + count).join('') }))
}
