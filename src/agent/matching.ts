import { classesAsked } from '../core/css'

/** So many elements at most are looked at one by one; among more, the engine finds those that match sooner by itself. */
const FEW = 100

// The elements with the rarest of some classes, where these are few. The engine keeps such lists until the page changes,
// and the rules of a picked element ask for its own classes and those around it over and over.
function fewWith(doc: Document, classes: readonly string[]): Element[] | null {
  let rarest: HTMLCollectionOf<Element> | null = null
  for (const name of classes) {
    const found = doc.getElementsByClassName(name)
    if (!rarest || found.length < rarest.length) rarest = found
  }
  return rarest && rarest.length <= FEW ? [...rarest] : null
}

function matchingFew(doc: Document, selector: string): Element[] | null {
  // A list is about other subjects than its last, and asked of an element `:scope` is that element (Selectors 4 §8.4).
  if (/,|:scope/.test(selector)) return null
  const { own, around } = classesAsked(selector)
  const few = fewWith(doc, own)
  if (few) return few.filter((e) => e.matches(selector))
  const outer = fewWith(doc, around)
  return outer && [...new Set(outer.flatMap((e) => [...e.querySelectorAll(selector)]))]
}

/** All elements of a document that a selector matches, in its order. @throws SyntaxError (a DOMException) when the engine does not know the selector, unless nothing has its classes. */
export const allMatching = (doc: Document, selector: string): ArrayLike<Element> =>
  matchingFew(doc, selector) ?? doc.querySelectorAll(selector)

/** Whether a selector that matches `element` matches no other of its document. */
export function matchesAlone(element: Element, selector: string): boolean {
  const doc = element.ownerDocument
  const few = matchingFew(doc, selector)
  if (few) return few.length === 1
  // Most selectors match another first, which is found soon.
  return doc.querySelector(selector) === element && doc.querySelectorAll(selector).length === 1
}
