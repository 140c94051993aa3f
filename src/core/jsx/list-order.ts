import { refuse, type Refused } from '../css'
import type { Splice } from '../text'
import type { JsxDocument, JsxElement } from './document'
import { meantBy, type ValueFile } from './meaning'
import { bare, type Node } from './parse'
import { isFunction } from './scope'
import { isHolder, pathTo } from './spot'

/** A list that the project writes out, and what puts one of its items in the place of another. */
export interface ListSwap {
  readonly ok: true
  /** The file that writes the list. */
  readonly file: ValueFile
  /** What the file of the tag calls it; empty for a list that stands there itself. */
  readonly name: string
  readonly length: number
  readonly splices: readonly Splice[]
}

const WORKED_OUT = 'Each of them is made for one of a list, which is worked out while the page runs: their order is that of the list.'

/**
 * Swaps the `index`-th item, from 0, of the list that a tag is made once for each of with the one `by` places on, where the
 * list is written out whole and in the order that shows; `count` is how many elements the tag made.
 */
export function swapInList(doc: JsxDocument, element: JsxElement, index: number, count: number, by: 1 | -1): ListSwap | Refused {
  const list = listOf(doc, element)
  if (!list) return refuse('not-allowed', WORKED_OUT)
  const { file, name, items } = list
  if (items.length !== count || items.some((i) => i.type === 'SpreadElement')) return refuse('not-allowed', WORKED_OUT)
  const [first, second] = by === 1 ? [items[index], items[index + 1]] : [items[index - 1], items[index]]
  if (!first || !second) return refuse('nothing-new', `It is the ${by === 1 ? 'last' : 'first'} of its list.`)
  const { text } = file
  const between = text.slice(first.end, second.start)
  const behind = /^,?[^\n]*/.exec(text.slice(second.end))![0]
  if (!/^\s*,\s*$/.test(between) || /\/[/*]/.test(behind))
    return refuse('not-allowed', `A comment stands beside it in ${file.path}, and what it is about cannot be told. Move it in Source.`)
  const said = (node: Node) => text.slice(node.start, node.end)
  return {
    ok: true,
    file,
    name,
    length: items.length,
    splices: [
      { from: first.start, to: first.end, insert: said(second) },
      { from: second.start, to: second.end, insert: said(first) },
    ],
  }
}

// The list that a tag is the whole template of; null where it is none that is written out.
function listOf(
  doc: JsxDocument,
  { node }: JsxElement,
): { readonly file: ValueFile; readonly name: string; readonly items: readonly Node[] } | null {
  const path = pathTo(doc.program!, node)
  const at = path.findLastIndex(isFunction)
  const call = path[at - 1]
  if (at < 1 || path.slice(at).some(isHolder) || call?.type !== 'CallExpression' || call.callee.type !== 'MemberExpression') return null
  const { object, property, computed } = call.callee
  if (computed || property.type !== 'Identifier' || property.name !== 'map' || call.arguments[0] !== path[at]) return null
  const given = bare(object as Node)
  const meant = given.type === 'Identifier' ? meantBy(doc, given.name) : null
  const list = meant && !meant.isDefault ? meant.node : given
  if (list.type !== 'ArrayExpression' || list.elements.some((e) => e === null)) return null
  return { file: meant?.file ?? doc, name: given.type === 'Identifier' ? given.name : '', items: list.elements as readonly Node[] }
}
