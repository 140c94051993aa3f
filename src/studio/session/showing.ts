import type { Intent } from '../../core/edit'
import { theDesk, type Reading, type Shown } from '../../desk'
import { getStudio, say, setStudio } from '../store'
import type { LivePage } from './live-page'

interface ShownIntent {
  readonly intent: Intent
  readonly shown: Shown
}

/** Intents shown on the page without being written; while one is on its way, only the latest next is kept. */
export class Showing {
  private isShowing = false
  private next: { intent: Intent; exact: boolean; reading: Reading | null } | null = null
  private latest: Promise<ShownIntent | null> = Promise.resolve(null)

  constructor(private readonly page: LivePage) {}

  /** What the page was last asked to show, once it has it; null where that was refused. */
  get shown(): Promise<ShownIntent | null> {
    return this.latest
  }

  show(intent: Intent, exact: boolean, reading: Reading | null = null): void {
    this.next = { intent, exact, reading }
    if (!this.isShowing) this.latest = this.showLatest()
  }

  private async showLatest(): Promise<ShownIntent | null> {
    this.isShowing = true
    let last: ShownIntent | null = null
    try {
      while (this.next && this.page.here) {
        const { intent, exact, reading } = this.next
        this.next = null
        const shown = await theDesk().editing.show(intent, exact, reading)
        last = shown.ok ? { intent, shown } : null
        if (!shown.ok) say('error', shown.why)
        else if (!shown.onPage) {
          setStudio({ busy: true })
          break
        } else if (reading === null && getStudio().pulling) setStudio({ writes: shown })
      }
    } catch (error) {
      last = null
      say('error', String(error))
    }
    this.isShowing = false
    return last
  }

  /** Takes what is shown off the page again. */
  async cancel(): Promise<void> {
    this.next = null
    await this.latest
    setStudio({ pulling: null, writes: null })
    if (this.page.here && !(await theDesk().editing.hide()) && getStudio().connected) setStudio({ busy: true })
  }
}
