import type { ElementName, Answer, NodeHandle, NodeInfo, PickReport, Point, Stacking } from '../../agent/protocol'
import { ALWAYS, type Candidate, type Condition, type Evidence, isConditional } from '../../core/aim'
import { widthRange } from '../../core/css'
import { widthsBetween } from '../../core/project'
import { theDesk } from '../../desk'
import { getStudio, say, setStudio, type HeldThing, type Picked } from '../store'
import { storeOpen } from '../tune/open-sections'
import { ComponentSources } from './component-sources'
import { landingOf, NONE_CHOSEN, preferredIndex } from './chosen-aim'
import { aloneFor, currentAim, type Selected } from './landings'
import type { LivePage } from './live-page'
import { askEngine } from './page-facts'
import { Pointing } from './pointing'
import { Reach } from './reach'
import { UnderWay } from './under-way'

/** Elements chosen at once by one gesture at most: each is asked for by itself. */
const MOST = 200

// The rows of Tune are a long list, and nothing needs it before there is an element to read.
const rows = () => import('../tune/properties')

// What the page says, with what was found for it in the sources: the usage is in the report that an element was read with.
const evidenceOf = (report: PickReport & Pick<Evidence, 'usage'>, condition: Condition): Evidence => ({
  ...report,
  condition,
  copies: report.made?.isOwn ? report.made.count : 1,
})

/** Which elements are chosen, in what condition, and where an edit of each property would land. */
export class Selection {
  private picking = 0
  /** What was asked to be chosen and is still being read: until it is, an edit would land where the one before was. */
  readonly choices = new UnderWay()
  readonly components: ComponentSources
  readonly reach: Reach
  readonly pointing: Pointing

  /** `onChange` is called when the view is worth keeping. */
  constructor(
    private readonly page: LivePage,
    private readonly onChange: () => void,
  ) {
    this.components = new ComponentSources(page)
    this.reach = new Reach(page)
    this.pointing = new Pointing(page, this.reach)
  }

  async bringIntoView(node: NodeHandle): Promise<void> {
    await this.page.guard(() => this.page.ask('bringIntoView', { node }))
  }

  /** Elements of the page by selector, text or attribute. */
  async find(query: string): Promise<readonly NodeHandle[]> {
    return (await this.page.guard(() => this.page.ask('find', { query }))) ?? []
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
      const selectors = how === 'selector' ? await this.reach.selectorsOf(currentAim(property)?.ref ?? null) : []
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
      const fresh = await this.reach.countFresh(this.defaultOf(picked, getStudio().property), new Map())
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
      void this.reach.show()
      this.onChange()
    })
  }

  private async ask(of: NodeHandle | Point, condition: Condition): Promise<PickReport | null> {
    const { READ_PROPERTIES } = await rows()
    const tokens = getStudio().scale.tokens.map((t) => t.name)
    return this.page.ask('pick', { of, props: [...READ_PROPERTIES, ...tokens], part: condition.part })
  }

  private async read(asked: PickReport, condition: Condition): Promise<Picked> {
    const { report, tag, usage } = await this.components.of(asked)
    const evidence = evidenceOf(report, condition)
    const source = report.info.source ?? report.nearestSource?.source ?? null
    const tuned = await this.tuned()
    const ask = () => theDesk().reading.picked(evidence, tuned, source)
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
  private async tuned(): Promise<string[]> {
    const { propertiesOf } = await rows()
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
    const { propertiesOf } = await rows()
    if (on) await this.page.guard(() => this.needAims(propertiesOf(new Set([title]))))
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
    if (missing.includes(now.property)) void this.reach.show()
    return { ...selected, picked: add(picked), others: others.map(add) }
  }

  /** Aims these properties at the selected element alone, where nothing else was chosen by hand: a place among others is one element's own. */
  async aimAlone(properties: readonly string[]): Promise<void> {
    await this.needAims(properties)
    await this.reach.countOwn(properties)
    for (const property of properties) {
      const { picked, chosen } = getStudio()
      const aim = picked?.aims.get(property)
      if (!aim || chosen.of[property] || chosen.last || landingOf(aim, chosen, getStudio().preferences).candidate?.reach === 1) continue
      const alone = aloneFor(property)
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

  letGo(): void {
    this.picking++
    this.reach.clear()
    setStudio({ picked: null, others: [], chosen: NONE_CHOSEN, condition: ALWAYS })
    void this.page.guard(() => this.applyHolds())
    void this.reach.watch()
    this.onChange()
  }

  /** What is still being read is chosen no more: the project is left. */
  leave(): void {
    this.picking++
    this.reach.clear()
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

  touch(property: string): void {
    if (getStudio().property === property) return
    setStudio({ property })
    // The same order for all of a kind orders nothing.
    if (property === 'order') void this.aimAlone([property])
    void this.reach.show()
  }

  chooseAim(property: string, index: number): void {
    const candidate = getStudio().picked?.aims.get(property)?.candidates[index]
    if (!candidate) return
    this.choosePlace(property, candidate)
  }

  /** Makes a place that of a property, and of all others that it can take, until another element is picked. */
  choosePlace(property: string, place: Candidate): void {
    setStudio({ chosen: { of: { ...getStudio().chosen.of, [property]: place }, last: place } })
    void this.reach.show()
  }

  /** Keeps the current aim while other elements are chosen, or lets it follow the choice again. */
  holdAim(on: boolean): void {
    const aim = on ? currentAim(getStudio().property) : null
    // Every property would be written as that one custom property.
    if (aim?.ref.kind === 'token')
      say('info', `${aim.label} is the value of ${getStudio().property} alone, so it cannot be held for others. Choose a rule to hold.`)
    else setStudio({ heldAim: aim })
    void this.reach.show()
  }
}
