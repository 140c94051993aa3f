import { fileKind, filesFor, type FileKind } from '../core/project'
import { isMedia, sameBytes } from '../folder'
import type { OpenProject } from './open-project'
import { planning } from './planning'

/** A file of the project as it is now, and how large it is: bytes. */
export interface WeighedFile {
  readonly path: string
  readonly kind: FileKind
  readonly size: number
  /** Compressed by gzip (RFC 1952), as most servers send text; pictures and the like are compressed by themselves. */
  readonly packed: number
  /** Whether it is one of the sources. */
  readonly isText: boolean
}

/** What the sources of a page have a browser load. */
export interface PageWeight {
  readonly page: string
  readonly files: readonly WeighedFile[]
}

/** How large the files of the project are. */
export class Weights {
  private looks = 0
  /** By what was compressed: the same text is not compressed again. */
  private readonly known = new Map<string, { readonly of: Uint8Array; readonly packed: number }>()

  constructor(private readonly current: OpenProject) {}

  /** All pages with what their sources have a browser load; null where it was asked for again meanwhile, or given up. */
  async pages(): Promise<PageWeight[] | null> {
    const look = ++this.looks
    const { project } = this.current
    const { textRevision } = project
    const isWanted = () => look === this.looks && project === this.current.project && textRevision === project.textRevision
    const { filesNamedBy } = await planning()
    const named = await filesNamedBy(
      project,
      (path) => this.has(path),
      async () => {
        await new Promise((go) => setTimeout(go))
        return isWanted()
      },
    )
    // Most files are of several pages.
    const weighed = new Map<string, WeighedFile>()
    for (const path of new Set(named?.flatMap((p) => p.files))) {
      if (!isWanted()) return null
      weighed.set(path, await this.weigh(path))
    }
    return named && named.map(({ page, files }) => ({ page, files: files.map((path) => weighed.get(path)!) }))
  }

  /** Gives up what is looked for. */
  stop(): void {
    this.looks++
  }

  /** The files that are served at these paths; null for each that the project does not have, and for null. */
  async at(paths: readonly (string | null)[]): Promise<readonly (WeighedFile | null)[]> {
    const out: (WeighedFile | null)[] = []
    for (const path of paths) {
      const file = path === null ? undefined : filesFor(path).find((p) => this.has(p))
      out.push(file === undefined ? null : await this.weigh(file))
    }
    return out
  }

  private has(path: string): boolean {
    const { project, others, folder } = this.current
    return project.has(path) || others.has(path) || folder?.has(path) === true
  }

  private async weigh(path: string): Promise<WeighedFile> {
    const { project, others, folder } = this.current
    const about = { path, kind: fileKind(path), isText: project.has(path) }
    const bytes = project.has(path) || others.has(path) ? this.current.bytes(path) : null
    if (bytes === null) {
      const size = folder?.sizeOf(path) ?? 0
      return { ...about, size, packed: size }
    }
    const packed = isMedia(path) ? bytes.length : await this.packed(path, bytes)
    return { ...about, size: bytes.length, packed }
  }

  private async packed(path: string, bytes: Uint8Array): Promise<number> {
    const there = this.known.get(path)
    if (there && sameBytes(there.of, bytes)) return there.packed
    const stream = new Blob([bytes as BlobPart]).stream().pipeThrough(new CompressionStream('gzip'))
    const { byteLength: packed } = await new Response(stream).arrayBuffer()
    this.known.set(path, { of: bytes, packed })
    return packed
  }
}
