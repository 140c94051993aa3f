import { placeText } from '../../core/text'
import type { Asked } from '../../agent/protocol'
import type { AimRef, Candidate } from '../../core/aim'
import type { Remedy } from '../../core/cascade'
import type { ClassesIntent, DeclarationIntent, Intent, Verdict } from '../../core/edit'
import { theDesk, type LedgerRow, type Reading, Turns } from '../../desk'
import { getStudio, say, setStudio, useStudio, type Picked } from '../store'
import { bundledFace, filesIn, filesOf } from './bundled-faces'
import { backTo, firstAt, firstOfEach } from './edited-places'
import { whenClassesRead, withoutAims } from './classes-read'
import { Drawing } from './drawing'
import type { LivePage } from './live-page'
import { Readback, type ElementIntent, type Expected } from './readback'
import { type Selection } from './selection'
import { PageUpdates } from './page-updates'
import { Showing } from './showing'
import { UnderWay } from './under-way'
import {
  type Selected,
  aloneFor,
  currentAim,
  declarationOf,
  isAimedEarly,
  isByHand,
  isSameSelection,
  landings,
  ofSameTag,
  sheetOf,
} from './landings'

/** A property with the value it is to have; with `comments`, the value says what comments stand around it too. */
export type Change = readonly [property: string, value: string, comments?: boolean]

/** Reads an edit back in a way of its own; null to have the properties read, of which there are these. */
type Check = (props: readonly string[]) => Promise<Verdict | null>

// Where the person has new rules at the end, they follow no other.
const placed = (ref: AimRef): AimRef =>
  ref.kind === 'new-rule' && getStudio().preferences.newRules === 'at the end of the sheet' ? { ...ref, after: null } : ref

/** What gives a property a value at a place. */
export const setAt = ({ ref, asImportant, otherwise }: Candidate, [name, value, comments]: Change, byHand = false): Intent => ({
  kind: 'set',
  aim: placed(ref),
  name,
  value,
  ...(otherwise && !byHand && { otherwise: otherwise.ref }),
  ...(asImportant && { important: true }),
  ...(comments && ref.kind === 'rule' && { comments }),
})

/** What elements are to show after changes: all that is set, without the items that are switched off. */
const askedBy = (changes: readonly Change[]): Asked[] =>
  changes.map(([name, value]) => ({ name, value: value.replace(/\/\*[^]*?\*\//g, ' ').trim() })).filter(({ value }) => value !== '')

/** Where the parts of an intent land. */
const aimsOf = (intent: Intent): AimRef[] =>
  intent.kind === 'together' ? intent.intents.flatMap(aimsOf) : 'aim' in intent ? [intent.aim] : []

// Whether it is about the one use of a component that led to an element.
const isOfUsage = (intent: Intent, { report }: Picked): boolean =>
  report.usage != null && aimsOf(intent).some((aim) => 'source' in aim && aim.source === report.usage!.source)

// What a token reaches has it as the value of other properties too.
const isToken = (intent: Intent): boolean =>
  intent.kind === 'together' ? intent.intents.some(isToken) : intent.kind === 'set' && intent.aim.kind === 'token'

/** The values that an intent sets, each once. */
const setsOf = (intent: Intent): Change[] =>
  intent.kind === 'set'
    ? [[intent.name, intent.value]]
    : intent.kind === 'together'
      ? [...new Map(intent.intents.flatMap(setsOf).map(([name, value]) => [name, value] as const))]
      : []

/** Changes shown, written, read back, and taken back. */
export class Edits {
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
  private inTurn<T>(work: (selected: Selected) => Promise<T>): Promise<T> {
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
  private asked = 0

  /** The intent that gives what is chosen these values, each where its own aim says; null when one has no place. */
  private intentFor(changes: readonly Change[], selected: Selected, label = ''): Intent | null {
    const parts: Intent[] = []
    for (const change of changes) {
      const places = landings(change[0], selected)
      if (places.length === 0) return null
      for (const place of places) parts.push(setAt(place, change, isByHand(change[0], selected)))
    }
    return parts.length === 1
      ? parts[0]
      : parts.length
        ? { kind: 'together', intents: parts, label: label || `${changes[0][0]} on ${parts.length} places` }
        : null
  }

  /** Shows a value on the page without writing it; while one is on its way, only the latest next is kept. */
  preview(property: string, value: string, exact = false): void {
    this.previewAll([[property, value]], exact)
  }

  previewAll(changes: readonly Change[], exact = false): void {
    const asked = ++this.asked
    const { choices } = this.selection
    if (!choices.isOver) {
      void choices.over().then(() => asked === this.asked && this.previewAll(changes, exact))
      return
    }
    const intent = this.intentFor(changes, getStudio())
    if (!intent) return
    setStudio({ pulling: { property: changes[0][0], value: changes[0][1] } })
    this.show(intent, exact)
  }

  /** Shows an intent on the page; nothing is written. */
  show(intent: Intent, exact: boolean): void {
    this.showing.show(intent, exact)
  }

  /** Shows a value as it will be written, and waits until the page has it. */
  async previewExact(property: string, value: string): Promise<void> {
    await this.selection.choices.over()
    this.preview(property, value, true)
    await this.showing.shown
  }

  async cancelPreview(): Promise<void> {
    this.asked++
    await this.showing.cancel()
  }

  /** Writes a value: previews it, notes what the page shows, writes the source, and reads the page again. */
  async commit(property: string, value: string): Promise<boolean> {
    return this.commitAll([[property, value]])
  }

  /** Writes several values as one edit. */
  commitAll(changes: readonly Change[], label = ''): Promise<boolean> {
    // What was still to be shown before it is not wanted any more.
    this.asked++
    return this.inTurn((selected) => this.commitEach(changes, label, selected))
  }

  private isTooLate(): boolean {
    if (this.page.left) say('error', 'Not written: the project was reopened. Try again.')
    return this.page.left
  }

  private async commitEach(changes: readonly Change[], label: string, about: Selected): Promise<boolean> {
    const properties = changes.map(([name]) => name)
    if (this.isTooLate()) return false
    let selected = await this.selection.needAims(properties, about)
    if (properties.some((name) => isAimedEarly(name, selected))) {
      await whenClassesRead()
      if (this.isTooLate()) return false
      selected = await this.selection.needAims(properties, withoutAims(selected))
    }
    const intent = this.intentFor(changes, selected, label)
    if (!intent) {
      const there = selected.picked?.aims.get(changes[0]?.[0] ?? '')?.preprocessed
      say(
        'error',
        there
          ? `Not written: ${there.label} in ${placeText(there)} is compiled and cannot be edited here yet. Change it there, or choose a place in Aim.`
          : `Not written: no rule for ${changes[0]?.[0] ?? 'this'} wins here without affecting unrelated elements. Choose a place in Aim.`,
      )
      return false
    }
    const losing = changes.flatMap(([name]) => landings(name, selected)).find((c) => !c.wins && !c.elsewhere)
    if (losing && changes.length > 1) {
      say('error', `Not written: ${losing.label} would lose to ${losing.losesTo}`)
      return false
    }
    return this.writeAndRead(intent, properties, selected, null, askedBy(changes))
  }

  /** Makes an edit of any kind, and reads `props` back on all that it reaches. */
  write(intent: Intent, props: readonly string[], check: Check | null = null): Promise<boolean> {
    return this.inTurn((selected) => this.writeAndRead(intent, props, selected, check))
  }

  private async writeAndRead(
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
      setStudio({ again: () => this.write(intent, props, check) })
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

  /** Gives the selected element values at a place that is its alone, as one edit. */
  commitAlone(changes: readonly Change[], label: string, under = ''): Promise<boolean> {
    this.asked++
    return this.inTurn(async (about) => {
      await this.selection.aimAlone(changes.map(([name]) => name))
      const selected = isSameSelection(about, getStudio()) ? getStudio() : about
      const parts: Intent[] = []
      for (const change of changes) {
        const place = aloneFor(change[0], selected, under)
        if (!place) continue
        const there =
          under && place.ref.kind === 'new-rule' ? await theDesk().reading.ruleUnder(place.ref.sheet, place.ref.selector, under) : null
        parts.push(
          setAt(
            there !== null && place.ref.kind === 'new-rule'
              ? { ...place, ref: { kind: 'rule', sheet: place.ref.sheet, rule: there } }
              : place,
            change,
            true,
          ),
        )
      }
      if (parts.length < changes.length) {
        say('error', `Not written: no rule for ${changes[0][0]} wins here for this element alone. Choose a place in Aim.`)
        return false
      }
      return this.writeAndRead(
        parts.length === 1 ? parts[0] : { kind: 'together', intents: parts, label },
        changes.map(([name]) => name),
        { ...selected, others: [] },
        null,
        askedBy(changes),
      )
    })
  }

  /** Shows a value that names a bundled face, which the page is lent for that. */
  async previewFace(property: string, value: string, family: string): Promise<void> {
    const face = bundledFace(family)
    if (!face) return
    const asked = ++this.asked
    const { faces } = await filesOf(face)
    await this.page.guard(() =>
      this.page.ask('lend', { family, faces: faces.map(({ weight, style, bytes }) => ({ weight, style, bytes })) }),
    )
    if (asked === this.asked) this.preview(property, value)
  }

  /** Brings a bundled face into the project, with its rules and its licence, and writes the value that names it: one edit. */
  bringFace(property: string, value: string, family: string): Promise<boolean> {
    return this.inTurn(async (about) => {
      const face = bundledFace(family)
      const selected = await this.selection.needAims([property], about)
      const landing = currentAim(property, selected)
      const home = selected.picked && (await theDesk().reading.faceHome(selected.picked.report.sheets))
      if (!face || !landing || !home) {
        say('error', 'Not written: there is no sheet of the project for the face to stand in.')
        return false
      }
      const { faces, besides } = await filesIn(home.folder, face)
      return this.writeAndRead(
        {
          kind: 'together',
          intents: [{ kind: 'add-face', family, faces, besides, sheet: home.sheet }, setAt(landing, [property, value])],
          label: family,
        },
        [property],
        selected,
        null,
        askedBy([[property, value]]),
      )
    })
  }

  /** Shows a change of classes without writing it, and waits until the page has it. */
  async previewClasses(intent: ClassesIntent): Promise<void> {
    this.asked++
    this.show(intent, true)
    await this.showing.shown
  }

  /** Changes classes by name, and reads back what they are about. */
  async changeClasses(intent: ClassesIntent): Promise<boolean> {
    return this.write(intent, [], async (props) => (props.length ? null : this.readback.classes(intent.sources[0])))
  }

  /** Gives the list of an element a class of its own, in its place wherever it stands. */
  async makeClass(source: string, name: string): Promise<boolean> {
    return this.write({ kind: 'make-class', source, name }, [])
  }

  /** Changes the selected element itself: its tag, an attribute or a text of its own. */
  async onElement(intent: ElementIntent): Promise<boolean> {
    return this.write(intent, [], () => this.readback.element(intent))
  }

  /** The same with several texts as one edit. */
  onElements(intents: readonly ElementIntent[]): Promise<boolean> {
    return intents.length === 1
      ? this.onElement(intents[0])
      : this.write({ kind: 'together', intents, label: `${intents.length} texts` }, [], () => this.readback.element(intents[0]))
  }

  /** Removes, switches or marks the declaration of a property where its edits land. */
  change(kind: DeclarationIntent['kind'], property: string): Promise<boolean> {
    return this.inTurn(async (selected) => {
      const ref = currentAim(property, selected)?.ref
      if (ref?.kind === 'class-list' && kind === 'remove')
        return this.writeAndRead({ kind: 'unset', aim: ref, name: property }, [property], selected)
      if (ref?.kind === 'attribute' && kind === 'remove')
        return this.writeAndRead({ kind: 'set-attribute', source: ref.source, name: ref.name, value: null }, [property], selected)
      const declared = declarationOf(property, selected)?.ref
      if (declared?.kind !== 'rule' && declared?.kind !== 'inline') return false
      return this.writeAndRead({ kind, aim: declared, name: property }, [property], selected)
    })
  }

  /** Gives the value of a property a name of its own, and uses it. */
  makeToken(property: string, token: string): Promise<boolean> {
    return this.inTurn(async (selected) => {
      const ref = currentAim(property, selected)?.ref
      return ref?.kind === 'rule' && this.writeAndRead({ kind: 'make-token', aim: ref, name: property, token }, [property], selected)
    })
  }

  /** Puts a property back to what the ledger's first edit of it found. */
  reset(property: string): Promise<boolean> {
    return this.inTurn(async (selected) => {
      const place = currentAim(property, selected)
      const first = place && firstAt(getStudio().ledger.rows, property, place)
      const back = first && backTo(first, place.ref)
      return back ? this.writeAndRead(back, [property], selected) : false
    })
  }

  /** Puts everything that was edited for the selected element back to what it was when last saved, as one edit. */
  resetElement(): Promise<boolean> {
    return this.inTurn(async (about) => {
      const { rows } = getStudio().ledger
      const selected = await this.selection.needAims([...new Set(rows.map((r) => r.name))], about)
      const here = firstOfEach(rows, selected.picked)
      const intents = here.flatMap(({ row, ref }) => backTo(row, ref) ?? [])
      if (intents.length === 0) say('info', 'Nothing of this element was changed since the last save.')
      return (
        intents.length > 0 &&
        this.writeAndRead({ kind: 'together', intents, label: 'as saved' }, [...new Set(here.map(({ row }) => row.name))], selected)
      )
    })
  }

  /** The oldest row of the ledger that changed this property where its edits land now. */
  firstEdit(property: string): LedgerRow | null {
    const aim = currentAim(property)
    return aim && firstAt(getStudio().ledger.rows, property, aim)
  }

  /** Makes the edit made last on another element too: the same values, where they land for it. */
  async carryTo(node: number): Promise<void> {
    const { lastMade } = getStudio()
    if (!lastMade) return
    const changes = setsOf(lastMade)
    if (changes.length === 0) {
      say('info', 'The last edit has nothing to carry: only values can be.')
      return
    }
    await this.selection.pick(node)
    const here = changes.filter(([name, value]) => getStudio().picked?.aims.get(name)?.written !== value)
    // A place that is held is not the one of the element that it is carried to.
    if (here.length) await this.inTurn((selected) => this.commitEach(here, 'carried', { ...selected, heldAim: null }))
    setStudio({ lastMade })
  }

  /** Notes what was read back of an edit. Another project may be open by now, or this one reopened, where an edit that nobody read says so. */
  async judge(seq: number, verdict: Verdict): Promise<void> {
    if (!this.page.left) setStudio({ ledger: await theDesk().editing.judge(seq, verdict) })
  }

  /** Gives a property its effect by the change that its reason names, on the element or its parent. */
  async applyRemedy(remedy: Remedy): Promise<void> {
    if (remedy.on === 'parent') await this.selection.walk('parent')
    await this.commitAll([[remedy.name, remedy.value]])
  }
}
