import { transfer } from 'comlink'
import { SCRIPT_SHEET, type Answer, type Ask, type ElementName, type PageEvent, type RequestType } from '../../agent/protocol'
import { readHello } from '../../agent/read'
import type { Stamp } from '../../core/html'
import type { PublishedFile } from '../../live/protocol'
import { LiveFaultError, PageBusyError, PageClient, type PageServer } from '../../page'
import { theDesk } from '../../desk'
import { getStudio, NO_FRAMES, say, setStudio } from '../store'
import { elementName } from './element-name'
import { pageOf } from './page-facts'
import { agentScript } from './page-servers'

/** What to come back to once the page is there. */
export interface Return {
  readonly scroll: { readonly x: number; readonly y: number } | null
  readonly picked: ElementName | null
}

/** How long a compiler may take to write a sheet again; ms. */
const COMPILING = 3000

const NOTHING: Return = { scroll: null, picked: null }

/** The project's live page: published, loaded in its frame, and spoken with through its agent. */
export class LivePage {
  private client: PageClient | null = null
  private frame: HTMLIFrameElement | null = null
  private back: Return = NOTHING
  /** Where the page was that was left by itself. */
  private gone: { readonly address: string; readonly picked: ElementName | null } | null = null
  private helloTimer: ReturnType<typeof setTimeout> | undefined
  private closed = false
  /** Whether the page can be loaded. */
  private opened = false
  /** Whether the page that is shown has its rules tied and what was left is chosen again. */
  isGreeted = false
  private readonly onMessage = (e: MessageEvent) => this.hear(e)

  /** `onGreet` is called with each page that says hello, once its sheets are tied; it gives back what was left. `onTree` when its tree has changed. */
  constructor(
    private readonly project: string,
    private server: PageServer,
    private readonly onGreet: (back: Return) => Promise<void>,
    private readonly onTree: () => void,
    private readonly onTyped: (keep: boolean) => void,
  ) {}

  /** Reads the project; null when there is none, or this was closed meanwhile. */
  async open() {
    this.closed = false
    addEventListener('message', this.onMessage)
    const opened = await theDesk().opening.open(this.project, agentScript())
    return opened && !this.closed ? opened : null
  }

  /** Has another server serve the page, before it is published. */
  serveFrom(server: PageServer): void {
    this.server.close()
    this.server = server
  }

  /** A tag's place with the path of its file from the top of the project: some compilers tell the whole of it. */
  inProject(stamp: Stamp): Stamp {
    return { ...stamp, path: this.server.sheetOf(SCRIPT_SHEET + stamp.path) ?? stamp.path }
  }

  /** Whether the page has the files as they were saved last, from a server of the project's own. */
  get hasSaved(): boolean {
    return this.server.hasSaved
  }

  /** The path that an address of the page leads to in the project; null for one of elsewhere. */
  pathOf(url: string): string | null {
    return this.server.sheetOf(url)
  }

  /** Whether the project's own server compiles a sheet again with each edit of it. */
  isCompiled(key: string): boolean {
    return this.server.hasNow?.(key) ?? false
  }

  async publish(back: Return = NOTHING): Promise<void> {
    this.back = back
    try {
      let said = { done: 0, of: 0 }
      const isWhole = await this.server.open(pageOf(getStudio().address), (done, of) => {
        said = { done, of }
        setStudio({ progress: { text: `Publishing ${done} of ${of} files`, share: done / of } })
      })
      if (this.closed) return
      if (!isWhole) {
        setStudio({
          progress: null,
          fault: {
            title: 'Publishing was cancelled',
            detail: said.of === 0 ? 'No file was published.' : `${said.done} of ${said.of} files were published.`,
            remedy: 'Nothing of the project is changed. Try again to see its page.',
          },
        })
        return
      }
      setStudio({ progress: null, fault: null })
      this.opened = true
      this.load(getStudio().address)
    } catch (error) {
      if (this.closed) return
      if (error instanceof LiveFaultError) setStudio({ fault: error.fault, progress: null })
      else say('error', `The page could not be published: ${String(error)}`)
    }
  }

  /** Publishes no more files than those on their way; the page is not shown until it is asked for again. */
  cancelPublishing(): void {
    this.server.cancel()
  }

  /** Ends once the files that were given last are served. */
  served: Promise<void> = Promise.resolve()

  /** Serves these files from now on. */
  serve(files: readonly PublishedFile[]): void {
    this.served = this.server
      .show(files)
      .catch((error: unknown) => say('error', `The page is not served as it was written: ${String(error)}`))
  }

  /** Gives the page the keyboard. */
  focus(): void {
    this.frame?.focus()
  }

  /** Takes the keyboard from the page again. */
  blur(): void {
    if (document.activeElement === this.frame) this.frame?.blur()
    window.focus()
  }

  /** Gives the frame to show the page in. */
  attach(frame: HTMLIFrameElement | null): void {
    this.frame = frame
    if (frame && this.opened && !getStudio().progress) this.load(getStudio().address)
  }

  private load(address: string): void {
    if (!this.frame) return
    setStudio({ connected: false, busy: false })
    this.frame.src = this.server.urlOf(address)
    this.expectHello()
  }

  /** Loads the page again, to come back to the same place. */
  reload(back: Return): void {
    this.back = back
    this.load(getStudio().address)
  }

  goTo(address: string): void {
    this.back = NOTHING
    setStudio({ address, picked: null, others: [], hover: null, frames: NO_FRAMES })
    // While files are being published, the page is loaded when they are.
    if (!getStudio().progress) void this.server.whole().then(() => this.load(getStudio().address))
  }

  /** Leaves a page that does not answer, and starts it again. */
  async restart(): Promise<void> {
    this.client?.close()
    this.client = null
    this.opened = false
    if (this.frame) this.frame.src = 'about:blank'
    this.server.restart()
    setStudio({
      busy: false,
      connected: false,
      picked: null,
      others: [],
      hover: null,
      frames: NO_FRAMES,
      progress: { text: 'Starting the page again', share: 0 },
    })
    await this.publish()
  }

  private expectHello(): void {
    clearTimeout(this.helloTimer)
    this.helloTimer = setTimeout(() => {
      if (!getStudio().connected && !this.closed) setStudio({ busy: true })
    }, 6000)
  }

  private hear(e: MessageEvent): void {
    if (!this.frame || e.source !== this.frame.contentWindow || e.origin !== this.server.origin) return
    const hello = readHello(e.data)
    if (!hello) return
    this.client?.close()
    const [own, previews] = [new MessageChannel(), new MessageChannel()]
    const client = new PageClient(
      own.port1,
      (event) => this.onEvent(client, event),
      (why) => say('error', why),
      () => this.onLate(client),
    )
    this.client = client
    void theDesk().editing.usePage(transfer(previews.port1, [previews.port1]))
    this.frame.contentWindow!.postMessage({ steady: 'port' }, this.server.origin, [own.port2, previews.port2])
    clearTimeout(this.helloTimer)
    this.isGreeted = false
    // Loaded again by itself, it is at the same place.
    if (this.back === NOTHING && this.gone?.address === hello.address) this.back = { scroll: null, picked: this.gone.picked }
    this.gone = null
    setStudio({ address: hello.address, busy: false, empty: null, frames: NO_FRAMES, hover: null })
    void this.greet(client)
  }

  // It was busy and is no more; what it was asked at first may have been lost.
  private onLate(client: PageClient): void {
    if (client !== this.client) return
    setStudio({ busy: false })
    if (!this.isGreeted) void this.greet(client)
  }

  private async greet(client: PageClient): Promise<void> {
    await this.guard(async () => {
      // Before its rules are known an edit would seem to have no place but the element itself.
      try {
        await this.tieSheets()
      } finally {
        if (client === this.client) setStudio({ connected: true })
      }
      if (client !== this.client) return
      const { back } = this
      this.back = NOTHING
      if (back.scroll) await this.ask('scrollTo', back.scroll)
      await this.onGreet(back)
      if (client === this.client) this.isGreeted = true
    })
  }

  private async tieSheets(): Promise<void> {
    const sheets = await this.ask('sheets', {})
    const keys = new Map(
      sheets.flatMap(({ name }) => {
        const key = this.server.sheetOf(name)
        return key === null ? [] : [[name, key]]
      }),
    )
    const compiled = sheets.flatMap(({ name, compiled: text }) => {
      const path = keys.get(name)
      return path !== undefined && text !== null ? [{ path, text }] : []
    })
    if (compiled.length) {
      await theDesk().publishing.useServed(compiled)
      this.compiled++
    }
    const wanted = [...new Set(keys.values())]
    const { at, sheets: outlines } = await theDesk().pageSync.outlines(wanted)
    const asNow = wanted.filter((key) => this.server.hasNow?.(key))
    const saved = this.server.hasSaved ? await theDesk().pageSync.savedCounts(wanted, asNow) : {}
    await this.ask('tie', {
      sheets: Object.fromEntries(
        [...keys].flatMap(([name, key]) => (outlines[key] ? [[name, { key, outline: outlines[key], saved: saved[key] ?? null }]] : [])),
      ),
    })
    // What was edited between is not lost on sheets that came just then.
    const ops = [
      ...(await theDesk().pageSync.since(at, wanted)),
      ...(this.server.hasSaved ? await theDesk().pageSync.unsaved(wanted.filter((key) => !asNow.includes(key))) : []),
      ...(compiled.length ? await theDesk().publishing.unsavedClasses() : []),
    ]
    if (ops.length && (await this.ask('sync', { ops })).reload) this.load(getStudio().address)
  }

  /** Counts the sheets of a compiler that were tied. */
  compiled = 0

  /** Ends once a sheet of a compiler has come that was not counted `before`, or has not for a while. */
  async whenCompiled(before: number): Promise<void> {
    for (let waited = 0; this.compiled === before && waited < COMPILING && !this.closed; waited += COMPILING / 60)
      await new Promise((done) => setTimeout(done, COMPILING / 60))
  }

  /** Ties sheets that have come since. */
  async tieAgain(): Promise<void> {
    if (getStudio().connected) await this.guard(() => this.tieSheets())
  }

  private onEvent(client: PageClient, event: PageEvent): void {
    if (client !== this.client) return
    if (event.event === 'frames')
      setStudio({
        frames: {
          hover: event.hover,
          picked: event.picked,
          others: event.others,
          reach: event.reach,
          containers: event.containers,
          page: event.page,
        },
      })
    else if (event.event === 'sheets') void this.guard(() => this.tieSheets())
    else if (event.event === 'tree') this.onTree()
    else if (event.event === 'typed') this.onTyped(event.keep)
    else if (event.event === 'moved') setStudio({ address: event.address })
    else if (event.event === 'painted') {
      setStudio({ painted: true })
      void theDesk().prepare()
    } else if (event.event === 'leaving') {
      // A link was followed or the page loads itself again; its next hello says where it went.
      this.gone = { address: getStudio().address, picked: elementName(getStudio().picked) }
      setStudio({ connected: false, frames: NO_FRAMES, hover: null })
      this.expectHello()
    }
  }

  /** Whether the project was closed, or reopened by another session. */
  get left(): boolean {
    return this.closed
  }

  get here(): boolean {
    return this.client !== null
  }

  /** @throws PageBusyError when the page does not answer, or there is none. */
  async ask<T extends RequestType>(type: T, ask: Ask<T>): Promise<Answer<T>> {
    if (!this.client) throw new PageBusyError('The page was left')
    return this.client.ask(type, ask)
  }

  /** What `work` gives; null when it failed, which the window then tells. */
  async guard<T>(work: () => Promise<T>): Promise<T | null> {
    try {
      return await work()
    } catch (error) {
      if (error instanceof PageBusyError) {
        if (getStudio().connected && error.message !== 'The page was left') setStudio({ busy: true })
      } else say('error', error instanceof Error ? error.message : String(error))
      return null
    }
  }

  wheel(x: number, y: number, dx: number, dy: number): void {
    void this.ask('wheel', { x, y, dx, dy }).catch(() => {})
  }

  close(): void {
    this.closed = true
    clearTimeout(this.helloTimer)
    removeEventListener('message', this.onMessage)
    this.client?.close()
    this.client = null
    this.server.close()
  }
}
