import type { ServerResponse } from 'node:http'
import { join, relative, sep } from 'node:path'
import { watch, type FSWatcher } from 'chokidar'
import { KEPT_FOLDER } from '../folder'

/** How long changes rest before they are reported, so that many at once are one; ms. */
const REST = 150
/** How long after the first who listens it looks through the folder, which keeps a large one from being served meanwhile; ms. */
const START = 1500
/** How often a quiet stream says that it is there; ms. */
const ALIVE = 20_000

const LEFT_OUT: ReadonlySet<string> = new Set(['node_modules', '.git', KEPT_FOLDER])

const HEAD = join('.git', 'HEAD')

/** Tells who listens when something was changed below a folder, as server-sent events (HTML §9.2). */
export class FolderWatch {
  private readonly listeners = new Set<ServerResponse>()
  private timer: ReturnType<typeof setTimeout> | undefined
  private watcher: FSWatcher | null = null
  private starting: ReturnType<typeof setTimeout> | null = null
  private isReady = false
  private changes = 0

  constructor(private readonly root: string) {}

  tell(response: ServerResponse): void {
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' })
    response.write(':\n\n')
    this.listeners.add(response)
    const alive = setInterval(() => response.write(':\n\n'), ALIVE)
    response.on('close', () => {
      clearInterval(alive)
      this.listeners.delete(response)
    })
    this.starting ??= setTimeout(() => (this.watcher = this.start()), START)
  }

  /** Another with each change below the folder; null where nobody watches it, or not all of it. */
  get revision(): number | null {
    return this.isReady ? this.changes : null
  }

  /** Tells all who listen of something, by the name of an event. */
  say(event: string): void {
    for (const response of this.listeners) response.write(`event: ${event}\ndata: ${event}\n\n`)
  }

  // Of a repository, only which branch is checked out.
  private isLeftOut(path: string): boolean {
    return path !== '.git' && path !== HEAD && path.split(sep).some((name) => LEFT_OUT.has(name))
  }

  private start(): FSWatcher {
    const watcher = watch(this.root, {
      ignoreInitial: true,
      followSymlinks: false,
      ignored: (path) => this.isLeftOut(relative(this.root, path)),
    })
    watcher.on('ready', () => {
      this.isReady = true
      // What was changed before it looked.
      this.say('message')
    })
    watcher.on('all', () => {
      this.changes++
      clearTimeout(this.timer)
      this.timer = setTimeout(() => {
        this.say('message')
      }, REST)
    })
    // A folder that cannot be watched is still looked at now and then.
    watcher.on('error', () => (this.isReady = false))
    return watcher
  }

  async close(): Promise<void> {
    clearTimeout(this.timer)
    clearTimeout(this.starting ?? undefined)
    for (const response of this.listeners) response.end()
    await this.watcher?.close()
  }
}
