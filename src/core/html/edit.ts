import { parseFragment } from 'parse5'
import { refuse, type EditPlan } from '../css'
import { lineEndOf, type Splice } from '../text'
import { classesOf, type HtmlDocument, type HtmlElement } from './document'
import { isBooleanAttribute } from './attribute-names'
import { escapeAttribute, escapeText } from './escape'
import { attributeOf, type StartTag } from './start-tag'

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

function tagOf(doc: HtmlDocument, element: HtmlElement): StartTag | null {
  return element.startTag ? doc.startTag(element) : null
}

/** Line ends as the file has them; the parser reads every kind as one LF (HTML §13.2.3.5). */
const inLineEnds = (doc: HtmlDocument, text: string): string => (text.includes('\n') ? text.replace(/\r?\n/g, lineEndOf(doc.text)) : text)

/** HTML §13.1.2.3. */
const isAttributeName = (name: string): boolean => /^[^\s"'<>/=\u0000-\u001f\u007f-\u009f]+$/.test(name)

/** Sets an attribute where it is written, or adds it after the last one. Decoded text; escaping is done here. */
export function setAttribute(doc: HtmlDocument, element: HtmlElement, name: string, value: string): EditPlan {
  const tag = tagOf(doc, element)
  if (!tag) return refuse('not-found', `<${element.node.tagName}> has no tag in the source: the parser adds it.`)
  if (!isAttributeName(name)) return refuse('bad-name', `“${name}” cannot be the name of an attribute.`)
  if (value.includes('\0')) return refuse('bad-value', 'An attribute cannot hold a NUL character.')
  const there = attributeOf(tag, name)
  const splice = (s: Splice): EditPlan => ({ ok: true, splices: [{ ...s, insert: inLineEnds(doc, s.insert) }] })
  if (!there) {
    if (value === '' && isBooleanAttribute(name)) return splice({ from: tag.close, to: tag.close, insert: ` ${name}` })
    const quote = bestQuote(value, houseQuote(doc))
    return splice({
      from: tag.close,
      to: tag.close,
      insert: ` ${name}=${quote}${escapeAttribute(value, quote)}${quote}`,
    })
  }
  if (there.value === null) {
    const quote = bestQuote(value, houseQuote(doc))
    return splice({
      from: there.span.to,
      to: there.span.to,
      insert: `=${quote}${escapeAttribute(value, quote)}${quote}`,
    })
  }
  const { from, to } = there.value
  if (there.quote) return splice({ from, to, insert: escapeAttribute(value, there.quote) })
  // Unquoted stays unquoted while the value allows it; a slash before `>` would be read into the value.
  if (BARE.test(value) && !value.endsWith('/')) return splice({ from, to, insert: value.replace(/&(?=#|[a-z])/gi, '&amp;') })
  const quote = bestQuote(value, houseQuote(doc))
  return splice({ from, to, insert: `${quote}${escapeAttribute(value, quote)}${quote}` })
}

/** Gives an attribute another name, where it stands. */
export function renameAttribute(doc: HtmlDocument, element: HtmlElement, name: string, to: string): EditPlan {
  const tag = tagOf(doc, element)
  if (!tag) return refuse('not-found', `<${element.node.tagName}> has no tag in the source: the parser adds it.`)
  if (!isAttributeName(to)) return refuse('bad-name', `“${to}” cannot be the name of an attribute.`)
  const all = tag.attributes.filter((a) => a.name.toLowerCase() === name.toLowerCase())
  if (all.length === 0) return refuse('not-found', `The element has no attribute ${name}.`)
  if (all.length > 1) return refuse('not-allowed', `The tag says ${name} twice. Remove it first.`)
  if (attributeOf(tag, to) && to.toLowerCase() !== name.toLowerCase())
    return refuse('bad-name', `The element has an attribute ${to} already.`)
  const { from } = all[0].span
  return { ok: true, splices: [{ from, to: from + all[0].name.length, insert: to }] }
}

/** Takes an attribute out, with one white space before it; every duplicate of it too, so that none comes to count. */
export function removeAttribute(doc: HtmlDocument, element: HtmlElement, name: string): EditPlan {
  const tag = tagOf(doc, element)
  if (!tag) return refuse('not-found', `<${element.node.tagName}> has no tag in the source: the parser adds it.`)
  const all = tag.attributes.filter((a) => a.name.toLowerCase() === name.toLowerCase())
  if (all.length === 0) return refuse('not-found', `The element has no attribute ${name}.`)
  const splices = all.map(({ span }) => {
    let from = span.from
    while (/\s/.test(doc.text[from - 1])) from--
    // What follows without space between is not to be read into what stands before.
    if (!/[\s/>]/.test(doc.text[span.to])) from = Math.min(span.from, from + 1)
    return { from, to: span.to, insert: '' }
  })
  return { ok: true, splices }
}

/** Elements whose text is read to their end tag, without tags in it (HTML §13.1.2.1). */
const RAW_TEXT = new Set(['script', 'style'])
const ESCAPABLE_TEXT = new Set(['textarea', 'title'])
const NO_TEXT = new Set(['iframe', 'noembed', 'noframes', 'xmp', 'plaintext', 'noscript'])

/** Writes other text for the `index`-th text node of an element; markup beside it stays. */
export function setText(doc: HtmlDocument, element: HtmlElement, index: number, text: string): EditPlan {
  const { node } = element
  const texts = node.childNodes.filter((c) => c.nodeName === '#text')
  const location = texts[index]?.sourceCodeLocation
  if (!location) return refuse('not-found', `<${node.tagName}> has no text there.`)
  if (node.tagName in { pre: 1, listing: 1, textarea: 1 } && /^\n/.test(text))
    return refuse('bad-value', `A line end at the start of <${node.tagName}> is dropped by the parser.`)
  if (NO_TEXT.has(node.tagName)) return refuse('bad-value', `The text of <${node.tagName}> is not plain text.`)
  if (text.includes('\0') || /\r/.test(text)) return refuse('bad-value', 'Text cannot hold a NUL or carriage return character.')
  if (RAW_TEXT.has(node.tagName) && /<\/|<!--/.test(text))
    return refuse('bad-value', `The text of <${node.tagName}> cannot hold an end tag.`)
  // White space after `</body>` is read into the body's last text: its span then holds tags.
  const written = doc.text.slice(location.startOffset, location.endOffset)
  if (!RAW_TEXT.has(node.tagName) && !ESCAPABLE_TEXT.has(node.tagName) && /<[a-z/!?]/i.test(written))
    return refuse('unparsable', 'The text is in several pieces, with tags between them.')
  const escape = (t: string) =>
    inLineEnds(
      doc,
      RAW_TEXT.has(node.tagName)
        ? t
        : ESCAPABLE_TEXT.has(node.tagName)
          ? t.replace(/&(?=#|[a-z])/gi, '&amp;').replace(/<(?=\/)/g, '&lt;')
          : escapeText(t),
    )
  const write = (part: Splice): EditPlan =>
    readsAs(
      doc,
      [
        {
          ...part,
          from: part.from + location.startOffset,
          to: part.to + location.startOffset,
          insert: escape(part.insert),
        },
      ],
      (after) => {
        const again = after.has(element.id) ? after.element(element.id).node : null
        const now = again?.childNodes.filter((c) => c.nodeName === '#text')[index]
        return now !== undefined && 'value' in now && now.value === text
      },
      element.id,
    )
  const now = 'value' in texts[index] ? texts[index].value : ''
  const part = RAW_TEXT.has(node.tagName) ? null : changedPart(written, now, text)
  const small = part && write(part)
  return small?.ok ? small : write({ from: 0, to: written.length, insert: text })
}

/** The part of a text's source that differs from `to`, so that references and line ends elsewhere stay as written; null where it cannot be determined. */
function changedPart(written: string, from: string, to: string): Splice | null {
  const pieces = (written.match(/&(?:#x?[\da-f]+|[a-z][a-z\d]*);?|\r\n|[\ud800-\udbff][\udc00-\udfff]|[^]/gi) ?? []).map((source) => ({
    source,
    read: source.startsWith('&') && source.length > 1 ? decodeReferences(source) : source === '\r\n' ? '\n' : source,
  }))
  if (pieces.map((p) => p.read).join('') !== from) return null
  let head = 0
  let first = 0
  while (first < pieces.length && to.startsWith(pieces[first].read, head)) head += pieces[first++].read.length
  let tail = to.length
  let last = pieces.length
  while (last > first && tail - pieces[last - 1].read.length >= head && to.endsWith(pieces[last - 1].read, tail))
    tail -= pieces[--last].read.length
  const length = (list: typeof pieces) => list.reduce((n, p) => n + p.source.length, 0)
  const start = length(pieces.slice(0, first))
  return { from: start, to: start + length(pieces.slice(first, last)), insert: to.slice(head, tail) }
}

/** Writes another tag name, in both tags where the source has both; attributes and content stay. */
export function setTagName(doc: HtmlDocument, element: HtmlElement, name: string): EditPlan {
  const tag = tagOf(doc, element)
  if (!tag || !element.startTag) return refuse('not-found', `<${element.node.tagName}> has no tag in the source: the parser adds it.`)
  if (!/^[a-z][a-z0-9-]*$/i.test(name)) return refuse('bad-name', `“${name}” cannot be the name of an element.`)
  if (element.node.namespaceURI !== 'http://www.w3.org/1999/xhtml')
    return refuse('not-allowed', `<${element.node.tagName}> is not an element of HTML.`)
  const splices: Splice[] = [{ from: element.startTag.from + 1, to: tag.nameEnd, insert: name }]
  if (element.endTag) splices.push({ from: element.endTag.from + 2, to: element.endTag.from + 2 + tag.name.length, insert: name })
  return readsAs(doc, splices, (after) => after.has(element.id) && after.element(element.id).node.tagName === name.toLowerCase())
}

// Text can end up outside an element though all elements stay: an end tag within closes another than before.
function sameChildren(a: HtmlElement, b: HtmlElement, otherText: boolean): boolean {
  const [of, now] = [a.node.childNodes, b.node.childNodes]
  return (
    of.length === now.length &&
    of.every((c, i) => {
      const d = now[i]
      if ('tagName' in c) return 'tagName' in d
      return c.nodeName === d.nodeName && (otherText || !('value' in c) || ('value' in d && c.value === d.value))
    })
  )
}

/** A plan that is only made when the document reads as before with it: the same nodes, save the text of `textOf` and what `expected` tells. */
function readsAs(
  doc: HtmlDocument,
  splices: readonly Splice[],
  expected: (after: HtmlDocument) => boolean,
  textOf: number | null = null,
): EditPlan {
  const after = doc.copy()
  after.apply(splices)
  const same =
    after.elements.length === doc.elements.length &&
    after.elements.every(
      (e, i) =>
        e.id === doc.elements[i].id && e.parent?.id === doc.elements[i].parent?.id && sameChildren(e, doc.elements[i], e.id === textOf),
    )
  if (!same || !expected(after)) return refuse('unparsable', 'The HTML parser would build another tree from it.')
  return { ok: true, splices }
}

const decodeReferences = (text: string): string => {
  const [node] = parseFragment(text).childNodes
  return node && 'value' in node ? node.value : text
}

/** Splices that put `to` in place of class `from` in every class list of the document; the rest of each list stays. */
export function renameInClassLists(doc: HtmlDocument, from: string, to: string): Splice[] {
  const out: Splice[] = []
  for (const element of doc.elements) {
    const list = tagOf(doc, element)
    const site = list && attributeOf(list, 'class')
    if (!site?.value || !classesOf(element.node).includes(from)) continue
    const raw = doc.text.slice(site.value.from, site.value.to)
    for (const m of raw.matchAll(/[^ \t\n\r\f]+/g)) {
      // A name spelled with character references is another text that reads the same.
      if (m[0] !== from && decodeReferences(m[0]) !== from) continue
      out.push({
        from: site.value.from + m.index,
        to: site.value.from + m.index + m[0].length,
        insert: escapeAttribute(to, site.quote),
      })
    }
  }
  return out
}
