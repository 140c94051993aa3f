import parser from 'postcss-selector-parser'
import { placeNames, type Ancestor } from '../html'
import { classesOf, type ElementTree, type SourceElement } from '../language'
import { pagesWithSheet } from './page-sheets'
import type { Project } from './project'

/** States that come and go; an element is within reach whether or not it is in one now. */
const DYNAMIC =
  /^:(hover|active|focus|focus-visible|focus-within|visited|link|any-link|target|target-within|checked|default|indeterminate|placeholder-shown|autofill|valid|invalid|user-valid|user-invalid|in-range|out-of-range|modal|open|popover-open|fullscreen|playing|paused)$/i

/** The selector without states and pseudo-elements: what the source alone can tell of it; null when it cannot be read. */
export function staticSelector(selector: string): string | null {
  try {
    return parser((root) => {
      root.walkPseudos((pseudo) => {
        const name = pseudo.value.toLowerCase()
        if (name.startsWith('::') || /^:(before|after|first-line|first-letter)$/.test(name) || DYNAMIC.test(name)) {
          const alone = pseudo.parent?.type === 'selector' && pseudo.parent.nodes.filter((n) => n.type !== 'comment').length === 1
          if (alone || pseudo.prev()?.type === 'combinator' || !pseudo.prev()) pseudo.replaceWith(parser.universal())
          else pseudo.remove()
        }
      })
    }).processSync(selector)
  } catch {
    return null
  }
}

/** What an element is known by to its like: its classes, or its tag and the names of its place. */
export interface Kind {
  readonly tag: string
  readonly classes: readonly string[]
  readonly place: readonly string[]
}

/** What selectors match on each page. */
type Reached = readonly (readonly SourceElement[])[]

const reached = new WeakMap<Project, { of: number; known: Map<string, Reached | null> }>()

// Kept until the next edit of a page; null where the selectors cannot be read.
function elementsReached(project: Project, selectors: readonly string[]): Reached | null {
  let cache = reached.get(project)
  if (cache?.of !== project.treeRevision) reached.set(project, (cache = { of: project.treeRevision, known: new Map() }))
  const key = selectors.join(',')
  const known = cache.known.get(key)
  if (known !== undefined) return known
  let found: SourceElement[][] | null = []
  const names = selectors.map(namesAsked)
  for (const page of project.pages()) {
    // Of a large site, most pages are never read for that; one is, since it tells whether the selectors can be.
    if (found.length > 0 && isWithout(project.text(page), names) && isStandard(project.text(page))) {
      found.push([])
      continue
    }
    const doc = project.readOnly(page) ? null : project.tree(page)
    const test = doc && matcher(doc, selectors)
    if (doc && !test) {
      found = null
      break
    }
    found.push(doc ? doc.elements.filter((e) => e.startTag && test!(e)) : [])
  }
  cache.known.set(key, found)
  return found
}

/** Whether a standard page has none of the elements of some selectors, as its text tells without being read: each of them asks for a name that is not there. */
export const isWithout = (html: string, names: readonly (readonly string[])[]): boolean =>
  names.every((asked) => asked.some((name) => !html.includes(name)))

/** Whether the case of a class or an id is what it seems on a page (Selectors 4 §6.6), and each name is written as it is but for references. */
export const isStandard = (html: string): boolean =>
  /^\s*(<!--.*?-->\s*)*<!doctype html\s*>/is.test(html.slice(0, 2000)) && !/&(#|lowbar|UnderBar)/.test(html)

/** Names of classes and ids without which nothing matches a selector, of those that are written plainly. */
export function namesAsked(selector: string): readonly string[] {
  const names: string[] = []
  try {
    parser((root) => {
      for (const part of root.length === 1 ? root.first.nodes : [])
        if ((part.type === 'class' || part.type === 'id') && /^[a-z][\w-]*$/i.test(part.value)) names.push(part.value)
    }).processSync(selector)
  } catch {
    // What cannot be read is found out by who looks for its elements.
  }
  return names
}

/**
 * Whether all that the selectors match in the sources of all pages shares a class with an element of this kind, or, where
 * it has none, its tag and a name of its place. What cannot be determined counts as no.
 */
export function reachesOnlyKin(project: Project, selectors: readonly string[], kind: Kind): boolean {
  // A selector that asks for one of its classes outright needs no looking.
  const own = (s: string) => kind.classes.some((c) => new RegExp(`\\.${c.replace(/[^\w-]/g, '\\$&')}(?![\\w-])[^\\s>+~]*$`).test(s))
  if (selectors.every(own)) return true
  const all = elementsReached(project, selectors)
  return all !== null && all.flat().every((e) => isOfKind(e, kind))
}

function isOfKind(e: SourceElement, kind: Kind): boolean {
  if (kind.classes.length) return kind.classes.some((c) => classesOf(e).includes(c))
  return e.tag === kind.tag && placeNames(ancestorsOf(e)).some((name) => kind.place.includes(name))
}

function* ancestorsOf(e: SourceElement): Generator<Ancestor> {
  for (let above = e.parent; above; above = above.parent) yield { tag: above.tag, classes: classesOf(above) }
}

/**
 * What a selector that ends in the tag of an element of this kind reaches in the sources: whether it is only the element's
 * like, and which classes of their own those have, each once. Null where that cannot be determined.
 */
export function likeReached(
  project: Project,
  selector: string,
  kind: Kind,
): { readonly onlyKin: boolean; readonly classes: readonly string[] } | null {
  const all = elementsReached(project, [selector])
  if (!all) return null
  const found = all.flat().filter((e) => e.tag === kind.tag)
  return { onlyKin: found.every((e) => isOfKind(e, kind)), classes: [...new Set(found.flatMap(classesOf))] }
}

/** A test of whether an element of a source matches any of the selectors, states aside; null where they cannot be read. */
export function matcher(tree: ElementTree, selectors: readonly string[]): ((e: SourceElement) => boolean) | null {
  const plain = selectors.map(staticSelector)
  return plain.length === 0 || plain.includes(null) ? null : tree.matching(plain.join(', '))
}

/** Counts what selectors match in the sources of all pages, or of those that ask for the rule's sheet, scripts aside (Selectors 4); null when one cannot be determined. */
export function projectReach(
  project: Project,
  selectors: readonly string[],
  sheet: string | null = null,
): { elements: number; pages: number } | null {
  const all = elementsReached(project, selectors)
  const asking = sheet === null ? null : new Set(pagesWithSheet(project, sheet))
  const pages = project.pages()
  const found = all && all.filter((_, i) => asking === null || asking.has(pages[i]))
  return (
    found && {
      elements: found.reduce((n, page) => n + page.length, 0),
      pages: found.filter((page) => page.length > 0).length,
    }
  )
}
