import { proxy, transfer } from 'comlink'
import type { NodeHandle, PageEvent } from '../agent/protocol'
import { readHello } from '../agent/read'
import type { AimRef, Candidate } from '../core/aim'
import type { Remedy } from '../core/cascade'
import type { SetIntent } from '../core/edit'
import { liveOriginFor } from '../live/origin'
import { theDesk } from './desk/desk'
import type { Written } from './desk/desk.worker'
import { HostClient, LiveFaultError } from './live/host-client'
import { PageBusyError, PageClient } from './live/page-client'
import { getStudio, INITIAL, NO_FRAMES, setStudio, type Mode } from './store'
import { askEngine, pageOf, verdictOf } from './page-facts'
import { READ_PROPERTIES, TUNE_PROPERTIES } from './tune/properties'

/** Everything that happens between the interface, the desk and the live page of the open project. */
export class Session {
  private origin: string
  private starts = 1
  private host: HostClient | null = null
  private page: PageClient | null = null
  private frame: HTMLIFrameElement | null = null
  private restoring: { x: number; y: number } | null = null
  /** What to pick once the page is there. */
  private wanted: { source: string; nth: number } | null = null
  private picking = 0
  private closed = false
  private readonly onMessage = (e: MessageEvent) => this.hear(e)

  constructor(readonly project: string, private readonly template: string) {
    this.origin = liveOriginFor(template, project, location.port)
  }

  private get agentScript(): string {
    return `<script src="/__steady/agent.js" data-studio="${location.origin}"></script>`
  }

  /** Opens the project, publishes it and loads its page; {@link close} ends it. */
  async start(): Promise<boolean> {
    this.closed = false
    addEventListener('message', this.onMessage)
    const opened = await theDesk().open(this.project, this.agentScript)
    if (!opened || this.closed) return false
    const page = opened.view?.page ?? `/${opened.pages[0] === 'index.html' ? '' : opened.pages[0]}`
    if (opened.view) {
      this.restoring = { x: opened.view.scrollX, y: opened.view.scrollY }
      this.wanted = opened.view.picked
    }
    setStudio({
      ...INITIAL, project: opened, ledger: opened.state, tokens: opened.tokens, address: page,
      width: opened.view?.width ?? null, mode: opened.view?.mode ?? 'pick', progress: { text: 'Publishing the page', share: 0 },
    })
    const last = opened.state.rows.at(-1)
    if (last) setStudio({ source: { path: last.path, line: last.line } })
    await this.publish()
    return true
  }

  private others: Promise<void> = Promise.resolve()

  private async publish(): Promise<void> {
    try {
      this.host?.close()
      this.host = await HostClient.open(this.origin)
      if (this.closed) {
        this.host.close()
        return
      }
      const host = this.host
      await host.reset(this.project)
      const shown = pageOf(getStudio().address)
      await theDesk().publish(shown, false, proxy(async (files, done, of) => {
        await host.put(files)
        setStudio({ progress: { text: `Publishing ${done} of ${of} files`, share: done / of } })
      }))
      setStudio({ progress: null, fault: null })
      this.load(getStudio().address)
      // The other pages follow while this one is looked at already.
      this.others = theDesk().publish(shown, true, proxy((files) => host.put(files))).catch(() => {})
    } catch (error) {
      if (this.closed) return
      if (error instanceof LiveFaultError) setStudio({ fault: error.fault, progress: null })
      else this.say('error', `The page could not be published: ${String(error)}`)
    }
  }

  /** Gives the session the frame to show the page in. */
  attach(frame: HTMLIFrameElement | null): void {
    this.frame = frame
    if (frame && this.host && !getStudio().progress) this.load(getStudio().address)
  }

  private load(address: string): void {
    if (!this.frame) return
    setStudio({ connected: false, busy: false })
    this.frame.src = this.origin + (address.startsWith('/') ? address : `/${address}`)
    this.expectHello()
  }

  private helloTimer: ReturnType<typeof setTimeout> | undefined
  private expectHello(): void {
    clearTimeout(this.helloTimer)
    this.helloTimer = setTimeout(() => {
      if (!getStudio().connected && !this.closed) setStudio({ busy: true })
    }, 6000)
  }

  goTo(address: string): void {
    void this.saveView()
    this.wanted = null
    this.restoring = null
    setStudio({ address, picked: null, hover: null, frames: NO_FRAMES })
    // While files are being published, the page is loaded when they are.
    if (!getStudio().progress) void this.others.then(() => this.load(getStudio().address))
  }

  /**
   * Leaves a page that does not answer and starts it again on a fresh origin: the browser keeps all of an origin in one
   * process, its service worker included, and that process is the one that hangs. What the page itself stored stays there.
   */
  async restart(): Promise<void> {
    this.page?.close()
    this.page = null
    if (this.frame) this.frame.src = 'about:blank'
    this.host?.close()
    this.host = null
    this.origin = liveOriginFor(this.template, `${this.project}--${++this.starts}`, location.port)
    setStudio({ busy: false, connected: false, picked: null, hover: null, frames: NO_FRAMES, progress: { text: 'Starting the page again', share: 0 } })
    await this.publish()
  }

  private hear(e: MessageEvent): void {
    if (!this.frame || e.source !== this.frame.contentWindow || e.origin !== this.origin) return
    const hello = readHello(e.data)
    if (!hello) return
    this.page?.close()
    const [own, previews] = [new MessageChannel(), new MessageChannel()]
    const page = new PageClient(own.port1, (event) => this.onEvent(page, event), (why) => this.say('error', why))
    this.page = page
    void theDesk().usePage(transfer(previews.port1, [previews.port1]))
    this.frame.contentWindow!.postMessage({ steady: 'port' }, this.origin, [own.port2, previews.port2])
    clearTimeout(this.helloTimer)
    setStudio({ address: hello.address, connected: true, busy: false, frames: NO_FRAMES, hover: null })
    void this.greet(page)
  }

  private async greet(page: PageClient): Promise<void> {
    await this.guard(async () => {
      await this.tieSheets(page)
      const { restoring, wanted } = this
      this.restoring = null
      this.wanted = null
      if (restoring) await page.ask('scrollTo', restoring)
      const found = wanted && (await page.ask('locate', wanted))
      if (found) await this.pick(found.node)
      else {
        setStudio({ picked: null })
        await page.ask('watch', { hover: null, picked: null, reach: [] })
      }
    })
  }

  private async tieSheets(page: PageClient): Promise<void> {
    const sheets = await page.ask('sheets', {})
    const outlines = await theDesk().outlines([...new Set(sheets.map((s) => s.key))])
    await page.ask('outlines', { sheets: outlines })
  }

  private onEvent(page: PageClient, event: PageEvent): void {
    if (page !== this.page) return
    if (event.event === 'frames') setStudio({ frames: { hover: event.hover, picked: event.picked, reach: event.reach, page: event.page } })
    else if (event.event === 'sheets') void this.guard(() => this.tieSheets(page))
    else if (event.event === 'leaving') {
      // A link was followed or the page loads itself again; its next hello says where it went.
      setStudio({ connected: false, frames: NO_FRAMES, hover: null })
      this.expectHello()
    }
  }

  private async guard<T>(work: () => Promise<T>): Promise<T | null> {
    try {
      return await work()
    } catch (error) {
      if (error instanceof PageBusyError) {
        if (getStudio().connected && error.message !== 'The page was left') setStudio({ busy: true })
      } else this.say('error', error instanceof Error ? error.message : String(error))
      return null
    }
  }

  say(kind: 'info' | 'error', text: string): void {
    setStudio({ status: { kind, text } })
  }

  setMode(mode: Mode): void {
    setStudio({ mode, hover: null })
    if (mode === 'use') this.letGo()
    void this.saveView()
  }

  setWidth(width: number | null): void {
    setStudio({ width })
    void this.saveView()
  }

  private hovering = false
  private nextHover: { x: number; y: number } | null = null

  /** The element under a point of the page's viewport; one question at a time, the latest point next. */
  async hover(x: number, y: number): Promise<void> {
    this.nextHover = { x, y }
    if (this.hovering || !this.page) return
    this.hovering = true
    while (this.nextHover) {
      const at = this.nextHover
      this.nextHover = null
      const hit = await this.guard(() => this.page!.ask('hit', { ...at, hover: true }))
      if (!this.page) break
      setStudio({ hover: hit?.info ?? null })
    }
    this.hovering = false
  }

  hoverNothing(): void {
    this.nextHover = null
    setStudio({ hover: null })
    void this.watch()
  }

  private async watch(): Promise<void> {
    const { picked, hover } = getStudio()
    const page = this.page
    if (!page) return
    await this.guard(() => page.ask('watch', { hover: hover?.node ?? null, picked: picked?.report.info.node ?? null, reach: this.reachSelectors }))
  }

  private reachSelectors: readonly string[] = []

  async pickAt(x: number, y: number): Promise<void> {
    const page = this.page
    if (!page) return
    const hit = await this.guard(() => page.ask('hit', { x, y, hover: false }))
    if (hit) await this.pick(hit.info.node)
  }

  /** Picks the element with this source, the `nth` of those that have it; whether there is one. */
  async pickSource(source: string, nth = 0): Promise<boolean> {
    const page = this.page
    const found = page && (await this.guard(() => page.ask('locate', { source, nth })))
    if (found) await this.pick(found.node)
    return found !== null
  }

  async pick(node: NodeHandle): Promise<void> {
    const page = this.page
    if (!page) return
    const turn = ++this.picking
    await this.guard(async () => {
      const tokens = getStudio().tokens.map((t) => t.name)
      const report = await page.ask('pick', { node, props: [...READ_PROPERTIES, ...tokens] })
      if (!report || turn !== this.picking) return
      const unknown = await theDesk().unknown(report)
      if (unknown.length) await theDesk().learn(askEngine(unknown))
      const source = report.info.source ?? report.nearestSource?.source ?? null
      const [aims, place] = await Promise.all([
        report.info.source === null ? [] : theDesk().aims(report, TUNE_PROPERTIES),
        source === null ? null : theDesk().place(source),
      ])
      // Reach is known before the edit, for a rule that is not there yet too.
      const selector = aims.flatMap((a) => a.candidates).find((c) => c.ref.kind === 'new-rule')?.ref
      const fresh = selector?.kind === 'new-rule' ? await page.ask('reach', { selectors: [selector.selector], node }) : null
      if (turn !== this.picking) return
      const known = fresh ? aims.map((a) => ({ ...a, candidates: a.candidates.map((c) => (c.ref.kind === 'new-rule' ? { ...c, reach: fresh.count } : c)) })) : aims
      const same = getStudio().picked?.report.info.node === report.info.node
      setStudio({
        picked: { report, aims: new Map(known.map((a) => [a.property, a])), place }, chosen: same ? getStudio().chosen : {},
        // The frame is drawn with the element it is of, not a moment later.
        frames: { ...getStudio().frames, picked: report.geometry },
      })
      await this.showReach()
      await this.saveView()
    })
  }

  /** Frames what the aim of the property in hand reaches. */
  async showReach(): Promise<void> {
    const aim = this.currentAim(getStudio().property)
    this.reachSelectors = aim ? await this.selectorsOf(aim.ref) : []
    await this.watch()
    const selectors = this.reachSelectors
    const projectReach = selectors.length ? await theDesk().projectReach(selectors) : null
    if (selectors === this.reachSelectors) setStudio({ projectReach })
  }

  async selectorsOf(ref: AimRef): Promise<readonly string[]> {
    return ref.kind === 'rule' ? theDesk().selectors(ref.sheet, ref.rule) : ref.kind === 'new-rule' ? [ref.selector] : []
  }

  /** Gives a property its effect by the change that its reason names, on the element or its parent. */
  async applyRemedy(remedy: Remedy): Promise<void> {
    if (remedy.on === 'parent') await this.walk('parent')
    await this.needAim(remedy.name)
    await this.commit(remedy.name, remedy.value)
  }

  /** Works out where an edit of a property without a row of its own would land. */
  async needAim(property: string): Promise<void> {
    const { picked } = getStudio()
    if (!picked || picked.aims.has(property)) return
    const [aim] = await theDesk().aims(picked.report, [property])
    setStudio({ picked: { ...picked, aims: new Map([...picked.aims, [property, aim]]) } })
  }

  letGo(): void {
    this.picking++
    this.reachSelectors = []
    setStudio({ picked: null, chosen: {} })
    void this.watch()
    void this.saveView()
  }

  async walk(to: 'parent' | 'child' | 'next' | 'previous'): Promise<void> {
    const { picked } = getStudio()
    const page = this.page
    if (!picked || !page) return
    const found = await this.guard(() => page.ask('walk', { node: picked.report.info.node, to }))
    if (found) await this.pick(found.node)
  }

  wheel(x: number, y: number, dx: number, dy: number): void {
    void this.page?.ask('wheel', { x, y, dx, dy }).catch(() => {})
  }

  /** Where an edit of `property` lands: as chosen by hand, else the default. */
  currentAim(property: string): Candidate | null {
    const { picked, chosen } = getStudio()
    const aim = picked?.aims.get(property)
    return aim?.candidates[chosen[property] ?? aim.chosen] ?? null
  }

  touch(property: string): void {
    if (getStudio().property === property) return
    setStudio({ property })
    void this.showReach()
  }

  chooseAim(property: string, index: number): void {
    setStudio({ chosen: { ...getStudio().chosen, [property]: index } })
    void this.showReach()
  }

  private showing = false
  private nextShow: { intent: SetIntent; exact: boolean } | null = null
  private shown: Promise<void> = Promise.resolve()

  private intent(property: string, value: string): SetIntent | null {
    const aim = this.currentAim(property)
    return aim && { kind: 'set', aim: aim.ref, name: property, value }
  }

  /** Shows a value on the page without writing it; while one is on its way, only the latest next is kept. */
  preview(property: string, value: string, exact = false): void {
    const intent = this.intent(property, value)
    if (!intent) return
    setStudio({ pulling: { property, value } })
    this.nextShow = { intent, exact }
    if (!this.showing) this.shown = this.showLatest()
  }

  /** Shows a value as it will be written, and waits until the page has it. */
  async previewExact(property: string, value: string): Promise<void> {
    this.preview(property, value, true)
    await this.shown
  }

  private async showLatest(): Promise<void> {
    this.showing = true
    try {
      while (this.nextShow && this.page) {
        const { intent, exact } = this.nextShow
        this.nextShow = null
        const shown = await theDesk().show(intent, exact)
        if (shown === 'busy') throw new PageBusyError('The page does not answer')
        if (shown !== 'shown') this.say('error', shown.why)
      }
    } catch (error) {
      if (error instanceof PageBusyError) setStudio({ busy: true })
      else this.say('error', String(error))
    }
    this.showing = false
  }

  async cancelPreview(): Promise<void> {
    this.nextShow = null
    await this.shown
    setStudio({ pulling: null })
    const page = this.page
    if (page) await this.guard(() => page.ask('preview', { ops: [], clear: true, exact: true }))
  }

  /** Writes a value: previews it, notes what the page shows, writes the source, and reads the page again. */
  async commit(property: string, value: string): Promise<boolean> {
    const intent = this.intent(property, value)
    const { picked } = getStudio()
    const page = this.page
    if (!intent || !picked || !page) return false
    await this.previewExact(property, value)
    const nodes = [picked.report.info.node]
    const selectors = await this.selectorsOf(intent.aim)
    const props = [property]
    const seen = await this.guard(() => page.ask('read', { nodes, selectors, props }))
    try {
      const written = await theDesk().commit(intent, seen?.length ?? 1)
      if ('ok' in written) {
        await this.cancelPreview()
        this.say('error', written.why)
        return false
      }
      setStudio({ pulling: null })
      await this.takeIn(written)
      setStudio({ source: { path: written.path, line: written.state.rows.at(-1)!.line }, status: null })
      await this.readBack(written.edit.seq, seen, { nodes, selectors, props })
      await this.pickAgain()
      return true
    } catch (error) {
      await this.cancelPreview()
      this.say('error', error instanceof Error ? error.message : String(error))
      return false
    }
  }

  private async readBack(seq: number, seen: readonly (readonly string[])[] | null, what: { nodes: number[]; selectors: readonly string[]; props: string[] }): Promise<void> {
    const page = this.page
    const now = page && (await this.guard(() => page.ask('read', what)))
    const state = await theDesk().judge(seq, verdictOf(seen, now, what.props))
    setStudio({ ledger: state })
  }

  // Publishes a changed file and lets the page take it in without losing its place.
  private async takeIn(written: Written): Promise<void> {
    setStudio({ ledger: written.state, tokens: written.tokens, revision: getStudio().revision + 1 })
    const { picked, frames } = getStudio()
    await this.host?.put(written.files)
    const page = this.page
    if (!page) return
    const answer = await this.guard(() => page.ask('sync', { ops: written.sync }))
    if (answer?.reload) {
      this.wanted = picked?.report.info.source ? { source: picked.report.info.source, nth: picked.report.nth } : null
      this.restoring = frames.page && { x: frames.page.scrollX, y: frames.page.scrollY }
      this.load(getStudio().address)
    }
  }

  private async pickAgain(): Promise<void> {
    const { picked } = getStudio()
    if (picked) await this.pick(picked.report.info.node)
  }

  private stepping: Promise<void> = Promise.resolve()

  /** Steps follow one another however fast they are asked for. */
  step(by: 'undo' | 'redo'): Promise<void> {
    this.stepping = this.stepping.then(async () => {
      try {
        const written = await theDesk().step(by)
        if (!written) return
        await this.takeIn(written)
        const line = by === 'redo' ? written.state.rows.at(-1)!.line : await theDesk().lineAt(written.path, written.edit.changes.find((c) => c.path === written.path)?.inverse[0]?.from ?? 0)
        setStudio({ source: { path: written.path, line }, status: null })
        await this.pickAgain()
      } catch (error) {
        this.say('error', error instanceof Error ? error.message : String(error))
      }
    })
    return this.stepping
  }

  async saveView(): Promise<void> {
    const { address, width, mode, picked, frames, project } = getStudio()
    if (!project || this.closed) return
    const { info, nth } = picked?.report ?? {}
    await theDesk().saveView({
      page: address, width, mode, scrollX: frames.page?.scrollX ?? 0, scrollY: frames.page?.scrollY ?? 0,
      picked: info?.source ? { source: info.source, nth: nth ?? 0 } : null,
    })
  }

  close(): void {
    this.closed = true
    clearTimeout(this.helloTimer)
    removeEventListener('message', this.onMessage)
    this.page?.close()
    this.host?.close()
  }
}
