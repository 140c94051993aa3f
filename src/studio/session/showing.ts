import type { Intent } from '../../core/edit'
import { theDesk } from '../desk/desk'
import { PageBusyError } from '../../page'
import { getStudio, say, setStudio } from '../store'
import type { LivePage } from './live-page'

/** Intents shown on the page without being written; while one is on its way, only the latest next is kept. */
export class Showing {
  private isShowing = false
  private next: { intent: Intent; exact: boolean } | null = null
  private latest: Promise<void> = Promise.resolve()

  constructor(private readonly page: LivePage) {}

  /** Ends once the page has what it was last asked to show. */
  get shown(): Promise<void> {
    return this.latest
  }

  show(intent: Intent, exact: boolean): void {
    this.next = { intent, exact }
    if (!this.isShowing) this.latest = this.showLatest()
  }

  private async showLatest(): Promise<void> {
    this.isShowing = true
    try {
      while (this.next && this.page.here) {
        const { intent, exact } = this.next
        this.next = null
        const shown = await theDesk().show(intent, exact)
        if (shown === 'busy') throw new PageBusyError('The page does not answer')
        if (!shown.ok) say('error', shown.why)
        else if (getStudio().pulling) setStudio({ writes: shown })
      }
    } catch (error) {
      if (error instanceof PageBusyError) setStudio({ busy: true })
      else say('error', String(error))
    }
    this.isShowing = false
  }

  /** Takes what is shown off the page again. */
  async cancel(): Promise<void> {
    this.next = null
    await this.latest
    setStudio({ pulling: null, writes: null })
    if (this.page.here) await this.page.guard(() => this.page.ask('preview', { ops: [], clear: true, exact: true }))
  }
}
