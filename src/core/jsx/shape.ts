import { refuse, type EditPlan } from '../css'
import { applySplices, normalizeSplices, type Splice } from '../text'
import type { JsxDocument, JsxElement } from './document'
import type { Node } from './parse'
import { spotOf, type JsxPlace } from './spot'

/** The tags of a file without how they are laid out. */
export interface Shape {
  readonly id: number | null
  readonly says: string
  readonly children: Shape[]
}

export const collapsed = (text: string): string => text.replace(/\s+/g, ' ').trim()

// An attribute without the tags in it, which are children here.
function attributeShape(doc: JsxDocument, element: JsxElement, { start, end }: Node): string {
  const inside = doc.elements.filter((e) => e.parent === element && e.node.start >= start && e.node.end <= end)
  const tags = inside.map((e) => ({ from: e.node.start - start, to: e.node.end - start, insert: '◇' }))
  return collapsed(applySplices(doc.text.slice(start, end), tags)).replace(/\(\s*◇\s*\)/g, '◇')
}

export function shapeOf(doc: JsxDocument): Shape {
  const root: Shape = { id: null, says: '', children: [] }
  const byElement = new Map<JsxElement, Shape>()
  for (const e of doc.elements) {
    const attributes = (e.node.openingElement.attributes as Node[]).map((a) => attributeShape(doc, e, a))
    const shape = { id: e.id, says: collapsed([e.tag, ...attributes.sort(), '·', ...e.texts].join(' ')), children: [] }
    byElement.set(e, shape)
    ;(e.parent ? byElement.get(e.parent)! : root).children.push(shape)
  }
  return root
}

const said = (shape: Shape): string => `${shape.says}(${shape.children.map(said).join()})`

export function find(root: Shape, id: number): { readonly around: Shape; readonly at: number } | null {
  for (const [at, child] of root.children.entries()) {
    const found = child.id === id ? { around: root, at } : find(child, id)
    if (found) return found
  }
  return null
}

/** The splices, where the file reads as `expected` with them. */
export function verified(doc: JsxDocument, splices: readonly Splice[], expected: (root: Shape) => boolean): EditPlan {
  const wanted = shapeOf(doc)
  if (!expected(wanted)) return refuse('unparsable', 'The file has no such place.')
  let sorted: readonly Splice[]
  try {
    sorted = normalizeSplices(splices.filter((s) => s.insert !== '' || s.to > s.from))
  } catch {
    return refuse('unparsable', 'The tags overlap in the source.')
  }
  const after = doc.copy()
  after.apply(sorted)
  if (after.fault !== null) return refuse('unparsable', `The file could not be read with it: ${after.fault}`)
  return said(shapeOf(after)) === said(wanted)
    ? { ok: true, splices: sorted }
    : refuse('unparsable', 'The file would say something else with it.')
}

// The tags of a part of a file that stand in no other of it.
export function topsIn(doc: JsxDocument, { start, end }: Node): number[] {
  const within = doc.elements.filter((e) => e.node.start >= start && e.node.end <= end)
  return within.filter((e) => !e.parent || !within.includes(e.parent)).map((e) => e.id)
}

export function takeOut(root: Shape, ids: readonly number[]): Shape[] | null {
  const out: Shape[] = []
  for (const id of ids) {
    const found = find(root, id)
    if (!found) return null
    out.push(...found.around.children.splice(found.at, 1))
  }
  return out
}

export function putIn(doc: JsxDocument, root: Shape, { element, where }: JsxPlace, shapes: readonly Shape[]): boolean {
  const anchor = doc.element(element)
  if (where === 'first' || where === 'last') {
    const found = find(root, element)
    if (!found) return false
    const { children } = found.around.children[found.at]
    if (where === 'first') children.unshift(...shapes)
    else children.push(...shapes)
    return true
  }
  const { child } = spotOf(doc, anchor)
  const tops = child ? topsIn(doc, child.unit) : [element]
  const found = find(root, where === 'before' ? tops[0] : tops.at(-1)!)
  if (!found) return false
  found.around.children.splice(found.at + (where === 'before' ? 0 : 1), 0, ...shapes)
  return true
}

export const copyOf = (shape: Shape): Shape => ({ ...shape, id: null, children: shape.children.map(copyOf) })
