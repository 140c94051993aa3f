import type { P5Element, P5Node } from './document'

/** A tree as an edit is planned on it: elements by what they are, texts by what shows of them; one whose every character shows is a node too. */
export interface TreeNode {
  readonly id: number | null
  /** The name with its namespace, and the attributes in order. */
  readonly is: string
  children: (TreeNode | string)[]
}

const KEEPS = /^(pre|listing|textarea|script|style|xmp|plaintext)$/

/** What a node holds, what a template holds included. */
export const childrenOf = (node: P5Node): readonly P5Node[] =>
  'content' in node ? node.content.childNodes : 'childNodes' in node ? node.childNodes : []

/** Reads a node; `idOf` tells elements from each other. White space between elements is layout and is left out, outside of `pre` and its kin. */
export function treeOf(root: P5Node, idOf: (e: P5Element) => number | null, keeps = false): TreeNode {
  const top: TreeNode = { id: null, is: '', children: [] }
  const stack: { from: P5Node; into: TreeNode; keeps: boolean }[] = [{ from: root, into: top, keeps }]
  while (stack.length) {
    const { from, into, keeps: exact } = stack.pop()!
    for (const child of childrenOf(from)) {
      if ('tagName' in child) {
        // White space in a class list is layout too.
        const attrs = child.attrs.map(
          (a) => `${a.prefix ?? ''}:${a.name}=${a.name === 'class' ? a.value.trim().replace(/\s+/g, ' ') : a.value}`,
        )
        const node: TreeNode = {
          id: idOf(child),
          is: `${child.namespaceURI} ${child.tagName} ${attrs.join('\n')}`,
          children: [],
        }
        into.children.push(node)
        stack.push({ from: child, into: node, keeps: exact || KEEPS.test(child.tagName) })
      } else if ('value' in child || child.nodeName === '#comment') {
        const text = 'value' in child ? child.value : `<!--${(child as { data: string }).data}-->`
        const last = into.children.at(-1)
        if (exact) into.children.push({ id: null, is: `text ${text}`, children: [] })
        else if (typeof last === 'string') into.children[into.children.length - 1] = last + text
        else into.children.push(text)
      }
    }
  }
  return top
}

const flat = (text: string): string => text.replace(/[ \t\n\f\r]+/g, ' ').trim()

/** The nodes of a list as they are compared: neighbouring texts as one, white space around them as layout. */
function settled(children: readonly (TreeNode | string)[]): (TreeNode | string)[] {
  const out: (TreeNode | string)[] = []
  for (const c of children) {
    const last = out.at(-1)
    if (typeof c === 'string' && typeof last === 'string') out[out.length - 1] = last + c
    else out.push(c)
  }
  return out.map((c) => (typeof c === 'string' ? flat(c) : c)).filter((c) => c !== '')
}

/** Whether two trees are the same elements with the same texts. */
export function sameTree(a: TreeNode, b: TreeNode): boolean {
  const stack: [TreeNode, TreeNode][] = [[a, b]]
  while (stack.length) {
    const [x, y] = stack.pop()!
    if (x.is !== y.is) return false
    const [one, two] = [settled(x.children), settled(y.children)]
    if (one.length !== two.length) return false
    for (const [i, c] of one.entries()) {
      const d = two[i]
      if (typeof c === 'string' || typeof d === 'string') {
        if (c !== d) return false
      } else stack.push([c, d])
    }
  }
  return true
}

/** The node of an element, and the list it stands in. */
export function findNode(tree: TreeNode, id: number): { node: TreeNode; parent: TreeNode; at: number } | null {
  const stack = [tree]
  while (stack.length) {
    const parent = stack.pop()!
    for (const [at, c] of parent.children.entries()) {
      if (typeof c === 'string') continue
      if (c.id === id) return { node: c, parent, at }
      stack.push(c)
    }
  }
  return null
}
