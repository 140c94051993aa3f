import { theDesk, type Written } from '../../desk'
import { getStudio, say, setStudio } from '../store'
import type { Drafts } from './drafts'
import type { LivePage } from './live-page'
import type { Selection } from './selection'
import type { Writing } from './writing'

/** The edits one after another: undone, made again, or made away from the page; and the page as it was saved. */
export class Timeline {
  constructor(
    private readonly page: LivePage,
    private readonly selection: Selection,
    private readonly writing: Writing,
    private readonly drafts: Drafts,
  ) {}

  /** Undoes the last edit, or does the next again, after those that are under way. Text at fault in Source is taken back first. */
  async step(by: 'undo' | 'redo'): Promise<void> {
    await this.drafts.settled()
    if (by === 'undo' && this.drafts.takeBack()) return
    await this.writing.afterOthers(() => this.stepNow(by))
  }

  private async stepNow(by: 'undo' | 'redo'): Promise<void> {
    try {
      const written = await theDesk().history.step(by)
      if (!written) return
      await this.writing.updates.takeIn(written)
      const line =
        by === 'redo'
          ? written.state.rows.at(-1)!.line
          : await theDesk().places.lineAt(written.path, written.edit.changes.find((c) => c.path === written.path)?.inverse[0]?.from ?? 0)
      setStudio({ source: { path: written.path, line }, status: null })
      if (getStudio().connected) await this.selection.refresh()
    } catch (error) {
      say('error', error instanceof Error ? error.message : String(error))
    }
  }

  /** Takes in what was done away from the page, with the selection as it then is. */
  showWritten(written: Written): Promise<void> {
    return this.writing.afterOthers(async () => {
      await this.writing.updates.takeIn(written)
      const line = await theDesk().places.lineAt(written.path, written.edit.at)
      setStudio({ source: { path: written.path, line }, status: null })
      if (written.edit.verdict.state === 'pending') {
        await this.writing.readback.waitForPage()
        await this.writing.judge(written.edit.seq, await this.writing.readback.files(written.edit.changes))
      }
      if (getStudio().connected) await this.selection.refresh()
    })
  }

  /** Shows the page as it was saved, for as long as that is asked for, without a change to the source. */
  compare(saved: boolean): Promise<void> {
    return this.writing.afterOthers(async () => {
      if (getStudio().comparing === saved || !this.page.here) return
      const { ops, whole } = await theDesk().saving.asSaved(saved)
      setStudio({ comparing: saved })
      await this.writing.updates.sync(ops)
      if (saved && !whole) say('info', 'Changes of the element tree stay as they are; styles, attributes and texts are shown as saved.')
    })
  }
}
