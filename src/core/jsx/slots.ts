import { endsLine, holdsElements, lineLead, startsLine } from '../html'
import { refuse, type Refused } from '../css'
import { lineEndOf, type Span, type Splice } from '../text'
import type { JsxDocument } from './document'
import { indentStep } from './layout'
import type { Node } from './parse'
import { spotOf, unitsOf, type JsxPlace } from './spot'

export const notAllowed = (why: string): Refused => refuse('not-allowed', why)

export const IS_VALUE = 'A component gives one element here. Wrap it first.'

export interface Slot {
  readonly from: number
  readonly to: number
  readonly lead: string
  readonly trail: string
  /** Of the lines that are put there. */
  readonly indent: string
  readonly path: readonly Node[]
}

export function beside(text: string, { from, to }: Span, where: 'before' | 'after', path: readonly Node[]): Slot {
  const at = where === 'before' ? from : to
  const indent = lineLead(text, from)
  if (!startsLine(text, from) || !endsLine(text, to)) return { from: at, to: at, lead: '', trail: '', indent, path }
  const line = lineEndOf(text) + indent
  return where === 'before'
    ? { from: at, to: at, lead: '', trail: line, indent, path }
    : { from: at, to: at, lead: line, trail: '', indent, path }
}

// What of a child is more than white space.
export function shownSpan(text: string, { type, start, end }: Node): Span {
  if (type !== 'JSXText') return { from: start, to: end }
  const raw = text.slice(start, end)
  return { from: start + (raw.length - raw.trimStart().length), to: start + raw.trimEnd().length }
}

export function slotAt(doc: JsxDocument, place: JsxPlace, isBlock: boolean): Slot | Refused {
  const { text } = doc
  const anchor = doc.element(place.element)
  const spot = spotOf(doc, anchor)
  if (place.where === 'before' || place.where === 'after') {
    if (!spot.child) return notAllowed(IS_VALUE)
    const { unit, of } = spot.child
    return beside(text, { from: unit.start, to: unit.end }, place.where, spot.path.slice(0, spot.path.indexOf(of) + 1))
  }
  const { node } = anchor
  if (anchor.isHtml && !holdsElements(anchor.tag)) return notAllowed(`It cannot stand there: <${anchor.tag}> holds no elements.`)
  const path = [...spot.path, node]
  const outer = lineLead(text, node.start)
  const indent = outer + indentStep(text)
  const nl = lineEndOf(text)
  const opening = node.openingElement as Node
  const units = unitsOf(node, text)
  if (units.length) {
    const unit = place.where === 'first' ? units[0] : units.at(-1)!
    return beside(text, shownSpan(text, unit), place.where === 'first' ? 'before' : 'after', path)
  }
  const [lead, trail] = isBlock ? [nl + indent, nl + outer] : ['', '']
  if (!node.closingElement) {
    const end = text.slice(0, opening.end - 2).trimEnd().length
    return { from: end, to: opening.end, lead: `>${lead}`, trail: `${trail}</${anchor.tag}>`, indent, path }
  }
  return { from: opening.end, to: (node.closingElement as Node).start, lead, trail, indent, path }
}

/** What takes a child out, with its line where it has one for itself. */
export function removal(text: string, { start, end }: Node): Splice {
  const [own, ends] = [startsLine(text, start), endsLine(text, end)]
  let [from, to] = [start, end]
  const spaceBefore = /[ \t]*$/.exec(text.slice(0, from))![0].length
  const spaceAfter = /^[ \t]*/.exec(text.slice(to))![0].length
  if (own && ends) {
    from -= spaceBefore
    to += spaceAfter
    to += /^(\r?\n)?/.exec(text.slice(to))![0].length
    // Of two empty lines, one on each side, one goes; and one before an end.
    const blank = /\n([ \t]*\r?\n)$/.exec(text.slice(0, from))
    if (blank && /^[ \t]*(\r?\n|<\/|$)/.test(text.slice(to))) from -= blank[1].length
  } else if (own) to += spaceAfter
  else if (ends || (spaceBefore && /^[ \t]/.test(text.slice(to)))) from -= spaceBefore
  return { from, to, insert: '' }
}
