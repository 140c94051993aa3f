import { PLACE_ATTRIBUTE, readStamp, stampText, type Stamp } from '../core/html'
import { documentsOf } from './documents'

/** How Astro's development server says where a tag ends that made an element. */
const ASTRO_FILE = 'data-astro-source-file'
const ASTRO_PLACE = 'data-astro-source-loc'

/** What Svelte's runtime keeps of an element in development: where its tag begins, line 1-based, column 0-based, and what it stands in. */
interface SvelteMeta {
  readonly loc?: { readonly file?: unknown; readonly line?: unknown; readonly column?: unknown }
  readonly parent?: SvelteParent | null
}
interface SvelteParent {
  readonly type?: unknown
  readonly componentTag?: unknown
  readonly parent?: SvelteParent | null
}

/** What Vue's runtime keeps of an element in development: the component that rendered it. */
interface VueInstance {
  readonly type?: { readonly __name?: unknown; readonly name?: unknown; readonly __file?: unknown }
  readonly parent?: VueInstance | null
  readonly subTree?: { readonly el?: unknown }
}

type Rendered = Element & { readonly __svelte_meta?: SvelteMeta; readonly __vueParentComponent?: VueInstance }

/** Where the tag stands in a component of one file that made an element, as its compiler or runtime tells it; null where none does. */
export function componentPlaceOf(element: Element): Stamp | null {
  const text = element.getAttribute(PLACE_ATTRIBUTE)
  if (text !== null) return readStamp(text)
  const loc = (element as Rendered).__svelte_meta?.loc
  if (typeof loc?.file === 'string' && Number.isInteger(loc.line) && Number.isInteger(loc.column))
    return { path: loc.file, nth: Number(loc.line), mark: `@${Number(loc.column)}` }
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
  const { __vueParentComponent: vue, __svelte_meta: svelte } = element as Rendered
  for (let at = vue ?? null; at && out.length < most; at = at.parent ?? null) {
    const file = nameIn(at.type?.__file)
      ?.split(/[\\/]/)
      .at(-1)
      ?.replace(/\.vue$/, '')
    const name = nameIn(at.type?.__name) ?? nameIn(at.type?.name) ?? file
    const shown = at.subTree?.el
    if (name) out.unshift({ name, shown: shown instanceof Element ? shown : null })
  }
  for (let at = svelte?.parent ?? null; at && out.length < most; at = at.parent ?? null) {
    const name = at.type === 'component' ? nameIn(at.componentTag) : null
    if (name) out.unshift({ name, shown: null })
  }
  return out
}
