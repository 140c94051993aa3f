import { compile, type Options } from 'css-select'
import type { DefaultTreeAdapterTypes } from 'parse5'
import type { P5Element } from './document'

type P5Node = DefaultTreeAdapterTypes.ChildNode

const isTag = (node: P5Node): node is P5Element => 'tagName' in node
const parentOf = (node: P5Node): P5Element | null => {
  const parent = node.parentNode
  return parent && 'tagName' in parent ? parent : null
}
const childrenOf = (node: P5Node): P5Node[] =>
  'content' in node
    ? ((node as DefaultTreeAdapterTypes.Template).content.childNodes as P5Node[])
    : 'childNodes' in node
      ? (node.childNodes as P5Node[])
      : []

const textOf = (node: P5Node): string => ('value' in node ? node.value : childrenOf(node).map(textOf).join(''))

const adapter: Options<P5Node, P5Element>['adapter'] = {
  isTag,
  getName: (e) => e.tagName,
  getChildren: childrenOf,
  getParent: parentOf,
  getSiblings: (node) => (node.parentNode ? ([...node.parentNode.childNodes] as P5Node[]) : [node]),
  getText: textOf,
  getAttributeValue: (e, name) => e.attrs.find((a) => a.name === name)?.value,
  hasAttrib: (e, name) => e.attrs.some((a) => a.name === name),
  removeSubsets: (nodes) => nodes,
  equals: (a, b) => a === b,
}

/** Compiled tests that are kept. */
const MOST_KEPT = 2000
const kept = new Map<string, ((e: P5Element) => boolean) | null>()

/** A test of whether an element matches a selector list (Selectors 4); null where it cannot be read. */
export function matcher(selector: string): ((e: P5Element) => boolean) | null {
  const known = kept.get(selector)
  if (known !== undefined) return known
  let test: ((e: P5Element) => boolean) | null = null
  try {
    test = compile<P5Node, P5Element>(selector, { adapter, xmlMode: false })
  } catch {
    // What it does not know cannot be determined.
  }
  if (kept.size >= MOST_KEPT) kept.clear()
  kept.set(selector, test)
  return test
}
