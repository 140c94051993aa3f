import type * as t from '@babel/types'
import type { JsxDocument, JsxElement } from './document'
import { childrenOf, type Node } from './parse'

/** A place among the tags of a file, identified by one of them. */
export interface JsxPlace {
  readonly element: number
  readonly where: 'before' | 'after' | 'first' | 'last'
}

/** A tag, or a pair of `<>`, with children. */
export type Holder = (t.JSXElement | t.JSXFragment) & Node

/** How a tag comes to stand where it does: by itself, where a condition holds, as one of several that an expression chooses between, or once for each of a list. */
export type ShownBy = 'itself' | 'condition' | 'choice' | 'loop'

/** Where a tag stands. */
export interface Spot {
  /** What stands around it, outermost first. */
  readonly path: readonly Node[]
  /** What it is a child of, with the child that it is or that it is in; null where it is a value: what a function gives, or an attribute. */
  readonly child: { readonly of: Holder; readonly unit: Node } | null
  readonly by: ShownBy
  /** Whether it is made for each of a list, in whatever way. */
  readonly isOfList: boolean
}

export const isHolder = (node: Node): node is Holder => node.type === 'JSXElement' || node.type === 'JSXFragment'

const GIVES_NOTHING: ReadonlySet<string> = new Set(['NullLiteral', 'BooleanLiteral'])
/** Whether a value shows nothing. */
export const givesNothing = (node: Node): boolean =>
  GIVES_NOTHING.has(node.type) || (node.type === 'Identifier' && node.name === 'undefined')

/** What stands around a node of a file, outermost first. */
export function pathTo(program: Node, node: Node): Node[] {
  const path: Node[] = []
  let at: Node | undefined = program
  while (at && at !== node) {
    path.push(at)
    at = childrenOf(at).find((c) => c === node || (c.start <= node.start && c.end >= node.end && c !== node))
  }
  return path
}

// Whether a function is what a list is gone through with.
function isLoop(call: Node | undefined, callback: Node): boolean {
  if (call?.type !== 'CallExpression' && call?.type !== 'OptionalCallExpression') return false
  const { callee } = call
  if (callee.type !== 'MemberExpression' && callee.type !== 'OptionalMemberExpression') return false
  const { property } = callee
  return property.type === 'Identifier' && /^(map|flatMap|from)$/.test(property.name) && (call.arguments as Node[]).includes(callback)
}

export function spotOf(doc: JsxDocument, { node }: JsxElement): Spot {
  const path = pathTo(doc.program!, node)
  const value: Spot = { path, child: null, by: 'itself', isOfList: false }
  let by: ShownBy = 'itself'
  let isOfList = false
  for (let i = path.length - 1, inner: Node = node; i >= 0; inner = path[i], i--) {
    const around = path[i]
    if (isHolder(around))
      return (around.children as Node[]).includes(inner) ? { path, child: { of: around, unit: inner }, by, isOfList } : value
    switch (around.type) {
      case 'LogicalExpression':
        if (around.operator !== '&&' || around.right !== inner) by = 'choice'
        else if (by === 'itself') by = 'condition'
        break
      case 'ConditionalExpression': {
        if (around.test === inner) return value
        const other = (around.consequent === inner ? around.alternate : around.consequent) as Node
        if (!givesNothing(other)) by = 'choice'
        else if (by === 'itself') by = 'condition'
        break
      }
      case 'ArrowFunctionExpression':
      case 'FunctionExpression':
        if (!isLoop(path[i - 1], around)) return value
        isOfList = true
        if (by !== 'choice') by = 'loop'
        break
      case 'IfStatement':
      case 'SwitchCase':
        by = 'choice'
        break
      case 'JSXExpressionContainer':
      case 'CallExpression':
      case 'OptionalCallExpression':
      case 'MemberExpression':
      case 'ReturnStatement':
      case 'BlockStatement':
      case 'SwitchStatement':
      case 'ParenthesizedExpression':
      case 'TSAsExpression':
      case 'TSNonNullExpression':
        break
      default:
        return value
    }
  }
  return value
}

/** The children of a tag that show something or may, without white space and comments. */
export const unitsOf = (holder: Holder, text: string): Node[] =>
  (holder.children as Node[]).filter((child) => {
    if (child.type === 'JSXText')
      return !/^\s*$/.test(text.slice(child.start, child.end)) || !text.slice(child.start, child.end).includes('\n')
    return child.type !== 'JSXExpressionContainer' || child.expression.type !== 'JSXEmptyExpression'
  })
