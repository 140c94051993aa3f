import type * as t from '@babel/types'
import { isHostTag, nodesIn, parseJsx, tagNameOf } from './parse'

/** A tag of JSX that begins an element (JSX specification, JSXOpeningElement and JSXSelfClosingElement); offsets in UTF-16 units. */
export interface JsxTag {
  /** As it is written: `li`, `Card`, `Menu.Item`. */
  readonly name: string
  /** Of its `<`. */
  readonly from: number
  /** After its `>`. */
  readonly to: number
  /** Where another attribute can be written, the last. */
  readonly end: number
  /** Whether it is of an element of the page itself, and not of a component. */
  readonly isHost: boolean
}

export function tagOf(text: string, node: t.JSXOpeningElement): JsxTag {
  const [from, to] = [node.start!, node.end!]
  // Compilers take what stands before a slash for the last attribute too.
  const end = text.slice(0, to - (node.selfClosing ? 2 : 1)).trimEnd().length
  return { name: tagNameOf(node.name), from, to, end, isHost: isHostTag(node) }
}

/** The tags of a file in the order of their `<`. @throws SyntaxError where it cannot be read. */
export function jsxTags(text: string, path: string): readonly JsxTag[] {
  return nodesIn(parseJsx(text, path))
    .flatMap((node) => (node.type === 'JSXOpeningElement' ? [tagOf(text, node)] : []))
    .sort((a, b) => a.from - b.from)
}
