import { theDesk } from '../../desk'
import type { AimRef, Candidate } from '../../core/aim'
import { getStudio, setStudio } from '../store'
import { landings, ofSameTag, sheetOf } from './landings'
import type { LivePage } from './live-page'

/** How long an aim stays the same before all pages are looked through for it; ms. */
const REST = 100

/** What edits of the current property reach: framed and counted on the page, and looked for in the whole project. */
export class Reach {
  private selectors: readonly string[] = []
  /** The sheet that the rule in reach stands in; null where it is none, or several. */
  private sheet: string | null = null
  private revealed = 0
  /** Counts what was asked to be framed; only the last of it is. */
  private turn = 0

  constructor(private readonly page: LivePage) {}

  /** Has the page tell where what is pointed at, chosen and reached stands. */
  async watch(): Promise<void> {
    const { picked, others, hover } = getStudio()
    if (!this.page.here) return
    await this.page.guard(() =>
      this.page.ask('watch', {
        hover: hover?.node ?? null,
        picked: picked?.report.info.node ?? null,
        others: others.map((o) => o.report.info.node),
        reach: this.selectors,
        sheet: this.sheet,
        containers: getStudio().containers,
      }),
    )
  }

  /** Frames what the aim of the current property reaches. */
  async show(): Promise<void> {
    const turn = ++this.turn
    const places = landings(getStudio().property)
    const [first = [], ...more] = await Promise.all(places.map((aim) => this.selectorsOf(aim.ref)))
    if (turn !== this.turn) return
    this.revealed = 0
    const selectors = [first, ...more].flat()
    if (getStudio().projectReach && selectors.join() !== this.selectors.join()) setStudio({ projectReach: null })
    this.selectors = selectors
    this.sheet = sheetOf(places.map((aim) => aim.ref))
    await this.watch()
    const { picked, property, fresh } = getStudio()
    const counted = await this.page.guard(() =>
      this.countFresh([...(picked?.aims.get(property)?.candidates ?? []), ...landings(property)], fresh),
    )
    if (counted && counted !== fresh && turn === this.turn) setStudio({ fresh: counted })
    // All pages are looked through for what stays selected; the frames need not wait for that.
    setTimeout(() => void this.lookThrough(first, sheetOf(places.slice(0, 1).map((aim) => aim.ref)), turn), REST)
  }

  private async lookThrough(selectors: readonly string[], sheet: string | null, turn: number): Promise<void> {
    if (turn !== this.turn) return
    const projectReach = selectors.length ? await theDesk().reading.projectReach(selectors, sheet) : null
    if (turn === this.turn) setStudio({ projectReach })
  }

  /** Frames and counts what selectors match, before there is a rule with them; null where the browser does not take them. */
  async try(selector: string, sheet: string): Promise<number | null> {
    if (!CSS.supports(`selector(${selector})`)) return null
    this.selectors = [selector]
    this.sheet = sheet
    await this.watch()
    const counts = await this.page.guard(() => this.page.ask('reach', { selectors: [selector], sheets: [sheet] }))
    return counts?.[0] ?? null
  }

  /** The selectors of the rules that match the selected element. */
  async selectorsOfMatched(): Promise<string[]> {
    const rules = getStudio().picked?.report.matched[0] ?? []
    return (await Promise.all(rules.map(({ sheet, rule }) => theDesk().reading.selectors(sheet, rule)))).flat()
  }

  /** Scrolls the page to the next element that the current aim reaches, one after another. */
  async showNext(): Promise<void> {
    if (this.selectors.length) await this.page.guard(() => this.page.ask('reveal', { selectors: this.selectors, index: this.revealed++ }))
  }

  /** Marks what decides sizes and places: containers of all kinds. */
  showContainers(on: boolean): void {
    setStudio({ containers: on })
    void this.watch()
  }

  /** Frames nothing any more, and gives up what is being counted. */
  clear(): void {
    this.turn++
    this.selectors = []
  }

  /** Adds to what is known the counts of rules that are not there yet: their reach is known before the edit too. */
  async countFresh(candidates: readonly Candidate[], known: ReadonlyMap<string, number>): Promise<ReadonlyMap<string, number>> {
    const wanted = new Map(
      candidates.flatMap(({ ref, reach }) =>
        ref.kind === 'new-rule' && reach === null && !known.has(ref.selector) ? [[ref.selector, ref.sheet] as const] : [],
      ),
    )
    if (wanted.size === 0) return known
    const counts = await this.page.ask('reach', { selectors: [...wanted.keys()], sheets: [...wanted.values()] })
    return new Map([...known, ...[...wanted.keys()].map((s, i) => [s, counts[i]] as const)])
  }

  /** Counts what rules that are not there yet would reach: whether one would be the element's alone. */
  async countOwn(properties: readonly string[]): Promise<void> {
    const { picked, fresh } = getStudio()
    const counted = await this.page.guard(() =>
      this.countFresh(
        properties.flatMap((p) => picked?.aims.get(p)?.candidates ?? []),
        fresh,
      ),
    )
    if (counted && counted !== fresh) setStudio({ fresh: counted })
  }

  /** What matches the elements that an edit at a place reaches; none where that is one element. */
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
}
