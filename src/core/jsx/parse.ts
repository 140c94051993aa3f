import { parse } from '@babel/parser'
import type * as t from '@babel/types'

/** A node of a file's syntax tree, with its offsets in UTF-16 units. */
export type Node = t.Node & { readonly start: number; readonly end: number }

/** Whether a file may hold JSX, by its name. */
export const isJsxPath = (path: string): boolean => /\.[jt]sx$/i.test(path)

/** Reads a script, or a file that may hold JSX. @throws SyntaxError where it cannot be read. */
export function parseJsx(text: string, path: string, sourceType: 'module' | 'unambiguous' = 'module'): Node {
  const isTyped = /\.[cm]?tsx?$/i.test(path)
  return parse(text, {
    sourceType,
    attachComment: false,
    // In a script with types alone, `<` may begin one.
    plugins: [...(isJsxPath(path) || !isTyped ? (['jsx'] as const) : []), ...(isTyped ? (['typescript', 'decorators'] as const) : [])],
  }).program as Node
}

const isNode = (value: unknown): value is Node => typeof value === 'object' && value !== null && typeof (value as Node).type === 'string'

/** Nodes that nothing stands in: half of all, in most files. */
const LEAVES: ReadonlySet<string> = new Set([
  'BooleanLiteral',
  'JSXEmptyExpression',
  'JSXIdentifier',
  'JSXText',
  'NullLiteral',
  'NumericLiteral',
  'StringLiteral',
  'TemplateElement',
])
const NONE: readonly Node[] = []

/** What stands right in a node, in no order. */
export function childrenOf(node: Node): readonly Node[] {
  if (LEAVES.has(node.type)) return NONE
  const out: Node[] = []
  for (const key in node) {
    if (key === 'loc' || key === 'extra') continue
    const value = (node as unknown as Record<string, unknown>)[key]
    if (typeof value !== 'object' || value === null) continue
    if (Array.isArray(value)) {
      for (const item of value) if (isNode(item)) out.push(item)
    } else if (isNode(value)) out.push(value)
  }
  return out
}

/** A node with all that stands in it, in no order. */
export function nodesIn(top: Node): Node[] {
  const out = [top]
  for (const node of out) out.push(...childrenOf(node))
  return out
}

/** A node without what only types or groups it: parentheses, `as`, `satisfies`, `!`. */
export function bare(node: Node): Node {
  let at = node
  while (
    at.type === 'ParenthesizedExpression' ||
    at.type === 'TSAsExpression' ||
    at.type === 'TSSatisfiesExpression' ||
    at.type === 'TSNonNullExpression'
  )
    at = at.expression as Node
  return at
}

/** The name of a tag as it is written: `li`, `Card`, `Menu.Item`, `svg:rect`. */
export function tagNameOf(name: t.JSXOpeningElement['name']): string {
  if (name.type === 'JSXMemberExpression') return `${tagNameOf(name.object)}.${name.property.name}`
  if (name.type === 'JSXNamespacedName') return `${name.namespace.name}:${name.name.name}`
  return name.name
}

/** Whether a tag is of an element of the page itself: compilers take a name in lower case, and one with a namespace, for that. */
export const isHostTag = ({ name }: t.JSXOpeningElement): boolean => name.type !== 'JSXMemberExpression' && /^[a-z]/.test(tagNameOf(name))
