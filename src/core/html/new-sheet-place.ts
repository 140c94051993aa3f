import { attribute, type HtmlDocument, type HtmlElement } from './document'
import type { Place } from './structure'

const isSheet = ({ node }: HtmlElement): boolean =>
  node.tagName === 'style' || (node.tagName === 'link' && /(^|\s)stylesheet(\s|$)/i.test(attribute(node, 'rel') ?? ''))

/** Where a new `<style>` element goes: after the last sheet in the head, else last in the head; null where the file has neither a sheet nor a tag there. */
export function newSheetPlace(doc: HtmlDocument): Place | null {
  const head = doc.elements.find((e) => e.node.tagName === 'head')
  if (!head) return null
  const last = doc.elements.findLast((e) => e.parent === head && e.startTag !== null && isSheet(e))
  if (last) return { element: last.id, where: 'after' }
  return head.startTag ? { element: head.id, where: 'last' } : null
}
