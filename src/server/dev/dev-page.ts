import type { IncomingMessage, ServerResponse } from 'node:http'
import type { Duplex } from 'node:stream'
import type { DevReport, UnsavedText } from '../../folder'
import { DevServer } from './dev-server'
import { forward, upgrade, type Route } from './proxy'

/** The live page of a project of components: its development server, on the live origin that the interface named. */
export class DevPage {
  private readonly server: DevServer
  private host: string | null = null
  private studio = ''

  /** `children` is the folder of the scripts that run in processes of their own; `onChange` is called when a server has ended by itself, or answers again. */
  constructor(root: string, children: string, onChange: () => void) {
    this.server = new DevServer(root, children, onChange)
  }

  report(): Promise<DevReport> {
    return this.server.report()
  }

  /** Starts it for the live page at `host`, in a window of the interface at the origin `studio`; one that runs only to start it `again`. */
  async start(host: string, studio: string, again: boolean): Promise<DevReport> {
    this.showAt(host, studio)
    await this.server.start(again)
    return this.report()
  }

  /** The same with a server that runs already; a text for why it cannot be used. */
  async use(host: string, studio: string, address: string): Promise<DevReport | string> {
    const why = await this.server.use(address)
    if (why !== null) return why
    this.showAt(host, studio)
    return this.report()
  }

  /** Has the pages show these texts in place of files that are not saved, where the server is one of ours. */
  showTexts(files: readonly UnsavedText[], alone: boolean): Promise<void> {
    return this.server.showTexts(files, alone)
  }

  private showAt(host: string, studio: string): void {
    this.host = host
    this.studio = studio
  }

  isFor(host: string | undefined): boolean {
    return this.host !== null && host === this.host
  }

  forward(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const { route } = this
    if (route) return forward(route, request, response)
    response
      .writeHead(503, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' })
      .end('The development server is not running.')
    return Promise.resolve()
  }

  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    if (this.route) upgrade(this.route, request, socket, head)
    else socket.destroy()
  }

  private get route(): Route | null {
    const { target, base } = this.server
    return target === null
      ? null
      : { target: new URL(target), live: this.host!, studio: this.studio, ...(base !== null && { stampedBelow: base }) }
  }

  close(): Promise<void> {
    return this.server.close()
  }
}
