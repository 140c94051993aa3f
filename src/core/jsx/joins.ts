import type * as t from '@babel/types'
import { meantBy, type ValueFile } from './meaning'
import type { Node } from './parse'

/** Functions that join class names to a list and do nothing else, by the names that they go by. */
const JOINERS: ReadonlySet<string> = new Set(['clsx', 'cn', 'cx', 'classNames', 'classnames', 'twMerge', 'twJoin', 'cls'])

/** Packages whose one function joins class names, whatever name it is imported under. */
const JOINING: ReadonlySet<string> = new Set(['clsx', 'clsx/lite', 'classnames', 'classnames/dedupe', 'tailwind-merge'])

/** Whether a function that is called joins class names. */
export function joins(callee: Node, file: ValueFile, depth = 0): boolean {
  if (callee.type !== 'Identifier') return false
  const found = file.bindings.of(callee.name)
  if (!found) return JOINERS.has(callee.name)
  if (found.module !== null && (JOINERS.has(callee.name) || JOINING.has(found.module))) return true
  const meant = depth < 3 ? meantBy(file, callee.name) : null
  return meant !== null && isJoiningFunction(meant.node, meant.file, depth + 1)
}

/** A function whose result is its rest parameter, joined. */
function isJoiningFunction(node: Node, file: ValueFile, depth: number): boolean {
  if (node.type !== 'ArrowFunctionExpression' && node.type !== 'FunctionDeclaration' && node.type !== 'FunctionExpression') return false
  if (node.params.length !== 1 || node.params[0].type !== 'RestElement') return false
  const last = node.body.type === 'BlockStatement' ? node.body.body.at(-1) : null
  const result = (
    node.body.type === 'BlockStatement' ? (last?.type === 'ReturnStatement' ? last.argument : null) : node.body
  ) as Node | null
  if (result?.type !== 'CallExpression') return false
  return joins(result.callee as Node, file, depth) || isJoinOfList(result)
}

/** Whether a call ends in `.join(' ')`, of a list or of what is left of it by `.filter(Boolean)`. */
export const isJoinOfList = (node: t.CallExpression): boolean =>
  node.callee.type === 'MemberExpression' &&
  node.callee.property.type === 'Identifier' &&
  node.callee.property.name === 'join' &&
  node.arguments[0]?.type === 'StringLiteral' &&
  node.arguments[0].value === ' '
