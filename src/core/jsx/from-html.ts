import { parseFragment, type DefaultTreeAdapterTypes } from 'parse5'
import { refuse, type Refused } from '../css'
import { isBooleanAttribute, isPhrasing } from '../html'
import type { JsxDocument } from './document'
import { jsxStyle } from './house-style'
import { inJsx, isNumeric } from './names'
import { childrenOf, parseJsx, type Node } from './parse'
import { attributeText } from './quoting'
import { styleText } from './style-object'
import { escaped } from './text'

/** More than that is no piece of a component. UTF-16 units. */
const MOST = 500_000

const VOID = /^(area|base|br|col|embed|hr|img|input|link|meta|source|track|wbr)$/

/** What is to be inserted, as JSX; a refusal where that cannot be said. `nodes` are its own nodes in a text of its own. */
export function fromHtml(
  doc: JsxDocument,
  given: string,
): { readonly code: string; readonly nodes: readonly Node[]; readonly isBlock: boolean } | Refused {
  const text = given.trim().replace(/\r\n?/g, '\n')
  if (text === '') return refuse('bad-value', 'There is nothing to insert.')
  if (text.length > MOST)
    return refuse(
      'bad-value',
      `That is ${(text.length / 1e6).toFixed(1)} million characters; no more than half a million are inserted at once.`,
    )
  const own = /\sclass=|\sfor=|<!--|\son[a-z]+=["']|\sstyle=["']/.test(text) ? null : parsed(text, doc.path)
  if (own) return { code: text, nodes: own, isBlock: isBlockIn(own, text) }
  let code: string
  try {
    code = written(parseFragment(text).childNodes, doc)
  } catch (error) {
    if (error instanceof RangeError) return refuse('not-allowed', error.message)
    throw error
  }
  const nodes = parsed(code, doc.path)
  return nodes ? { code, nodes, isBlock: isBlockIn(nodes, code) } : refuse('not-allowed', 'It cannot be said in JSX.')
}

function parsed(code: string, path: string): Node[] | null {
  try {
    const found: Node[] = []
    const visit = (node: Node): void => {
      if (node.type === 'JSXFragment' && found.length === 0) found.push(...(node.children as Node[]))
      else for (const child of childrenOf(node)) visit(child)
    }
    visit(parseJsx(`(<>${code}</>)`, path))
    return found.length ? found : null
  } catch {
    return null
  }
}

const isBlockIn = (nodes: readonly Node[], code: string): boolean =>
  code.includes('\n') ||
  nodes.some((n) => {
    const name = n.type === 'JSXElement' ? n.openingElement.name : null
    return name?.type === 'JSXIdentifier' && (!/^[a-z]/.test(name.name) || !isPhrasing(name.name))
  })

// A tree of HTML in JSX's words, laid out as it was. @throws RangeError for what has none there.
function written(nodes: readonly DefaultTreeAdapterTypes.ChildNode[], doc: JsxDocument): string {
  const { attributeQuote: q, stringQuote } = jsxStyle(doc)
  return nodes
    .map((node): string => {
      if (node.nodeName === '#text') return escaped((node as DefaultTreeAdapterTypes.TextNode).value)
      if (node.nodeName === '#comment') return `{/*${(node as DefaultTreeAdapterTypes.CommentNode).data.replaceAll('*/', '* /')}*/}`
      if (!('tagName' in node)) return ''
      const attributes = node.attrs.map(({ name, value }) => {
        if (/^on/.test(name)) throw new RangeError(`${name} is a function in JSX. Take it out, and add it in Source.`)
        if (name === 'style') return ` style={{ ${stylesOf(value, stringQuote).join(', ')} }}`
        const called = inJsx(name)
        if (value === '' && isBooleanAttribute(name)) return ` ${called}`
        if (isNumeric(called) && /^-?\d+$/.test(value)) return ` ${called}={${value}}`
        return ` ${called}=${q}${attributeText(value, q)}${q}`
      })
      const open = `<${node.tagName}${attributes.join('')}`
      if (VOID.test(node.tagName)) return `${open} />`
      return `${open}>${written(node.childNodes, doc)}</${node.tagName}>`
    })
    .join('')
}

const stylesOf = (text: string, quote: '"' | "'"): string[] =>
  [...text.matchAll(/\s*([\w-]+)\s*:\s*((?:[^;"'(]|"[^"]*"|'[^']*'|\([^)]*\))+)/g)].map(([, property, value]) =>
    styleText(property, value.trim(), quote, false),
  )
