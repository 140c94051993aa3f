import type { Asked } from '../../agent/protocol'
import type { Intent, Verdict } from '../../core/edit'
import { theDesk, type Reading, Turns } from '../../desk'
import { getStudio, say, setStudio, useStudio, type Picked } from '../store'
import { Drawing } from './drawing'
import { aimsOf, isOfUsage, isToken } from './intents'
import { isByHand, isSameSelection, ofSameTag, sheetOf, type Selected } from './landings'
import type { LivePage } from './live-page'
import { PageUpdates } from './page-updates'
import { Readback, type Expected } from './readback'
import type { Selection } from './selection'
import { Showing } from './showing'
import { UnderWay } from './under-way'

/** Reads an edit back in a way of its own; null to have the properties read, of which there are these. */
export type Check = (props: readonly string[]) => Promise<Verdict | null>

/** An edit from the intent to the verdict: shown, written and read back, each in its turn; whatever is made, it goes this way. */
export class Writing {
  private readonly showing: Showing
  readonly readback: Readback
  readonly updates: PageUpdates
  private readonly turns = new Turns()
  private readonly underWay = new UnderWay()

  constructor(
    private readonly page: LivePage,
    private readonly selection: Selection,
  ) {
    this.showing = new Showing(page)
    this.readback = new Readback(page, selection)
    this.updates = new PageUpdates(page, selection, this.readback)
  }

  /** Ends once nothing is being pulled or typed, and each edit that was begun is written and read back. */
  async atRest(): Promise<void> {
    await this.underWay.over()
    const atWork = ({ pulling, typing }: { pulling: unknown; typing: boolean }) => pulling !== null || typing
    if (!atWork(getStudio())) return
    await new Promise<void>((done) => {
      const stop = useStudio.subscribe((s) => {
        if (atWork(s)) return
        stop()
        done()
      })
    })
    return this.atRest()
  }

  /**
   * Makes an edit in its turn, and of what was selected when it was asked for: of what was being selected then, once that is
   * read, and not of what is chosen while it waits for those before it.
   */
  inTurn<T>(work: (selected: Selected) => Promise<T>): Promise<T> {
    const selected = this.selection.choices.isOver
      ? Promise.resolve<Selected>(getStudio())
      : this.selection.choices.over().then<Selected>(getStudio)
    return this.afterOthers(async () => {
      const then = await selected
      // Its aims may be others since the edit before.
      return work(isSameSelection(then, getStudio()) ? getStudio() : then)
    })
  }

  /** Does what changes the sources after what was asked for before it. */
  afterOthers<T>(work: () => Promise<T>): Promise<T> {
    return this.underWay.during(() => this.turns.take(work))
  }

  /** Counts what was asked to be shown: what had to wait for a face or for what was chosen may be over by then. */
  asked = 0

  /** Shows an intent on the page; nothing is written. */
  show(intent: Intent, exact: boolean): void {
    this.showing.show(intent, exact)
  }

  /** Ends once the page has what was shown last. */
  get shown() {
    return this.showing.shown
  }

  /** Takes away what is shown and not written. */
  async cancelPreview(): Promise<void> {
    this.asked++
    await this.showing.cancel()
  }

  /** Whether the project was reopened meanwhile, which is said. */
  isTooLate(): boolean {
    if (this.page.left) say('error', 'Not written: the project was reopened. Try again.')
    return this.page.left
  }

  /** Shows an intent, notes what the page shows, writes the source, and reads the page again. Whether it was written. */
  async writeAndRead(
    intent: Intent,
    props: readonly string[],
    selected: Selected,
    check: Check | null = null,
    asked: readonly Asked[] = [],
    again = false,
  ): Promise<boolean> {
    const { picked, others, condition } = selected
    if (this.isTooLate()) return false
    if (!picked || !this.page.here) {
      setStudio({ pulling: null, writes: null })
      return false
    }
    const wanted: Reading = {
      nodes: await this.nodesOf(intent, [picked, ...others]),
      selectors: isOfUsage(intent, picked) ? [] : ofSameTag(picked.report),
      sheet: sheetOf(aimsOf(intent)),
      props,
      part: condition.part,
    }
    this.showing.show(intent, true, wanted)
    if (asked.length) setStudio({ pulling: { property: asked[0].name, value: asked[0].value } })
    const { pulling } = getStudio()
    const last = await this.showing.shown
    const planned = last?.intent === intent ? last.shown : null
    const meant = planned?.meant ?? null
    const what = planned?.read?.what ?? wanted
    const seen = planned?.read?.seen ?? (await this.readback.read(what))
    // Its row shows the value until it has it by itself, unless another is being pulled by then.
    const endPull = () => getStudio().pulling === pulling && setStudio({ pulling: null })
    if (this.isTooLate()) {
      endPull()
      return false
    }
    try {
      const because = this.becauseOf(props[0], selected)
      const written =
        planned?.plan != null
          ? await theDesk().editing.commitPlan(planned.plan, seen?.length ?? 1, because)
          : await theDesk().editing.commit(intent, seen?.length ?? 1, because)
      // What others changed meanwhile is shown and read with it.
      if ('ok' in written && written.reason === 'stale' && !again)
        return await this.writeAndRead(intent, props, selected, check, asked, true)
      if ('ok' in written) {
        await this.cancelPreview()
        const isDone = written.reason === 'nothing-new'
        say(isDone ? 'info' : 'error', written.why)
        return isDone
      }
      const expected: Expected = { path: written.path, seen, what, asked: meant ?? asked, reached: isToken(intent) ? [] : what.selectors }
      const drawing = this.drawing(intent)
      // What is said while the page is read stays.
      if (getStudio().status) setStudio({ status: null })
      let atOnce: Promise<Verdict | null> | null = null
      const isTaken = await this.updates.takeIn(written, null, (taken) => {
        drawing.takeIn(taken)
        // Asked for behind what was written, so that the page reads it before it draws it.
        if (!check && getStudio().connected && !this.page.hasSaved) atOnce = this.readback.look(expected).catch(() => null)
      })
      const verdict =
        (await check?.(what.props)) ??
        (isTaken ? await (atOnce as Promise<Verdict | null> | null) : null) ??
        (this.page.here ? await this.readback.written(expected, [picked, ...others]) : null)
      drawing.draw(verdict)
      if (verdict) await this.judge(written.edit.seq, verdict)
      if (planned?.otherwise)
        say(
          'info',
          `No class in this sheet gives ${written.edit.name}: ${written.edit.after}, so it stands in ${planned.otherwise}. Undo, and choose the nearest class or another place in Aim, if that is better.`,
        )
      else if (planned?.moves.length)
        say(
          'info',
          `${planned.moves.join(', ')} ${planned.moves.length === 1 ? 'has' : 'have'} another value with it: ${written.edit.after}.`,
        )
      await this.selection.refresh()
      endPull()
      await this.page.served
      return true
    } catch (error) {
      await this.cancelPreview()
      say('error', error instanceof Error ? error.message : String(error))
      // What was asked for is not lost with it: it can be made once there is room.
      setStudio({ again: () => this.inTurn((now) => this.writeAndRead(intent, props, now, check)) })
      return false
    }
  }

  // Another project may be open by the time that an edit is to be drawn.
  private drawing(intent: Intent): Drawing {
    return new Drawing(
      (ledger) => {
        if (!this.page.left) setStudio({ ledger, writes: null, lastMade: intent })
      },
      ({ scale, path, state }) => {
        if (!this.page.left) setStudio({ scale, revision: getStudio().revision + 1, source: { path, line: state.rows.at(-1)!.line } })
      },
    )
  }

  // Why an edit of a property lands where it does: its place was chosen by hand, or what speaks for it.
  private becauseOf(property: string | undefined, selected: Selected): string | undefined {
    if (property === undefined) return undefined
    const { picked, heldAim } = selected
    if (heldAim || isByHand(property, selected)) return 'the place was chosen by hand'
    return picked?.aims.get(property)?.because || undefined
  }

  // Elements that share a list are known by it only before the edit.
  private async nodesOf(intent: Intent, selected: readonly Picked[]): Promise<number[]> {
    const chosen = selected.map((p) => p.report.info.node)
    const alike = (i: Intent): boolean =>
      i.kind === 'together' ? i.intents.some(alike) : i.kind === 'make-class' || ('aim' in i && i.aim.kind === 'class-list' && i.aim.alike)
    const how = isOfUsage(intent, selected[0]) ? 'usage' : 'classes'
    if (how === 'classes' && !alike(intent)) return chosen
    const found = await this.page.guard(() => this.page.ask('like', { node: chosen[0], how, selectors: [] }))
    return [...new Set([...chosen, ...(found ?? []).map((f) => f.node)])]
  }

  /** Notes what was read back of an edit. Another project may be open by now, or this one reopened, where an edit that nobody read says so. */
  async judge(seq: number, verdict: Verdict): Promise<void> {
    if (!this.page.left) setStudio({ ledger: await theDesk().editing.judge(seq, verdict) })
  }
}
