import { parse } from '@babel/parser'
import type * as Babel from '@babel/types'

/** A config read without running it: what is written out in it, and what is not, by its path in the object and its 1-based line. */
export interface ReadConfig {
  readonly config: Readonly<Record<string, unknown>>
  readonly unread: readonly { readonly path: string; readonly line: number }[]
}

type Node = { readonly type: string; readonly loc?: { readonly start: { readonly line: number } } | null } & Record<string, unknown>

const NOTHING = Symbol('nothing that can be read')

/** Reads the literal parts of a `tailwind.config` file. @throws SyntaxError when it is no JavaScript or TypeScript. */
export function readConfig(text: string): ReadConfig {
  const program = parse(text, { sourceType: 'unambiguous', plugins: ['typescript'] }).program as unknown as Babel.Program & { body: Node[] }
  const unread: { path: string; line: number }[] = []
  const constants = new Map<string, Node>()
  let root: Node | null = null
  for (const node of program.body as unknown as Node[]) {
    if (node.type === 'VariableDeclaration')
      for (const d of node.declarations as Node[]) constants.set((d.id as { name?: string }).name ?? '', d.init as Node)
    if (node.type === 'ExportDefaultDeclaration') root = node.declaration as Node
    if (node.type === 'ExpressionStatement') {
      const assigned = node.expression as Node
      const left = assigned.left as Node | undefined
      if (
        assigned.type === 'AssignmentExpression' &&
        left?.type === 'MemberExpression' &&
        (left.property as { name?: string }).name === 'exports'
      )
        root = assigned.right as Node
    }
  }
  const value = (node: Node | null | undefined, path: string, depth = 0): unknown => {
    switch (node?.type) {
      case 'StringLiteral':
      case 'NumericLiteral':
      case 'BooleanLiteral':
        return node.value
      case 'NullLiteral':
        return null
      case 'TemplateLiteral':
        if ((node.expressions as Node[]).length === 0) return (node.quasis as { value: { cooked: string } }[])[0].value.cooked
        break
      case 'UnaryExpression': {
        const inner = value(node.argument as Node, path, depth)
        if (node.operator === '-' && typeof inner === 'number') return -inner
        break
      }
      case 'TSAsExpression':
      case 'TSSatisfiesExpression':
        return value(node.expression as Node, path, depth)
      case 'Identifier':
        if (depth < 8 && constants.has(node.name as string)) return value(constants.get(node.name as string), path, depth + 1)
        break
      case 'ArrayExpression':
        return (node.elements as (Node | null)[]).flatMap((e, i) => {
          const item = value(e, `${path}[${i}]`, depth)
          return item === NOTHING ? [] : [item]
        })
      case 'ObjectExpression': {
        const out: Record<string, unknown> = {}
        for (const p of node.properties as Node[]) {
          const key =
            p.type === 'ObjectProperty' && !p.computed
              ? ((p.key as { name?: string; value?: string | number }).name ?? String((p.key as { value?: string | number }).value))
              : null
          if (key === null || key === '__proto__') {
            unread.push({ path: `${path}.…`, line: p.loc?.start.line ?? 0 })
            continue
          }
          const inner = value(p.value as Node, path ? `${path}.${key}` : key, depth)
          if (inner !== NOTHING) out[key] = inner
        }
        return out
      }
      default:
    }
    unread.push({ path, line: node?.loc?.start.line ?? 0 })
    return NOTHING
  }
  const config = root ? value(root, '') : {}
  return {
    config: config !== null && typeof config === 'object' && !Array.isArray(config) ? (config as Record<string, unknown>) : {},
    unread,
  }
}
