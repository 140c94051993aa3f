import { ID_ATTRIBUTE, readStamp, STAMP_ATTRIBUTE, stampText, type Stamp } from '../core/html'
import { usageOfElement } from './fibers'
import { documentsOf } from './documents'

/** Sources of elements that a tag of a component made, by that tag; known once the interface has found it in its file. */
const byTag = new Map<string, string>()
const tags = new Map<string, Stamp>()

const tagName = ({ nth, path }: Stamp): string => `${nth} ${path}`

const isSameTag = (a: Stamp | null, b: Stamp): boolean => a !== null && tagName(a) === tagName(b)

/** Sources that are tags of components which were used: the elements of a tag that these led to. */
const usages = new Map<string, { readonly tag: Stamp; readonly usage: Stamp }>()

/** Takes note of the source of the elements that a tag made, or of those that one use of its component led to; what another tag had it is forgotten. */
export function adopt(source: string, stamp: Stamp, usage: Stamp | null): void {
  if (usage) {
    usages.set(source, { tag: stamp, usage })
    return
  }
  const before = tags.get(source)
  if (before) byTag.delete(tagName(before))
  const other = byTag.get(tagName(stamp))
  if (other !== undefined) tags.delete(other)
  tags.set(source, stamp)
  byTag.set(tagName(stamp), source)
}

/** The stamp of the tag that made an element; null where none did, or it is not known. */
export function stampOf(element: Element): Stamp | null {
  const text = element.getAttribute(STAMP_ATTRIBUTE)
  return text === null ? null : readStamp(text)
}

/** The source of an element: what its page was published with, or that of the tag that made it. */
export function sourceOf(element: Element): string | null {
  const own = element.getAttribute(ID_ATTRIBUTE)
  if (own !== null || byTag.size === 0) return own
  const stamp = stampOf(element)
  return stamp && (byTag.get(tagName(stamp)) ?? null)
}

/** The elements that a tag made. Its file may be another by now; then those of the tag in its place. */
export function elementsOfTag(root: Document, stamp: Stamp): Element[] {
  const find = (selector: string) => documentsOf(root).flatMap((doc) => [...doc.querySelectorAll(selector)])
  const own = find(`[${STAMP_ATTRIBUTE}="${CSS.escape(stampText(stamp))}"]`)
  return own.length ? own : find(`[${STAMP_ATTRIBUTE}^="${stamp.nth} "]`).filter((e) => stampOf(e)?.path === stamp.path)
}

/** All live elements with this source: a tag may make several, and scripts may have cloned them. */
export function elementsOf(root: Document, source: string): Element[] {
  const used = usages.get(source)
  if (used) return elementsOfTag(root, used.tag).filter((e) => isSameTag(usageOfElement(e), used.usage))
  const stamp = tags.get(source)
  return stamp ? elementsOfTag(root, stamp) : documentsOf(root).flatMap((doc) => [...doc.querySelectorAll(bySource(source))])
}

/** Whether it is of a component, whose attributes the page may have worked out. */
export const isOfComponent = (source: string): boolean => tags.has(source) || usages.has(source)

const bySource = (source: string): string => `[${ID_ATTRIBUTE}="${CSS.escape(source)}"]`

/** Which of the elements with this source one is: the first, unless a tag made several or a script made copies. */
export const placeAmongCopies = (root: Document, source: string, element: Element): number =>
  !tags.has(source) && root.querySelector(bySource(source)) === element ? 0 : elementsOf(root, source).indexOf(element)

/**
 * Ends once an element of the page was made of a text with that mark of a file; false where the page shows none of that
 * file, or has not made one within `patience` ms.
 */
export function whenMade(root: Document, path: string, mark: string, patience: number): Promise<boolean> {
  const ofFile = () => documentsOf(root).flatMap((doc) => [...doc.querySelectorAll(`[${STAMP_ATTRIBUTE}$=" ${CSS.escape(path)}"]`)])
  const isMade = () => ofFile().some((e) => stampOf(e)?.mark === mark)
  if (isMade() || ofFile().length === 0) return Promise.resolve(isMade())
  return new Promise((done) => {
    const watch = new MutationObserver(() => isMade() && end(true))
    const end = (is: boolean) => {
      clearTimeout(late)
      watch.disconnect()
      done(is)
    }
    const late = setTimeout(() => end(false), patience)
    for (const doc of documentsOf(root))
      watch.observe(doc, { subtree: true, childList: true, attributes: true, attributeFilter: [STAMP_ATTRIBUTE] })
  })
}
