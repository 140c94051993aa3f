import type { ServedPages } from '../folder'
import { liveOriginFor } from '../live/origin'
import type { PublishedFile } from '../live/protocol'
import { LiveFaultError } from './live-fault'
import { ownSheet } from './own-sheet'
import type { PageServer } from './page-server'

/** What of a project differs from the files of its folder. */
export interface GivenFiles {
  /** What the disk does not have so, and the page that is to be shown. */
  given(page: string): Promise<readonly PublishedFile[]>
  /** Another page, with what is another for it; null where the project has none of that path. */
  page(path: string): Promise<readonly PublishedFile[] | null>
}

/** Serves the files of a folder by the server of this machine, from the disk; HTML files, and what is not saved, it is given. */
export class FolderPageServer implements PageServer {
  readonly hasSaved = false
  origin: string
  private starts = 1
  private isCancelled = false
  private isClosed = false
  private endWatch: () => void = () => {}
  // What is given later is later: a page that was read before an edit must not take the place of what the edit made.
  private last: Promise<void> = Promise.resolve()
  private readonly asked = new Set<string>()

  /** `name` is the host's, with a part that nobody can guess; `template` is that of live origins, `port` the interface's own. */
  constructor(
    private readonly name: string,
    private readonly template: string,
    private readonly port: string,
    private readonly pages: ServedPages,
    private readonly files: GivenFiles,
  ) {
    this.origin = liveOriginFor(template, name, port)
  }

  private get host(): string {
    return new URL(this.origin).host
  }

  async open(page: string, onProgress: (done: number, of: number) => void): Promise<boolean> {
    onProgress(0, 1)
    try {
      await this.pages.open(this.host)
      if (this.isClosed) return false
      this.endWatch()
      this.endWatch = this.pages.watch(() => void this.giveWanted())
      await this.next(async () => this.pages.give(this.host, await this.files.given(page)))
    } catch (error) {
      throw new LiveFaultError({
        title: 'The server does not answer',
        detail: error instanceof Error ? error.message : String(error),
        remedy: 'Start Steady Brush in the folder of this project again, and use the address that it prints.',
      })
    }
    onProgress(1, 1)
    return !this.isCancelled
  }

  private next(work: () => Promise<void>): Promise<void> {
    const done = this.last.then(work)
    this.last = done.catch(() => {})
    return done
  }

  private async giveWanted(): Promise<void> {
    const { host } = this
    for (const { host: wantedBy, path } of await this.pages.wanted().catch(() => [])) {
      if (wantedBy !== host || this.isClosed || this.asked.has(path)) continue
      this.asked.add(path)
      void this.next(async () => {
        const files = await this.files.page(path).finally(() => this.asked.delete(path))
        await (files ? this.pages.give(host, files) : this.pages.refuse(host, path))
      }).catch(() => {})
    }
  }

  cancel(): void {
    this.isCancelled = true
  }

  urlOf(address: string): string {
    return this.origin + (address.startsWith('/') ? address : `/${address}`)
  }

  show(files: readonly PublishedFile[]): Promise<void> {
    return this.next(() => this.pages.give(this.host, files))
  }

  whole(): Promise<void> {
    return this.last
  }

  sheetOf(name: string): string | null {
    return ownSheet(this.origin, name)
  }

  // What hangs is the page; a browser gives another origin another process.
  restart(): void {
    this.isCancelled = false
    this.origin = liveOriginFor(this.template, `${this.name}--${++this.starts}`, this.port)
  }

  close(): void {
    this.isClosed = true
    this.endWatch()
  }
}
