import type { DropPlace, NodeInfo } from '../../agent/protocol'
import type { AddRuleIntent, Intent, SourcePlace } from '../../core/edit'
import { bringsScript, type Stamp } from '../../core/html'
import { widthRange } from '../../core/css'
import { NARROW, widthCondition } from '../../core/project'
import { theDesk } from '../../desk'
import { getStudio, say, setStudio } from '../store'
import type { Drop } from './drop'
import type { Edits } from './edits'
import type { LivePage } from './live-page'
import type { Making } from './making'
import type { Selection } from './selection'

/** Which elements a page has, and where: moved, duplicated, wrapped, deleted, inserted. */
export class Structure {
  /** What was copied last, for a window that may not read what is kept elsewhere. */
  private copied = ''

  constructor(
    private readonly page: LivePage,
    private readonly selection: Selection,
    private readonly edits: Edits,
    private readonly making: Making,
  ) {}

  /** Sources of what is chosen; null, and told, where a part of it is in no file. */
  private chosen(): string[] | null {
    const { picked, others } = getStudio()
    if (!picked) return null
    const sources = [picked, ...others].map((p) => p.report.info.source)
    if (sources.every((s) => s !== null)) return sources
    say('error', 'A part of what is chosen is in no file, so it cannot be moved or changed there.')
    return null
  }

  private async on(work: (sources: readonly string[]) => Promise<boolean>): Promise<boolean> {
    const sources = this.chosen()
    return sources !== null && work(sources)
  }

  move(place: SourcePlace, of: readonly string[] | null = this.chosen()): Promise<boolean> {
    return of ? this.making.restructure({ kind: 'move', sources: of, place }) : Promise.resolve(false)
  }

  /** A step by keys: past a neighbour, out of the parent, or into the neighbour before. */
  step(to: 'back' | 'on' | 'out' | 'in'): Promise<boolean> {
    return this.on(async (sources) => {
      const { picked } = getStudio()
      const node = picked!.report.info.node
      const walk = to === 'back' || to === 'in' ? 'previous' : to === 'on' ? 'next' : 'parent'
      const neighbour = await this.page.guard(() => this.page.ask('walk', { node, to: walk }))
      const source = neighbour && (neighbour.source ?? (await this.selection.sourceOfNode(neighbour.node)))
      if (!source) {
        say('info', to === 'out' ? 'Nothing stands around it.' : 'There is no neighbour on that side.')
        return false
      }
      const { made } = picked!.report
      // Both are made by one tag, for two items of a list.
      if (made?.isOwn && sources.length === 1 && source === sources[0] && (to === 'back' || to === 'on'))
        return this.making.swapInList(source, made.index - 1, made.count, to === 'on' ? 1 : -1)
      return this.move({ source, where: to === 'back' ? 'before' : to === 'in' ? 'last' : 'after' }, sources)
    })
  }

  duplicate(): Promise<boolean> {
    return this.on((sources) => this.making.restructure({ kind: 'duplicate', sources }))
  }

  remove(): Promise<boolean> {
    return this.on((sources) => this.making.restructure({ kind: 'delete', sources }))
  }

  unwrap(): Promise<boolean> {
    return this.on((sources) => this.making.restructure({ kind: 'unwrap', sources }))
  }

  /** `spec` is a tag with a class, if one is wanted: `div.stops`. */
  wrap(spec: string): Promise<boolean> {
    const [tag, ...classes] = spec.trim().split('.')
    return this.on((sources) =>
      this.making.restructure({
        kind: 'wrap',
        sources,
        tag: tag || 'div',
        ...(classes.length > 0 && { className: classes.join(' ') }),
      }),
    )
  }

  /** Ends once what is being copied is; null where nothing is. */
  private copying: Promise<unknown> | null = null

  copy(): Promise<boolean> {
    const copying = this.on(async (sources) => {
      this.copied = await theDesk().places.html(sources)
      await navigator.clipboard.writeText(this.copied).catch(() => {})
      say('info', `Copied: ${sources.length === 1 ? 'the element' : `${sources.length} elements`} as written.`)
      return true
    })
    const end = () => {
      if (this.copying === copying) this.copying = null
    }
    this.copying = copying
    void copying.then(end, end)
    return copying
  }

  async cut(): Promise<boolean> {
    return (await this.copy()) && this.remove()
  }

  /** Puts HTML after what is chosen; what was copied here, where nothing else is given, or where it is still being copied. */
  paste(given?: string): Promise<boolean> {
    const { copying } = this
    return this.on(async (sources) => {
      await copying?.catch(() => false)
      const html = copying || given === undefined ? this.copied : given
      if (html.trim() === '') {
        say('info', 'Nothing was copied.')
        return false
      }
      return this.insert({ source: sources.at(-1)!, where: 'after' }, html, 'what was copied')
    })
  }

  insert(place: SourcePlace, html: string, what: string): Promise<boolean> {
    return this.insertWith({ kind: 'insert-html', place, html, what }, null)
  }

  /** Puts HTML at a place or into a text, with the rule of a class that it brings. */
  insertWith(
    intent: Extract<Intent, { kind: 'insert-html' | 'typed' }>,
    rule: Omit<AddRuleIntent, 'kind' | 'under'> | null,
  ): Promise<boolean> {
    if (bringsScript(intent.kind === 'typed' ? intent.splices.map((s) => s.insert).join('') : intent.html))
      say('info', 'It brings a script with it, which runs on the page.')
    return this.making.restructure(
      rule ? { kind: 'together', intents: [intent, { kind: 'add-rule', under: '', ...rule }], label: rule.selector } : intent,
    )
  }

  /** Begins to draw a layout over the selected element. */
  async beginBlockOut(): Promise<void> {
    const { picked, scale } = getStudio()
    const source = picked?.report.info.source
    if (!picked || !source) return
    if (picked.report.made) {
      say('info', 'A layout is drawn over elements of a page, not of a component.')
      return
    }
    const { className, children, sheets, hasMain } = await theDesk().reading.blockOutOf(source, picked.report.sheets)
    if (sheets.length === 0) {
      say('error', 'The page has no sheet that a layout could be written in.')
      return
    }
    const narrow = scale.conditions.find((c) => (widthRange(c)?.min ?? 1) === 0) ?? widthCondition(scale, 'up to', NARROW)
    setStudio({
      hover: null,
      drawing: {
        container: source,
        className,
        children,
        sheets,
        hasMain,
        sheet: sheets.at(-1)!.key,
        columns: ['1fr', '1fr', '1fr', '1fr'],
        rows: 3,
        gap: '1rem',
        leastRow: '4rem',
        regions: [],
        narrow,
        current: -1,
      },
    })
  }

  /** Hides what is chosen for good, in the source; or shows it again. */
  hide(): Promise<boolean> {
    return this.on(async ([source]) => {
      const isHidden = (await theDesk().places.elementOf(source))?.attributes.some((a) => a.name === 'hidden') ?? false
      return this.edits.onElement({ kind: 'set-attribute', source, name: 'hidden', value: isHidden ? null : '' })
    })
  }

  /** Takes elements off the page for now, without a change to the source, or shows them all again. */
  async hideForNow(on: boolean): Promise<void> {
    const { picked, others, hidden } = getStudio()
    const more: readonly NodeInfo[] = on && picked ? [picked, ...others].map((p) => p.report.info) : []
    const next = on ? [...hidden, ...more.filter((m) => !hidden.some((h) => h.node === m.node))] : []
    setStudio({ hidden: next })
    await this.page.guard(() => this.page.ask('hide', { nodes: next.map((h) => h.node) }))
    if (on) this.selection.letGo()
  }

  private asking = 0

  /** Where what is dragged would land at a point of the page; null when a later point was asked for meanwhile. */
  async dropAt(x: number, y: number): Promise<Drop | null> {
    const turn = ++this.asking
    const { picked, others } = getStudio()
    const sources = this.chosen()
    if (!picked || !sources) return null
    const places =
      (await this.page.guard(() => this.page.ask('drop', { x, y, moving: [picked, ...others].map((p) => p.report.info.node) }))) ?? []
    const named = await Promise.all(
      places.map(async ({ source, stamp, tag, ...place }) => ({
        ...place,
        source: source ?? (stamp && (await this.sourceAt(stamp, tag))),
      })),
    )
    const told =
      turn === this.asking
        ? await this.tell(
            sources,
            named.flatMap((p) => (p.source === null ? [] : [{ ...p, source: p.source }])),
          )
        : null
    return turn === this.asking ? told : null
  }

  private async sourceAt(stamp: Stamp, tag: string): Promise<string | null> {
    const place = await theDesk().places.tagAt(stamp, tag)
    return place.ok ? place.source : null
  }

  /** Where what is chosen would land at a place that is identified by an element. */
  async dropOn(place: SourcePlace): Promise<Drop | null> {
    const sources = this.chosen()
    return sources && this.tell(sources, [place])
  }

  /** The first of some places that elements may stand at, in words; or why they may not at any. */
  async tell(sources: readonly string[], places: readonly (SourcePlace & Partial<Pick<DropPlace, 'mark' | 'within'>>)[]): Promise<Drop> {
    let first: string | null = null
    for (const p of places) {
      const place = { source: p.source, where: p.where }
      const { ok, words } = await theDesk().places.tellDrop(sources, place)
      if (ok) return { place, words, mark: p.mark ?? null, within: p.within ?? false }
      first ??= words
    }
    return {
      place: null,
      words: first ?? 'Nothing can stand here',
      mark: places[0]?.mark ?? null,
      within: places[0]?.within ?? false,
    }
  }
}
