import { placeText } from '../../core/text'
import type { Remedy } from '../../core/cascade'
import type { ClassesIntent, DeclarationIntent, Intent } from '../../core/edit'
import { theDesk, type LedgerRow } from '../../desk'
import { getStudio, say, setStudio } from '../store'
import { bundledFace, filesIn, filesOf } from './bundled-faces'
import { whenClassesRead, withoutAims } from './classes-read'
import { backTo, firstAt, firstOfEach } from './edited-places'
import { askedBy, setAt, setsOf, type Change } from './intents'
import { aloneFor, currentAim, declarationOf, isAimedEarly, isByHand, isSameSelection, landings, type Selected } from './landings'
import type { LivePage } from './live-page'
import type { ElementIntent } from './readback'
import type { Selection } from './selection'
import type { Check, Writing } from './writing'

/** What is asked of the selected elements, as edits: values shown, written and put back, and changes of the elements themselves. */
export class Edits {
  constructor(
    private readonly page: LivePage,
    private readonly selection: Selection,
    private readonly writing: Writing,
  ) {}

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
    const asked = ++this.writing.asked
    const { choices } = this.selection
    if (!choices.isOver) {
      void choices.over().then(() => asked === this.writing.asked && this.previewAll(changes, exact))
      return
    }
    const intent = this.intentFor(changes, getStudio())
    if (!intent) return
    setStudio({ pulling: { property: changes[0][0], value: changes[0][1] } })
    this.writing.show(intent, exact)
  }

  /** Shows an intent on the page; nothing is written. */
  show(intent: Intent, exact: boolean): void {
    this.writing.show(intent, exact)
  }

  /** Takes away what is shown and not written. */
  cancelPreview(): Promise<void> {
    return this.writing.cancelPreview()
  }

  /** Shows a value as it will be written, and waits until the page has it. */
  async previewExact(property: string, value: string): Promise<void> {
    await this.selection.choices.over()
    this.preview(property, value, true)
    await this.writing.shown
  }

  /** Writes a value: previews it, notes what the page shows, writes the source, and reads the page again. */
  async commit(property: string, value: string): Promise<boolean> {
    return this.commitAll([[property, value]])
  }

  /** Writes several values as one edit. */
  commitAll(changes: readonly Change[], label = ''): Promise<boolean> {
    // What was still to be shown before it is not wanted any more.
    this.writing.asked++
    return this.writing.inTurn((selected) => this.commitEach(changes, label, selected))
  }

  private async commitEach(changes: readonly Change[], label: string, about: Selected): Promise<boolean> {
    const properties = changes.map(([name]) => name)
    if (this.writing.isTooLate()) return false
    let selected = await this.selection.needAims(properties, about)
    if (properties.some((name) => isAimedEarly(name, selected))) {
      await whenClassesRead()
      if (this.writing.isTooLate()) return false
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
    return this.writing.writeAndRead(intent, properties, selected, null, askedBy(changes))
  }

  /** Makes an edit of any kind, and reads `props` back on all that it reaches. */
  write(intent: Intent, props: readonly string[], check: Check | null = null): Promise<boolean> {
    return this.writing.inTurn((selected) => this.writing.writeAndRead(intent, props, selected, check))
  }

  /** Gives the selected element values at a place that is its alone, as one edit. */
  commitAlone(changes: readonly Change[], label: string, under = ''): Promise<boolean> {
    this.writing.asked++
    return this.writing.inTurn(async (about) => {
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
      return this.writing.writeAndRead(
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
    const asked = ++this.writing.asked
    const { faces } = await filesOf(face)
    await this.page.guard(() =>
      this.page.ask('lend', { family, faces: faces.map(({ weight, style, bytes }) => ({ weight, style, bytes })) }),
    )
    if (asked === this.writing.asked) this.preview(property, value)
  }

  /** Brings a bundled face into the project, with its rules and its licence, and writes the value that names it: one edit. */
  bringFace(property: string, value: string, family: string): Promise<boolean> {
    return this.writing.inTurn(async (about) => {
      const face = bundledFace(family)
      const selected = await this.selection.needAims([property], about)
      const landing = currentAim(property, selected)
      const home = selected.picked && (await theDesk().reading.faceHome(selected.picked.report.sheets))
      if (!face || !landing || !home) {
        say('error', 'Not written: there is no sheet of the project for the face to stand in.')
        return false
      }
      const { faces, besides } = await filesIn(home.folder, face)
      return this.writing.writeAndRead(
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
    this.writing.asked++
    this.writing.show(intent, true)
    await this.writing.shown
  }

  /** Changes classes by name, and reads back what they are about. */
  async changeClasses(intent: ClassesIntent): Promise<boolean> {
    return this.write(intent, [], async (props) => (props.length ? null : this.writing.readback.classes(intent.sources[0])))
  }

  /** Gives the list of an element a class of its own, in its place wherever it stands. */
  async makeClass(source: string, name: string): Promise<boolean> {
    return this.write({ kind: 'make-class', source, name }, [])
  }

  /** Changes the selected element itself: its tag, an attribute or a text of its own. */
  async onElement(intent: ElementIntent): Promise<boolean> {
    return this.write(intent, [], () => this.writing.readback.element(intent))
  }

  /** The same with several texts as one edit. */
  onElements(intents: readonly ElementIntent[]): Promise<boolean> {
    return intents.length === 1
      ? this.onElement(intents[0])
      : this.write({ kind: 'together', intents, label: `${intents.length} texts` }, [], () => this.writing.readback.element(intents[0]))
  }

  /** Removes, switches or marks the declaration of a property where its edits land. */
  change(kind: DeclarationIntent['kind'], property: string): Promise<boolean> {
    return this.writing.inTurn(async (selected) => {
      const ref = currentAim(property, selected)?.ref
      if (ref?.kind === 'class-list' && kind === 'remove')
        return this.writing.writeAndRead({ kind: 'unset', aim: ref, name: property }, [property], selected)
      if (ref?.kind === 'attribute' && kind === 'remove')
        return this.writing.writeAndRead({ kind: 'set-attribute', source: ref.source, name: ref.name, value: null }, [property], selected)
      const declared = declarationOf(property, selected)?.ref
      if (declared?.kind !== 'rule' && declared?.kind !== 'inline') return false
      return this.writing.writeAndRead({ kind, aim: declared, name: property }, [property], selected)
    })
  }

  /** Gives the value of a property a name of its own, and uses it. */
  makeToken(property: string, token: string): Promise<boolean> {
    return this.writing.inTurn(async (selected) => {
      const ref = currentAim(property, selected)?.ref
      return (
        ref?.kind === 'rule' && this.writing.writeAndRead({ kind: 'make-token', aim: ref, name: property, token }, [property], selected)
      )
    })
  }

  /** Puts a property back to what the ledger's first edit of it found. */
  reset(property: string): Promise<boolean> {
    return this.writing.inTurn(async (selected) => {
      const place = currentAim(property, selected)
      const first = place && firstAt(getStudio().ledger.rows, property, place)
      const back = first && backTo(first, place.ref)
      return back ? this.writing.writeAndRead(back, [property], selected) : false
    })
  }

  /** Puts everything that was edited for the selected element back to what it was when last saved, as one edit. */
  resetElement(): Promise<boolean> {
    return this.writing.inTurn(async (about) => {
      const { rows } = getStudio().ledger
      const selected = await this.selection.needAims([...new Set(rows.map((r) => r.name))], about)
      const here = firstOfEach(rows, selected.picked)
      const intents = here.flatMap(({ row, ref }) => backTo(row, ref) ?? [])
      if (intents.length === 0) say('info', 'Nothing of this element was changed since the last save.')
      return (
        intents.length > 0 &&
        this.writing.writeAndRead({ kind: 'together', intents, label: 'as saved' }, [...new Set(here.map(({ row }) => row.name))], selected)
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
    if (here.length) await this.writing.inTurn((selected) => this.commitEach(here, 'carried', { ...selected, heldAim: null }))
    setStudio({ lastMade })
  }

  /** Gives a property its effect by the change that its reason names, on the element or its parent. */
  async applyRemedy(remedy: Remedy): Promise<void> {
    if (remedy.on === 'parent') await this.selection.walk('parent')
    await this.commitAll([[remedy.name, remedy.value]])
  }
}
