import { parse } from '@babel/parser'
import type * as t from '@babel/types'
import { STAMP_ATTRIBUTE, stampText, USAGES } from '../html'
import { applySplices, textMark } from '../text'
import { nodesIn, parseJsx, tagNameOf, type Node } from './parse'
import { isBare } from './stamp'

/** What compilers make of a tag in development (React, new JSX transform), by whatever name they import it. */
const MAKES = /^_*(jsxDEV|createElement)\d*$/
const FRAGMENT = /(^|\.)_*Fragment\d*$/
const MAP = /\n\/\/# sourceMappingURL=data:application\/json;(?:charset=[\w-]+;)?base64,([\w+/=]+)\s*$/

/** Notes the tag of a component by the properties that it is called with. */
const USED = '__steadyUsed'
const USED_CODE = `\nfunction ${USED}(element, stamp) { if (element?.props) (globalThis.${USAGES} ??= new WeakMap()).set(element.props, stamp); return element }`

/** The text that a module was compiled from, as its source map has it (ECMA-426 §8, `sourcesContent`); null where it has none, or several. */
function sourceOf(map: string): string | null {
  try {
    const { sourcesContent } = JSON.parse(new TextDecoder().decode(Uint8Array.from(atob(map), (c) => c.charCodeAt(0)))) as {
      sourcesContent?: unknown
    }
    return Array.isArray(sourcesContent) && sourcesContent.length === 1 && typeof sourcesContent[0] === 'string' ? sourcesContent[0] : null
  } catch {
    return null
  }
}

const inOrder = (nodes: readonly Node[]): readonly Node[] => [...nodes].sort((a, b) => a.start - b.start)

/** The names of the tags of a source in order, and '' for a fragment without a name. */
const tagNames = (source: string, path: string): string[] =>
  inOrder(nodesIn(parseJsx(source, path))).flatMap((node) =>
    node.type === 'JSXOpeningElement' ? [tagNameOf(node.name)] : node.type === 'JSXOpeningFragment' ? [''] : [],
  )

const calleeName = ({ callee }: t.CallExpression): string => (callee.type === 'Identifier' ? callee.name : '')

// `Menu.Item`; compilers give some names a number.
function typeName(node: t.Node | undefined): string | null {
  if (node?.type === 'StringLiteral') return node.value
  if (node?.type === 'Identifier') return node.name
  if (node?.type !== 'MemberExpression' || node.computed || node.property.type !== 'Identifier') return null
  const object = typeName(node.object)
  return object === null ? null : `${object}.${node.property.name}`
}

const isOf = (type: t.Node | undefined, name: string): boolean => {
  const made = typeName(type)
  if (made === null) return false
  if (name === '') return FRAGMENT.test(made)
  if (type!.type === 'StringLiteral') return made === name
  return made.replace(/\d+$/, '') === name.replace(/\d+$/, '')
}

/**
 * A module as a development server compiled it from JSX, with the stamps that {@link stampTags} would have given its source:
 * the tags of the one stand in the order of the other. As it is where they do not, or where its source is not in its map.
 * `path` is that of the source. @throws SyntaxError where one cannot be read.
 */
export function stampCompiled(code: string, path: string): string {
  const map = MAP.exec(code)
  const source = map && sourceOf(map[1])
  if (!source) return code
  const calls = inOrder(nodesIn(parse(code, { sourceType: 'module', attachComment: false }).program as Node)).filter(
    (node) => node.type === 'CallExpression' && MAKES.test(calleeName(node)),
  ) as t.CallExpression[]
  const names = tagNames(source, path)
  if (calls.length !== names.length || !calls.every((call, i) => isOf(call.arguments[0], names[i]))) return code
  const mark = textMark(source)
  const inserts: { readonly at: number; readonly text: string }[] = []
  let nth = -1
  for (const [i, call] of calls.entries()) {
    // A fragment without a name is no tag that is counted.
    if (names[i] === '') continue
    nth++
    if (isBare(names[i])) continue
    const stamp = JSON.stringify(stampText({ path, nth, mark }))
    const [type, props] = call.arguments
    if (type.type !== 'StringLiteral') inserts.push({ at: call.start!, text: `${USED}(` }, { at: call.end!, text: `, ${stamp})` })
    else if (props?.type === 'ObjectExpression') {
      const end = props.end! - 1
      const last = props.properties.at(-1)
      const comma = last && !code.slice(last.end!, end).includes(',') ? ', ' : ''
      inserts.push({ at: end, text: `${comma}${JSON.stringify(STAMP_ATTRIBUTE)}: ${stamp}` })
    }
  }
  inserts.push({ at: map.index, text: USED_CODE })
  // Where calls end together, what is of the inner one comes first; it begins later.
  return applySplices(
    code,
    inserts
      .reverse()
      .sort((a, b) => a.at - b.at)
      .map(({ at, text }) => ({ from: at, to: at, insert: text })),
  )
}
