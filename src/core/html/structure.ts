import { parseFragment } from 'parse5'
import { refuse, type EditPlan } from '../css'
import { applySplices, normalizeSplices, type Span, type Splice } from '../text'
import { holdsElements, isPhrasing, pathOf, shapeOf, whyNotIn } from './content-model'
import type { HtmlDocument, P5Element, P5Node, HtmlElement } from './document'
import {
  contentOf,
  endsLine,
  indentUnit,
  isOneLine,
  keepsSpace,
  laidOutAs,
  lineEnd,
  lineLead,
  reindented,
  spanOf,
  startsLine,
} from './layout'
import { childrenOf, findNode, sameTree, treeOf, type TreeNode } from './shape'

/** More than that is no piece of a page. UTF-16 units. */
const MOST_HTML = 2_000_000

/** A place among the elements of a page. */
export interface Place {
  /** Id of the element that it is identified by. */
  readonly element: number
  readonly where: 'before' | 'after' | 'first' | 'last'
}

const noTag = (e: HtmlElement) => refuse('not-found', `<${e.node.tagName}> has no tag in the source: the parser adds it.`)

/** The element whose child something at a place would be; null where there is none. */
export function parentAt(doc: HtmlDocument, place: Place): HtmlElement | null {
  const e = doc.element(place.element)
  return place.where === 'first' || place.where === 'last' ? e : e.parent
}

/** What stands in the way of these elements being put there, by the content model; null when nothing does. */
export function whyNotAt(doc: HtmlDocument, nodes: readonly P5Element[], place: Place): string | null {
  const parent = parentAt(doc, place)
  if (!parent) return 'there is nothing around the page'
  const path = pathOf(parent.node)
  for (const node of nodes) {
    const shape = shapeOf(node)
    const why = shape && path.length ? whyNotIn(path, shape) : null
    if (why) return why
  }
  return null
}

/** The elements of an HTML text as it would be read inside `parent`. */
export function elementsOf(html: string, parent: P5Element): P5Element[] {
  return parseFragment(parent, html, {}).childNodes.filter((n): n is P5Element => 'tagName' in n)
}

// --- what goes where in the bytes ---

/** What a place is in the file: what to replace there, and how to lay out what comes. */
interface Slot {
  readonly from: number
  readonly to: number
  readonly lead: string
  readonly trail: string
  /** Of lines after the first. */
  readonly indent: string
}

const isSpaceOnly = (text: string): boolean => /^[ \t\n\f\r]*$/.test(text)

/** `moving` is what is taken from where it stands, and so is no neighbour. */
function slotOf(doc: HtmlDocument, place: Place, block: boolean, moving: readonly HtmlElement[] = []): Slot | null {
  const element = doc.element(place.element)
  const span = spanOf(doc, element)
  if (!span) return null
  if (place.where === 'before' || place.where === 'after') return besideSlot(doc, element, place.where)
  const content = contentOf(doc, element)!
  const children = doc.elements.filter((e) => e.parent === element && e.startTag && !moving.includes(e))
  const text = doc.text.slice(content.from, content.to)
  const first = children[0] && spanOf(doc, children[0])!
  const last = children.at(-1) && spanOf(doc, children.at(-1)!)!
  if (place.where === 'first' && first && isOnlyFilledBy(doc, moving, content.from, first.from))
    return besideSlot(doc, children[0], 'before')
  if (place.where === 'last' && last && isOnlyFilledBy(doc, moving, last.to, content.to)) return besideSlot(doc, children.at(-1)!, 'after')
  const outer = lineLead(doc.text, span.from)
  // As deep as what is there already.
  const inner =
    children.filter((c) => startsLine(doc.text, c.startTag!.from)).map((c) => lineLead(doc.text, c.startTag!.from))[0] ??
    outer + indentUnit(doc)
  const nl = lineEnd(doc)
  const direct =
    keepsSpace(element) ||
    isOneLine(doc) ||
    (!block && (children.length > 0 || text.trim() !== '' || isPhrasing(element.node.tagName) || !startsLine(doc.text, span.from)))
  if (isSpaceOnly(text) && !keepsSpace(element)) {
    if (direct || (!block && text === '')) return { from: content.from, to: content.from, lead: '', trail: '', indent: outer }
    return { ...content, lead: nl + inner, trail: nl + outer, indent: inner }
  }
  const exact = keepsSpace(element)
  // The line end after `<pre>` is none of its text (HTML §13.2.6.4.7).
  const start = content.from + (exact ? /^(\r?\n)?/ : /^[ \t\n\f\r]*/).exec(text)![0].length
  const end = exact ? content.to : content.from + text.trimEnd().length
  const at = place.where === 'first' ? start : end
  if (direct) return { from: at, to: at, lead: '', trail: '', indent: outer }
  return place.where === 'first'
    ? { from: content.from, to: start, lead: nl + inner, trail: nl + inner, indent: inner }
    : {
        from: end,
        to: element.endTag ? content.to : end,
        lead: nl + inner,
        trail: element.endTag ? nl + outer : '',
        indent: inner,
      }
}

// Whether nothing but white space, or what is about to go, stands there.
function isOnlyFilledBy(doc: HtmlDocument, moving: readonly HtmlElement[], from: number, to: number): boolean {
  const gone = moving
    .flatMap((e) => spanOf(doc, e) ?? [])
    .filter((s) => s.from >= from && s.to <= to)
    .map((s) => ({ from: s.from - from, to: s.to - from, insert: '' }))
  return isSpaceOnly(applySplices(doc.text.slice(from, to), gone))
}

function besideSlot(doc: HtmlDocument, element: HtmlElement, where: 'before' | 'after'): Slot {
  const span = spanOf(doc, element)!
  const indent = lineLead(doc.text, span.from)
  const at = where === 'before' ? span.from : span.to
  if (keepsSpace(element.parent)) return { from: at, to: at, lead: '', trail: '', indent }
  if (startsLine(doc.text, span.from) && endsLine(doc.text, span.to)) {
    const nl = lineEnd(doc)
    return where === 'before'
      ? { from: at, to: at, lead: '', trail: nl + indent, indent }
      : { from: at, to: at, lead: nl + indent, trail: '', indent }
  }
  const gap = gapBeside(doc, element)
  return where === 'before' ? { from: at, to: at, lead: '', trail: gap, indent } : { from: at, to: at, lead: gap, trail: '', indent }
}

// The white space that elements on one line have between them here; none where text stands between.
function gapBeside(doc: HtmlDocument, element: HtmlElement): string {
  const siblings = doc.elements.filter((e) => e.parent === element.parent && e.startTag)
  const at = siblings.indexOf(element)
  const gaps = [
    [siblings[at], siblings[at + 1]],
    [siblings[at - 1], siblings[at]],
  ].flatMap(([a, b]) => {
    if (!a || !b) return []
    const gap = doc.text.slice(spanOf(doc, a)!.to, b.startTag!.from)
    return isSpaceOnly(gap) ? [gap] : []
  })
  return gaps.find((g) => !/[\r\n]/.test(g)) ?? (gaps.length ? ' ' : '')
}

/** The splice that takes an element out, with its line where it has one for itself. */
function removal(doc: HtmlDocument, element: HtmlElement): Splice | null {
  const span = spanOf(doc, element)
  if (!span) return null
  const { text } = doc
  let { from, to } = span
  if (keepsSpace(element.parent)) return { from, to, insert: '' }
  const own = startsLine(text, from)
  const ends = endsLine(text, to)
  const spaceBefore = /[ \t]*$/.exec(text.slice(Math.max(0, from - 400), from))![0].length
  const spaceAfter = /^[ \t]*/.exec(text.slice(to, to + 400))![0].length
  if (own && ends) {
    from -= spaceBefore
    to += spaceAfter
    const end = /^(\r\n|\r|\n)/.exec(text.slice(to, to + 2))
    if (end) to += end[0].length
    else from -= /(\r\n|\r|\n)?$/.exec(text.slice(0, from))![0].length
    // Two blank lines where there was one on each side, and one before an end, are none that anyone would leave.
    const blank = /(?:\r\n|\n|\r(?!\n))([ \t]*(?:\r\n|\r|\n))$/.exec(text.slice(0, from))
    if (blank && /^[ \t]*(\r|\n|<\/|$)/.test(text.slice(to, to + 200))) from -= blank[1].length
  } else if (own) to += spaceAfter
  else if (ends || (spaceBefore && /\s/.test(text[to] ?? ''))) from -= spaceBefore
  // The white space between it and its neighbour would be left at an edge of the parent, where nobody sees it.
  else if (element.parent && !isPhrasing(element.parent.node.tagName)) {
    if (element.parent.startTag?.to === from && text[to + spaceAfter] === '<') to += spaceAfter
    else if (element.parent.endTag?.from === to && text[from - spaceBefore - 1] === '>') from -= spaceBefore
  }
  return { from, to, insert: '' }
}

const LAID_OUT =
  /^(table|thead|tbody|tfoot|tr|td|th|caption|colgroup|col|li|dt|dd|option|optgroup|legend|figcaption|summary|source|track|link|meta|script|style|title|body|head)$/

/** Whether something is laid out on lines of its own. */
const isBlock = (node: P5Element): boolean => LAID_OUT.test(node.tagName) || !isPhrasing(node.tagName)

// --- plans ---

/** Checks that the document reads as `expected` with the splices. */
function verified(doc: HtmlDocument, splices: readonly Splice[], change: (tree: TreeNode) => boolean): EditPlan {
  const wanted = treeOf(doc.root, (e) => doc.idOf(e))
  if (!change(wanted)) return refuse('unparsable', 'The tree has no such place.')
  let sorted: readonly Splice[]
  try {
    sorted = normalizeSplices(splices.filter((s) => s.insert !== '' || s.to > s.from))
  } catch {
    return refuse('unparsable', 'The elements overlap in the source.')
  }
  const after = doc.copy()
  after.apply(sorted)
  return sameTree(
    treeOf(after.root, () => null),
    wanted,
  )
    ? { ok: true, splices: sorted }
    : refuse('unparsable', 'The HTML parser would build another tree from it.')
}

function putIn(tree: TreeNode, place: Place, nodes: readonly (TreeNode | string)[]): boolean {
  const found = findNode(tree, place.element)
  if (!found) return false
  const { node, parent, at } = found
  if (place.where === 'before') parent.children.splice(at, 0, ...nodes)
  else if (place.where === 'after') parent.children.splice(at + 1, 0, ...nodes)
  else if (place.where === 'first') node.children.unshift(...nodes)
  else node.children.push(...nodes)
  return true
}

function takeOut(tree: TreeNode, id: number): TreeNode | null {
  const found = findNode(tree, id)
  found?.parent.children.splice(found.at, 1)
  return found?.node ?? null
}

/** Elements whose end tag is left out by those who write so (HTML §13.1.2.4). */
const OPEN_ENDED =
  /^(li|dt|dd|p|rt|rp|optgroup|option|colgroup|caption|thead|tbody|tfoot|tr|td|th|area|base|br|col|embed|hr|img|input|link|meta|source|track|wbr)$/

// What the parser would drop, or leave open, though the tree comes out as it reads it.
function faultOf(text: string, parent: P5Element): string | null {
  const elements: P5Element[] = []
  const visit = (n: P5Node) => {
    for (const c of childrenOf(n)) {
      if (!('tagName' in c)) continue
      if (c.sourceCodeLocation) elements.push(c)
      visit(c)
    }
  }
  visit(parseFragment(parent, text, { sourceCodeLocationInfo: true }))
  const open = elements.find((e) => e.sourceCodeLocation?.startTag && !e.sourceCodeLocation.endTag && !OPEN_ENDED.test(e.tagName))
  if (open) return `<${open.tagName}> is not closed in it.`
  const written =
    text
      .replace(/<!--[^]*?-->/g, '')
      .replace(/<(script|style|textarea|title|iframe|noscript|xmp)\b[^>]*>[^]*?<\/\1\s*>/gi, '<$1>')
      .match(/<[a-z](?:[^>"']|"[^"]*"|'[^']*')*>/gi)?.length ?? 0
  return written > elements.length ? 'A tag in it cannot stand there: the HTML parser would drop it.' : null
}

/** Puts HTML at a place, indented as the file is. White space at the end of a text that it comes after is given, where `spaced` asks for it. */
export function insertHtml(doc: HtmlDocument, place: Place, html: string, spaced = false): EditPlan {
  const parent = parentAt(doc, place)
  const element = doc.element(place.element)
  if (!parent || !element.startTag) return noTag(element)
  const text = html.trim().replace(/\r\n?/g, '\n')
  if (text === '') return refuse('bad-value', 'There is nothing to insert.')
  if (text.includes('\0')) return refuse('bad-value', 'HTML cannot hold a NUL character.')
  if (text.length > MOST_HTML)
    return refuse(
      'bad-value',
      `That is ${(text.length / 1e6).toFixed(1)} million characters; no more than ${MOST_HTML / 1e6} million are inserted at once.`,
    )
  if (!holdsElements(parent.node.tagName))
    return refuse('not-allowed', `It cannot stand there: <${parent.node.tagName}> holds no elements.`)
  const nodes = elementsOf(text, parent.node)
  const why = whyNotAt(doc, nodes, place)
  if (why) return refuse('not-allowed', `It cannot stand there: ${why}.`)
  const bad = faultOf(text, parent.node)
  if (bad) return refuse('not-allowed', bad)
  const slot = slotOf(doc, place, nodes.some(isBlock) || /\n/.test(text))
  if (!slot) return noTag(element)
  const written = laidOutAs(text, indentUnit(doc), slot.indent)
  const gap = spaced && slot.lead === '' && /[^\s>]$/.test(doc.text.slice(0, slot.from)) ? ' ' : ''
  const insert = (slot.lead + gap + written + slot.trail).replace(/\r?\n/g, lineEnd(doc))
  const fragment = treeOf(parseFragment(parent.node, text, {}), () => null).children
  return verified(doc, [{ from: slot.from, to: slot.to, insert }], (tree) => putIn(tree, place, fragment))
}

/** Takes elements out. */
export function removeElements(doc: HtmlDocument, ids: readonly number[]): EditPlan {
  const own = outermost(doc.elements, ids)
  const splices: Splice[] = []
  for (const e of own) {
    if (/^(html|head|body)$/.test(e.node.tagName)) return refuse('not-allowed', `A page has one <${e.node.tagName}>.`)
    const splice = removal(doc, e)
    if (!splice) return noTag(e)
    splices.push(splice)
  }
  return verified(doc, apart(splices), (tree) => own.every((e) => takeOut(tree, e.id) !== null))
}

/** Neighbours that both take the space between them take it once. */
export function apart(splices: readonly Splice[]): Splice[] {
  const out: Splice[] = []
  for (const s of [...splices].sort((a, b) => a.from - b.from)) {
    const last = out.at(-1)
    out.push(last && s.from < last.to ? { ...s, from: last.to } : s)
  }
  return out
}

/** Those of some elements with these ids, in their order, without those that stand in another of them. */
export function outermost<T extends { readonly id: number; readonly parent: T | null }>(
  elements: readonly T[],
  ids: readonly number[],
): T[] {
  const wanted = new Set(ids)
  return elements.filter((e) => {
    if (!wanted.has(e.id)) return false
    for (let p = e.parent; p; p = p.parent) if (wanted.has(p.id)) return false
    return true
  })
}

/** Puts elements at another place, in the order they stand in, and what they hold with them. */
export function moveElements(doc: HtmlDocument, ids: readonly number[], place: Place): EditPlan {
  const own = outermost(doc.elements, ids)
  const target = doc.element(place.element)
  for (let e: HtmlElement | null = target; e; e = e.parent)
    if (own.includes(e)) return refuse('not-allowed', 'An element cannot be put into itself.')
  if (own.some((e) => /^(html|head|body)$/.test(e.node.tagName)))
    return refuse('not-allowed', 'The page’s own elements stay where they are.')
  const why = whyNotAt(
    doc,
    own.map((e) => e.node),
    place,
  )
  if (why) return refuse('not-allowed', `It cannot stand there: ${why}.`)
  const slot = slotOf(
    doc,
    place,
    own.some((e) => isBlock(e.node)),
    own,
  )
  if (!slot) return noTag(target)
  const splices: Splice[] = []
  const pieces: string[] = []
  for (const e of own) {
    const span = spanOf(doc, e)
    const gone = removal(doc, e)
    if (!span || !gone) return noTag(e)
    splices.push(gone)
    pieces.push(reindented(doc, span, lineLead(doc.text, span.from), slot.indent))
  }
  const between = slot.lead.includes('\n') || slot.trail.includes('\n') ? lineEnd(doc) + slot.indent : gapOf(slot)
  const insert: Splice = { from: slot.from, to: slot.to, insert: slot.lead + pieces.join(between) + slot.trail }
  const all = besideRemovals(apart(splices), insert)
  if (applySplices(doc.text, normalizeSplices(all)) === doc.text) return refuse('not-allowed', 'It stands there already.')
  return verified(doc, all, (tree) => {
    const nodes = own.map((e) => takeOut(tree, e.id))
    return nodes.every((n) => n !== null) && putIn(tree, place, nodes as TreeNode[])
  })
}

const gapOf = (slot: Slot): string => slot.lead || slot.trail

// What is taken out may reach to where it is put in: the bytes between are written by one of the two.
function besideRemovals(removals: readonly Splice[], insert: Splice): Splice[] {
  const cut = removals.flatMap((r): Splice[] => {
    if (insert.from < r.to && insert.from > r.from) {
      return [
        { from: r.from, to: insert.from, insert: '' },
        { from: Math.max(insert.to, insert.from), to: Math.max(r.to, insert.to), insert: '' },
      ]
    }
    if (insert.to > r.from && insert.from <= r.from) return r.to <= insert.to ? [] : [{ ...r, from: insert.to }]
    return [r]
  })
  return [...cut, insert]
}

/** Puts a copy of each element after the last of them. */
export function duplicateElements(doc: HtmlDocument, ids: readonly number[]): EditPlan {
  const own = outermost(doc.elements, ids)
  const last = own.at(-1)
  if (!last) return refuse('not-found', 'There is nothing to double.')
  if (own.some((e) => /^(html|head|body|title|main)$/.test(e.node.tagName)))
    return refuse('not-allowed', `A page has one <${own[0].node.tagName}>.`)
  const place: Place = { element: last.id, where: 'after' }
  const slot = besideSlot(doc, last, 'after')
  if (own.some((e) => !spanOf(doc, e))) return noTag(own[0])
  const pieces = own.map((e) => reindented(doc, spanOf(doc, e)!, lineLead(doc.text, spanOf(doc, e)!.from), slot.indent))
  const between = slot.lead.includes('\n') ? lineEnd(doc) + slot.indent : gapOf(slot)
  return verified(doc, [{ from: slot.from, to: slot.to, insert: slot.lead + pieces.join(between) + slot.trail }], (tree) => {
    const nodes = own.map((e) => findNode(tree, e.id)?.node)
    return nodes.every((n) => n !== undefined) && putIn(tree, place, nodes.map(copyOf))
  })
}

const copyOf = (node: TreeNode | string | undefined): TreeNode => {
  const n = node as TreeNode
  return { id: null, is: n.is, children: n.children.map((c) => (typeof c === 'string' ? c : copyOf(c))) }
}

/** Puts neighbouring elements, and what stands between them, into a new one. `open` is its start tag. */
export function wrapElements(doc: HtmlDocument, ids: readonly number[], tag: string, open: string): EditPlan {
  const own = outermost(doc.elements, ids)
  const [first, last] = [own[0], own.at(-1)]
  const [from, to] = [first && spanOf(doc, first), last && spanOf(doc, last)]
  if (!from || !to) return refuse('not-found', 'There is nothing in the source to wrap.')
  if (own.some((e) => e.parent !== first.parent)) return refuse('not-allowed', 'Only elements with one parent can be put into one.')
  const parent = first.parent
  if (!parent || /^(html|head|body)$/.test(first.node.tagName)) return refuse('not-allowed', 'The page’s own elements stay where they are.')
  const siblings = doc.elements.filter((e) => e.parent === parent && e.startTag)
  if (siblings.indexOf(last!) - siblings.indexOf(first) !== own.length - 1)
    return refuse('not-allowed', 'Other elements stand between them.')
  const path = pathOf(parent.node)
  const outer = path.length
    ? whyNotIn(path, { tag, within: own.flatMap((e) => [e.node.tagName, ...(shapeOf(e.node)?.within ?? [])]) })
    : null
  const inner = own
    .flatMap((e) => shapeOf(e.node) ?? [])
    .map((s) => whyNotIn([tag, ...path], s))
    .find((w) => w !== null)
  if (outer ?? inner) return refuse('not-allowed', `<${tag}> cannot stand there: ${outer ?? inner}.`)
  const span = { from: from.from, to: to.to }
  const lead = lineLead(doc.text, span.from)
  const lines =
    startsLine(doc.text, span.from) &&
    endsLine(doc.text, span.to) &&
    !keepsSpace(parent) &&
    !(isPhrasing(tag) && own.every((e) => isPhrasing(e.node.tagName)))
  const nl = lineEnd(doc)
  const deeper = lead + indentUnit(doc)
  const insert = lines
    ? `${open}${nl}${deeper}${reindented(doc, span, lead, deeper)}${nl}${lead}</${tag}>`
    : `${open}${doc.text.slice(span.from, span.to)}</${tag}>`
  const shell = treeOf(parseFragment(parent.node, `${open}</${tag}>`, {}), () => null).children[0]
  if (typeof shell !== 'object') return refuse('not-allowed', `<${tag}> cannot stand there.`)
  return verified(doc, whole(doc, span, span, insert), (tree) => {
    const a = findNode(tree, first.id)
    const b = findNode(tree, last!.id)
    if (!a || !b || a.parent !== b.parent) return false
    shell.children = a.parent.children.splice(a.at, b.at - a.at + 1, shell)
    return true
  })
}

// The tags alone, where what they are around stays as it is written.
function whole(doc: HtmlDocument, span: Span, inner: Span, insert: string): Splice[] {
  const kept = doc.text.slice(inner.from, inner.to)
  const at = insert.indexOf(kept)
  if (at < 0) return [{ ...span, insert }]
  return [
    { from: span.from, to: inner.from, insert: insert.slice(0, at) },
    { from: inner.to, to: span.to, insert: insert.slice(at + kept.length) },
  ]
}

/** Takes an element's own tags away; what it holds stands in its place. */
export function unwrapElement(doc: HtmlDocument, id: number): EditPlan {
  const element = doc.element(id)
  const span = spanOf(doc, element)
  const content = contentOf(doc, element)
  if (!span || !content) return noTag(element)
  if (/^(html|head|body)$/.test(element.node.tagName)) return refuse('not-allowed', 'The page’s own elements stay where they are.')
  if (element.node.childNodes.length === 0) return refuse('not-allowed', `<${element.node.tagName}> holds nothing.`)
  const path = element.parent ? pathOf(element.parent.node) : []
  const why = element.node.childNodes
    .flatMap((c) => ('tagName' in c ? (shapeOf(c) ?? []) : []))
    .map((s) => (path.length ? whyNotIn(path, s) : null))
    .find((w) => w !== null)
  if (why) return refuse('not-allowed', `What it holds cannot stand there: ${why}.`)
  const inner = doc.text.slice(content.from, content.to)
  const lead = lineLead(doc.text, span.from)
  const exact = keepsSpace(element)
  // Where a tag has an edge of its line to itself, the white space inside it goes too.
  const begin = content.from + (!exact && startsLine(doc.text, span.from) ? /^\s*/.exec(inner)![0].length : 0)
  const end = content.to - (!exact && endsLine(doc.text, span.to) ? /\s*$/.exec(inner)![0].length : 0)
  const held = { from: begin, to: Math.max(begin, end) }
  const deeper =
    begin > content.from && /[\r\n]/.test(inner.slice(0, begin - content.from))
      ? lineLead(doc.text, begin)
      : /\n([ \t]*)[^\s]/.exec(doc.text.slice(held.from, held.to))?.[1]
  const insert = exact || deeper === undefined ? doc.text.slice(held.from, held.to) : reindented(doc, held, deeper, lead)
  return verified(doc, isSpaceOnly(inner) && !exact ? [removal(doc, element)!] : whole(doc, span, held, insert), (tree) => {
    const found = findNode(tree, id)
    found?.parent.children.splice(found.at, 1, ...found.node.children)
    return found !== null
  })
}
