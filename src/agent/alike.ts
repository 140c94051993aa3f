import { classesAsked } from '../core/css'
import { placeNames, type Ancestor } from '../core/html'
import { documentsOf } from './documents'
import { writtenClasses } from './module-names'
import { matchesAlone } from './matching'

/** Who is an element's like. */
export interface Kinship {
  /** Whether another is: the element itself, one that shares a class with it, or one that plays its part in a like place. */
  readonly includes: (e: Element) => boolean
  /** Whether all that a selector matches are, since it asks for a class of the element's own. */
  readonly isAskedFor: (selector: string) => boolean
}

/** Who is the like of the picked element. Asked of thousands, so what is its own is read once. */
export function kinOf(picked: Element): Kinship {
  const own = [...picked.classList]
  if (own.length)
    return {
      includes: (e) => e === picked || own.some((name) => e.classList.contains(name)),
      isAskedFor: (selector) => classesAsked(selector).own.some((name) => own.includes(name)),
    }
  // Without a class of its own, an element's like are those with its tag in the same kind of place.
  const mine = new Set(placeNames(ancestorsOf(picked)))
  const known = new Map<Element | null, boolean>()
  const includes = (e: Element): boolean => {
    if (e === picked) return true
    if (e.localName !== picked.localName) return false
    let isLike = known.get(e.parentElement)
    if (isLike === undefined) known.set(e.parentElement, (isLike = placeNames(ancestorsOf(e)).some((name) => mine.has(name))))
    return isLike
  }
  return { includes, isAskedFor: () => false }
}

function* ancestorsOf(e: Element): Generator<Ancestor> {
  for (let a = e.parentElement; a; a = a.parentElement) yield { tag: a.localName, classes: writtenClasses(a) }
}

const ROUND: (list: DOMTokenList) => string = (list) => [...list].sort().join(' ')

// The way down from the root by tags and classes, without numbers: `ul.fares > li.fare`.
const placeOf = (element: Element): string => {
  const parent = element.parentElement
  return `${parent ? `${parent.localName}.${ROUND(parent.classList)} > ` : ''}${element.localName}`
}

/** Elements of the same document with the same class list, or with the same tag in a parent of the same kind. */
export function likeElements(element: Element, how: 'classes' | 'place'): Element[] {
  const all = [...element.ownerDocument.querySelectorAll(element.localName)]
  if (how === 'place') return all.filter((e) => placeOf(e) === placeOf(element))
  const own = ROUND(element.classList)
  return [...element.ownerDocument.querySelectorAll('*')].filter(
    (e) =>
      e.classList.length === element.classList.length && ROUND(e.classList) === own && (own !== '' || e.localName === element.localName),
  )
}

/** The elements that stand wholly in a rectangle of the root viewport, those in one that is found left out. */
export function outermostWithin(root: Document, box: { x: number; y: number; width: number; height: number }): Element[] {
  const out: Element[] = []
  for (const doc of documentsOf(root)) {
    if (doc !== root) continue
    const stack: Element[] = doc.body ? [doc.body] : []
    while (stack.length) {
      const element = stack.pop()!
      const r = element.getBoundingClientRect()
      const inside =
        r.width > 0 && r.height > 0 && r.left >= box.x && r.top >= box.y && r.right <= box.x + box.width && r.bottom <= box.y + box.height
      if (inside && element !== doc.body) out.push(element)
      else stack.push(...[...element.children].reverse())
    }
  }
  return out
}

/** Classes that a selector names at most: a list of utilities can be of any length. */
const MOST_NAMED = 12

/** Classes by which an element is called at most where its place is counted: more are a list of utilities. */
const MOST_CALLED = 2

// What tells an element from those beside it: its names, or, where others have these too, its tag and its place.
function stepTo(e: Element, named: string, isCalledByThem: boolean): string {
  const siblings = [...(e.parentElement?.children ?? [])].filter((c) => c !== e)
  const namesakes = named ? siblings.filter((c) => c.matches(named)) : siblings
  if (named && namesakes.length === 0) return named
  const twins = siblings.filter((c) => c.localName === e.localName)
  const tag = CSS.escape(e.localName)
  if (twins.length === 0) return tag
  const called = isCalledByThem && namesakes.every((c) => c.localName === e.localName) ? named : tag
  return `${called}:nth-of-type(${twins.filter((c) => e.compareDocumentPosition(c) & Node.DOCUMENT_POSITION_PRECEDING).length + 1})`
}

/** A selector that matches `element` alone: its id or classes where that is enough, else its place in what stands around it. */
export function uniqueSelector(element: Element): string {
  let selector = ''
  for (let e: Element | null = element; e; e = e.parentElement) {
    const classes = writtenClasses(e)
    const named = e.id
      ? `#${CSS.escape(e.id)}`
      : classes
          .slice(0, MOST_NAMED)
          .map((c) => `.${CSS.escape(c)}`)
          .join('')
    const tail = selector ? ` > ${selector}` : ''
    if (named && matchesAlone(element, named + tail)) return named + tail
    selector = stepTo(e, named, classes.length > 0 && classes.length <= MOST_CALLED) + tail
    if (matchesAlone(element, selector)) return selector
  }
  return selector
}
