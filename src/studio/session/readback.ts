import { isModulePath, placeText } from '../../core/text'
import { languageNameOf, roleOf } from '../../core/language'
import type { Asked, Judged } from '../../agent/protocol'
import { areaRows, type BlockOut, type FileChange, type Intent, oneBelowAnother, type Verdict } from '../../core/edit'
import { widthRange } from '../../core/css'
import { isAddressOf } from '../../core/value'
import { ID_ATTRIBUTE } from '../../core/html'
import { theDesk, type Reading } from '../../desk'
import { getStudio, type Picked } from '../store'
import type { LivePage } from './live-page'
import { verdictOf } from './page-facts'
import type { Selection } from './selection'

export type ElementIntent = Extract<Intent, { kind: 'set-tag' | 'set-attribute' | 'rename-attribute' | 'set-text' }>

/** How long a page that loads again is waited for; ms. */
const LOADING = 5000

/** How long a page of components may take to show what was written; ms. */
const PATIENCE = 2000

/** How long elements may take to have the names that a compiler gave their classes, and how often they are looked at; ms. */
const RENAMING = 2000
const LOOK = 50

/** What an edit is read back by. */
export interface Expected {
  /** The file that it is in. */
  readonly path: string
  readonly what: Reading
  /** What the page showed of that with the edit as a preview; null where it did not answer. */
  readonly seen: readonly (readonly string[])[] | null
  readonly asked: readonly Asked[]
  /** What the edit reaches besides the chosen elements by the properties that were asked for. */
  readonly reached: readonly string[]
}

/** Reads the page again after an edit, and says whether it shows what was written. */
export class Readback {
  constructor(
    private readonly page: LivePage,
    private readonly selection: Selection,
  ) {}

  /** A page that loads again is waited for. */
  async waitForPage(): Promise<void> {
    for (let waited = 0; !getStudio().connected && waited < LOADING; waited += 100) await new Promise((done) => setTimeout(done, 100))
  }

  async read(what: Reading): Promise<readonly (readonly string[])[] | null> {
    return this.page.here ? this.page.guard(() => this.page.ask('read', what)) : null
  }

  /** Whether the page shows what an edit is to show, as it is now. */
  async look({ path, what, seen, asked, reached }: Expected): Promise<Verdict> {
    const isThere = getStudio().connected && what.nodes.length > 0
    const [now, other] = await Promise.all([
      isThere ? this.read(what) : null,
      isThere && asked.length ? this.asked({ ...what, selectors: reached }, asked, path) : null,
    ])
    const verdict = verdictOf(seen, now, what.props)
    return verdict.state === 'holds' ? (other ?? verdict) : verdict
  }

  /** The same once a page that loads again, or whose sheets are compiled again, has it; `about` are the chosen elements. */
  async written(expected: Expected, about: readonly Picked[]): Promise<Verdict> {
    // A page that loads again has other elements in the place of those before; it is read when it is there.
    if (!getStudio().connected) {
      await this.waitForPage()
      expected = { ...expected, what: { ...expected.what, nodes: await this.nodesAgain(about) } }
    }
    let verdict = await this.look(expected)
    // A module that is compiled again has other names for its classes a moment before the elements have; those of a script
    // that makes no elements itself come when the files that import it are drawn again.
    const comesLater = this.page.isCompiled(expected.path) || (this.page.hasSaved && languageNameOf(expected.path) === 'text')
    for (let left = comesLater ? RENAMING : 0; verdict.state === 'differs' && left > 0; left -= LOOK) {
      await new Promise((go) => setTimeout(go, LOOK))
      verdict = await this.look(expected)
    }
    return verdict
  }

  // The elements of a page that was loaded again which are in the places of these.
  private async nodesAgain(about: readonly Picked[]): Promise<number[]> {
    const found = await Promise.all(
      about.map(({ report: { info, nth } }) =>
        info.source === null || !this.page.here ? null : this.page.guard(() => this.page.ask('locate', { source: info.source!, nth })),
      ),
    )
    return found.flatMap((f) => (f ? [f.node] : []))
  }

  /**
   * Whether all chosen elements show what was asked for. Others that the edit reaches may show a value that something
   * stronger gives them, which is told.
   */
  private async asked(what: Omit<Reading, 'props'>, asked: readonly Asked[], path: string): Promise<Verdict | null> {
    const named = asked.flatMap(({ value }) => (/url\(/i.test(value) ? [value] : []))
    const missing = named.length ? await theDesk().reading.missingFiles(path, named) : []
    if (missing.length)
      return {
        state: 'differs',
        elements: what.nodes.length,
        of: what.nodes.length,
        example: `The project has no file ${missing.join(', ')}.`,
      }
    const judged = this.page.here
      ? await this.page.guard(() =>
          this.page.ask('judge', { nodes: what.nodes, selectors: what.selectors, sheet: what.sheet, part: what.part, asked }),
        )
      : null
    if (!judged) return null
    let holds: Verdict | null = null
    for (const [i, { of, shows, misses }] of judged.entries()) {
      const wrong = misses.filter((m) => m.chosen)
      if (wrong.length)
        return {
          state: 'differs',
          elements: wrong.length,
          of: what.nodes.length,
          example: await this.why(wrong[0], what.part),
        }
      if (misses.length && !holds)
        holds = {
          state: 'holds',
          elements: shows,
          of,
          except: `${asked[i].name}: ${await this.why(misses[0], what.part)}`,
        }
    }
    return holds
  }

  // What an element shows in place of what was asked for, and which declaration decides that.
  private async why({ node, reason, property, shown, meant, by }: Judged['misses'][number], part: string): Promise<string> {
    if (reason === 'undefined-variable') return `${by} is not defined here, so ${property} is ${shown || 'not set'}.`
    if (reason === 'clamped') return `The browser takes ${meant} as ${shown}.`
    const decides = by ?? property
    const look = await this.selection.look(node, part)
    const [aim] = look ? await theDesk().reading.aims(look, [decides]) : []
    const { origin, written } = aim ?? {}
    const place = origin?.path ? ` (${origin.label}, ${placeText(origin)})` : ''
    if (reason === 'no-line') return `${by} is ${written ?? 'none'}${place}, so ${property} is ${shown}.`
    if (reason === 'held')
      return by
        ? `${by}: ${written ?? aim?.computed ?? ''}${place} keeps ${property} at ${shown}.`
        : `Its layout keeps ${property} at ${shown}.`
    return place
      ? `${property} is ${shown}, from ${origin!.label} (${placeText(origin!)}), not ${meant}.`
      : `${property} is ${shown}, not ${meant}.`
  }

  /** Whether the page has an element just as the source says it. */
  async asWritten(source: string): Promise<Verdict> {
    await this.waitForPage()
    const wanted = await theDesk().places.elementOf(source)
    const there = this.page.here ? await this.page.guard(() => this.page.ask('element', { source })) : null
    if (!wanted || !there) return { state: 'unread', why: 'the page did not answer' }
    const said = (e: { attributes: readonly { name: string; value: string }[]; texts: readonly string[] }) =>
      JSON.stringify([
        e.attributes
          .filter((a) => a.name !== ID_ATTRIBUTE)
          .map((a) => `${a.name}=${a.value}`)
          .sort(),
        e.texts,
      ])
    return said(wanted) === said(there)
      ? { state: 'holds', elements: 1 }
      : { state: 'differs', elements: 1, of: 1, example: `${said(wanted)} was written, ${said(there)} is there` }
  }

  /** Whether the page has the sheet, rule by rule, or the element that was typed in, as the file says it. */
  async typed(path: string, at: number): Promise<Verdict> {
    if (!this.page.here) return { state: 'unread', why: 'there is no page' }
    if (roleOf(path) === 'sheet') {
      const text = await theDesk().current.textOnceRead(path)
      const answer = text === null ? null : await this.page.guard(() => this.page.ask('sheetHolds', { sheet: path, text }))
      if (!answer || answer.count === 0) return { state: 'unread', why: 'the page that shows does not have this sheet' }
      return answer.differs === null
        ? { state: 'holds', elements: answer.count }
        : { state: 'differs', elements: 1, of: answer.count, example: `${answer.differs} was written` }
    }
    if (roleOf(path) !== 'page') return { state: 'unread', why: 'the page was loaded again with it' }
    const source = await theDesk().places.elementAround(path, at)
    return source === null ? { state: 'unread', why: 'it is in no element' } : this.asWritten(source)
  }

  /** Whether the page has each changed file that it shows, wherever it was changed. */
  async files(changes: readonly FileChange[]): Promise<Verdict> {
    let elements = 0
    for (const { path, inverse } of changes) {
      // A sheet is read whole; of a page, each element that has a change.
      for (const { from } of roleOf(path) === 'sheet' ? inverse.slice(0, 1) : inverse) {
        const verdict = await this.typed(path, from)
        if (verdict.state === 'differs') return verdict
        if (verdict.state === 'holds') elements += verdict.elements
      }
    }
    return elements ? { state: 'holds', elements } : { state: 'unread', why: 'the page that shows has nothing of it' }
  }

  /** Classes that set nothing known are read back as what they are: names in a list. */
  async classes(source: string): Promise<Verdict> {
    const now = this.page.here ? await this.page.guard(() => this.page.ask('element', { source })) : null
    if (!now) return { state: 'unread', why: 'the page did not answer' }
    const listed = (list: readonly { readonly name: string; readonly value: string }[] = []) =>
      list.find((a) => a.name === 'class')?.value ?? ''
    const [wanted, there] = [listed((await theDesk().places.elementOf(source))?.attributes), listed(now.attributes)]
    return wanted === there
      ? { state: 'holds', elements: 1 }
      : { state: 'differs', elements: 1, of: 1, example: `class="${wanted}" was written, class="${there}" is there` }
  }

  /** Whether the page has what an edit of the element itself wrote; a page that loads again for it is waited for. */
  async element(intent: ElementIntent): Promise<Verdict> {
    await this.waitForPage()
    return this.onceDrawn(() => this.elementNow(intent))
  }

  // What comes from data is drawn again by the page itself, in its own time.
  private async onceDrawn(look: () => Promise<Verdict>): Promise<Verdict> {
    const until = performance.now() + (this.page.hasSaved ? PATIENCE : 0)
    let verdict = await look()
    while (verdict.state === 'differs' && performance.now() < until) {
      await new Promise((done) => setTimeout(done, PATIENCE / 20))
      verdict = await look()
    }
    return verdict
  }

  private async elementNow(intent: ElementIntent): Promise<Verdict> {
    if (intent.kind === 'set-attribute' && intent.as) return this.property(intent)
    const now = getStudio().connected ? await this.page.guard(() => this.page.ask('element', { source: intent.source })) : null
    if (!now) return { state: 'unread', why: 'the page did not answer' }
    const of = (name: string) => now.attributes.find((a) => a.name.toLowerCase() === name.toLowerCase())?.value ?? null
    const [wanted, there] =
      intent.kind === 'rename-attribute'
        ? [intent.to, of(intent.to) !== null && of(intent.name) === null ? intent.to : null]
        : intent.kind === 'set-tag'
          ? [intent.tag.toLowerCase(), now.tag]
          : intent.kind === 'set-text'
            ? [intent.text, now.texts[intent.index] ?? null]
            : [intent.value, of(intent.name)]
    // A bundler gives the address of what a script imports.
    const isPicture = this.page.hasSaved && intent.kind === 'set-attribute' && wanted !== null && isModulePath(wanted)
    if (isPicture && there?.startsWith('data:'))
      return { state: 'unread', why: 'the page has the picture itself in the place of its address' }
    return wanted === there || (isPicture && there !== null && isAddressOf(there, wanted))
      ? { state: 'holds', elements: 1 }
      : {
          state: 'differs',
          elements: 1,
          of: 1,
          example: `${wanted ?? 'nothing'} was written, ${there ?? 'nothing'} is there`,
        }
  }

  // Whether the components that a tag used were given what it says now, by what they were drawn with last.
  private async property({ source, name, value }: Extract<ElementIntent, { kind: 'set-attribute' }>): Promise<Verdict> {
    const given = this.page.here ? await this.page.guard(() => this.page.ask('given', { source, name })) : null
    if (!given) return { state: 'unread', why: 'the page did not answer' }
    if (given.length === 0) return { state: 'unread', why: 'the page that shows has no element of that tag now' }
    // Where nothing is given, the component may have been drawn with its own default.
    const others = given.filter((v) => v !== value)
    return others.length === 0
      ? { state: 'holds', elements: given.length }
      : {
          state: 'differs',
          elements: others.length,
          of: given.length,
          example: `${value ?? 'nothing'} was written, ${others[0] ?? 'nothing'} is there`,
        }
  }

  /** What the elements of a tag say, in order; null where the page did not answer. */
  listed(source: string): Promise<readonly string[] | null> {
    return this.page.here ? this.page.guard(() => this.page.ask('listed', { source })) : Promise.resolve(null)
  }

  /** Whether the elements of a tag come to stand in an order, by what they say. */
  async order(source: string, wanted: readonly string[], before: readonly string[]): Promise<Verdict> {
    if (wanted.join('\0') === before.join('\0')) return { state: 'unread', why: 'both say the same' }
    return this.onceDrawn(async () => {
      await this.waitForPage()
      const now = await this.listed(source)
      if (!now || now.length === 0) return { state: 'unread', why: 'the page that shows has no element of that tag now' }
      const others = now.filter((text, i) => text !== wanted[i]).length + Math.max(0, wanted.length - now.length)
      return others === 0
        ? { state: 'holds', elements: now.length }
        : { state: 'differs', elements: others, of: wanted.length, example: 'they do not stand in the order of the list' }
    })
  }

  /** Whether each region stands in the lines it was drawn on; at narrow widths, that they stand at all. */
  async areas({ container, regions, columns, rows, narrow }: BlockOut): Promise<Verdict> {
    await this.selection.pickSource(container)
    const { picked, frames } = getStudio()
    if (!picked || !this.page.here) return { state: 'unread', why: 'the page did not answer' }
    const { min, max } = (narrow && widthRange(narrow)) || { min: Infinity, max: 0 }
    const width = frames.page?.width ?? 0
    const wanted =
      width >= min && width <= max ? areaRows(oneBelowAnother(regions), 1, regions.length) : areaRows(regions, columns.length, rows)
    const [[there] = []] =
      (await this.page.guard(() =>
        this.page.ask('read', {
          nodes: [picked.report.info.node],
          selectors: [],
          sheet: null,
          props: ['grid-template-areas'],
          part: '',
        }),
      )) ?? []
    const text = wanted.map((r) => `"${r}"`).join(' ')
    return there === text
      ? { state: 'holds', elements: regions.length }
      : { state: 'differs', elements: 1, of: 1, example: `${text} was written, ${there ?? 'nothing'} is there` }
  }

  /** Whether the page has the element once, in the same company as in the source. */
  async tree(chosen: string | null): Promise<Verdict> {
    await this.waitForPage()
    if (chosen === null) return { state: 'unread', why: 'what changed has no tag in the source to find it by' }
    const parent = (await theDesk().places.elementOf(chosen))?.parent ?? null
    if (await theDesk().places.stampOf(chosen)) return this.tags(chosen, parent)
    for (const source of [chosen, parent]) {
      if (source === null) continue
      const wanted = await theDesk().places.elementOf(source)
      const there = this.page.here ? await this.page.guard(() => this.page.ask('element', { source })) : null
      if (!there || !wanted) return { state: 'unread', why: 'the page that shows is another, or did not answer' }
      const differs =
        there.count !== 1
          ? `it is there ${there.count} times`
          : there.children.join() !== wanted.children.join()
            ? `${wanted.children.length} elements were written in <${wanted.tag}>, ${there.children.length} are there or in another order`
            : null
      if (differs) return { state: 'differs', elements: 1, of: 1, example: differs }
    }
    return { state: 'holds', elements: 1 }
  }

  // Whether the page has the elements of a component's tag, with children in the order that their file has them in.
  private async tags(chosen: string, parent: string | null): Promise<Verdict> {
    const stamp = await this.selection.components.adopt(chosen)
    const found = stamp && this.page.here ? await this.page.guard(() => this.page.ask('childTags', { stamp })) : null
    if (!found) return { state: 'unread', why: 'the page that shows is another, or did not answer' }
    if (found.length === 0) return { state: 'unread', why: 'the page that shows has no element of that tag now' }
    for (const source of [chosen, parent]) {
      const tag = source === null ? null : await theDesk().places.stampOf(source)
      if (source === null || tag === null) continue
      const children = await theDesk().places.childTags(source)
      if (!children) continue
      const { each, all } = children
      const shown = source === chosen ? found : ((await this.page.guard(() => this.page.ask('childTags', { stamp: tag }))) ?? [])
      // What waits for a condition, or stands once for each of a list, is there or not; what is there stands in order.
      const others = shown.filter(
        (tags) =>
          tags.filter((n) => each.includes(n)).join() !== each.join() ||
          !tags.every((n, i) => all.includes(n) && (i === 0 || tags[i - 1] <= n)),
      )
      if (others.length)
        return {
          state: 'differs',
          elements: others.length,
          of: shown.length,
          example: `${each.length} elements were written in it, ${others[0].length} are there or in another order`,
        }
    }
    return { state: 'holds', elements: found.length }
  }
}
