import type { HtmlDocument } from './document'
import { ID_ATTRIBUTE } from './publish-id'

/** Where in the text the agent's script goes so that it runs before any other: the start of the head. */
function scriptOffset(doc: HtmlDocument): number {
  const head = doc.elements.find((e) => e.node.tagName === 'head' && e.startTag)
  if (head) return head.startTag!.to
  const html = doc.elements.find((e) => e.node.tagName === 'html' && e.startTag)
  if (html) return html.startTag!.to
  const doctype = doc.root.childNodes.find((n) => n.nodeName === '#documentType')
  return doctype?.sourceCodeLocation?.endOffset ?? 0
}

/**
 * The document as it is served to the live page: the source with an id on each start tag and the agent's script.
 * No computed value can tell it from the source, save through selectors that name the attribute.
 */
export function publishHtml(doc: HtmlDocument, fileKey: number, script: string): string {
  const marks: { at: number; text: string }[] = [{ at: scriptOffset(doc), text: script }]
  for (const e of doc.elements) {
    if (!e.startTag) continue
    const tag = doc.startTag(e)!
    // Location of an element that the parser moved or made from an end tag is no start tag.
    if (doc.text[e.startTag.from] !== '<' || tag.name.toLowerCase() !== e.node.tagName.toLowerCase()) continue
    marks.push({ at: tag.nameEnd, text: ` ${ID_ATTRIBUTE}="${fileKey}.${e.id}"` })
  }
  marks.sort((a, b) => a.at - b.at)
  let out = ''
  let at = 0
  for (const mark of marks) {
    out += doc.text.slice(at, mark.at) + mark.text
    at = mark.at
  }
  return out + doc.text.slice(at)
}
