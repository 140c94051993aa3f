import type { IncomingMessage, ServerResponse } from 'node:http'
import { roleOf } from '../core/language'
import { decodePath } from '../core/text'
import type { WantedPage } from '../folder'
import { mimeType } from '../live/mime'
import { missingPage } from '../live/our-page'
import { pathFault, resolveBelow } from './folder-paths'
import { sendFile, type Sent } from './send-file'

/** How long a page waits for the window to give it; ms. */
const WAIT = 10_000
/** States of a folder that are shown at once; the one that was opened first makes room. */
const MOST_HOSTS = 8

/** One state of the folder, as the live pages of one host have it. */
class ShownState {
  /** What stands in the place of files of the disk, by their paths; null for none at all. */
  readonly given = new Map<string, Uint8Array | null>()
  readonly waiting = new Map<string, Set<() => void>>()

  /** `studio` is the origin of the window that shows it. */
  constructor(readonly studio: string) {}

  give(path: string, body: Uint8Array | null): void {
    this.given.set(path, body)
    for (const done of this.waiting.get(path) ?? []) done()
    this.waiting.delete(path)
  }
}

/**
 * The live pages of a folder without a development server: its files as they are on the disk, but for those that a window
 * gives. An HTML file is always one of these, since its elements get ids; it is asked for when a page wants it.
 * The name of the host is the only way in: it has a part that nobody can guess.
 */
export class FolderPages {
  private readonly shown = new Map<string, ShownState>()

  /** `isListed` says whether a path is one of the files of the project; `tellWanted` has the window look for what is wanted. */
  constructor(
    private readonly root: string,
    private readonly isListed: (path: string) => Promise<boolean>,
    private readonly tellWanted: () => void,
  ) {}

  /** Serves pages at a host from now on, for a window at the origin `studio`. */
  open(host: string, studio: string): void {
    this.shown.delete(host)
    this.shown.set(host, new ShownState(studio))
    for (const first of this.shown.keys()) if (this.shown.size > MOST_HOSTS) this.shown.delete(first)
  }

  /** Takes a file for what the page at that host has; null where the project has none of that path. Whether pages are served there. */
  give(host: string, path: string, body: Uint8Array | null): boolean {
    this.shown.get(host)?.give(path, body)
    return this.shown.has(host)
  }

  get wanted(): WantedPage[] {
    return [...this.shown].flatMap(([host, { waiting }]) => [...waiting.keys()].map((path) => ({ host, path })))
  }

  isFor(host: string | undefined): boolean {
    return host !== undefined && this.shown.has(host)
  }

  /** Answers a request of a live page. */
  async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const state = this.shown.get(request.headers.host!)!
    const url = new URL(request.url ?? '/', 'http://page')
    const path = url.pathname.split('/').map(decodePath).join('/').slice(1)
    const isFolder = path === '' || path.endsWith('/')
    const wanted = isFolder ? `${path}index.html` : path
    const found = await this.find(state, wanted)
    if (found === 'late')
      return void response
        .writeHead(503, { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' })
        .end('The window that shows this project is closed, or busy.')
    // Only that window, and pages of the project, may put it in a frame.
    const frames = { 'content-security-policy': `frame-ancestors 'self' ${state.studio}` }
    if (found) return sendFile(found, { 'content-type': mimeType(wanted), ...frames }, request, response)
    if (!isFolder && (await this.isThere(state, `${path}/index.html`)))
      return void response.writeHead(301, { location: `${url.pathname}/${url.search}`, 'cache-control': 'no-store' }).end()
    const isPage = request.headers['sec-fetch-mode'] === 'navigate'
    response
      .writeHead(404, { 'content-type': `text/${isPage ? 'html' : 'plain'}; charset=utf-8`, 'cache-control': 'no-store', ...frames })
      .end(isPage ? missingPage(`/${path}`) : `/${path} is not in the project`)
  }

  private async isThere(state: ShownState, path: string): Promise<boolean> {
    const given = state.given.get(path)
    return given === undefined ? pathFault(path) === null && (await this.isListed(path)) : given !== null
  }

  private async find(state: ShownState, path: string): Promise<Sent | null | 'late'> {
    if (!(await this.isThere(state, path))) return null
    if (!state.given.has(path) && roleOf(path) === 'page' && !(await this.ask(state, path))) return 'late'
    const given = state.given.get(path)
    if (given === undefined) return { file: await resolveBelow(this.root, path) }
    return given && { bytes: given }
  }

  // Whether it was given in time.
  private ask(state: ShownState, path: string): Promise<boolean> {
    return new Promise((done) => {
      const waiting = state.waiting.get(path) ?? new Set()
      state.waiting.set(path, waiting)
      const end = (isGiven: boolean) => {
        clearTimeout(timer)
        waiting.delete(given)
        if (waiting.size === 0 && state.waiting.get(path) === waiting) state.waiting.delete(path)
        done(isGiven)
      }
      const given = () => end(true)
      const timer = setTimeout(() => end(false), WAIT)
      waiting.add(given)
      this.tellWanted()
    })
  }
}
