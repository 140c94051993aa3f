import type { Span, Splice } from '../text'
import { childrenOf, parseJsx, type Node } from './parse'
import { attributeText, stringText, templateText } from './quoting'
import { shownText, textSplice } from './text'

/** A literal of a script, or of data, that says a text. */
export interface Literal extends Span {
  readonly is: 'string' | 'template' | 'attribute' | 'text' | 'json'
}

/** Files that texts of a page may come from besides those that have tags. */
export const isDataPath = (path: string): boolean => /\.([cm]?[jt]sx?|json)$/i.test(path)

// What is compared, is a name, or is read as something else than text.
function isNoText(node: Node, around: Node | undefined): boolean {
  switch (around?.type) {
    case 'ImportDeclaration':
    case 'ExportNamedDeclaration':
    case 'ExportAllDeclaration':
    case 'ImportExpression':
    case 'TSLiteralType':
    case 'Directive':
    case 'SwitchCase':
    case 'BinaryExpression':
      return around.type !== 'BinaryExpression' || /^[=!]==?$/.test(around.operator)
    case 'ObjectProperty':
      return around.key === node && !around.computed
    case 'JSXAttribute':
      return around.name.type === 'JSXIdentifier' && /^(class|className|id|key|style|href|src|type|name|role)$/.test(around.name.name)
    default:
      return false
  }
}

/** The literals of a file that say just that text, where it is text for people; none where the file cannot be read. */
export function literalsSaying(text: string, path: string, said: string): Literal[] {
  // A file that has none of its words need not be read.
  const word = said.match(/[\p{L}\p{N}]+/gu)?.sort((a, b) => b.length - a.length)[0]
  if (word !== undefined && !text.includes(word)) return []
  if (/\.json$/i.test(path)) return inJson(text, said)
  let program: Node
  try {
    program = parseJsx(text, path, 'unambiguous')
  } catch (error) {
    if (error instanceof SyntaxError) return []
    throw error
  }
  const found: Literal[] = []
  const visit = (node: Node, around: Node | undefined): void => {
    const span = { from: node.start, to: node.end }
    if (node.type === 'StringLiteral' && node.value === said && !isNoText(node, around))
      found.push({ ...span, is: around?.type === 'JSXAttribute' ? 'attribute' : 'string' })
    else if (node.type === 'TemplateLiteral' && node.expressions.length === 0 && node.quasis[0].value.cooked === said)
      found.push({ ...span, is: 'template' })
    else if (node.type === 'JSXText' && shownText(text.slice(node.start, node.end)) === said) found.push({ ...span, is: 'text' })
    for (const child of childrenOf(node)) visit(child, node)
  }
  visit(program, undefined)
  return found.sort((a, b) => a.from - b.from)
}

function inJson(text: string, said: string): Literal[] {
  return [...text.matchAll(/"(?:\\.|[^"\\])*"/g)].flatMap((m): Literal[] => {
    const isKey = /^\s*:/.test(text.slice(m.index + m[0].length))
    try {
      return !isKey && JSON.parse(m[0]) === said ? [{ from: m.index, to: m.index + m[0].length, is: 'json' }] : []
    } catch {
      return []
    }
  })
}

/** What has a literal say another text; null where it cannot be said there. */
export function literalSplice(source: string, { from, to, is }: Literal, text: string): Splice | null {
  const quote = source[from] as '"' | "'"
  switch (is) {
    case 'json':
      return { from, to, insert: JSON.stringify(text) }
    case 'text':
      return textSplice(source, { from, to }, text)
    case 'template':
      return { from: from + 1, to: to - 1, insert: templateText(text) }
    case 'attribute':
      return { from: from + 1, to: to - 1, insert: attributeText(text, quote) }
    default:
      return { from: from + 1, to: to - 1, insert: stringText(text, quote) }
  }
}
