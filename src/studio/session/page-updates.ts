import type { SyncOp } from '../../agent/protocol'
import { languageNameOf } from '../../core/language'
import { textMark } from '../../core/text'
import { isCompilerInput } from '../../page'
import { theDesk, type Written } from '../../desk'
import { getStudio, setStudio } from '../store'
import { elementName } from './element-name'
import type { LivePage } from './live-page'
import type { Readback } from './readback'
import type { Selection } from './selection'

/** How the page took in what was written. */
interface Taken {
  /** It has to be loaded again for it. */
  readonly reload: boolean
  /** It has it as it was sent first. */
  readonly atOnce: boolean
}

const drawNow = ({ state, scale }: Written): void => setStudio({ ledger: state, scale, revision: getStudio().revision + 1 })

/** Brings the page, and the window, to what was written. */
export class PageUpdates {
  constructor(
    private readonly page: LivePage,
    private readonly selection: Selection,
    private readonly readback: Readback,
  ) {}

  /** The place in order of what was taken in last. */
  private latest = 0

  /**
   * Serves changed files and lets the page take them in without losing its place; `draw` brings the window to them. Whether
   * the page took them in at once, as they were sent.
   */
  async takeIn(given: Written, chosen: string | null = null, draw: (written: Written) => void = drawNow): Promise<boolean> {
    if (this.page.left) return false
    // What another program changed may be taken in after an edit that was made on it.
    const written = given.order < this.latest ? await theDesk().changes.upToDate(given) : given
    this.latest = Math.max(this.latest, given.order)
    // The page first: it shares its thread with what serves it, and this one is busy drawing next.
    const synced = !this.page.here ? null : getStudio().connected ? this.sync(written.sync) : this.whenLoaded(written.sync)
    const { compiled } = this.page
    draw(written)
    this.page.serve(written.files)
    const made = this.page.hasSaved ? this.whenMade(written, compiled) : null
    if (!synced) return false
    const { reload, atOnce } = await synced
    await made
    if (reload) await this.page.served
    if (reload) this.page.reload({ ...this.placeNow(), ...(chosen && { picked: { source: chosen, nth: 0 } }) })
    else if (chosen) await this.selection.pickSource(chosen)
    return atOnce
  }

  // The server of the project makes the elements of a component again; until then the page shows what it had.
  private async whenMade({ files, isCompiled }: Written, compiled: number): Promise<void> {
    await this.page.served
    let isMade = false
    for (const { path, body } of files)
      if (languageNameOf(path) === 'jsx' && typeof body === 'string')
        isMade = (await this.page.guard(() => this.page.ask('made', { path, mark: textMark(body) }))) === true || isMade
    await this.readback.waitForPage()
    // What a compiler writes again comes after the elements: for classes that it has not seen, and what it compiles from.
    if (compiled > 0 && (isCompiled || files.some(({ path, body }) => typeof body === 'string' && isCompilerInput(path, body))))
      await this.page.whenCompiled(compiled)
    // A compiler of utility classes may have written its sheet again with it.
    if (isMade) await this.page.tieAgain()
  }

  // A page that is being loaded may have been fetched before this was served: it is told when it is there.
  private async whenLoaded(ops: readonly SyncOp[]): Promise<Taken> {
    await this.page.served
    await this.readback.waitForPage()
    return this.sync(ops)
  }

  /** Brings the page to what was written. */
  async sync(ops: readonly SyncOp[]): Promise<Taken> {
    // What a server of the project's own renders it brings to the page itself, once it is saved.
    const wanted = this.page.hasSaved ? ops.filter(({ op }) => op === 'sheet' || op === 'rules') : ops
    const answer = await this.page.guard(() => this.page.ask('sync', { ops: wanted }))
    if (!answer) await theDesk().pageSync.forget()
    if (!answer?.whole.length) return { reload: answer?.reload ?? false, atOnce: answer?.reload === false }
    const rest = await this.sync(await theDesk().pageSync.wholeSheets(answer.whole))
    return { reload: answer.reload || rest.reload, atOnce: false }
  }

  private placeNow() {
    const { picked, frames } = getStudio()
    return {
      picked: elementName(picked),
      scroll: frames.page && { x: frames.page.scrollX, y: frames.page.scrollY },
    }
  }
}
