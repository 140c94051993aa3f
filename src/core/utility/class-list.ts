import type { Splice } from '../text'

/** A class of a list where it stands in the attribute's value: UTF-16 offsets. */
export interface ListedClass {
  readonly name: string
  readonly from: number
  readonly to: number
}

/** The classes of an attribute's value (HTML §3.2.6, a set of space-separated tokens). */
export function readClassList(value: string): ListedClass[] {
  return [...value.matchAll(/[^ \t\n\r\f]+/g)].map((m) => ({ name: m[0], from: m.index, to: m.index + m[0].length }))
}

/** Whether an element has just these classes, in this order. */
export const sameList = (
  e: { readonly attributes: readonly { readonly name: string; readonly value: string }[] },
  names: readonly string[],
): boolean => {
  const value = e.attributes.find((a) => a.name === 'class')?.value
  return (
    value !== undefined &&
    readClassList(value)
      .map((c) => c.name)
      .join(' ') === names.join(' ')
  )
}

/** A change of a class list: what goes, by index, and what comes, each after a class by its index; -1 for the front. */
export interface ListChange {
  readonly remove: readonly number[]
  readonly add: readonly { readonly name: string; readonly after: number }[]
}

/** Splices of an attribute's value that make the change; white space between the classes that stay is kept. */
export function changeClassList(value: string, change: ListChange): Splice[] {
  const list = readClassList(value)
  const gone = new Set(change.remove)
  const out: Splice[] = []
  const added = new Map<number, string[]>()
  for (const { name, after } of change.add) added.set(after, [...(added.get(after) ?? []), name])
  // What separates two classes here: a list of one class a line goes on so.
  const gap = (after: number): string => {
    const [a, b] = after > 0 ? [list[after - 1], list[after]] : [list[0], list[1]]
    return a && b ? value.slice(a.to, b.from) : ' '
  }
  if (list.length === 0) return [{ from: 0, to: value.length, insert: change.add.map((a) => a.name).join(' ') }]
  const front = added.get(-1)
  // In the place of the first class, where that goes.
  if (front && gone.has(0)) added.set(0, [...front, ...(added.get(0) ?? [])])
  const first = gone.has(0) ? undefined : front
  if (first) out.push({ from: list[0].from, to: list[0].from, insert: first.map((n) => n + gap(0)).join('') })
  // Whether a class stands before the place that is looked at, after the change.
  let lead = first !== undefined
  list.forEach((c, i) => {
    const here = added.get(i) ?? []
    if (!gone.has(i)) {
      if (here.length) out.push({ from: c.to, to: c.to, insert: here.map((n) => gap(i) + n).join('') })
      lead = true
      return
    }
    if (here.length) {
      // Put in the place of one that goes: only its own letters change.
      out.push({ from: c.from, to: c.to, insert: here.map((n, k) => (k ? gap(i) + n : n)).join('') })
      lead = true
      return
    }
    // With it goes the white space before it, or, at the front, after it.
    if (lead) out.push({ from: list[i - 1].to, to: c.to, insert: '' })
    else out.push({ from: c.from, to: list[i + 1]?.from ?? c.to, insert: '' })
  })
  return merged(out)
}

// Two classes that go one after the other share the white space between them.
function merged(splices: readonly Splice[]): Splice[] {
  const out: Splice[] = []
  for (const s of [...splices].sort((a, b) => a.from - b.from || a.to - b.to)) {
    const last = out.at(-1)
    if (last && s.from < last.to) out[out.length - 1] = { from: last.from, to: Math.max(last.to, s.to), insert: last.insert + s.insert }
    else out.push(s)
  }
  return out
}
