import { lineHunks, linesOf } from './merge'

/** A line of a difference between two texts, with its line end; `isOurs` where an edit of ours made it so. */
export interface ChangedLine {
  readonly kind: 'same' | 'goes' | 'comes'
  readonly text: string
  readonly isOurs: boolean
}

/** Changed lines that stand together, with what stands around them. */
export interface ChangedPart {
  /** The first of them in the later text, 1-based. */
  readonly line: number
  readonly lines: readonly ChangedLine[]
}

const CONTEXT = 3

/**
 * What differs between a committed text and one that edits of ours were made in, line by line. `without` is that text without
 * our edits: what differs from the committed one in it was changed by somebody else.
 */
export function attributedLines(committed: string, without: string, now: string): readonly ChangedLine[] {
  const [oldLines, withoutLines] = [linesOf(committed), linesOf(without)]
  const ours = lineHunks(withoutLines, linesOf(now))
  const out: ChangedLine[] = []
  let next = 0
  const made = (at: number) => {
    for (; next < ours.length && ours[next].from <= at; next++)
      ours[next].lines.forEach((text) => out.push({ kind: 'comes', text, isOurs: true }))
  }
  const taken = new Set(ours.flatMap((h) => withoutLines.slice(h.from, h.to).map((_, i) => h.from + i)))
  // A line of the text without our edits, which the committed one has or not.
  const line = (at: number, isCommitted: boolean) => {
    made(at)
    const text = withoutLines[at]
    if (!taken.has(at)) out.push({ kind: isCommitted ? 'same' : 'comes', text, isOurs: false })
    else if (isCommitted) out.push({ kind: 'goes', text, isOurs: true })
  }
  let [old, at] = [0, 0]
  for (const h of [...lineHunks(oldLines, withoutLines), { from: oldLines.length, to: oldLines.length, lines: [] }]) {
    for (; old < h.from; old++, at++) line(at, true)
    for (; old < h.to; old++) out.push({ kind: 'goes', text: oldLines[old], isOurs: false })
    for (const end = at + h.lines.length; at < end; at++) line(at, false)
  }
  made(withoutLines.length)
  return out
}

/** The same as parts of changed lines; none where the texts are equal. */
export function changedParts(committed: string, without: string, now: string): readonly ChangedPart[] {
  if (committed === now) return []
  const lines = goesFirst(attributedLines(committed, without, now))
  const isShown = new Set<number>()
  lines.forEach(({ kind }, i) => {
    if (kind !== 'same') for (let n = i - CONTEXT; n <= i + CONTEXT; n++) isShown.add(n)
  })
  const parts: { line: number; lines: ChangedLine[] }[] = []
  let number = 1
  lines.forEach((line, i) => {
    if (isShown.has(i)) {
      if (!isShown.has(i - 1) || parts.length === 0) parts.push({ line: number, lines: [] })
      parts.at(-1)!.lines.push(line)
    }
    if (line.kind !== 'goes') number++
  })
  return parts
}

// In each run of changed lines those that go stand before those that come; a line that goes and comes at once did not change.
function goesFirst(lines: readonly ChangedLine[]): ChangedLine[] {
  const out: ChangedLine[] = []
  let run: ChangedLine[] = []
  const end = () => {
    const [goes, comes] = [run.filter((l) => l.kind === 'goes'), run.filter((l) => l.kind === 'comes')]
    const most = Math.min(goes.length, comes.length)
    let [head, tail] = [0, 0]
    while (head < most && goes[head].text === comes[head].text) head++
    while (tail < most - head && goes.at(-1 - tail)!.text === comes.at(-1 - tail)!.text) tail++
    const same = (lines: ChangedLine[]) => lines.map(({ text }): ChangedLine => ({ kind: 'same', text, isOurs: false }))
    out.push(...same(goes.slice(0, head)), ...goes.slice(head, goes.length - tail), ...comes.slice(head, comes.length - tail))
    out.push(...same(goes.slice(goes.length - tail)))
    run = []
  }
  for (const line of lines) {
    if (line.kind !== 'same') run.push(line)
    else {
      end()
      out.push(line)
    }
  }
  end()
  return out
}
