import { schemeOf, widthRange } from '../../core/css/media'
import { proxy } from 'comlink'
import { theDesk } from '../desk/desk'
import type { VocabularyState } from '../desk/vocabularies'
import { getStudio, INITIAL, say, setStudio, type Mode } from '../store'
import { readOpen } from '../tune/open-sections'
import { Edits } from './edits'
import { LivePage } from './live-page'
import { Selection } from './selection'
import { Structure } from './structure'

/** Everything that happens between the interface, the desk and the live page of the open project. */
export class Session {
  readonly page: LivePage
  readonly selection: Selection
  readonly edits: Edits
  readonly structure: Structure

  constructor(readonly project: string, template: string) {
    this.page = new LivePage(project, template, async ({ picked }) => {
      setStudio({ held: [], hidden: [], typing: false, comparing: false })
      if (getStudio().outline) void this.openOutline(true)
      if (picked && (await this.selection.pickSource(picked.source, picked.nth))) return
      this.selection.letGo()
    }, () => void this.openOutline(true), (keep) => void this.edits.endText(keep))
    this.selection = new Selection(this.page, () => void this.saveView())
    this.edits = new Edits(this.page, this.selection)
    this.structure = new Structure(this.page, this.selection, this.edits)
  }

  /** Opens the project, publishes it and loads its page; {@link close} ends it. */
  async start(): Promise<boolean> {
    const opened = await this.page.open()
    if (!opened) return false
    const { view } = opened
    setStudio({
      ...INITIAL, open: readOpen(), outline: getStudio().outline, project: opened, ledger: opened.state, scale: opened.scale, address: view?.page ?? `/${opened.pages[0] === 'index.html' ? '' : opened.pages[0]}`,
      width: view?.width ?? null, mode: view?.mode ?? 'pick', progress: { text: 'Publishing the page', share: 0 },
    })
    await theDesk().onVocabulary(proxy((vocabulary: VocabularyState) => {
      setStudio({ vocabulary })
      for (const note of vocabulary.share === 1 ? vocabulary.notes.slice(0, 1) : []) say('error', note)
      // More places are there for an edit to land now.
      if (vocabulary.share === 1 && getStudio().connected) void this.selection.refresh()
    }))
    const last = opened.state.rows.at(-1)
    if (last) setStudio({ source: { path: last.path, line: last.line } })
    await this.page.publish({ scroll: view && { x: view.scrollX, y: view.scrollY }, picked: view?.picked ?? null })
    return true
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

  setWidth(width: number | null): void {
    setStudio({ width })
    void this.saveView()
  }

  /** Widths, or the colour scheme, that edits are to hold at; the page is given a width and scheme at which they do. */
  async setMedia(media: string): Promise<void> {
    const range = media ? widthRange(media) : null
    const { frames, condition } = getStudio()
    const now = frames.page?.width ?? 0
    const isOutside = range !== null && (now < range.min || now > range.max)
    if (isOutside) this.setWidth(Number.isFinite(range.max) ? range.max : range.min)
    const otherScheme = schemeOf(media) !== schemeOf(condition.media)
    if (otherScheme) setStudio({ condition: { ...condition, media } })
    // The page lays itself out anew before its rules are asked about.
    if (isOutside || otherScheme) await new Promise((done) => setTimeout(done, 120))
    await this.selection.setCondition({ media })
  }

  async saveView(): Promise<void> {
    const { address, width, mode, picked, frames, project } = getStudio()
    if (!project) return
    const { info, nth } = picked?.report ?? {}
    await theDesk().saveView({
      page: address, width, mode, scrollX: frames.page?.scrollX ?? 0, scrollY: frames.page?.scrollY ?? 0,
      picked: info?.source ? { source: info.source, nth: nth ?? 0 } : null,
    })
  }

  close(): void {
    this.page.close()
  }
}
