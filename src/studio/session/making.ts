import type { BlockOut, Intent, Verdict } from '../../core/edit'
import { theDesk, type Written } from '../../desk'
import { getStudio, say, setStudio } from '../store'
import type { LivePage } from './live-page'
import type { Selection } from './selection'
import type { Writing } from './writing'

type StructureIntent = Extract<Intent, { kind: 'insert-html' | 'typed' | 'together' | 'move' | 'delete' | 'duplicate' | 'unwrap' | 'wrap' }>

/** Edits that show when they are written, without a preview: of the tree, of names, of the head, and of text typed in Source. */
export class Making {
  constructor(
    private readonly page: LivePage,
    private readonly selection: Selection,
    private readonly writing: Writing,
  ) {}

  // Makes an edit that shows when it is written; `choose` says what is then selected, `check` reads it back.
  private make(
    intent: Intent,
    choose: (written: Written) => string | null,
    check: (written: Written) => Promise<Verdict>,
    reach = 1,
  ): Promise<boolean> {
    return this.writing.afterOthers(() => this.makeAndRead(intent, choose, check, reach))
  }

  private async makeAndRead(
    intent: Intent,
    choose: (written: Written) => string | null,
    check: (written: Written) => Promise<Verdict>,
    reach: number,
  ): Promise<boolean> {
    try {
      const written = await theDesk().editing.commit(intent, reach)
      if ('ok' in written) {
        say('error', written.why)
        return false
      }
      await this.writing.updates.takeIn(written, choose(written))
      setStudio({ source: { path: written.path, line: written.state.rows.at(-1)!.line }, status: null })
      await this.writing.judge(written.edit.seq, await check(written))
      return true
    } catch (error) {
      say('error', error instanceof Error ? error.message : String(error))
      setStudio({ again: () => this.make(intent, choose, check, reach) })
      return false
    }
  }

  /** Writes what stands in many places, such as a name, as one edit, whatever is chosen; `reach` is how many elements of the page that is about. */
  async everywhere(intent: Intent, reach = 1): Promise<boolean> {
    await this.writing.cancelPreview()
    return this.make(
      intent,
      () => null,
      async ({ edit }) => {
        const verdict = await this.writing.readback.files(edit.changes)
        await this.selection.refresh()
        return verdict
      },
      reach,
    )
  }

  /** Changes what the page says of itself; the selection stays. */
  async onHead(intent: Intent): Promise<boolean> {
    return this.make(
      intent,
      () => null,
      async (written) => {
        const about = written.chosen ?? written.edit.element ?? null
        return about === null ? { state: 'unread', why: 'nothing of it shows on the page' } : this.writing.readback.asWritten(about)
      },
    )
  }

  /** Takes in what was typed into a file in Source, from `base` to `text`. Why not, in words; null when it is written, or was already. */
  typed(path: string, base: string, text: string): Promise<string | null> {
    return this.writing.afterOthers(() => this.takeTyped(path, base, text))
  }

  private async takeTyped(path: string, base: string, text: string): Promise<string | null> {
    try {
      const written = await theDesk().editing.typed(path, base, text)
      if (written === null) return null
      if ('ok' in written) return written.why
      await this.writing.updates.takeIn(written)
      setStudio({ status: null })
      await this.writing.readback.waitForPage()
      await this.writing.judge(written.edit.seq, await this.writing.readback.typed(path, written.edit.at))
      if (getStudio().connected) await this.selection.refresh()
      return null
    } catch (error) {
      return error instanceof Error ? error.message : String(error)
    }
  }

  /** Changes where elements stand, or which there are; what was written is then selected. */
  async restructure(intent: StructureIntent): Promise<boolean> {
    if (!this.page.here) return false
    await this.writing.cancelPreview()
    const made = getStudio().picked?.report.made
    return this.make(
      intent,
      (written) => written.chosen,
      async ({ chosen, path, edit }) => {
        if (intent.kind !== 'typed') return this.writing.readback.tree(chosen)
        await this.writing.readback.waitForPage()
        return this.writing.readback.typed(path, edit.at)
      },
      // A tag of a component is that of all elements which it makes.
      made?.isOwn ? made.count : 1,
    )
  }

  /** Has the chosen element change places with a neighbour of its tag, in the list that both are made of; it stays chosen. */
  async swapInList(source: string, index: number, count: number, by: 1 | -1): Promise<boolean> {
    const before = (await this.writing.readback.listed(source)) ?? []
    const wanted = before.map((text, i) => (i === index ? before[index + by] : i === index + by ? before[index] : text))
    return this.make(
      { kind: 'list-order', source, index, count, by },
      () => null,
      async () => {
        const verdict = await this.writing.readback.order(source, wanted, before)
        await this.selection.pickNamed({ source, nth: index + by })
        return verdict
      },
      2,
    )
  }

  /** Writes a layout that was drawn over a container, which stays selected. */
  async blockOut(drawn: BlockOut): Promise<boolean> {
    const intent = await theDesk().reading.blockOut(drawn)
    if ('ok' in intent) {
      say('error', intent.why)
      return false
    }
    return this.make(
      intent,
      () => drawn.container,
      async () => {
        const tree = await this.writing.readback.tree(drawn.container)
        return tree.state === 'holds' ? this.writing.readback.areas(drawn) : tree
      },
    )
  }
}
