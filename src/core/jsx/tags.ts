import { parse } from '@babel/parser'

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

type Node = { readonly type: string; readonly start: number; readonly end: number } & Readonly<Record<string, unknown>>

const isNode = (value: unknown): value is Node => typeof value === 'object' && value !== null && typeof (value as Node).type === 'string'

function nameOf(node: Node): string {
  if (node.type === 'JSXMemberExpression') return `${nameOf(node.object as Node)}.${nameOf(node.property as Node)}`
  if (node.type === 'JSXNamespacedName') return `${nameOf(node.namespace as Node)}:${nameOf(node.name as Node)}`
  return String(node.name)
}

/** Whether a file may hold JSX, by its name. */
export const isJsxPath = (path: string): boolean => /\.[jt]sx$/i.test(path)

/** The tags of a file in the order of their `<`. @throws SyntaxError where it cannot be read. */
export function jsxTags(text: string, path: string): readonly JsxTag[] {
  const isTyped = /\.tsx$/i.test(path)
  const { program } = parse(text, { sourceType: 'module', plugins: ['jsx', ...(isTyped ? (['typescript', 'decorators'] as const) : [])] })
  const tags: JsxTag[] = []
  const todo: Node[] = [program as unknown as Node]
  while (todo.length) {
    const node = todo.pop()!
    if (node.type === 'JSXOpeningElement') {
      const name = nameOf(node.name as Node)
      const isClosed = node.selfClosing === true
      // Compilers take a name in lower case, and one with a namespace, for an element's own.
      const isHost = (node.name as Node).type !== 'JSXMemberExpression' && /^[a-z]/.test(name)
      const end = text.slice(0, node.end - (isClosed ? 2 : 1)).trimEnd().length
      tags.push({ name, from: node.start, to: node.end, end, isHost })
    }
    for (const value of Object.values(node))
      if (Array.isArray(value)) todo.push(...value.filter(isNode))
      else if (isNode(value)) todo.push(value)
  }
  return tags.sort((a, b) => a.from - b.from)
}
