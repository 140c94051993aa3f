import type * as t from '@babel/types'
import { refuse, type EditPlan, type Refused } from '../css'
import { apart, endsLine, isPhrasing, lineLead, outermost, startsLine } from '../html'
import { lineEndOf, type Span, type Splice } from '../text'
import { attributeName, JsxDocument, type JsxElement } from './document'
import { fromHtml } from './from-html'
import { withoutUnusedImports } from './imports'
import { indentStep, laidOutAs, reindented } from './layout'
import { jsxStyle } from './house-style'
import { collapsed, copyOf, find, shapeOf, takeOut, topsIn, putIn, verified, type Shape } from './shape'
import { beside, IS_VALUE, notAllowed, removal, shownSpan, slotAt, type Slot } from './slots'
import type { Node } from './parse'
import { attributeText } from './quoting'
import { nameThatChanges, unknownName } from './scope'
import { isHolder, pathTo, spotOf, unitsOf, type Holder, type JsxPlace, type Spot } from './spot'

const IS_CHOICE = 'It is one of several that the component chooses between. Change that in Source.'
const IS_OF_LIST = 'It is made once for each of a list: one more comes with one more in the list.'

/** The children that elements are or stand in, each once. */
function childrenFor(
  doc: JsxDocument,
  ids: readonly number[],
): { readonly spot: Spot; readonly of: Holder; readonly unit: Node }[] | Refused {
  const out: { spot: Spot; of: Holder; unit: Node }[] = []
  for (const e of outermost(doc.elements, ids)) {
    const spot = spotOf(doc, e)
    if (!spot.child) return notAllowed(IS_VALUE)
    if (spot.by === 'choice') return notAllowed(IS_CHOICE)
    if (!out.some((o) => o.unit === spot.child!.unit)) out.push({ spot, ...spot.child })
  }
  return out
}

/** Whether a child is laid out on lines of its own. */
function isBlock(unit: Node, text: string): boolean {
  const name = unit.type === 'JSXElement' ? unit.openingElement.name : null
  const isInLine = unit.type === 'JSXText' || (name?.type === 'JSXIdentifier' && /^[a-z]/.test(name.name) && isPhrasing(name.name))
  return !isInLine || text.slice(unit.start, unit.end).includes('\n')
}

const isRefused = (x: object): x is Refused => 'ok' in x && (x as { ok: unknown }).ok === false

// --- edits ---

/** Takes tags out; one of two that a condition chooses between leaves nothing in its place. */
export function removeJsx(doc: JsxDocument, ids: readonly number[]): EditPlan {
  const splices: Splice[] = []
  const gone: Node[] = []
  for (const e of outermost(doc.elements, ids)) {
    const spot = spotOf(doc, e)
    const around = spot.path.at(-1)
    if (spot.by === 'choice' && around?.type === 'ConditionalExpression') {
      splices.push({ ...parenthesised(doc.text, e.node), insert: 'null' })
      gone.push(e.node)
      continue
    }
    if (!spot.child) return notAllowed('A component gives this element. Take out where the component is used, or change it in Source.')
    if (spot.by === 'choice') return notAllowed(IS_CHOICE)
    if (gone.includes(spot.child.unit)) continue
    splices.push(removal(doc.text, spot.child.unit))
    gone.push(spot.child.unit)
  }
  const tops = gone.flatMap((unit) => topsIn(doc, unit))
  return withoutUnusedImports(
    doc,
    gone,
    verified(doc, apart(splices), (root) => takeOut(root, tops) !== null),
  )
}

// A value with the parentheses around it.
function parenthesised(text: string, { start, end, extra }: Node): Span {
  if (!extra?.parenthesized) return { from: start, to: end }
  return { from: extra.parenStart as number, to: end + /^\s*\)/.exec(text.slice(end))![0].length }
}

/** Whether a place is where children stand already. */
function staysIn(doc: JsxDocument, own: readonly { readonly of: Holder; readonly unit: Node }[], { element, where }: JsxPlace): boolean {
  const units = own.map((o) => o.unit)
  const anchor = doc.element(element)
  const { child } = spotOf(doc, anchor)
  const isBeside = where === 'before' || where === 'after'
  const around = isBeside ? child?.of : anchor.node
  if (!around || own.some((o) => o.of !== around)) return false
  const all = unitsOf(around, doc.text)
  const at = isBeside ? all.indexOf(child!.unit) : -1
  const edge = isBeside ? (where === 'before' ? at - units.length : at + 1) : where === 'first' ? 0 : all.length - units.length
  return units.every((unit, i) => all[edge + i] === unit) || (isBeside && units.length === 1 && units[0] === child!.unit)
}

/** What is moved and the slot that it goes to, where its names mean the same; no slot where it stands there already. */
function wayTo(
  doc: JsxDocument,
  ids: readonly number[],
  place: JsxPlace,
): { readonly own: Exclude<ReturnType<typeof childrenFor>, Refused>; readonly slot: Slot | null } | Refused {
  const own = childrenFor(doc, ids)
  if (isRefused(own)) return own
  const target = doc.element(place.element).node
  const isInside = place.where === 'first' || place.where === 'last'
  const around = own.find(({ unit }) => unit.start <= target.start && unit.end >= target.end && (isInside || unit.end > target.end))
  if (around)
    return notAllowed(
      around.spot.isOfList
        ? 'One tag makes all of these, for the items of a list. Alt with an arrow key moves one past its neighbour, where the list is written out.'
        : 'An element cannot be put into itself.',
    )
  if (staysIn(doc, own, place)) return { own, slot: null }
  const slot = slotAt(
    doc,
    place,
    own.some(({ unit }) => isBlock(unit, doc.text)),
  )
  if (isRefused(slot)) return slot
  for (const { unit, spot } of own) {
    const name = nameThatChanges(unit, spot.path, slot.path)
    if (name !== null) return notAllowed(`It cannot stand there: ${name} means something else, or nothing, in that place.`)
  }
  return { own, slot }
}

/** Puts tags at another place, in the order they stand in; an expression that they stand in goes with them. */
export function moveJsx(doc: JsxDocument, ids: readonly number[], place: JsxPlace): EditPlan {
  const { text } = doc
  const way = wayTo(doc, ids, place)
  if (isRefused(way)) return way
  const { own, slot } = way
  if (!slot) return { ok: true, splices: [] }
  const parts = own.map(({ unit }) => reindented(text, { from: unit.start, to: unit.end }, [unit], lineLead(text, unit.start), slot.indent))
  const between = slot.lead.includes('\n') || slot.trail.includes('\n') ? lineEndOf(text) + slot.indent : ''
  const insert = slot.lead + parts.join(between) + slot.trail
  const tops = own.flatMap(({ unit }) => topsIn(doc, unit))
  return verified(doc, [...apart(own.map(({ unit }) => removal(text, unit))), { from: slot.from, to: slot.to, insert }], (root) => {
    const shapes = takeOut(root, tops)
    return shapes !== null && putIn(doc, root, place, shapes)
  })
}

/** Puts copies of tags behind the last of them. */
export function duplicateJsx(doc: JsxDocument, ids: readonly number[]): EditPlan {
  const { text } = doc
  const [first, ...more] = outermost(doc.elements, ids)
  if (more.length === 0 && needsFragment(spotOf(doc, first))) {
    const said = withoutAttributes(text.slice(first.node.start, first.node.end), keysOf(doc, first))
    return besideInFragment(
      doc,
      first,
      'after',
      (indent) => reindented(said, { from: 0, to: said.length }, [], lineLead(text, first.node.start), indent),
      (root) => {
        const found = find(root, first.id)
        return found ? [withoutKeys(copyOf(found.around.children[found.at]), keysOf(doc, first))] : []
      },
    )
  }
  const own = childrenFor(doc, ids)
  if (isRefused(own)) return own
  if (own.some(({ spot }) => spot.by === 'loop')) return notAllowed(IS_OF_LIST)
  const last = own.at(-1)!
  if (own.some(({ of }) => of !== last.of)) return notAllowed('Elements of one parent are duplicated together.')
  const slot = beside(text, { from: last.unit.start, to: last.unit.end }, 'after', [])
  // A key is of one element alone.
  const keys = own.map(({ unit }) => doc.elements.flatMap((e) => (e.node === unit ? keysOf(doc, e) : [])))
  const parts = own.map(({ unit }, i) => withoutAttributes(text.slice(unit.start, unit.end), keys[i]))
  const between = slot.lead.includes('\n') ? slot.lead : ''
  return verified(doc, [{ from: slot.from, to: slot.to, insert: slot.lead + parts.join(between) }], (root) => {
    const tops = own.flatMap(({ unit }) => topsIn(doc, unit))
    const shapes = tops.flatMap((id) => {
      const found = find(root, id)
      return found ? [withoutKeys(copyOf(found.around.children[found.at]), keys.flat())] : []
    })
    const end = find(root, tops.at(-1)!)
    end?.around.children.splice(end.at + 1, 0, ...shapes)
    return end !== null && shapes.length === tops.length
  })
}

// Whose text is known, with the white space before it.
function withoutAttribute(part: string, attribute: string): string {
  const at = part.indexOf(attribute)
  return at < 0 ? part : part.slice(0, at).trimEnd() + part.slice(at + attribute.length)
}

const withoutAttributes = (part: string, attributes: readonly string[]): string => attributes.reduce(withoutAttribute, part)

const withoutKeys = (shape: Shape, keys: readonly string[]): Shape => ({
  ...shape,
  says: keys.map(collapsed).reduce((says, key) => collapsed(says.replace(key, '')), shape.says),
})

/** The keys of an element, as they are written. */
const keysOf = (doc: JsxDocument, element: JsxElement): string[] => keyOf(element).map((k) => doc.text.slice(k.start, k.end))

const keyOf = ({ node }: JsxElement): (t.JSXAttribute & Node)[] =>
  node.openingElement.attributes.flatMap((a) =>
    a.type === 'JSXAttribute' && attributeName(a) === 'key' ? [a as t.JSXAttribute & Node] : [],
  )

/**
 * Puts tags around a part of a file: on lines of their own, in parentheses, where that part is a value. `element` is the one that
 * it is, null for several children. `fill` gives what stands between the tags, from the part as it is laid out there and the
 * indentation of its lines; null where it stays on one line.
 */
function enclosed(
  doc: JsxDocument,
  span: Span,
  element: JsxElement | null,
  open: string,
  close: string,
  fill: (part: string, indent: string | null) => string,
): Splice {
  const { text } = doc
  const inside = doc.elements.filter((e) => e.node.start >= span.from && e.node.end <= span.to).map((e) => e.node)
  const [nl, lead, step] = [lineEndOf(text), lineLead(text, span.from), indentStep(text)]
  const isAlone = startsLine(text, span.from) && endsLine(text, span.to)
  const isChild = element === null || isHolder(pathTo(doc.program!, element.node).at(-1)!)
  const laidOut = (indent: string): string => nl + indent + fill(reindented(text, span, inside, lead, indent), indent) + nl
  if (isAlone) return { ...span, insert: open + laidOut(lead + step) + lead + close }
  if (isChild || element?.node.extra?.parenthesized) return { ...span, insert: open + fill(text.slice(span.from, span.to), null) + close }
  return { ...span, insert: `(${nl}${lead}${step}${open}${laidOut(lead + step + step)}${lead}${step}${close}${nl}${lead})` }
}

/** Whether something can stand beside an element only within a pair of `<>`. */
const needsFragment = ({ child, by }: Spot): boolean => child === null || by === 'choice'

/** Puts something beside an element that is a value, with `<>` around both. `made` gives its text for an indentation. */
function besideInFragment(
  doc: JsxDocument,
  element: JsxElement,
  where: 'before' | 'after',
  made: (indent: string) => string,
  shapes: (root: Shape) => readonly Shape[],
): EditPlan {
  const { path, isOfList } = spotOf(doc, element)
  if (isOfList) return notAllowed(IS_OF_LIST)
  if (!/^(ReturnStatement|ArrowFunctionExpression|ConditionalExpression|LogicalExpression)$/.test(path.at(-1)?.type ?? ''))
    return notAllowed(IS_VALUE)
  const span = { from: element.node.start, to: element.node.end }
  const splice = enclosed(doc, span, element, '<>', '</>', (part, indent) => {
    const both = where === 'before' ? [made(indent ?? ''), part] : [part, made(indent ?? '')]
    return both.join(indent === null ? '' : lineEndOf(doc.text) + indent)
  })
  return verified(doc, [splice], (root) => {
    const found = find(root, element.id)
    found?.around.children.splice(found.at + (where === 'before' ? 0 : 1), 0, ...shapes(root))
    return found !== null
  })
}

/** Puts an element of that name around tags that stand beside one another. */
export function wrapJsx(doc: JsxDocument, ids: readonly number[], tag: string, classes: string): EditPlan {
  const { text } = doc
  const own = outermost(doc.elements, ids)
  const { attributeQuote: q } = jsxStyle(doc)
  const [first] = own
  const keys = own.length === 1 && spotOf(doc, first).by !== 'itself' ? keysOf(doc, first) : []
  const named = [tag, ...keys, ...(classes ? [`className=${q}${attributeText(classes, q)}${q}`] : [])]
  let span: Span = { from: first.node.start, to: first.node.end }
  if (own.length > 1) {
    const units = childrenFor(doc, ids)
    if (isRefused(units)) return units
    const { of } = units[0]
    const all = unitsOf(of, text)
    const at = all.indexOf(units[0].unit)
    if (units.some(({ unit }, i) => all[at + i] !== unit)) return notAllowed('Elements that stand beside one another are wrapped together.')
    span = { from: units[0].unit.start, to: units.at(-1)!.unit.end }
  }
  // A key goes from the element that had it to the one that is now the list's.
  const splice = enclosed(doc, span, own.length > 1 ? null : first, `<${named.join(' ')}>`, `</${tag}>`, (part) =>
    withoutAttributes(part, keys),
  )
  return verified(doc, [splice], (root) => {
    const tops = topsIn(doc, { start: span.from, end: span.to } as Node)
    const at = find(root, tops[0])
    const shapes = at && takeOut(root, tops)
    if (!at || !shapes) return false
    const attributes = named.slice(1).map(collapsed).sort()
    const held = shapes.map((shape) => withoutKeys(shape, keys))
    at.around.children.splice(at.at, 0, { id: null, says: collapsed([tag, ...attributes, '·'].join(' ')), children: held })
    return true
  })
}

/** Takes the tags of an element away and leaves what it holds in its place. */
export function unwrapJsx(doc: JsxDocument, id: number): EditPlan {
  const { text } = doc
  const element = doc.element(id)
  const { node } = element
  if (!element.isHtml) return notAllowed(`<${element.tag}> is a component: what it does with what it holds is not known.`)
  const units = unitsOf(node, text)
  if (units.length === 0) return notAllowed('It holds nothing that could be left.')
  const spot = spotOf(doc, element)
  const isChild = spot.child?.unit === node
  const [key] = keyOf(element)
  const only = units.length === 1 && units[0].type === 'JSXElement' ? units[0] : null
  const inner = { from: shownSpan(text, units[0]).from, to: shownSpan(text, units.at(-1)!).to }
  const [from, to] = [lineLead(text, inner.from), lineLead(text, node.start)]
  const part = startsLine(text, inner.from) ? reindented(text, inner, units, from, to) : text.slice(inner.from, inner.to)
  const opening = node.openingElement as Node
  const says = collapsed(element.texts.join(' '))
  const expected = (root: Shape, more = ''): boolean => {
    const found = find(root, id)
    if (!found) return false
    const [shape] = found.around.children.splice(found.at, 1)
    found.around.children.splice(found.at, 0, ...shape.children.map((c) => (more ? { ...c, says: withAttribute(c.says, more) } : c)))
    // Its texts are its parent's now, or in no tag.
    const { parent } = element
    const around = parent && find(root, parent.id)
    if (around && says && isChild) around.around.children[around.at] = withText(around.around.children[around.at], textsAfter(element))
    return true
  }
  if (isChild || (only && !key)) return verified(doc, [{ from: node.start, to: node.end, insert: part }], (root) => expected(root))
  if (only && key) {
    const said = text.slice(key.start, key.end)
    const held = doc.elements.find((e) => e.node === only)!
    const name = held.node.openingElement.name as Node
    const cut = name.end - inner.from
    if (keyOf(held).length) return notAllowed('What it holds has a key of its own.')
    return verified(doc, [{ from: node.start, to: node.end, insert: `${part.slice(0, cut)} ${said}${part.slice(cut)}` }], (root) =>
      expected(root, collapsed(said)),
    )
  }
  if (key) return notAllowed('It has the key of an element of a list, and holds several.')
  return verified(
    doc,
    [
      { from: opening.start, to: opening.end, insert: '<>' },
      { from: (node.closingElement as Node).start, to: (node.closingElement as Node).end, insert: '</>' },
    ],
    (root) => expected(root),
  )
}

// What a tag says with one attribute more, where attributes stand in the order of their texts.
function withAttribute(says: string, attribute: string): string {
  const [head, texts] = says.split(/ ?·/)
  const [tag] = head.split(' ', 1)
  return collapsed(`${tag} ${attribute} ${head.slice(tag.length)} · ${texts}`)
}

// The texts of an element's parent in their order once the element's own are among them.
function textsAfter(element: JsxElement): string {
  const { parent } = element
  return collapsed(
    (parent!.node.children as Node[])
      .flatMap((child) => {
        if (child === element.node) return element.texts
        return parent!.written.filter((w) => w.span.from >= child.start && w.span.to <= child.end).map((w) => w.value)
      })
      .join(' '),
  )
}

const withText = (shape: Shape, texts: string): Shape => ({ ...shape, says: collapsed(`${shape.says.split('·')[0]}· ${texts}`) })

/** Puts JSX, or HTML as JSX says it, at a place. */
export function insertJsx(doc: JsxDocument, place: JsxPlace, given: string, spaced: boolean): EditPlan {
  const { path } = doc
  const made = fromHtml(doc, given)
  if (isRefused(made)) return made
  const { code, nodes, isBlock } = made
  const wrapped = `<>${code}</>`
  const shapes = shapeOf(new JsxDocument(wrapped, path)).children.map(copyOf)
  if (shapes.length === 0) return refuse('bad-value', 'There is no element in it.')
  const laidOut = (indent: string): string => laidOutAs(code, indentStep(doc.text), indent)
  const whyNotKnown = (around: readonly Node[]): Refused | null => {
    const name = nodes.map((node) => unknownName(node, around)).find((n) => n !== null)
    return name === undefined ? null : notAllowed(`It cannot stand there: ${name} is not known in that place.`)
  }
  const anchor = doc.element(place.element)
  const spot = spotOf(doc, anchor)
  if ((place.where === 'before' || place.where === 'after') && needsFragment(spot))
    return whyNotKnown(spot.path) ?? besideInFragment(doc, anchor, place.where, laidOut, () => shapes)
  const slot = slotAt(doc, place, isBlock)
  if (isRefused(slot)) return slot
  const unknown = whyNotKnown(slot.path)
  if (unknown) return unknown
  const part = laidOut(slot.indent)
  const gap = spaced && slot.lead === '' && /[^\s>]$/.test(doc.text.slice(0, slot.from)) ? ' ' : ''
  const insert = (slot.lead + gap + part + slot.trail).replace(/\r?\n/g, lineEndOf(doc.text))
  return verified(doc, [{ from: slot.from, to: slot.to, insert }], (root) => putIn(doc, root, place, shapes))
}

/** Why tags may not stand at a place, in words; null where nothing is known against it. Asked for with each move of a pointer: the file is not read again for it. */
export function whyNotInJsx(doc: JsxDocument, ids: readonly number[], place: JsxPlace): string | null {
  const way = wayTo(doc, ids, place)
  return isRefused(way) ? way.why : null
}
