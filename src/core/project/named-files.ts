import { declarationsOf, valueOf } from '../css'
import { attribute } from '../language'
import { fileNamed } from '../text'
import { urlsIn } from '../value'
import { filesFor, isOwnAddress } from './addresses'
import { baseOf, sheetsOfPage } from './page-sheets'
import type { Project } from './project'
import { inSlices } from './slices'

/** What a page loads a file as. */
export type FileKind = 'page' | 'style sheet' | 'script' | 'picture' | 'face' | 'sound or film' | 'other'

const KINDS: readonly (readonly [kind: FileKind, extensions: RegExp])[] = [
  ['page', /\.(x?html?|vue|svelte|astro)$/i],
  ['style sheet', /\.(css|scss|sass|less|styl)$/i],
  ['script', /\.([cm]?[jt]sx?|json|wasm)$/i],
  ['picture', /\.(png|jpe?g|jfif|gif|webp|avif|ico|bmp|svg)$/i],
  ['face', /\.(woff2?|ttf|otf|eot)$/i],
  ['sound or film', /\.(mp4|m4v|mov|webm|ogv|mp3|m4a|ogg|oga|opus|wav|flac|aac)$/i],
]

/** What a file is loaded as, by the end of its path. */
export const fileKind = (path: string): FileKind => KINDS.find(([, extensions]) => extensions.test(path))?.[0] ?? 'other'

/** A page, and the files of the project that its sources have a browser load, the page itself first. */
export interface PageFiles {
  readonly page: string
  readonly files: readonly string[]
}

/** Links to what is loaded with the page (HTML §4.6.7). */
const LOADS = /(^|\s)(icon|preload|modulepreload|apple-touch-icon)(\s|$)/i

/**
 * What the sources of each page have a browser load: its scripts and pictures, its sheets with what they import, and the
 * pictures and faces that those name, of a face the first file that the project has. A picture in several sizes counts once.
 * What scripts load is not known. `has` says whether the project has a file, `rest` as for {@link inSlices}; null where that
 * says no.
 */
export async function filesNamedBy(
  project: Project,
  has: (path: string) => boolean,
  rest: () => Promise<boolean>,
): Promise<PageFiles[] | null> {
  const goesOn = inSlices(rest)
  const bySheet = new Map<string, readonly string[]>()
  const out: PageFiles[] = []
  const fileAt = (url: string, from: string): string | null => {
    const path = isOwnAddress(url) && !url.startsWith('#') ? fileNamed(url, from) : null
    return path === null ? null : (filesFor(path).find(has) ?? null)
  }
  const ofSheet = (key: string, from: string): readonly string[] => {
    const ref = project.sheet(key)
    let known = bySheet.get(key)
    if (!known) {
      const files = [...(ref?.sheet.rules() ?? [])].flatMap((site) =>
        declarationsOf(site.rule).flatMap((d) => {
          const found = urlsIn(valueOf(site, d)).flatMap((url) => fileAt(url, from) ?? [])
          // A browser takes the first form of a face that it knows (CSS Fonts 4 §4.3).
          return d.name === 'src' ? found.slice(0, 1) : found
        }),
      )
      bySheet.set(key, (known = [...(key.startsWith('#') || !has(key) ? [] : [key]), ...files]))
    }
    return known
  }
  for (const page of project.pages()) {
    if (project.readOnly(page) !== null) continue
    if (!(await goesOn())) return null
    const tree = project.tree(page)
    const from = baseOf(tree, page)
    const files = new Set([page])
    const add = (url: string | null) => {
      const file = url === null ? null : fileAt(url, from)
      if (file !== null) files.add(file)
    }
    for (const e of tree.elements) {
      if (e.tag === 'link' && LOADS.test(attribute(e, 'rel') ?? '')) add(attribute(e, 'href'))
      if (/^(script|img|video|audio|embed|input|track)$/.test(e.tag)) add(attribute(e, 'src'))
      if (e.tag === 'video') add(attribute(e, 'poster'))
      if (e.tag === 'image') add(attribute(e, 'href'))
      for (const url of urlsIn(attribute(e, 'style') ?? '')) add(url)
    }
    for (const key of sheetsOfPage(project, page)) for (const file of ofSheet(key, key.startsWith('#') ? from : key)) files.add(file)
    out.push({ page, files: [...files] })
  }
  return out
}
