import { PLACE_ATTRIBUTE, readStamp, stampText, type Stamp } from '../core/html'
import { documentsOf } from './documents'

/** How Astro's development server says where a tag ends that made an element. */
const ASTRO_FILE = 'data-astro-source-file'
const ASTRO_PLACE = 'data-astro-source-loc'

/** What Svelte's runtime keeps of an element in development: `loc`, where its tag begins, line 1-based, column 0-based, and `parent`, what it stands in. */
const SVELTE = '__svelte_meta'
/** What Vue's runtime keeps of one: the component that rendered it, its `type`, `parent` and `subTree`. */
const VUE = '__vueParentComponent'

/** A property of what a framework keeps on the page; undefined where it is none. */
const at = (of: unknown, ...names: readonly string[]): unknown =>
  names.reduce(
    (value: unknown, name) =>
      (typeof value === 'object' || typeof value === 'function') && value !== null ? (value as Record<string, unknown>)[name] : undefined,
    of,
  )

/** Where the tag stands in a component of one file that made an element, as its compiler or runtime tells it; null where none does. */
export function componentPlaceOf(element: Element): Stamp | null {
  const text = element.getAttribute(PLACE_ATTRIBUTE)
  if (text !== null) return readStamp(text)
  const [path, nth, begins] = ['file', 'line', 'column'].map((name) => at(element, SVELTE, 'loc', name))
  if (typeof path === 'string' && Number.isInteger(nth) && Number.isInteger(begins))
    return { path, nth: Number(nth), mark: `@${Number(begins)}` }
  const file = element.getAttribute(ASTRO_FILE)
  const [, line, column] = /^(\d{1,7}):(\d{1,7})$/.exec(element.getAttribute(ASTRO_PLACE) ?? '') ?? []
  return file !== null && line !== undefined ? { path: file, nth: Number(line), mark: `>${column}` } : null
}

/** The elements of the page that a tag of such a component made. */
export function elementsOfPlace(root: Document, place: Stamp): Element[] {
  const own = stampText(place)
  return documentsOf(root)
    .flatMap((doc) => [...doc.querySelectorAll('*')])
    .filter((e) => {
      const found = componentPlaceOf(e)
      return found !== null && stampText(found) === own
    })
}

const nameIn = (value: unknown): string | null => (typeof value === 'string' && value !== '' ? value.slice(0, 100) : null)

/** The names of the components that led to an element, the outermost first, each with the element that it shows where that is known. */
export function componentsAround(element: Element, most: number): { readonly name: string; readonly shown: Element | null }[] {
  const out: { name: string; shown: Element | null }[] = []
  for (let vue = at(element, VUE); vue && out.length < most; vue = at(vue, 'parent')) {
    const file = nameIn(at(vue, 'type', '__file'))
      ?.split(/[\\/]/)
      .at(-1)
      ?.replace(/\.vue$/, '')
    const name = nameIn(at(vue, 'type', '__name')) ?? nameIn(at(vue, 'type', 'name')) ?? file
    const shown = at(vue, 'subTree', 'el')
    if (name) out.unshift({ name, shown: shown instanceof Element ? shown : null })
  }
  for (let around = at(element, SVELTE, 'parent'); around && out.length < most; around = at(around, 'parent')) {
    const name = at(around, 'type') === 'component' ? nameIn(at(around, 'componentTag')) : null
    if (name) out.unshift({ name, shown: null })
  }
  return out
}
