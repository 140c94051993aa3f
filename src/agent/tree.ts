import { ID_ATTRIBUTE } from '../core/html'
import { componentsFrom } from './fibers'
import { isOurs } from './own-script'
import type { Handles } from './handles'
import type { NodeHandle, TreeRow } from './protocol'

/** More rows than that say nothing more; what is left out is not found either. */
const MOST = 20_000
const TEXT = 60
/** How long the page has to be at rest before its tree is sent again; ms. */
const REST = 250

function ownText(e: Element): string {
  let text = ''
  for (const n of e.childNodes) {
    if (n.nodeType === Node.TEXT_NODE) text += n.nodeValue
    if (text.length > 4 * TEXT) break
  }
  const flat = text.trim().replace(/\s+/g, ' ')
  return flat.length > TEXT ? `${flat.slice(0, TEXT - 1)}…` : flat
}

/** All elements of a document in order, each with how deep it stands. */
export function treeOf(root: Document, handles: Handles): TreeRow[] {
  const out: TreeRow[] = []
  const visit = (e: Element, depth: number, hidden: boolean): void => {
    if (out.length >= MOST || isOurs(e)) return
    const { display, visibility } = getComputedStyle(e)
    // What stands in an element that has no box has none either.
    const gone = hidden || display === 'none'
    out.push({
      info: handles.info(e),
      component: componentsFrom(e),
      depth,
      text: /^(script|style)$/.test(e.localName) ? '' : ownText(e),
      layout: /flex/.test(display) ? 'flex' : /grid/.test(display) ? 'grid' : '',
      hidden: gone || visibility !== 'visible',
    })
    for (const child of e.children) visit(child, depth + 1, gone)
  }
  if (root.documentElement) visit(root.documentElement, 0, false)
  return out
}

/** Elements that a selector matches; where the text is none, those whose own text or an attribute holds it. In document order. */
export function findIn(root: Document, query: string, handles: Handles): NodeHandle[] {
  const wanted = query.trim().toLowerCase()
  if (wanted === '') return []
  let matched: Set<Element>
  try {
    matched = new Set(root.querySelectorAll(query))
  } catch {
    matched = new Set()
  }
  const holds = (e: Element) =>
    ownText(e).toLowerCase().includes(wanted) ||
    [...e.attributes].some((a) => a.name !== ID_ATTRIBUTE && `${a.name}="${a.value}"`.toLowerCase().includes(wanted))
  return [...root.querySelectorAll('*')]
    .filter((e) => !isOurs(e) && (matched.has(e) || holds(e)))
    .slice(0, MOST)
    .map((e) => handles.handle(e))
}

/** Tells when the tree has become another, once it rests; gives what ends that. */
export function watchTree(root: Document, tell: () => void): () => void {
  let timer: ReturnType<typeof setTimeout> | undefined
  const observer = new MutationObserver(() => {
    clearTimeout(timer)
    timer = setTimeout(tell, REST)
  })
  observer.observe(root, {
    childList: true,
    characterData: true,
    subtree: true,
    attributes: true,
    attributeFilter: ['class', 'id', 'hidden', 'style', 'open'],
  })
  return () => {
    clearTimeout(timer)
    observer.disconnect()
  }
}
