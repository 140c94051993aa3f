import { theDesk } from '../../desk'
import { getStudio, say, setStudio } from '../store'
import type { Edits } from './edits'
import type { LivePage } from './live-page'

/** Types texts of elements where they stand on the page. */
export class TextTyping {
  /** The element whose text is being typed. */
  private typedIn: string | null = null

  constructor(
    private readonly page: LivePage,
    private readonly edits: Edits,
  ) {}

  /** Lets the text of the selected element be typed. */
  async begin(): Promise<void> {
    const { picked } = getStudio()
    if (!picked || picked.report.info.source === null || !this.page.here) return
    await this.edits.cancelPreview()
    // What is typed goes to the page itself, which a click beside it takes for the end.
    setStudio({ typing: true, hover: null })
    this.typedIn = picked.report.info.source
    this.page.focus()
    const why = await this.page.guard(() => this.page.ask('beginText', { node: picked.report.info.node }))
    if (why === null) return
    setStudio({ typing: false })
    say('info', why)
  }

  /** Ends typing; what was typed is one edit. */
  async end(keep: boolean): Promise<void> {
    if (!getStudio().typing) return
    setStudio({ typing: false })
    this.page.blur()
    const said = (await this.page.guard(() => this.page.ask('endText', {}))) ?? []
    // The page's word is taken for texts of the element that was asked about, and for no others.
    const isWithin = await theDesk().places.areWithin(
      said.map((c) => c.source),
      this.typedIn,
    )
    const changed = said.filter((_, i) => isWithin[i])
    if (keep && changed.length) await this.edits.onElements(changed.map((c) => ({ kind: 'set-text', ...c })))
  }
}
