import { liveOriginFor } from '../live/origin'
import type { PublishedFile } from '../live/protocol'
import { HostClient } from './host-client'
import { ownSheet } from './own-sheet'
import type { PageServer, ServedFiles } from './page-server'

/** Serves the files of a project by our service worker on its live origin, which gets them through a hidden frame. */
export class WorkerServer implements PageServer {
  readonly hasSaved = false
  origin: string
  private starts = 1
  private host: HostClient | null = null
  private others: Promise<unknown> = Promise.resolve()
  private shown: Promise<void> = Promise.resolve()
  private isCancelled = false
  private isClosed = false

  /** `template` is that of live origins, `port` the interface's own. */
  constructor(
    private readonly project: string,
    private readonly template: string,
    private readonly port: string,
    private readonly files: ServedFiles,
  ) {
    this.origin = liveOriginFor(template, project, port)
  }

  async open(page: string, onProgress: (done: number, of: number) => void): Promise<boolean> {
    this.host?.close()
    const host = await HostClient.open(this.origin)
    this.host = host
    if (this.isClosed) {
      host.close()
      return false
    }
    await host.reset(this.project)
    const isWhole =
      !this.isCancelled &&
      (await this.files.publish(page, false, async (files, done, of) => {
        await host.put(files)
        onProgress(done, of)
        return !this.isCancelled
      }))
    // The other pages follow while this one is looked at already.
    if (isWhole) {
      this.others = this.files
        .publish(page, true, async (files) => {
          await host.put(files)
          return true
        })
        .catch(() => {})
    }
    return isWhole
  }

  cancel(): void {
    this.isCancelled = true
  }

  urlOf(address: string): string {
    return this.origin + (address.startsWith('/') ? address : `/${address}`)
  }

  async show(files: readonly PublishedFile[]): Promise<void> {
    this.shown = this.host?.put(files) ?? Promise.resolve()
    await this.shown
  }

  async whole(): Promise<void> {
    await Promise.all([this.others, this.shown.catch(() => {})])
  }

  sheetOf(name: string): string | null {
    return ownSheet(this.origin, name)
  }

  // The browser keeps all of an origin in one process, its service worker included, and that process is the one that
  // hangs. What the page itself stored stays there.
  restart(): void {
    this.isCancelled = false
    this.host?.close()
    this.host = null
    this.origin = liveOriginFor(this.template, `${this.project}--${++this.starts}`, this.port)
  }

  close(): void {
    this.isClosed = true
    this.host?.close()
  }
}
