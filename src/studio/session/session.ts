import { theDesk } from '../desk/desk'
import { getStudio, INITIAL, setStudio, type Mode } from '../store'
import { Edits } from './edits'
import { LivePage } from './live-page'
import { Selection } from './selection'

/** Everything that happens between the interface, the desk and the live page of the open project. */
export class Session {
  readonly page: LivePage
  readonly selection: Selection
  readonly edits: Edits

  constructor(readonly project: string, template: string) {
    this.page = new LivePage(project, template, async ({ picked }) => {
      setStudio({ held: [], comparing: false })
      if (picked && (await this.selection.pickSource(picked.source, picked.nth))) return
      this.selection.letGo()
    })
    this.selection = new Selection(this.page, () => void this.saveView())
    this.edits = new Edits(this.page, this.selection)
  }

  /** Opens the project, publishes it and loads its page; {@link close} ends it. */
  async start(): Promise<boolean> {
    const opened = await this.page.open()
    if (!opened) return false
    const { view } = opened
    setStudio({
      ...INITIAL, project: opened, ledger: opened.state, tokens: opened.tokens, address: view?.page ?? `/${opened.pages[0] === 'index.html' ? '' : opened.pages[0]}`,
      width: view?.width ?? null, mode: view?.mode ?? 'pick', progress: { text: 'Publishing the page', share: 0 },
    })
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

  setWidth(width: number | null): void {
    setStudio({ width })
    void this.saveView()
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
