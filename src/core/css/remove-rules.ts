import type { Span, Splice } from '../text'
import type { RuleSite, Sheet } from './sheet'
import { isRule, type Rule } from './tree'

/** At-rules that do nothing without the rules in them (CSS Conditional 3 §2, CSS Cascade 5 §6.4, CSS Containment 3 §5). */
const GROUPS: ReadonlySet<string> = new Set(['media', 'supports', 'container', 'layer', 'scope', 'starting-style'])

const LINE_END = /\r\n|\n|\r/y

/** Where the line ends begin and end that stand at an offset, after spaces; null where other text does. */
function lineEndAt(text: string, at: number): Span | null {
  while (text[at] === ' ' || text[at] === '\t') at++
  if (at === text.length) return { from: at, to: at }
  LINE_END.lastIndex = at
  const found = LINE_END.exec(text)
  return found && { from: at, to: at + found[0].length }
}

/** Where the line begins that an offset stands in; null where other text stands before it there. */
function lineStart(text: string, at: number): number | null {
  let from = at
  while (from > 0 && (text[from - 1] === ' ' || text[from - 1] === '\t')) from--
  return from === 0 || /[\n\r]/.test(text[from - 1]) ? from : null
}

/** The text that goes with rules that stand together: its lines, where they are its alone, and the blank ones that parted it from what stands there no more. */
function withItsLines(text: string, { from, to }: Span): Span {
  const start = lineStart(text, from)
  const end = lineEndAt(text, to)
  if (start === null || end === null) {
    // One of several on a line, as in a sheet made small.
    while (from > 0 && (text[from - 1] === ' ' || text[from - 1] === '\t')) from--
    return { from, to }
  }
  let before = start
  for (let at = start; at > 0;) {
    const above = lineStart(text, at - (text[at - 1] === '\n' && text[at - 2] === '\r' ? 2 : 1))
    if (above === null) break
    before = at = above
  }
  let after = end.to
  for (let next = lineEndAt(text, after); next && after < text.length; next = lineEndAt(text, after)) after = next.to
  const isLast = after === text.length || /^[ \t]*\}/.test(text.slice(after, after + 200))
  const isFirst = before === 0 || text.slice(0, before).trimEnd().endsWith('{')
  // What stood between two rules goes with the one; between the others it stays as it was.
  if (isFirst) return { from: start, to: isLast ? end.to : after }
  return { from: isLast || after > end.to ? before : start, to: end.to }
}

/** Takes rules out by their ids, and groups that hold nothing without them. Comments stay. */
export function removeRules(sheet: Sheet, ids: ReadonlySet<number>): Splice[] {
  const known = new Map<Rule, boolean>()
  const goes = (rule: Rule): boolean => {
    let found = known.get(rule)
    if (found === undefined) {
      const inner = rule.children.filter(isRule)
      const isGone = inner.every(goes)
      const isEmpty = rule.children.every((c) => isRule(c))
      found = rule.kind === 'style' ? ids.has(rule.id) && isGone : GROUPS.has(rule.name) && inner.length > 0 && isEmpty && isGone
      known.set(rule, found)
    }
    return found
  }
  const { text } = sheet
  const spans: Span[] = []
  for (const { rule, parents, statement } of sheet.rules() as Generator<RuleSite>) {
    if (!goes(rule) || parents.some(goes)) continue
    const [from, to] = [statement.start + rule.span.from, statement.start + rule.span.to]
    const last = spans.at(-1)
    // With nothing but white space between them, they are one part of the text.
    if (last && text.slice(last.to, from).trim() === '') spans[spans.length - 1] = { from: last.from, to }
    else spans.push({ from, to })
  }
  return spans.map((span) => ({ ...withItsLines(text, span), insert: '' }))
}
