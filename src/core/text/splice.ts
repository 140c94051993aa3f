/** Half-open `[from, to)` in UTF-16 units of one text; `0 <= from <= to`. Empty is an insertion point. */
export interface Span {
  readonly from: number
  readonly to: number
}

/** Replace `[from, to)` by `insert`. */
export interface Splice extends Span {
  readonly insert: string
}

/**
 * Sorted, non-overlapping replacements, all in offsets of one text, the one the set starts from.
 * Two insertions at one offset are allowed and keep their order.
 */
export type Splices = readonly Splice[]

/** Sorts `splices` and checks them. @throws RangeError when two overlap or one is malformed. */
export function normalizeSplices(splices: Splices): Splices {
  const sorted = [...splices].sort((a, b) => a.from - b.from || a.to - b.to)
  let end = 0
  for (const s of sorted) {
    if (s.from < end || s.to < s.from) throw new RangeError(`Splice [${s.from}, ${s.to}) overlaps what ends at ${end}`)
    end = s.to
  }
  return sorted
}

/** @throws RangeError when a splice reaches past the end of `text`. */
export function applySplices(text: string, splices: Splices): string {
  let out = ''
  let at = 0
  for (const s of splices) {
    if (s.from < at || s.to > text.length) {
      throw new RangeError(`Splice [${s.from}, ${s.to}) does not fit a text of ${text.length} read up to ${at}`)
    }
    out += text.slice(at, s.from) + s.insert
    at = s.to
  }
  return out + text.slice(at)
}

/** The set that undoes `splices`: applied to the result, it gives `before` back exactly. */
export function invertSplices(splices: Splices, before: string): Splices {
  let shift = 0
  return splices.map((s) => {
    const from = s.from + shift
    shift += s.insert.length - (s.to - s.from)
    return { from, to: from + s.insert.length, insert: before.slice(s.from, s.to) }
  })
}

/**
 * Where `offset` is after `splices`. `side` decides for an offset where text was inserted or replaced:
 * `before` stays left of the new text, `after` goes right of it.
 */
export function mapOffset(splices: Splices, offset: number, side: 'before' | 'after'): number {
  let shift = 0
  for (const s of splices) {
    if (s.from > offset || (s.from === offset && s.to > offset)) break
    if (s.to < offset) shift += s.insert.length - (s.to - s.from)
    else if (side === 'before') return s.from + shift
    else if (s.to === offset || s.from < offset) {
      if (s.to > offset) return s.from + shift + s.insert.length
      shift += s.insert.length - (s.to - s.from)
    }
  }
  return offset + shift
}

/** Where a non-empty `span` is after `splices`; null when all its text was replaced or deleted. */
export function mapSpan(splices: Splices, span: Span): Span | null {
  const from = mapOffset(splices, span.from, 'after')
  const to = mapOffset(splices, span.to, 'before')
  return from < to ? { from, to } : null
}

/**
 * One set that does what `first` and then `second` do, where `second` starts from `first`'s result:
 * `applySplices(t, composeSplices(a, b, t)) === applySplices(applySplices(t, a), b)`.
 * `before` is the text `first` starts from.
 */
export function composeSplices(first: Splices, second: Splices, before: string): Splices {
  // Pieces of the middle text, each either kept from `before` or inserted by `first`.
  const pieces: ({ kept: Span } | { text: string })[] = []
  let at = 0
  for (const s of first) {
    if (s.from > at) pieces.push({ kept: { from: at, to: s.from } })
    if (s.insert) pieces.push({ text: s.insert })
    at = s.to
  }
  if (before.length > at) pieces.push({ kept: { from: at, to: before.length } })

  const out: { from: number; to: number; insert: string }[] = []
  let end = 0
  let pending = ''
  const keep = (from: number, to: number) => {
    if (pending || from > end) out.push({ from: end, to: from, insert: pending })
    pending = ''
    end = to
  }
  let pos = 0
  let next = 0
  for (const piece of pieces) {
    const length = 'text' in piece ? piece.text.length : piece.kept.to - piece.kept.from
    let done = 0
    while (done < length) {
      while (next < second.length && second[next].from === pos + done && second[next].to === pos + done) {
        pending += second[next++].insert
      }
      const s = second[next]
      const inside = s && s.from <= pos + done
      const stop = Math.min(length, inside ? s.to - pos : s ? s.from - pos : length)
      if (!inside) {
        if ('text' in piece) pending += piece.text.slice(done, stop)
        else keep(piece.kept.from + done, piece.kept.from + stop)
      } else if (s.from === pos + done) pending += s.insert
      done = stop
      if (inside && s.to === pos + done) next++
    }
    pos += length
  }
  while (next < second.length) pending += second[next++].insert
  if (pending || end < before.length) out.push({ from: end, to: before.length, insert: pending })
  return out
}

/** The smallest single splice that turns `before` into `after`; null when they are equal. */
export function diffSplice(before: string, after: string): Splice | null {
  if (before === after) return null
  let from = 0
  const most = Math.min(before.length, after.length)
  while (from < most && before[from] === after[from]) from++
  let tail = 0
  while (tail < most - from && before[before.length - 1 - tail] === after[after.length - 1 - tail]) tail++
  return { from, to: before.length - tail, insert: after.slice(from, after.length - tail) }
}
