import type { Answer, Finding, NodeInfo, Picture, PictureFormat } from '../../agent/protocol'
import type { ColorPlace, DeadLink, Unused, UnusedRule } from '../../core/project'
import { theDesk, type PageWeight, type TokensToTake } from '../../desk'
import type { Intent } from '../../core/edit'
import type { RampPull, Theme, ThemeToken, TokenPlace } from '../../core/theme'
import { getStudio, say, setStudio } from '../store'
import type { Session } from '../session/session'

/** A width that every project is looked at in besides its own: the narrowest that content has to fit without scrolling both ways (WCAG 2.2 §1.4.10); px. */
const NARROWEST = 320

/** Widths that a page is looked at in at most. */
const MOST_WIDTHS = 8

/** How long a page may take to have another width, and how often it is asked; ms. */
const RESIZING = 2000
const LOOK = 40

/** The elements that make a page wider than its window at some width. */
export interface Overflowing {
  readonly width: number
  readonly elements: readonly NodeInfo[]
}

const known = new WeakMap<Session, WholePage>()

/** The page of a session as a whole. */
export function wholePage(session: Session): WholePage {
  let whole = known.get(session)
  if (!whole) known.set(session, (whole = new WholePage(session)))
  return whole
}

/** The page as a whole: what it lacks, and every face and colour that it shows. */
export class WholePage {
  constructor(private readonly session: Pick<Session, 'page' | 'selection' | 'making'>) {}

  /** What the page does not do that WCAG 2.2 asks for; null where the page does not answer. */
  findings(): Promise<readonly Finding[] | null> {
    return this.session.page.guard(() => this.session.page.ask('findings', {}))
  }

  /** The widths that the project has rules for, and the narrowest; ascending. */
  widths(): readonly number[] {
    const { breakpoints } = getStudio().scale
    return [...new Set([NARROWEST, ...breakpoints.map(Math.round)])].sort((a, b) => a - b).slice(0, MOST_WIDTHS)
  }

  /** Looks at the page at each of the project's widths, one after another; it has its own again afterwards. `isWanted` says whether to go on. */
  async overflow(tell: (done: number, of: number) => void, isWanted: () => boolean): Promise<readonly Overflowing[]> {
    const { width: before } = getStudio()
    const out: Overflowing[] = []
    const widths = this.widths()
    try {
      for (const [i, width] of widths.entries()) {
        tell(i, widths.length)
        if (!isWanted() || this.session.page.left) break
        setStudio({ width })
        const elements = await this.overflowAt(width)
        if (elements?.length) out.push({ width, elements })
      }
    } finally {
      if (!this.session.page.left) setStudio({ width: before })
    }
    return out
  }

  // Null where the page has not got that width in time.
  private async overflowAt(width: number): Promise<readonly NodeInfo[] | null> {
    for (let waited = 0; waited < RESIZING; waited += LOOK) {
      const found = await this.session.page.guard(() => this.session.page.ask('overflow', {}))
      if (!found || found.width === width) return found?.elements ?? null
      await new Promise((done) => setTimeout(done, LOOK))
    }
    return null
  }

  /** The addresses in the project's sources that lead to nothing in it; null where that is not wanted any more. */
  deadLinks(): Promise<readonly DeadLink[] | null> {
    return theDesk().reading.deadLinks()
  }

  /** Chooses an element of the page and brings it into view. */
  async choose(node: number): Promise<void> {
    await this.session.selection.pick(node)
    await this.session.selection.bringIntoView(node)
  }

  /** Chooses all elements that have a face or a colour. */
  async chooseAll(nodes: readonly number[]): Promise<void> {
    await this.session.selection.choose(nodes)
    if (nodes.length) await this.session.selection.bringIntoView(nodes[0])
  }

  /** Every face and colour that the page shows; null where the page does not answer. */
  inUse(): Promise<Answer<'inUse'> | null> {
    return this.session.page.guard(() => this.session.page.ask('inUse', {}))
  }

  /** What the page has loaded; null where it does not answer. */
  loaded(): Promise<Answer<'loaded'> | null> {
    return this.session.page.guard(() => this.session.page.ask('loaded', {}))
  }

  /** The path that an address of the page leads to in the project; null for one of elsewhere. */
  pathOf(url: string): string | null {
    return this.session.page.pathOf(url)
  }

  /** Whether a development server sends the page. */
  get isDevelopment(): boolean {
    return this.session.page.hasSaved
  }

  /** All pages with what their sources have a browser load; null where that is not wanted any more. */
  pageWeights(): Promise<PageWeight[] | null> {
    return theDesk().weights.pages()
  }

  /** Gives up weighing all pages. */
  stopWeighing(): void {
    void theDesk().weights.stop()
  }

  /** A picture of the chosen element, or of all of the page, as it shows now; a text for why there is none. */
  async picture(of: 'element' | 'page', format: PictureFormat, scale: number): Promise<Extract<Picture, { ok: true }> | string> {
    const node = of === 'element' ? getStudio().picked?.report.info.node : (await this.session.selection.find('html'))[0]
    if (node === undefined) return of === 'element' ? 'No element is chosen.' : 'The page did not answer.'
    const picture = await this.session.page.guard(() => this.session.page.ask('picture', { node, format, scale }))
    return picture?.ok ? picture : (picture?.why ?? 'The page could not draw it.')
  }

  /** The rules that nothing in the project's sources matches; null where that is not wanted any more. */
  unused(): Promise<Unused | null> {
    return theDesk().reading.unused()
  }

  /** Gives up what is looked for in all of the project. */
  stopLooking(): void {
    void theDesk().reading.stopLooking()
  }

  /** Takes rules out of their sheets, as one edit. */
  removeRules(rules: readonly UnusedRule[]): Promise<boolean> {
    return this.session.making.everywhere({ kind: 'remove-rules', rules: rules.map(({ sheet, rule }) => ({ sheet, rule })) }, 0)
  }

  /** The project's tokens; null where they were asked for again meanwhile. */
  theme(): Promise<Theme | null> {
    return theDesk().themes.read()
  }

  /** How many elements of the page a token reaches, from where it is given a value. */
  async reachOfToken(name: string, { sheet, rule }: TokenPlace): Promise<number> {
    const selectors = await theDesk().reading.tokenReach(sheet, rule, name)
    if (selectors.length === 0) return 0
    const counts = await this.session.page.guard(() =>
      this.session.page.ask('reach', { selectors: [selectors.join(', ')], sheets: [null] }),
    )
    return counts?.[0] ?? 0
  }

  /** Chooses the elements of the page that a token reaches. */
  async chooseUsers(name: string, { sheet, rule }: TokenPlace): Promise<void> {
    const selectors = await theDesk().reading.tokenReach(sheet, rule, name)
    await this.chooseAll(await this.session.selection.find(selectors.join(', ')))
  }

  /** Shows a token with another value wherever the page uses it; nothing is written. */
  async showToken(name: string, place: TokenPlace, value: string): Promise<void> {
    await theDesk().editing.show(ofToken(name, place, value), false)
  }

  /** The page as it was before a token was shown. */
  async hideToken(): Promise<void> {
    await theDesk().editing.hide()
  }

  /** Gives a token another value at one place. */
  async setToken(name: string, place: TokenPlace, value: string): Promise<boolean> {
    return this.session.making.everywhere(ofToken(name, place, value), await this.reachOfToken(name, place))
  }

  /** Gives a token another name, wherever the project says it. */
  renameToken(from: string, to: string): Promise<boolean> {
    return this.session.making.everywhere({ kind: 'rename-token', from, to }, 0)
  }

  /** Has what uses a token use another one, and takes it out wherever it is defined. */
  mergeToken({ name, isUnused, places }: ThemeToken, into: string): Promise<boolean> {
    // Attributes and scripts may use it where no sheet does.
    const retarget: Intent[] = isUnused ? [] : [{ kind: 'rename-token', from: name, to: into, usesOnly: true }]
    const gone = places.map(({ sheet, rule }): Intent => ({ kind: 'remove', aim: { kind: 'rule', sheet, rule }, name }))
    return this.session.making.everywhere({ kind: 'together', intents: [...retarget, ...gone], label: `${into} for ${name}` }, 0)
  }

  /** Pulls the steps of a ramp as one. */
  async pullRamp(steps: readonly ThemeToken[], by: RampPull): Promise<boolean> {
    const intent = await theDesk().themes.pulled(steps, by)
    return intent !== null && this.session.making.everywhere(intent, 0)
  }

  /** The project's tokens as files. */
  tokensOut() {
    return theDesk().themes.out()
  }

  /** What of a file's tokens would be written. */
  tokensToTake(text: string): Promise<TokensToTake | null> {
    return theDesk().themes.taking(text)
  }

  /** Writes the tokens of a file, as one edit. */
  takeTokens(intent: Intent): Promise<boolean> {
    return this.session.making.everywhere(intent, 0)
  }

  /** Where the project's own sheets say a colour. */
  placesOf(color: string): Promise<readonly ColorPlace[]> {
    return theDesk().reading.colorPlaces(color)
  }

  /** Gives a colour a name wherever the project's own sheets say it, as one edit; `count` is how many elements of the page have it. */
  async nameColor(color: string, token: string, count: number): Promise<boolean> {
    const intent = await theDesk().reading.nameColor(color, token)
    if (!('ok' in intent)) return this.session.making.everywhere(intent, count)
    say('error', intent.why)
    return false
  }

  /** Writes another colour wherever the project's own sheets say this one, as one edit; `count` is how many elements of the page have it. */
  async replaceColor(color: string, to: string, count: number): Promise<boolean> {
    const intent = await theDesk().reading.recolor(color, to)
    return intent !== null && this.session.making.everywhere(intent, count)
  }
}

const ofToken = (name: string, { sheet, rule }: TokenPlace, value: string): Intent => ({
  kind: 'set',
  aim: { kind: 'rule', sheet, rule },
  name,
  value,
})
