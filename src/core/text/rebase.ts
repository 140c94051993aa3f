import type { Splice, Splices } from './splice'

const isApart = (a: Splice, b: Splice): boolean => {
  if (a.from === a.to && b.from === b.to) return a.from !== b.from
  return a.to <= b.from || b.to <= a.from
}

// What stands right before an insertion point moves it; what stands right behind does not.
const shifted = (splices: Splices, by: Splices): Splices =>
  splices.map((s) => {
    let shift = 0
    for (const o of by) {
      if (o.to > s.from || (o.from === o.to && o.from === s.from && s.from === s.to)) break
      shift += o.insert.length - (o.to - o.from)
    }
    return { from: s.from + shift, to: s.to + shift, insert: s.insert }
  })

/**
 * Two sets of splices that start from the same text, each as it is after the other: `a` then `b'` gives what `b` then
 * `a'` gives. Null where they change the same place, so that one depends on the other.
 */
export function rebase(a: Splices, b: Splices): { readonly a: Splices; readonly b: Splices } | null {
  let k = 0
  for (const s of a) {
    while (k < b.length && b[k].to < s.from) k++
    for (let i = k; i < b.length && b[i].from <= s.to; i++) if (!isApart(s, b[i])) return null
  }
  return { a: shifted(a, b), b: shifted(b, a) }
}
