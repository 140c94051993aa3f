import type { Answer, LoadedFile } from '../../agent/protocol'
import { fileKind, type FileKind } from '../../core/project'
import { theDesk } from '../../desk'
import type { WholePage } from './whole-page'

/** A file that the page has loaded, and how large it is: bytes; 0 where that is not known. */
export interface LoadedWeight {
  readonly url: string
  /** Its path in the project, else its address. */
  readonly name: string
  /** Null for what the project has no file of. */
  readonly path: string | null
  readonly kind: FileKind
  readonly size: number
  readonly packed: number
  /** Whether Source can show it. */
  readonly isText: boolean
}

/** What a page loads, and what of that it could do without. */
export interface WeightOfPage extends Pick<Answer<'loaded'>, 'pictures' | 'faces'> {
  readonly files: readonly LoadedWeight[]
  /** Whether a development server has sent it. */
  readonly isDevelopment: boolean
}

/** What is loaded as what, where its name does not say it (Resource Timing §4.3). */
const KIND_BY: Readonly<Record<string, FileKind>> = {
  navigation: 'page',
  iframe: 'page',
  link: 'style sheet',
  script: 'script',
  img: 'picture',
}

const kindOf = ({ url, by }: LoadedFile): FileKind => {
  const kind = fileKind(new URL(url).pathname)
  return kind === 'other' ? (KIND_BY[by] ?? 'other') : kind
}

/** What the page has loaded, with how large each file is; null where it does not answer. */
export async function weightOf(whole: WholePage): Promise<WeightOfPage | null> {
  const loaded = await whole.loaded()
  if (!loaded) return null
  const { isDevelopment } = whole
  // What a development server sends is not the files; what we send has our marks.
  const own = await theDesk().weights.at(loaded.files.map(({ url }) => (isDevelopment ? null : whole.pathOf(url))))
  const files = loaded.files.map((f, i): LoadedWeight => {
    const file = own[i]
    const { origin, pathname, search } = new URL(f.url)
    const name = file?.path ?? (whole.pathOf(f.url) === null ? origin + pathname : pathname + search)
    const known = file ?? { path: null, kind: kindOf(f), size: f.size, packed: f.packed, isText: false }
    return { url: f.url, name, ...known }
  })
  const faces = loaded.faces.map(({ url, family }) => ({ family, url: files.find((f) => f.url === url)?.name ?? url }))
  return { files, pictures: loaded.pictures, faces, isDevelopment }
}
