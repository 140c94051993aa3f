import { lineIndent } from '../css'
import { lineEndOf, type Span } from '../text'
import { HtmlDocument, type HtmlElement } from './document'

/** How a file sets out its elements: the bytes that a new, moved or wrapped one has to fit in with. */

/** Elements in whose text every character shows, or counts (HTML §15.3.1 and §13.1.2). */
const EXACT = new Set(['pre', 'listing', 'textarea', 'script', 'style', 'xmp', 'plaintext'])

export const keepsSpace = (element: HtmlElement | null): boolean => {
  for (let e = element; e; e = e.parent) if (EXACT.has(e.node.tagName)) return true
  return false
}

/** Where an element is written, from its start tag to its end; white space that the parser reads into one without an end tag is left out. */
export function spanOf(doc: HtmlDocument, element: HtmlElement): Span | null {
  if (!element.startTag) return null
  const { from } = element.startTag
  if (element.endTag) return { from, to: element.endTag.to }
  const end = Math.max(element.startTag.to, element.node.sourceCodeLocation?.endOffset ?? 0)
  return { from, to: element.startTag.to + doc.text.slice(element.startTag.to, end).trimEnd().length }
}

/** Where what an element holds is written. */
export function contentOf(doc: HtmlDocument, element: HtmlElement): Span | null {
  const span = spanOf(doc, element)
  return span && { from: element.startTag!.to, to: element.endTag?.from ?? span.to }
}

/** The white space that the line of `offset` begins with. */
export function lineLead(text: string, offset: number): string {
  let from = offset
  while (from > 0 && text[from - 1] !== '\n' && text[from - 1] !== '\r') from--
  return /^[ \t]*/.exec(text.slice(from, offset))![0]
}

export const startsLine = (text: string, at: number): boolean => lineIndent(text, at) !== null

export const endsLine = (text: string, at: number): boolean => /^[ \t]*(\r|\n|$)/.test(text.slice(at, at + 200))

/** What the file indents by. */
export function indentUnit(doc: HtmlDocument): string {
  const counts = new Map<string, number>()
  for (const e of doc.elements.slice(0, 2000)) {
    const parent = e.parent
    if (!e.startTag || !parent?.startTag) continue
    const own = lineIndent(doc.text, e.startTag.from)
    const outer = lineIndent(doc.text, parent.startTag.from)
    if (own === null || outer === null || !own.startsWith(outer) || own.length === outer.length) continue
    const unit = own.slice(outer.length)
    counts.set(unit, (counts.get(unit) ?? 0) + 1)
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '  '
}

/** Spans whose lines are content and not layout: what keeps its space, and attribute values save class lists. */
function fixedSpans(doc: HtmlDocument, within: Span): Span[] {
  const out: Span[] = []
  for (const e of doc.elements) {
    if (!e.startTag || e.startTag.from < within.from || e.startTag.from >= within.to) continue
    if (EXACT.has(e.node.tagName)) {
      const content = contentOf(doc, e)
      if (content) out.push(content)
    }
    if (!doc.text.slice(e.startTag.from, e.startTag.to).includes('\n')) continue
    for (const a of doc.startTag(e)?.attributes ?? []) if (a.value && a.name.toLowerCase() !== 'class') out.push(a.value)
  }
  return out
}

/** The text of a span with the indentation of the lines after its first made another, save where lines are content. */
function relaid(doc: HtmlDocument, span: Span, indent: (lead: string) => string): string {
  const text = doc.text.slice(span.from, span.to)
  if (!/[\r\n]/.test(text)) return text
  const fixed = fixedSpans(doc, span)
  return text.replace(/(\r\n|\r|\n)([ \t]*)(?=([^\r\n]?))/g, (all, end: string, lead: string, next: string, at: number) => {
    const line = span.from + at + end.length
    return next === '' || fixed.some((f) => line > f.from && line <= f.to) ? all : end + indent(lead)
  })
}

/** The text of a span with the lines after its first moved from one indentation to another. */
export const reindented = (doc: HtmlDocument, span: Span, from: string, to: string): string =>
  from === to
    ? doc.text.slice(span.from, span.to)
    : relaid(doc, span, (lead) => {
        if (lead.startsWith(from)) return to + lead.slice(from.length)
        // Less indented than what it stands in: as far out as it can go.
        return from.startsWith(lead) ? to.slice(0, Math.max(0, to.length - (from.length - lead.length))) : lead
      })

/** HTML from elsewhere with the lines after its first indented by `unit`, at `base`; its own layout is kept. */
export function laidOutAs(html: string, unit: string, base: string): string {
  const leads = html
    .split('\n')
    .slice(1)
    .filter((l) => l.trim() !== '')
    .map((l) => /^[ \t]*/.exec(l)![0])
  if (leads.length === 0) return html
  const common = leads.reduce((a, b) => (a.length <= b.length ? a : b))
  const steps = leads.map((l) => l.length - common.length).filter((n) => n > 0)
  const own = steps.length ? Math.min(...steps) : 1
  return relaid(
    new HtmlDocument(html),
    { from: 0, to: html.length },
    (lead) => base + unit.repeat(Math.round(Math.max(0, lead.length - common.length) / own)),
  )
}

export const lineEnd = (doc: HtmlDocument): string => lineEndOf(doc.text)

/** Whether the file is written without line ends between its elements. */
export const isOneLine = (doc: HtmlDocument): boolean => doc.text.split('\n', 5).length < 4 && doc.elements.length > 8
