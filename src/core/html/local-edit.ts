import { parseFragment, type DefaultTreeAdapterTypes } from 'parse5'
import type { Splices } from '../text'
import { readStartTag } from './start-tag'

type P5Node = DefaultTreeAdapterTypes.Node
type P5Element = DefaultTreeAdapterTypes.Element
type P5Text = DefaultTreeAdapterTypes.TextNode

/** Text that no parser state but those of text and character references can turn into something else (HTML §13.2.5.1). */
const PLAIN = /^[^<\0\r]*$/

/** Elements whose text may change without the tree around it changing: text in a table or before the body moves. */
const HOLDS_TEXT = new Set([
  'p',
  'span',
  'a',
  'b',
  'i',
  'em',
  'strong',
  'small',
  'h1',
  'h2',
  'h3',
  'h4',
  'h5',
  'h6',
  'li',
  'dt',
  'dd',
  'td',
  'th',
  'caption',
  'figcaption',
  'label',
  'legend',
  'summary',
  'button',
  'div',
  'section',
  'article',
  'aside',
  'nav',
  'header',
  'footer',
  'main',
  'address',
  'blockquote',
  'cite',
  'code',
  'time',
  'title',
  'style',
  'script',
  'textarea',
  'option',
])

const RAW = new Set(['style', 'script'])

/**
 * The attributes of a start tag after an edit between its name and its `>`; null when the tag would be read as another
 * or end elsewhere, so that the document has to be read again.
 */
export function attributesAfter(before: string, after: string): P5Element['attrs'] | null {
  const [old, now] = [before, after].map((text) => readStartTag(text, 0, text.length))
  if (old.name !== now.name || old.selfClosing !== now.selfClosing) return null
  // Any element has its attributes read alike; this one has no context of its own to need.
  const fragment = parseFragment(`<i${after.slice(now.nameEnd)}`, { sourceCodeLocationInfo: true })
  const [element, more] = fragment.childNodes
  if (more || !element || !('attrs' in element) || element.tagName !== 'i') return null
  const end = element.sourceCodeLocation?.startTag?.endOffset ?? element.sourceCodeLocation?.endOffset
  return end === after.length - now.nameEnd + 2 ? element.attrs : null
}

export const sameAttributes = (a: P5Element['attrs'] | null, b: P5Element['attrs']): boolean =>
  a !== null && a.length === b.length && a.every((x, i) => x.name === b[i].name && x.value === b[i].value)

/** Whether a change of these attributes can put the element elsewhere in the tree (HTML §13.2.6.4.9 and §13.2.6.5). */
export function decidesTree(node: P5Element, after: P5Element['attrs']): boolean {
  const type = (attrs: P5Element['attrs']) => attrs.find((a) => a.name === 'type')?.value.toLowerCase() ?? ''
  return node.tagName === 'font' || (node.tagName === 'input' && type(node.attrs) !== type(after))
}

/** Whether a text node of `parent` may change from `before` to `after` with nothing else in the tree changing. */
export function textMayChange(parent: P5Element, before: string, after: string): boolean {
  if (!HOLDS_TEXT.has(parent.tagName) || before === '' || after === '') return false
  if (RAW.has(parent.tagName)) return !/[<\0\r]/.test(after) && !/[<\0\r]/.test(before)
  return PLAIN.test(before) && PLAIN.test(after) && !(parent.tagName === 'textarea' && /^\n/.test(after))
}

/** What the parser reads a text of `parent` as, one that {@link textMayChange} allows: character references are the characters they stand for. */
export function readText(parent: P5Element, text: string): string {
  if (RAW.has(parent.tagName) || !text.includes('&')) return text
  const [node] = parseFragment(text).childNodes
  return node && 'value' in node ? node.value : text
}

/** Moves every location in the tree that begins at or past `at` by `by`; those that contain `at`, or end there, grow. */
export function shiftLocations(root: P5Node, at: number, by: number): void {
  const stack: P5Node[] = [root]
  // Copies that the parser makes of an element share its location.
  const moved = new Set<object>()
  const shift = (l: { startOffset: number; endOffset: number }) => {
    if (moved.has(l)) return
    moved.add(l)
    if (l.startOffset >= at) l.startOffset += by
    if (l.endOffset >= at) l.endOffset += by
  }
  while (stack.length) {
    const node = stack.pop()!
    const location = node.sourceCodeLocation
    if (location) {
      shift(location)
      if ('startTag' in location && location.startTag) shift(location.startTag)
      if ('endTag' in location && location.endTag) shift(location.endTag)
    }
    if ('content' in node) stack.push((node as DefaultTreeAdapterTypes.Template).content)
    if ('childNodes' in node) stack.push(...(node.childNodes as P5Node[]))
  }
}

/** The text node that the splices all lie in; null when they touch anything else. */
export function textAround(parent: P5Element, splices: Splices): P5Text | null {
  const found = parent.childNodes.find(
    (c) =>
      c.sourceCodeLocation &&
      c.nodeName === '#text' &&
      splices.every((s) => s.from >= c.sourceCodeLocation!.startOffset && s.to <= c.sourceCodeLocation!.endOffset),
  )
  return (found as P5Text | undefined) ?? null
}
