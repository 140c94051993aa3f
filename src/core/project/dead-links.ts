import { declarationsOf, valueOf } from '../css'
import { attribute } from '../language'
import { fileNamed } from '../text'
import { urlsIn } from '../value'
import { filesFor, inSrcset, isOwnAddress } from './addresses'
import { baseOf } from './page-sheets'
import type { Project } from './project'
import { isLibrary } from './sheet-ref'
import { inSlices } from './slices'

/** An address in the sources that leads to nothing in the project. */
export interface DeadLink {
  readonly path: string
  /** 1-based. */
  readonly line: number
  /** As it is written. */
  readonly url: string
  /** `file`: the project has no such file; `id`: the page has no element of that id. */
  readonly of: 'file' | 'id'
}

/** Attributes that name one address (HTML §3, the index of attributes). */
const ADDRESSES = ['href', 'src', 'poster', 'action', 'data', 'formaction']

/** Elements whose addresses name things and lead nowhere: an SVG's parts, what `<base>` sets, and hints for the browser. */
const NO_LINKS = /^(base|use|lineargradient|radialgradient|pattern|filter|textpath|mpath|animate\w*|set)$/i

/**
 * The addresses in pages, and in sheets of the project's own, that lead to nothing in it; `has` says whether it has a file.
 * What scripts make of addresses is not known. `rest` is called now and then, and says whether to go on; null where it says no.
 */
export async function deadLinks(
  project: Project,
  has: (path: string) => boolean,
  rest: () => Promise<boolean>,
): Promise<DeadLink[] | null> {
  const goesOn = inSlices(rest)
  const out: DeadLink[] = []
  const leads = (url: string, from: string): boolean => {
    const file = fileNamed(url, from)
    return file === null || filesFor(file).some(has)
  }
  for (const page of project.pages()) {
    if (project.readOnly(page) !== null) continue
    if (!(await goesOn())) return null
    const tree = project.tree(page)
    const from = baseOf(tree, page)
    const names = new Set(tree.elements.flatMap((e) => [attribute(e, 'id') ?? [], attribute(e, 'name') ?? []].flat()))
    for (const e of tree.elements) {
      if (!e.startTag || NO_LINKS.test(e.tag)) continue
      // A hint for the browser need not lead to a file.
      if (e.tag === 'link' && /preconnect|dns-prefetch|canonical|alternate/i.test(attribute(e, 'rel') ?? '')) continue
      const urls = [...ADDRESSES.map((name) => attribute(e, name) ?? ''), ...inSrcset(attribute(e, 'srcset') ?? '')]
      for (const url of new Set(urls)) {
        if (!isOwnAddress(url)) continue
        const line = tree.lineAt(e.startTag.from)
        // The top of a page needs no element (HTML §7.4.6.4).
        const id = url.startsWith('#') ? decodeURIComponent(/^#(?:[^%]|%[\da-f]{2})*$/i.test(url) ? url.slice(1) : '') : ''
        if (url.startsWith('#')) {
          if (id !== '' && id.toLowerCase() !== 'top' && /^(a|area)$/.test(e.tag) && !names.has(id))
            out.push({ path: page, line, url, of: 'id' })
        } else if (!leads(url, from)) out.push({ path: page, line, url, of: 'file' })
      }
    }
  }
  for (const ref of project.allSheets()) {
    if (ref.generated !== null || isLibrary(ref)) continue
    for (const site of ref.sheet.rules())
      for (const declaration of declarationsOf(site.rule))
        for (const url of urlsIn(valueOf(site, declaration))) {
          if (!isOwnAddress(url) || url.startsWith('#') || leads(url, ref.path)) continue
          out.push({ path: ref.path, line: project.lineIn(ref, site.statement.start + declaration.span.from), url, of: 'file' })
        }
  }
  return out
}
