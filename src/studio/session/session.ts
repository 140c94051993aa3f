import { schemeOf, widthToShow } from '../../core/css'
import { proxy } from 'comlink'
import { theDesk, type Point, type VocabularyState } from '../../desk'
import { folderOf } from '../../folder'
import { devFault, type PageServer } from '../../page'
import { FOLDED_STRIP, getStudio, INITIAL, say, setStudio, USUAL_STRIP, useStudio, type Mode } from '../store'
import { Claim } from './claim'
import { DEFAULTS, loadPreferences } from '../../storage/preferences'
import { readOpen } from '../tune/open-sections'
import { db } from '../projects'
import { Drafts } from './drafts'
import { Edits } from './edits'
import { Keeping } from './keeping'
import { LayoutEdits } from './layout-edits'
import { TextTyping } from './text-typing'
import { Timeline } from './timeline'
import { LivePage } from './live-page'
import { Making } from './making'
import { whyEmpty } from './empty-page'
import { devServerOf, folderServerOf, serverBeside, servedProject, serverOf, type ServedProject } from './page-servers'
import { Selection } from './selection'
import { Sharing } from './sharing'
import { Structure } from './structure'
import { Writing } from './writing'

/** How long the page's width rests before what is chosen is read again; ms. */
const RESIZE_REST = 180

/** Once the page answers. */
const whenConnected = (): Promise<void> =>
  new Promise((done) => {
    if (getStudio().connected) return done()
    const stop = useStudio.subscribe((s) => {
      if (!s.connected) return
      stop()
      done()
    })
  })

/** How long a page may show nothing before the window says so; ms. */
const EMPTY_REST = 2000

/** Everything that happens between the interface, the desk and the live page of the open project. */
export class Session {
  readonly page: LivePage
  readonly selection: Selection
  readonly writing: Writing
  readonly edits: Edits
  readonly making: Making
  readonly timeline: Timeline
  readonly drafts = new Drafts()
  readonly structure: Structure
  readonly layout: LayoutEdits
  readonly typing: TextTyping
  readonly keeping: Keeping
  private readonly sharing: Sharing
  private readonly claim: Claim
  private readonly reopen: () => void
  private unsubscribe: () => void = () => {}
  private endWatch: () => void = () => {}
  private served: ServedProject | null = null

  /** `reopen` reopens the project, with what the folder then has. */
  constructor(
    readonly project: string,
    private readonly template: string,
    reopen: () => void,
  ) {
    // Once left for another project, this one does not come back by itself.
    this.reopen = () => {
      if (this.page.left) return
      // At once, and not only when the window has taken it in: an edit asked for until then would be lost.
      this.close()
      reopen()
    }
    this.page = new LivePage(
      project,
      serverOf(project, template),
      async ({ picked }) => {
        setStudio({ held: [], hidden: [], typing: false, comparing: false })
        if (getStudio().outline) void this.openOutline(true)
        void this.keepPicture()
        if (picked && (await this.selection.pickNamed(picked))) return
        this.selection.letGo()
      },
      () => void this.openOutline(true),
      (keep) => void this.typing.end(keep),
    )
    this.sharing = new Sharing(this.page)
    this.selection = new Selection(this.page, () => void this.saveView())
    this.writing = new Writing(this.page, this.selection)
    this.edits = new Edits(this.page, this.selection, this.writing)
    this.making = new Making(this.page, this.selection, this.writing)
    this.timeline = new Timeline(this.page, this.selection, this.writing, this.drafts)
    this.layout = new LayoutEdits(this.selection, this.edits)
    this.typing = new TextTyping(this.page, this.edits)
    this.structure = new Structure(this.page, this.selection, this.edits, this.making)
    this.keeping = new Keeping(this.writing, this.timeline, this.reopen)
    this.claim = new Claim(project, (why) => void this.setReadOnly(why), this.reopen)
  }

  /** Shows the page of a development server that runs already. */
  async showServerAt(address: string): Promise<void> {
    const place = await db.folders.get(this.project)
    const dev = place
      ? await devServerOf(this.project, this.template, place, { address, write: (paths) => this.keeping.writeAtOnce(paths) })
      : null
    if (!dev || this.page.left) return
    this.page.serveFrom(dev.server)
    setStudio({ fault: null, progress: { text: `Asking ${address}`, share: 0 } })
    await this.page.publish()
  }

  /** Reads the person's choices; damaged ones fall back, and are named. */
  async readPreferences(): Promise<readonly string[]> {
    const { all, own, damaged } = await loadPreferences(db, this.project)
    setStudio({ preferences: { ...DEFAULTS, ...all, ...own } })
    return damaged
  }

  /** What shows another state of the project beside the page. */
  serverBeside(point: Point): PageServer {
    return serverBeside(this.project, this.template, this.served, point)
  }

  /** Opens the project, publishes it and loads its page; {@link close} ends it. */
  async start(): Promise<boolean> {
    const opened = await this.page.open()
    if (!opened) return false
    const state = await theDesk().current.setReadOnly(await this.claim.take())
    const { view } = opened
    const damaged = await this.readPreferences()
    const open = await readOpen()
    const place = await db.folders.get(this.project)
    const dev = place ? await devServerOf(this.project, this.template, place) : null
    if (this.page.left) return false
    this.served = place && !dev ? await servedProject(place) : null
    const server = dev?.server ?? (this.served && folderServerOf(this.template, this.served))
    if (this.page.left) return false
    if (server) this.page.serveFrom(server)
    const { preferences, project: before, status, lost, dialog } = getStudio()
    const outline = preferences.outline === 'as it was left' ? (view?.outline ?? getStudio().outline) : preferences.outline === 'shown'
    const strip =
      preferences.strip === 'as it was left'
        ? (view?.strip ?? getStudio().strip)
        : preferences.strip === 'shown'
          ? Math.max(USUAL_STRIP, view?.strip ?? 0)
          : FOLDED_STRIP
    setStudio({
      ...INITIAL,
      lost,
      dialog: dialog === 'lost' ? dialog : null,
      preferences,
      status: before?.id === opened.id ? status : null,
      open,
      outline,
      strip,
      project: opened,
      ledger: state,
      server: dev?.name ?? null,
      scale: opened.scale,
      address: view?.page ?? (dev || opened.pages[0] === 'index.html' ? '/' : `/${opened.pages[0]}`),
      width: view?.width ?? null,
      mode: view?.mode ?? 'pick',
      progress: { text: dev ? `Starting ${dev.name}` : 'Publishing the page', share: 0 },
    })
    if (opened.lost)
      say(
        'error',
        `${opened.lost} ${opened.lost === 1 ? 'edit' : 'edits'} of the history ${opened.lost === 1 ? 'was' : 'were'} not made on these files, and ${opened.lost === 1 ? 'is' : 'are'} left out.`,
      )
    if (damaged.length) say('error', `These preferences were damaged and are as at the beginning: ${damaged.join(', ')}.`)
    await theDesk().opening.onVocabulary(
      proxy((vocabulary: VocabularyState) => {
        setStudio({ vocabulary })
        for (const note of vocabulary.share === 1 ? vocabulary.notes.slice(0, 1) : []) say('error', note)
        // More places are there for an edit to land now.
        if (vocabulary.share === 1 && getStudio().connected) void this.selection.refresh()
      }),
    )
    const last = opened.state.rows.at(-1)
    if (last) setStudio({ source: { path: last.path, line: last.line } })
    await this.page.publish({ scroll: view && { x: view.scrollX, y: view.scrollY }, picked: view?.picked ?? null })
    if (this.page.left) return false
    this.unsubscribe = useStudio.subscribe((s, before) => {
      if (s.ledger !== before.ledger) {
        this.claim.tell()
        this.keeping.saveSoon()
      }
      if (s.ledger !== before.ledger || s.preferences.unsaved !== before.preferences.unsaved) this.keeping.keepSoon()
      if (s.outline !== before.outline || s.strip !== before.strip) void this.saveView()
    })
    this.keeping.watch(place ? folderOf(place) : null)
    if (place) this.sharing.start(folderOf(place))
    const development = dev && place ? folderOf(place).development : null
    if (development)
      this.endWatch = development.watch(() => {
        void development.report().then((report) => {
          if (this.page.left) return
          if (report.state.is !== 'running') setStudio({ fault: devFault(report), connected: false })
          // One that the person started answers again.
          else if (getStudio().fault) void this.page.publish()
        })
      })
    void this.readRest().then(() => this.readAhead())
    this.keeping.keepSoon()
    // Before the first edit that no file has: without it the browser may clear what is stored (Storage §7).
    void navigator.storage.persist().catch(() => false)
    return true
  }

  // Files of the folder that the page was shown without.
  private async readRest(): Promise<void> {
    await whenConnected()
    if (this.page.left) return
    try {
      const rest = await theDesk().opening.readRest(
        proxy((done: number, of: number) => !this.page.left && setStudio({ unread: { done, of } })),
      )
      const { project, connected } = getStudio()
      if (!rest || this.page.left || !project) return
      setStudio({ unread: null, scale: rest.scale, project: { ...project, readOnly: rest.readOnly } })
      // Other pages have classes that the compiled sheet did not give before.
      this.page.serve(rest.files)
      if (connected) await this.writing.updates.sync(rest.sync)
      await this.page.tieAgain()
      await this.selection.refresh()
      // What was changed while it was read.
      void this.keeping.look()
    } catch (error) {
      setStudio({ unread: null })
      say('error', `The folder could not be read to its end: ${error instanceof Error ? error.message : String(error)}`)
    }
  }

  private async readAhead(): Promise<void> {
    // The page is there first: it has its rules tied by the same worker.
    await whenConnected()
    if (this.page.left) return
    const scale = await theDesk().opening.readAhead(
      proxy((path: string, share: number) => {
        if (!this.page.left) setStudio({ reading: { path, share } })
      }),
    )
    if (this.page.left) return
    setStudio({ reading: null, ...(scale && { scale }) })
  }

  /** Lets the rest of a long sheet be read when it is needed. */
  stopReading(): void {
    setStudio({ reading: null })
    void theDesk().opening.stopReading()
  }

  goTo(address: string): void {
    void this.saveView()
    this.page.goTo(address)
  }

  setMode(mode: Mode): void {
    setStudio({ mode, hover: null })
    if (mode === 'use') this.selection.letGo()
    void this.saveView()
  }

  /** Has clicks on the page give elements the values of the edit made last, until it is ended. */
  setCarrying(on: boolean): void {
    if (on && !getStudio().lastMade) {
      say('info', 'Make an edit first; then it can be carried to other elements by clicking them.')
      return
    }
    setStudio({ carrying: on })
  }

  async carryAt(x: number, y: number): Promise<void> {
    const hit = await this.page.guard(() => this.page.ask('hit', { x, y, hover: false }))
    if (hit) await this.edits.carryTo(hit.info.node)
  }

  /** Asks the page for its tree, and to tell when that has changed; or lets it rest. */
  async openOutline(on: boolean): Promise<void> {
    const tree = this.page.here ? await this.page.guard(() => this.page.ask('tree', { watch: on })) : null
    setStudio({ tree: on ? tree : null })
  }

  private resizing: ReturnType<typeof setTimeout> | undefined

  setWidth(width: number | null): void {
    setStudio({ width })
    void this.saveView()
    // Other rules may count at another width; while the ruler is pulled, that is asked once it rests.
    clearTimeout(this.resizing)
    this.resizing = setTimeout(() => {
      if (!this.page.left && getStudio().connected) void this.selection.refresh()
    }, RESIZE_REST)
  }

  /** Widths, or the colour scheme, that edits are to hold at; the page is given a width and scheme at which they do. */
  setMedia(media: string): Promise<void> {
    const around = schemeOf(media) === 'dark' ? getStudio().vocabulary?.darkAround : null
    if (around) return this.selection.setCondition({ state: `${around} &`, media: '' })
    return this.selection.choices.during(async () => {
      const { frames, condition, scale } = getStudio()
      const width = media ? widthToShow(media, frames.page?.width ?? 0, scale.conditions) : null
      if (width !== null) this.setWidth(width)
      const otherScheme = schemeOf(media) !== schemeOf(condition.media)
      if (otherScheme) setStudio({ condition: { ...condition, media } })
      // The page lays itself out again before its rules are asked about.
      if (width !== null || otherScheme) await new Promise((done) => setTimeout(done, 120))
      await this.selection.setCondition({ media })
    })
  }

  async saveView(): Promise<void> {
    const { address, width, mode, picked, frames, project, outline, strip } = getStudio()
    if (!project || this.page.left) return
    const { info, nth } = picked?.report ?? {}
    await theDesk().current.saveView({
      page: address,
      width,
      mode,
      outline,
      strip,
      scrollX: frames.page?.scrollX ?? 0,
      scrollY: frames.page?.scrollY ?? 0,
      picked: info?.source ? { source: info.source, nth: nth ?? 0 } : null,
    })
  }

  private async setReadOnly(why: string | null): Promise<void> {
    setStudio({ ledger: await theDesk().current.setReadOnly(why) })
  }

  /** Edits the project in this window, where another one has it; that one then shows it only. */
  async takeOver(): Promise<void> {
    if ((await this.claim.take(true)) === null) this.reopen()
  }

  /** Keeps a small picture of the page for the list of projects. */
  private async keepPicture(): Promise<void> {
    const sketch = this.page.here ? await this.page.guard(() => this.page.ask('sketch', {})) : null
    if (!sketch) return
    if (sketch.boxes.length === 0) this.emptyLater()
    const { pictureOf } = await import('./picture')
    await db.projects.update(this.project, { picture: pictureOf(sketch) })
  }

  private looking: ReturnType<typeof setTimeout> | undefined

  // Scripts may still be about to fill it.
  private emptyLater(): void {
    clearTimeout(this.looking)
    this.looking = setTimeout(() => {
      void (async () => {
        const sketch = this.page.here ? await this.page.guard(() => this.page.ask('sketch', {})) : null
        const isAtTop = (getStudio().frames.page?.scrollY ?? 0) === 0
        if (sketch?.boxes.length === 0 && isAtTop && !this.page.left) setStudio({ empty: await whyEmpty(this.page.hasSaved) })
      })()
    }, EMPTY_REST)
  }

  /** Ends it; once more does nothing. */
  close(): void {
    // A page that has not come back to its place yet has none to keep.
    if (getStudio().connected) void this.saveView()
    this.unsubscribe()
    this.endWatch()
    clearTimeout(this.looking)
    this.claim.close()
    this.sharing.stop()
    this.keeping.rest()
    this.page.close()
    // What is asked for while it is reopened would find no page.
    this.selection.leave()
    setStudio({ connected: false })
  }
}
