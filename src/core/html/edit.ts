import { refuse, type EditPlan } from '../css'
import type { Splice } from '../text'
import type { HtmlDocument, SourceElement } from './document'
import { attributeOf, escapeAttribute, type StartTag } from './start-tag'

/** The quote that the file puts around most attribute values of its first start tags. */
function houseQuote(doc: HtmlDocument): '"' | "'" {
  let double = 0
  let single = 0
  for (const e of doc.elements.slice(0, 400)) {
    for (const a of doc.startTag(e)?.attributes ?? []) {
      if (a.quote === '"') double++
      else if (a.quote === "'") single++
    }
  }
  return single > double ? "'" : '"'
}

const bestQuote = (value: string, house: '"' | "'"): '"' | "'" => {
  const other = house === '"' ? "'" : '"'
  return value.includes(house) && !value.includes(other) ? other : house
}

const BARE = /^[^\s"'=<>`]+$/

function tagOf(doc: HtmlDocument, element: SourceElement): StartTag | null {
  return element.startTag ? doc.startTag(element) : null
}

/** Sets an attribute where it is written, or adds it after the last one. Decoded text; escaping is done here. */
export function setAttribute(doc: HtmlDocument, element: SourceElement, name: string, value: string): EditPlan {
  const tag = tagOf(doc, element)
  if (!tag) return refuse('not-found', `<${element.node.tagName}> has no tag in the source: the parser adds it.`)
  if (!/^[^\s"'<>/=\u0000-\u001f\u007f-\u009f]+$/.test(name)) return refuse('bad-name', `“${name}” cannot be the name of an attribute.`)
  if (value.includes('\0')) return refuse('bad-value', 'An attribute cannot hold a NUL character.')
  const there = attributeOf(tag, name)
  const splice = (s: Splice): EditPlan => ({ ok: true, splices: [s] })
  if (!there) {
    const quote = bestQuote(value, houseQuote(doc))
    return splice({ from: tag.close, to: tag.close, insert: ` ${name}=${quote}${escapeAttribute(value, quote)}${quote}` })
  }
  if (there.value === null) {
    const quote = bestQuote(value, houseQuote(doc))
    return splice({ from: there.span.to, to: there.span.to, insert: `=${quote}${escapeAttribute(value, quote)}${quote}` })
  }
  const { from, to } = there.value
  if (there.quote) return splice({ from, to, insert: escapeAttribute(value, there.quote) })
  // Unquoted stays unquoted while the value allows it; a slash before `>` would be read into the value.
  if (BARE.test(value) && !value.endsWith('/')) return splice({ from, to, insert: value.replace(/&(?=#|[a-z])/gi, '&amp;') })
  const quote = bestQuote(value, houseQuote(doc))
  return splice({ from, to, insert: `${quote}${escapeAttribute(value, quote)}${quote}` })
}

/** Takes an attribute out, with one white space before it; every duplicate of it too, so that none comes to count. */
export function removeAttribute(doc: HtmlDocument, element: SourceElement, name: string): EditPlan {
  const tag = tagOf(doc, element)
  if (!tag) return refuse('not-found', `<${element.node.tagName}> has no tag in the source: the parser adds it.`)
  const all = tag.attributes.filter((a) => a.name.toLowerCase() === name.toLowerCase())
  if (all.length === 0) return refuse('not-found', `The element has no attribute ${name}.`)
  const splices = all.map(({ span }) => {
    let from = span.from
    while (/\s/.test(doc.text[from - 1])) from--
    // Two attributes written without space between them: nothing to take.
    return { from, to: span.to, insert: '' }
  })
  return { ok: true, splices }
}
