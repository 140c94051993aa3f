import { STAMP_ATTRIBUTE, stampText, type Stamp } from '../core/html'
import { componentPlaceOf, componentsAround, elementsOfPlace } from './component-place'
import { fiberOf, MOST_OWNERS, nameOf, ownerOf, rootOf, usageOf, usageOfElement } from './fibers'
import type { Handles } from './handles'
import type { MadeBy } from './protocol'
import { elementsOfTag, stampOf } from './sources'

/** Of the elements that a tag made, those whose component was used by the same tag as that of one of them; all where that is not known. */
export function sameUsage(element: Element, all: readonly Element[]): readonly Element[] {
  const own = usageOfElement(element)
  return own === null ? all : all.filter((e) => isSame(usageOfElement(e), own))
}

const isSame = (a: Stamp | null, b: Stamp): boolean => a !== null && stampText(a) === stampText(b)

/** Which tag made an element, or the nearest around it that a known tag made, and the components that led there. */
export function madeBy(element: Element, root: Document, handles: Handles): MadeBy | null {
  const own = element.closest(`[${STAMP_ATTRIBUTE}]`)
  const stamp = own && stampOf(own)
  if (!own || !stamp) return madeInOneFile(element, root, handles)
  const all = elementsOfTag(root, stamp)
  const owners: { name: string; node: number | null; usage: Stamp | null }[] = []
  const fiber = fiberOf(own)
  let at = fiber && ownerOf(fiber)
  for (let n = 0; at && n < MOST_OWNERS; n++, at = ownerOf(at)) {
    const name = nameOf(at)
    const shown = rootOf(at)
    const usage = usageOf(at)
    // A component of a library that handed its stamp on is the tag itself.
    if (name !== null && !isSame(usage, stamp)) owners.unshift({ name, node: shown?.isConnected ? handles.handle(shown) : null, usage })
  }
  return {
    stamp,
    node: handles.handle(own),
    tag: own.localName,
    isOwn: own === element,
    index: all.indexOf(own) + 1,
    count: all.length,
    sameUsage: sameUsage(own, all).length,
    owners,
  }
}

// Of a component of one file, which says where its tags stand and not what used it.
function madeInOneFile(element: Element, root: Document, handles: Handles): MadeBy | null {
  let own: Element | null = element
  while (own && !componentPlaceOf(own)) own = own.parentElement
  const place = own && componentPlaceOf(own)
  if (!own || !place) return null
  const all = elementsOfPlace(root, place)
  return {
    stamp: place,
    node: handles.handle(own),
    tag: own.localName,
    isOwn: own === element,
    index: all.indexOf(own) + 1,
    count: all.length,
    sameUsage: all.length,
    owners: componentsAround(own, MOST_OWNERS).map(({ name, shown }) => ({
      name,
      node: shown?.isConnected ? handles.handle(shown) : null,
      usage: null,
    })),
  }
}
