import type { ElementName, Answer, NodeHandle, NodeInfo, PickReport, Point, Stacking } from '../../agent/protocol'
import { type AimRef, ALWAYS, type Candidate, type Condition, type Evidence, isConditional } from '../../core/aim'
import { widthRange } from '../../core/css'
import { STAMP_ATTRIBUTE } from '../../core/html'
import { widthsBetween } from '../../core/project'
import { theDesk } from '../../desk'
import { getStudio, say, setStudio, type HeldThing, type Picked, type StudioState } from '../store'
import { storeOpen } from '../tune/open-sections'
import { propertiesOf, READ_PROPERTIES } from '../tune/properties'
import { isReadingClasses } from './classes-read'
import { ComponentSources } from './component-sources'
import { keyOf, landingOf, NONE_CHOSEN, preferredIndex } from './chosen-aim'
import type { LivePage } from './live-page'
import { askEngine } from './page-facts'
import { UnderWay } from './under-way'

/** Elements chosen at once by one gesture at most: each is asked for by itself. */
const MOST = 200

/** How long an aim stays the same before all pages are looked through for it; ms. */
const REST = 100

/** What edits are about: the elements chosen, in what condition, and the places chosen by hand. */
export type Selected = Pick<StudioState, 'picked' | 'others' | 'condition' | 'chosen' | 'heldAim'>

const nameOf = ({ report }: Picked): string => `${report.info.source ?? report.info.node} ${report.nth}`

/** Whether two are of the same elements in the same condition, however often these were read. */
export const isSameSelection = (a: Selected, b: Selected): boolean => {
  const names = ({ picked, others, condition }: Selected) => JSON.stringify([picked && nameOf(picked), others.map(nameOf), condition])
  return names(a) === names(b)
}

/** The sheet that rules at these places stand in; null where it is none, or several. What a token reaches may stand in any. */
export function sheetOf(refs: readonly AimRef[]): string | null {
  const sheets = new Set(refs.map((ref) => (ref.kind === 'rule' || ref.kind === 'new-rule' ? ref.sheet : null)))
  return sheets.size === 1 ? [...sheets][0] : null
}

// What the page says, with what was found for it in the sources: the usage is in the report that an element was read with.
const evidenceOf = (report: PickReport & Pick<Evidence, 'usage'>, condition: Condition): Evidence => ({
  ...report,
  condition,
  copies: report.made?.isOwn ? report.made.count : 1,
})

/** What matches the elements of a page that the same tag made; none where the element is of no component. */
export const ofSameTag = ({ made }: PickReport): string[] =>
  made?.isOwn ? [`[${STAMP_ATTRIBUTE}^="${made.stamp.nth} "][${STAMP_ATTRIBUTE}$=${JSON.stringify(` ${made.stamp.path}`)}]`] : []

/** Which elements are chosen, in what condition, and where an edit of each property would land. */
export class Selection {
  private picking = 0
  /** What was asked to be chosen and is still being read: until it is, an edit would land where the one before was. */
  readonly choices = new UnderWay()
  readonly components: ComponentSources
  private reachSelectors: readonly string[] = []
  /** The sheet that the rule in reach stands in; null where it is none, or several. */
  private reachSheet: string | null = null

  /** `onChange` is called when the view is worth keeping. */
  constructor(
    private readonly page: LivePage,
    private readonly onChange: () => void,
  ) {
    this.components = new ComponentSources(page)
  }

  private hovering = false
  private nextHover: Point | null = null

  /** The element under a point of the page's viewport; one question at a time, the latest point next. */
  async hover(x: number, y: number): Promise<void> {
    this.nextHover = { x, y }
    if (this.hovering) return
    this.hovering = true
    while (this.nextHover && this.page.here) {
      const at = this.nextHover
      this.nextHover = null
      const hit = await this.page.guard(() => this.page.ask('hit', { ...at, hover: true }))
      setStudio({ hover: hit?.info ?? null, hoverFacts: hit?.facts ?? null })
    }
    this.hovering = false
  }

  hoverNothing(): void {
    this.nextHover = null
    setStudio({ hover: null, hoverFacts: null })
    void this.watch()
  }

  /** Frames an element as pointed at. */
  hoverNode(info: NodeInfo): void {
    this.nextHover = null
    setStudio({ hover: info, hoverFacts: null })
    void this.watch()
  }

  async bringIntoView(node: NodeHandle): Promise<void> {
    await this.page.guard(() => this.page.ask('bringIntoView', { node }))
  }

  /** Elements of the page by selector, text or attribute. */
  async find(query: string): Promise<readonly NodeHandle[]> {
    return (await this.page.guard(() => this.page.ask('find', { query }))) ?? []
  }

  private async watch(): Promise<void> {
    const { picked, others, hover } = getStudio()
    if (!this.page.here) return
    await this.page.guard(() =>
      this.page.ask('watch', {
        hover: hover?.node ?? null,
        picked: picked?.report.info.node ?? null,
        others: others.map((o) => o.report.info.node),
        reach: this.reachSelectors,
        sheet: this.reachSheet,
        containers: getStudio().containers,
      }),
    )
  }

  /** Picks the element at a point; with `add`, adds it to those chosen or takes it out of them. */
  pickAt(x: number, y: number, add = false): Promise<void> {
    return this.choices.during(() => this.pickNowAt(x, y, add))
  }

  private async pickNowAt(x: number, y: number, add: boolean): Promise<void> {
    if (!this.page.here) return
    const { picked, condition } = getStudio()
    // Which condition holds depends on whether it is the selected element.
    if (!isConditional(condition) && !(add && picked)) {
      await this.chooseFirst({ x, y }, [])
      return
    }
    const hit = await this.page.guard(() => this.page.ask('hit', { x, y, hover: false }))
    if (hit) await (add ? this.toggle(hit.info.node) : this.pick(hit.info.node))
  }

  /** Picks the element with this source, the `nth` of those that have it; whether there is one. */
  async pickSource(source: string, nth = 0): Promise<boolean> {
    await this.components.adopt(source)
    return this.pickNamed({ source, nth })
  }

  /** The source of an element of a component that is not chosen; null where it has none. */
  async sourceOfNode(node: NodeHandle): Promise<string | null> {
    return (await this.page.guard(() => this.readUnchosen(node)))?.report.info.source ?? null
  }

  pickNamed(name: ElementName): Promise<boolean> {
    return this.choices.during(async () => {
      const found = this.page.here ? await this.page.guard(() => this.page.ask('locate', name)) : null
      if (found) await this.pick(found.node)
      return found !== null
    })
  }

  /** Picks the page's body, to go on from by keys. */
  async pickFirst(): Promise<void> {
    const [body] = await this.find('body')
    if (body !== undefined) await this.pick(body)
  }

  async pick(node: NodeHandle): Promise<void> {
    await this.choose([node])
  }

  private get nodes(): NodeHandle[] {
    const { picked, others } = getStudio()
    return picked ? [picked.report.info.node, ...others.map((o) => o.report.info.node)] : []
  }

  async toggle(node: NodeHandle): Promise<void> {
    const now = this.nodes
    await this.choose(now.includes(node) ? now.filter((n) => n !== node) : [...now, node])
  }

  /** Adds the elements that stand in a rectangle of the page's viewport, the outermost of each branch. */
  pickBox(x: number, y: number, width: number, height: number, add: boolean): Promise<void> {
    return this.choices.during(async () => {
      const found = await this.page.guard(() => this.page.ask('within', { x, y, width, height }))
      if (!found?.length) return
      await this.choose([...new Set([...(add ? this.nodes : []), ...found.map((f) => f.node)])])
    })
  }

  /** Chooses all elements of the page that are like the selected one, in one sense or another. */
  pickLike(how: 'classes' | 'place' | 'selector'): Promise<void> {
    return this.choices.during(async () => {
      const { picked, property } = getStudio()
      if (!picked) return
      const node = picked.report.info.node
      const selectors = how === 'selector' ? await this.selectorsOf(this.currentAim(property)?.ref ?? null) : []
      const found = await this.page.guard(() => this.page.ask('like', { node, how, selectors }))
      if (found) await this.choose([node, ...found.map((f) => f.node).filter((n) => n !== node)])
    })
  }

  /** Chooses elements, the first of them as the one that is read. Those that are gone are left out. */
  choose(nodes: readonly NodeHandle[]): Promise<void> {
    return this.choices.during(() => this.chooseNow(nodes))
  }

  private async chooseNow(nodes: readonly NodeHandle[]): Promise<void> {
    if (!this.page.here) return
    if (nodes.length === 0) {
      this.letGo()
      return
    }
    const [first, ...rest] = nodes.slice(0, MOST)
    await this.chooseFirst(first, rest)
  }

  private async chooseFirst(first: NodeHandle | Point, rest: readonly NodeHandle[]): Promise<void> {
    const turn = ++this.picking
    await this.page.guard(async () => {
      const before = getStudio().picked?.report.info.node
      // A condition stays while the same element is selected; the next one starts as it is.
      const condition = before === first ? getStudio().condition : ALWAYS
      const then = getStudio().condition
      const asked = before !== first && isConditional(then) ? await this.ask(first, condition) : null
      if (before !== first && isConditional(then)) {
        // What is shown in a state goes on being so while something in it is chosen: a menu that opens stays open.
        const around = getStudio().picked
        const isWithin = then.state.startsWith(':') && around !== null && asked?.ancestors.some((a) => a.node === around.report.info.node)
        setStudio({
          condition,
          ...(isWithin && { held: [...getStudio().held, { info: around.report.info, state: then.state }] }),
        })
        await this.applyHolds()
      }
      const report = await this.ask(asked?.info.node ?? first, condition)
      if (!report || turn !== this.picking) return
      const picked = await this.read(report, condition)
      const fresh = await this.countFresh(this.defaultOf(picked, getStudio().property), new Map())
      const others: Picked[] = []
      for (const node of rest) {
        const other = await this.ask(node, condition)
        if (other && turn === this.picking) others.push(await this.read(other, condition))
      }
      if (turn !== this.picking) return
      const same = before === report.info.node
      setStudio({
        picked,
        others,
        fresh,
        ...(!same && { chosen: NONE_CHOSEN, projectReach: null }),
        // The frame is drawn with the element it is of, not a moment later.
        frames: { ...getStudio().frames, picked: report.geometry },
      })
      void this.showReach()
      this.onChange()
    })
  }

  private ask(of: NodeHandle | Point, condition: Condition): Promise<PickReport | null> {
    const tokens = getStudio().scale.tokens.map((t) => t.name)
    return this.page.ask('pick', { of, props: [...READ_PROPERTIES, ...tokens], part: condition.part })
  }

  private async read(asked: PickReport, condition: Condition): Promise<Picked> {
    const { report, tag, usage } = await this.components.of(asked)
    const evidence = evidenceOf(report, condition)
    const source = report.info.source ?? report.nearestSource?.source ?? null
    const ask = () => theDesk().reading.picked(evidence, this.tuned, source)
    let read = await ask()
    while (read.unknown) {
      await theDesk().reading.learn(askEngine(read.unknown))
      read = await ask()
    }
    return { report, aims: new Map(read.aims.map((a) => [a.property, a])), place: read.place, tag, usage }
  }

  private defaultOf({ aims }: Picked, property: string): readonly Candidate[] {
    const aim = aims.get(property)
    const found = aim?.candidates[preferredIndex(aim, getStudio().preferences)]
    return found ? [found] : []
  }

  // Reach is known before the edit, for a rule that is not there yet too: at once for the default, then for the others.
  private async countFresh(candidates: readonly Candidate[], known: ReadonlyMap<string, number>): Promise<ReadonlyMap<string, number>> {
    const wanted = new Map(
      candidates.flatMap(({ ref, reach }) =>
        ref.kind === 'new-rule' && reach === null && !known.has(ref.selector) ? [[ref.selector, ref.sheet] as const] : [],
      ),
    )
    if (wanted.size === 0) return known
    const counts = await this.page.ask('reach', { selectors: [...wanted.keys()], sheets: [...wanted.values()] })
    return new Map([...known, ...[...wanted.keys()].map((s, i) => [s, counts[i]] as const)])
  }

  /** What the page says of an element, or a pseudo-element of it, that is not chosen. */
  async look(node: NodeHandle, part = ''): Promise<Evidence | null> {
    const condition = { ...ALWAYS, part }
    const report = await this.page.guard(() => this.ask(node, condition))
    return report && evidenceOf(report, condition)
  }

  /** An element with its aims, without choosing it. */
  private async readUnchosen(node: NodeHandle): Promise<Picked | null> {
    const report = await this.ask(node, ALWAYS)
    return report && this.read(report, ALWAYS)
  }

  async stacking(picked: Picked): Promise<Stacking | null> {
    return this.page.guard(() => this.page.ask('stacking', { node: picked.report.info.node }))
  }

  palette(): Promise<Answer<'palette'> | null> {
    return this.page.guard(() => this.page.ask('palette', {}))
  }

  /** Selects the first element that a rule matches, unless one is selected that it matches, and aims at the rule. */
  async pickByRule({
    sheet,
    rule,
    selectors,
  }: {
    readonly sheet: string
    readonly rule: number
    readonly selectors: readonly string[]
  }): Promise<void> {
    const isAimed = (p: Picked | null) =>
      p?.aims
        .get(getStudio().property)
        ?.candidates.findIndex((c) => c.ref.kind === 'rule' && c.ref.sheet === sheet && c.ref.rule === rule) ?? -1
    if (isAimed(getStudio().picked) < 0) {
      const [first] = await this.find(selectors.join(', '))
      if (first === undefined) return
      await this.pick(first)
    }
    const at = isAimed(getStudio().picked)
    if (at >= 0) this.chooseAim(getStudio().property, at)
  }

  /** The parent of the selected element. */
  async parent(): Promise<Picked | null> {
    const { picked } = getStudio()
    const info = picked && (await this.page.guard(() => this.page.ask('walk', { node: picked.report.info.node, to: 'parent' })))
    return info ? this.readUnchosen(info.node) : null
  }

  /** Where an edit of a property of some element would land by default. */
  async aimOf(of: Picked, property: string): Promise<Candidate | null> {
    const [aim] = await theDesk().reading.aims(evidenceOf(of.report, ALWAYS), [property])
    return aim.candidates[preferredIndex(aim, getStudio().preferences)] ?? null
  }

  /** Reads again what is chosen: its rules may be others now. */
  async refresh(): Promise<void> {
    const nodes = this.nodes
    if (nodes.length) await this.chooseNow(nodes)
  }

  // What the open sections show, and the current property.
  private get tuned(): string[] {
    const { open, property } = getStudio()
    return [...new Set([...propertiesOf(open), property, 'display'])]
  }

  /** Unfolds or folds a section of Tune. */
  async unfold(title: string, on: boolean): Promise<void> {
    const open = new Set(getStudio().open)
    if (on) open.add(title)
    else open.delete(title)
    setStudio({ open })
    storeOpen(open)
    if (on) await this.page.guard(() => this.needAims(propertiesOf(new Set([title]))))
  }

  /** Whether an edit would land where it does only because the utility classes are not read yet. */
  isAimedEarly(property: string, selected: Selected): boolean {
    const isThere = ({ kind }: AimRef) => kind === 'class-list' || kind === 'rule' || kind === 'token'
    return isReadingClasses() && !this.isByHand(property, selected) && this.landings(property, selected).some((c) => !isThere(c.ref))
  }

  /** Works out where edits of properties without a row of their own would land; gives what they are about with that. */
  async needAims(properties: readonly string[], selected: Selected = getStudio()): Promise<Selected> {
    const { picked, others, condition } = selected
    const missing = picked ? properties.filter((p) => !picked.aims.has(p)) : []
    if (!picked || missing.length === 0) return selected
    const found = new Map(
      await Promise.all(
        [picked, ...others].map(
          async ({ report }) => [report, await theDesk().reading.aims(evidenceOf(report, condition), missing)] as const,
        ),
      ),
    )
    // What was asked for meanwhile stays; another element may be chosen by now.
    const add = (p: Picked): Picked => ({
      ...p,
      aims: new Map([...p.aims, ...(found.get(p.report) ?? []).map((a) => [a.property, a] as const)]),
    })
    const now = getStudio()
    setStudio({ picked: now.picked && add(now.picked), others: now.others.map(add) })
    if (missing.includes(now.property)) void this.showReach()
    return { ...selected, picked: add(picked), others: others.map(add) }
  }

  /** Aims these properties at the selected element alone, where nothing else was chosen by hand: a place among others is one element's own. */
  async aimAlone(properties: readonly string[]): Promise<void> {
    await this.needAims(properties)
    await this.countOwn(properties)
    for (const property of properties) {
      const { picked, chosen } = getStudio()
      const aim = picked?.aims.get(property)
      if (!aim || chosen.of[property] || chosen.last || landingOf(aim, chosen, getStudio().preferences).candidate?.reach === 1) continue
      const alone = this.aloneFor(property)
      if (alone) setStudio({ chosen: { ...getStudio().chosen, of: { ...getStudio().chosen.of, [property]: alone } } })
    }
  }

  /** The condition at which the grid that the selected element stands in has its tracks of now; '' where it always has. */
  async widthsOfGrid(): Promise<string> {
    const { picked, frames, scale } = getStudio()
    const info = picked && (await this.page.guard(() => this.page.ask('walk', { node: picked.report.info.node, to: 'parent' })))
    const evidence = info ? await this.look(info.node) : null
    if (!evidence) return ''
    const width = Math.round(frames.page?.width ?? 0)
    let [from, to]: [number | null, number | null] = [null, null]
    for (const aim of await theDesk().reading.aims(evidence, ['grid-template-columns', 'grid-template-rows'])) {
      const deciding = aim.candidates.find((c) => c.current !== null && c.wins)
      const own = deciding?.conditions.flatMap((c) => /^@media (.+)$/.exec(c)?.[1] ?? []).find((c) => widthRange(c))
      if (own) return own
      if (/auto-fi(ll|t)/.test(aim.written ?? '')) from = Math.max(from ?? 0, width)
      for (const { condition } of aim.candidates.flatMap((c) => c.overridden)) {
        const range = widthRange(condition.replace(/^@media /, ''))
        if (range && range.max < width) from = Math.max(from ?? 0, Math.floor(range.max) + 1)
        if (range && range.min > width) to = Math.min(to ?? Infinity, Math.ceil(range.min) - 1)
      }
    }
    return widthsBetween(scale, from, to)
  }

  // Whether a rule that is not there yet would be the element's alone.
  private async countOwn(properties: readonly string[]): Promise<void> {
    const { picked, fresh } = getStudio()
    const counted = await this.page.guard(() =>
      this.countFresh(
        properties.flatMap((p) => picked?.aims.get(p)?.candidates ?? []),
        fresh,
      ),
    )
    if (counted && counted !== fresh) setStudio({ fresh: counted })
  }

  letGo(): void {
    this.picking++
    this.reachSelectors = []
    setStudio({ picked: null, others: [], chosen: NONE_CHOSEN, condition: ALWAYS })
    void this.page.guard(() => this.applyHolds())
    void this.watch()
    this.onChange()
  }

  /** What is still being read is chosen no more: the project is left. */
  leave(): void {
    this.picking++
    this.reaching++
    setStudio({ picked: null, others: [] })
  }

  walk(to: 'parent' | 'child' | 'next' | 'previous'): Promise<void> {
    return this.choices.during(async () => {
      const { picked } = getStudio()
      if (!picked || !this.page.here) return
      const found = await this.page.guard(() => this.page.ask('walk', { node: picked.report.info.node, to }))
      if (found) await this.pick(found.node)
    })
  }

  /** The state, part or widths that edits are to hold in; the page shows the element so. */
  setCondition(change: Partial<Condition>): Promise<void> {
    return this.choices.during(async () => {
      const { picked, condition } = getStudio()
      if (!picked) return
      setStudio({ condition: { ...condition, ...change }, chosen: NONE_CHOSEN })
      await this.page.guard(() => this.applyHolds())
      await this.refresh()
    })
  }

  /** Keeps something in a state, or open, while other elements are chosen; again lets it go. */
  toggleHold(thing: HeldThing): Promise<void> {
    return this.choices.during(async () => {
      const { held } = getStudio()
      const at = held.findIndex((h) => h.info.node === thing.info.node && h.state === thing.state)
      setStudio({ held: at < 0 ? [...held, thing] : held.filter((_, i) => i !== at) })
      await this.page.guard(() => this.applyHolds())
      await this.refresh()
    })
  }

  /** Dialogs, popovers and the like that the page does not show now. */
  async findClosed(): Promise<readonly NodeInfo[]> {
    return (await this.page.guard(() => this.page.ask('closed', {}))) ?? []
  }

  /** Has the page show the states that are held and the one that edits are to hold in. */
  async applyHolds(): Promise<void> {
    const { held, condition, picked } = getStudio()
    const own =
      picked && condition.state
        ? [
            {
              node: picked.report.info.node,
              states: /^(\[open\]|:popover-open)$/.test(condition.state) ? [] : [condition.state.replace(/^:/, '')],
              open: /^(\[open\]|:popover-open)$/.test(condition.state),
            },
          ]
        : []
    await this.page.ask('hold', {
      held: [...held.map((h) => ({ node: h.info.node, states: h.state ? [h.state.slice(1)] : [], open: h.state === '' })), ...own],
    })
  }

  /** Frames what the aim of the current property reaches. */
  async showReach(): Promise<void> {
    const turn = ++this.reaching
    const landings = this.landings(getStudio().property)
    const [first = [], ...more] = await Promise.all(landings.map((aim) => this.selectorsOf(aim.ref)))
    if (turn !== this.reaching) return
    this.revealed = 0
    const selectors = [first, ...more].flat()
    if (getStudio().projectReach && selectors.join() !== this.reachSelectors.join()) setStudio({ projectReach: null })
    this.reachSelectors = selectors
    this.reachSheet = sheetOf(landings.map((aim) => aim.ref))
    await this.watch()
    const { picked, property, fresh } = getStudio()
    const counted = await this.page.guard(() =>
      this.countFresh([...(picked?.aims.get(property)?.candidates ?? []), ...this.landings(property)], fresh),
    )
    if (counted && counted !== fresh && turn === this.reaching) setStudio({ fresh: counted })
    // All pages are looked through for what stays selected; the frames need not wait for that.
    setTimeout(() => void this.lookThrough(first, sheetOf(landings.slice(0, 1).map((aim) => aim.ref)), turn), REST)
  }

  private async lookThrough(selectors: readonly string[], sheet: string | null, turn: number): Promise<void> {
    if (turn !== this.reaching) return
    const projectReach = selectors.length ? await theDesk().reading.projectReach(selectors, sheet) : null
    if (turn === this.reaching) setStudio({ projectReach })
  }

  /** The selectors of the rules that match the selected element. */
  async selectorsInReach(): Promise<string[]> {
    const rules = getStudio().picked?.report.matched[0] ?? []
    return (await Promise.all(rules.map(({ sheet, rule }) => theDesk().reading.selectors(sheet, rule)))).flat()
  }

  /** Frames and counts what selectors match, before there is a rule with them; null where the browser does not take them. */
  async tryReach(selector: string, sheet: string): Promise<number | null> {
    if (!CSS.supports(`selector(${selector})`)) return null
    this.reachSelectors = [selector]
    this.reachSheet = sheet
    await this.watch()
    const counts = await this.page.guard(() => this.page.ask('reach', { selectors: [selector], sheets: [sheet] }))
    return counts?.[0] ?? null
  }

  /**
   * A place for the selected element alone: a rule that reaches no other, a class of its own, a rule for its place among its
   * siblings, or, where none of these wins, its style attribute. With a condition on widths, a rule under that.
   */
  aloneFor(property: string, { picked }: Selected = getStudio(), under = ''): Candidate | null {
    const list = picked?.aims.get(property)?.candidates.filter((c) => c.wins && c.fits) ?? []
    const { fresh } = getStudio()
    const ofKind = (kind: AimRef['kind']) => list.find((c) => c.ref.kind === kind)
    const own =
      list.find((c) => c.ref.kind === 'rule' && c.reach === 1 && c.conditions.length === 0) ??
      list.find((c) => c.ref.kind === 'new-rule' && fresh.get(c.ref.selector) === 1)
    const home = ofKind('new-class') ?? ofKind('new-rule')
    const byPlace: Candidate | null =
      picked && home && 'sheet' in home.ref && 'after' in home.ref
        ? {
            ...home,
            ref: {
              kind: 'new-rule',
              sheet: home.ref.sheet,
              after: home.ref.after,
              selector: picked.report.unique,
              under,
            },
            label: picked.report.unique,
            reach: 1,
            conditions: under ? [`@media ${under}`] : [],
            reason: 'a rule for its place alone',
          }
        : null
    if (under) return byPlace
    return own ?? ofKind('new-class') ?? byPlace ?? ofKind('inline') ?? null
  }

  showContainers(on: boolean): void {
    setStudio({ containers: on })
    void this.watch()
  }

  private revealed = 0
  /** Counts what was asked to be framed; only the last of it is. */
  private reaching = 0

  /** Scrolls the page to the next element that the current aim reaches, one after another. */
  async showNextInReach(): Promise<void> {
    if (this.reachSelectors.length)
      await this.page.guard(() => this.page.ask('reveal', { selectors: this.reachSelectors, index: this.revealed++ }))
  }

  async selectorsOf(ref: AimRef | null): Promise<readonly string[]> {
    switch (ref?.kind) {
      case 'rule':
        return theDesk().reading.selectors(ref.sheet, ref.rule)
      case 'token':
        return theDesk().reading.tokenReach(ref.sheet, ref.rule, ref.name)
      case 'new-rule':
        return theDesk().reading.newSelectors(ref)
      case 'class-list':
        return ref.alike ? theDesk().reading.listSelector(ref.source) : this.ofSameTag(ref.source)
      case 'inline':
      case 'attribute':
      case 'new-class':
        return this.ofSameTag(ref.source)
      default:
        return []
    }
  }

  private ofSameTag(source: string): readonly string[] {
    const { picked } = getStudio()
    return picked?.report.info.source === source ? ofSameTag(picked.report) : []
  }

  /** Where an edit of `property` lands: as held or chosen by hand, else the default. With many elements, of the first. */
  currentAim(property: string, { picked, chosen, heldAim }: Selected = getStudio()): Candidate | null {
    if (heldAim) return heldAim
    const aim = picked?.aims.get(property)
    return aim ? landingOf(aim, chosen, getStudio().preferences).candidate : null
  }

  /** Whether the place of a property was chosen by hand. */
  isByHand(property: string, { picked, chosen }: Selected = getStudio()): boolean {
    const aim = picked?.aims.get(property)
    return aim !== undefined && landingOf(aim, chosen, getStudio().preferences).isByHand
  }

  /** The declaration of `property` itself where an edit of it lands, or which a token behind it speaks for; null where there is none to take out, switch or mark. */
  declarationOf(property: string, selected: Selected = getStudio()): Candidate | null {
    const aim = this.currentAim(property, selected)
    const candidates = selected.picked?.aims.get(property)?.candidates ?? []
    const own =
      aim?.ref.kind === 'token'
        ? candidates.find((c) => (c.ref.kind === 'rule' || c.ref.kind === 'inline') && c.wins && c.current !== null)
        : aim
    return own && (own.ref.kind === 'rule' || own.ref.kind === 'inline') ? own : null
  }

  /**
   * Where an edit of `property` lands for all that is chosen: one place where they share it, else one for each. A class or
   * attribute of an element's own is nobody else's.
   */
  landings(property: string, selected: Selected = getStudio()): readonly Candidate[] {
    const first = this.currentAim(property, selected)
    const { others, heldAim } = selected
    if (!first) return []
    if (others.length === 0 || heldAim) return [first]
    const key = keyOf(first.ref)
    const shared =
      first.ref.kind !== 'inline' &&
      first.ref.kind !== 'new-class' &&
      first.ref.kind !== 'new-sheet' &&
      others.every((o) => o.aims.get(property)?.candidates.some((c) => keyOf(c.ref) === key))
    if (shared) return [first]
    const all = new Map([[key, first]])
    for (const o of others) {
      const aim = o.aims.get(property)
      // With a class list for its aim, each element's own list, for the same variant.
      const list =
        first.ref.kind === 'class-list'
          ? aim?.candidates.find(
              (c) => c.ref.kind === 'class-list' && first.ref.kind === 'class-list' && c.ref.variant === first.ref.variant && !c.ref.alike,
            )
          : undefined
      const own = list ?? (aim && aim.candidates[preferredIndex(aim, getStudio().preferences)])
      if (own) all.set(keyOf(own.ref), own)
    }
    return [...all.values()]
  }

  touch(property: string): void {
    if (getStudio().property === property) return
    setStudio({ property })
    // The same order for all of a kind orders nothing.
    if (property === 'order') void this.aimAlone([property])
    void this.showReach()
  }

  chooseAim(property: string, index: number): void {
    const candidate = getStudio().picked?.aims.get(property)?.candidates[index]
    if (!candidate) return
    this.choosePlace(property, candidate)
  }

  /** Makes a place that of a property, and of all others that it can take, until another element is picked. */
  choosePlace(property: string, place: Candidate): void {
    setStudio({ chosen: { of: { ...getStudio().chosen.of, [property]: place }, last: place } })
    void this.showReach()
  }

  /** Keeps the current aim while other elements are chosen, or lets it follow the choice again. */
  holdAim(on: boolean): void {
    const aim = on ? this.currentAim(getStudio().property) : null
    // Every property would be written as that one custom property.
    if (aim?.ref.kind === 'token')
      say('info', `${aim.label} is the value of ${getStudio().property} alone, so it cannot be held for others. Choose a rule to hold.`)
    else setStudio({ heldAim: aim })
    void this.showReach()
  }
}
