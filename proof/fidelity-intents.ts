import type chrome from 'selenium-webdriver/chrome'
import { withoutSharedFolder } from '../src/storage/archive'
import type { OpenedBrowser } from '../tests/support/browser'
import { serveFiles } from '../tests/support/static-server'
import type { Studio } from '../tests/support/studio-driver'
import { differences, DUMP, type Dump } from './dump'
import { Random } from './random'
import { openSite, readSite } from './site'
import { PROPERTIES } from './values'

export interface FidelityResult {
  readonly pages: number
  readonly edits: number
  readonly same: number
  readonly flagged: number
  readonly refused: number
  readonly silent: number
  /** Of those the same: where scripts of the page had measured it before the edit, and it was loaded again to compare. */
  readonly reloaded: number
  readonly seconds: number
  /** Edits whose reach was not the number of elements the rule matches. */
  readonly reachWrong: number
  /** Edits after which elements outside the reach, and not in one within it, have other styles than layout makes. */
  readonly outside: number
  readonly untouchedDiffers: number
  /** Edits in a state, at widths, and for aims of each kind. */
  readonly kinds: Readonly<Record<string, number>>
  readonly cases: readonly string[]
}

const WIDTHS = [null, 480, 700, 1000]
const ROUND = 40
/** With what each state brings along, on the element and on what it stands in. */
const STATES: Readonly<Record<string, { own: readonly string[]; around: readonly string[] }>> = {
  ':hover': { own: ['hover'], around: ['hover'] },
  ':active': { own: ['hover', 'active'], around: ['hover', 'active'] },
  ':focus': { own: ['focus', 'focus-visible', 'focus-within'], around: ['focus-within'] },
  ':focus-visible': { own: ['focus', 'focus-visible', 'focus-within'], around: ['focus-within'] },
}

/** What goes through the interface's intents. `content` changes nothing on elements, and a property of our own is no style. */
export const STYLE_PROPERTIES = Object.keys(PROPERTIES).filter((p) => p !== 'content' && p !== '--own')

/** Runs in the interface: the changed files, as base64. */
export const CHANGED = `Promise.all(p.state().ledger.changed.map(async (path) => {
  const bytes = await p.desk.exports.file(path)
  let text = ''
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192))
  return [path, btoa(text)]
}))`

export interface Size {
  readonly width: number
  readonly height: number
}

/**
 * Runs in the bare page: whether the element at a place shows the value that was asked for. It is given it once more, over
 * all that could decide, and must then look as it did; null where the value is none.
 */
export const SHOWS = `
  const [place, property, value, part] = arguments, e = document.querySelectorAll('*')[place]
  if (!e || !CSS.supports(property, value)) return null
  // The start of a flow and of its container are laid out alike. Colours as they are drawn, in whatever colour space they are said, and no shadows that draw nothing.
  const drawn = (color) => {
    const context = new OffscreenCanvas(1, 1).getContext('2d')
    context.fillStyle = color
    context.fillRect(0, 0, 1, 1)
    return '#' + [...context.getImageData(0, 0, 1, 1).data]
  }
  const gradients = (value) => (value.includes('-gradient(') ? value.replace(/(\\)|#[0-9,]+\\]?) 0%(?=,)/g, '$1').replace(/ 100%\\)/g, ')') : value)
  const seen = (value) => gradients(value.replace(/flex-(start|end)/g, '$1').replace(/rgba\\(0, 0, 0, 0\\) 0px 0px 0px 0px(, )?/g, '').replace(/(rgba?|hsla?|hwb|lab|lch|oklab|oklch|color)\\([^()]*\\)/g, drawn))
  const read = () => seen(JSON.stringify([...getComputedStyle(e)].filter((n) => n === property || n.startsWith(property.replace(/^(padding|margin|border|inset|outline|background|flex|grid|font|overflow|gap).*/, '$1'))).map((n) => getComputedStyle(e).getPropertyValue(n)).concat(getComputedStyle(e).getPropertyValue(property))))
  const style = e.getAttribute('style')
  // What classes say by properties of its own is one transform.
  const own = ['translate', 'rotate', 'scale'].filter((n) => getComputedStyle(e)[n] !== 'none')
  if (property === 'transform' && own.length) {
    if (!own.every((n) => value.includes(n))) return null
    const box = () => JSON.stringify(Object.values(e.getBoundingClientRect().toJSON()).map(Math.round))
    const now = box()
    e.style.setProperty('transition', 'none', 'important')
    for (const n of own) e.style.setProperty(n, 'none', 'important')
    e.style.setProperty(property, value, 'important')
    const then = box()
    if (style === null) e.removeAttribute('style')
    else e.setAttribute('style', style)
    return now === then
  }
  const before = read()
  e.style.setProperty('transition', 'none', 'important')
  // Laid out alike: a span with or without its other end, which classes write.
  const alike = /^grid-(column|row)$/.test(property) && /^span \\d+$/.test(value) ? [value, value + ' / ' + value] : [value]
  const isShown = alike.some((v) => {
    e.style.setProperty(property, v, 'important')
    return before === read()
  })
  if (style === null) e.removeAttribute('style')
  else e.setAttribute('style', style)
  return isShown`

/** How many elements the aim matches, and the places of those and all that stands in them. */
interface Reached {
  readonly hit: number
  readonly below: readonly number[]
}

/** What was asked of the interface, and where it said the edit would land. */
interface Target {
  readonly kind: string
  readonly label: string
  readonly selectors: string[] | null
  /** The sheet of the rule: it counts in the documents that use it. */
  readonly sheet: string | null
  readonly source: string
  readonly state: string
  /** Of a class list: the values its vocabulary has, and whether there are no others, the place being chosen by hand. */
  readonly steps: readonly string[]
  readonly closed: boolean
  /** Whether it is about all elements that have just this list. */
  readonly alike: boolean
}

export class Fidelity {
  protected readonly random: Random
  private readonly originals: ReadonlyMap<string, Uint8Array>
  /** What the bare server serves: the originals with the edits of the round. */
  protected readonly served = new Map<string, Uint8Array>()
  readonly result = {
    pages: 0,
    edits: 0,
    same: 0,
    flagged: 0,
    refused: 0,
    silent: 0,
    reloaded: 0,
    reachWrong: 0,
    outside: 0,
    untouchedDiffers: 0,
  }
  readonly kinds: Record<string, number> = {}
  readonly cases: string[] = []
  readonly refusals: string[] = []
  /** The last edit's comparison, which goes on in the other browser while the next edit is chosen and shown. */
  private comparing: Promise<void> = Promise.resolve()
  /** A mismatch of the last comparison: looked into once nothing else speaks with the page. */
  private mismatch: {
    readonly what: string
    readonly written: Dump
    readonly source: string
    readonly state: string
    readonly reach: (written: Dump) => void
  } | null = null
  /** How many of the cases were printed under way. */
  private told = 0
  /** The page as the last edit left it, in no state. */
  protected last: Dump = []

  constructor(
    protected readonly studio: Studio,
    private readonly bare: OpenedBrowser,
    dir: string,
    seed: number,
  ) {
    this.random = new Random(seed)
    this.originals = new Map(
      withoutSharedFolder([...readSite(dir)].map(([path, bytes]) => ({ path, bytes }))).map((f) => [f.path, f.bytes]),
    )
  }

  protected async inStudio<T>(script: string, ...args: unknown[]): Promise<T> {
    const out = await this.studio.driver.executeAsyncScript<{ value?: T; failed?: string }>(
      `
      const done = arguments[arguments.length - 1], args = [...arguments].slice(0, -1), p = window.steadyProof
      ;(async () => { ${script} })().then((value) => done({ value }), (e) => done({ failed: String(e && e.stack || e) }))`,
      ...args,
    )
    if (out.failed) throw new Error(out.failed)
    return out.value as T
  }

  protected dump(places: readonly number[] | null = null): Promise<Dump> {
    return this.studio.inPage(DUMP, places)
  }

  private send(method: string, params: object = {}): Promise<unknown> {
    return (this.bare.driver as unknown as chrome.Driver).sendAndGetDevToolsCommand(method, params) as unknown as Promise<unknown>
  }

  protected async loadBare(url: string, size: Size, state = '', place = -1): Promise<void> {
    await this.send('Emulation.setDeviceMetricsOverride', { ...size, deviceScaleFactor: 1, mobile: false })
    await this.bare.driver.get(url)
    await this.bare.driver.executeAsyncScript(
      'const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => setTimeout(done, 20)))',
    )
    if (state) await this.force(state, place)
  }

  // The engine's own way to show a state, which our live page has to equal.
  private async force(state: string, place: number): Promise<void> {
    await this.send('DOM.enable')
    await this.send('CSS.enable')
    const { root } = (await this.send('DOM.getDocument', { depth: 0 })) as { root: { nodeId: number } }
    const { nodeIds } = (await this.send('DOM.querySelectorAll', { nodeId: root.nodeId, selector: '*' })) as {
      nodeIds: number[]
    }
    const around = await this.bare.driver.executeScript<number[]>(
      `
      const all = [...document.querySelectorAll('*')], out = []
      for (let e = all[arguments[0]].parentElement; e; e = e.parentElement) out.push(all.indexOf(e))
      return out`,
      place,
    )
    for (const at of around) await this.send('CSS.forcePseudoState', { nodeId: nodeIds[at], forcedPseudoClasses: STATES[state].around })
    await this.send('CSS.forcePseudoState', { nodeId: nodeIds[place], forcedPseudoClasses: STATES[state].own })
  }

  protected dumpBare(places: readonly number[] | null = null): Promise<Dump> {
    return this.bare.driver.executeScript(DUMP, places)
  }

  async run(edits: number): Promise<void> {
    const pages = await openSite(this.studio, this.originals)
    await this.prepare()
    const server = await serveFiles(this.served)
    const tried = new Set<string>()
    const skipped = new Set<string>()
    try {
      while (this.result.edits < edits && skipped.size < pages.length) {
        const page = this.random.pick(pages)
        tried.add(page)
        if (!(await this.round(page, server.url, Math.min(ROUND, edits - this.result.edits)))) skipped.add(page)
        if (process.argv.includes('--progress'))
          console.error(JSON.stringify(this.result), ...this.cases.slice(this.told).map((c) => `\n${c.slice(0, 900)}`))
        if (process.argv.includes('--progress')) for (const r of this.refusals.splice(0)) console.error(r.slice(0, 300))
        this.told = this.cases.length
      }
    } finally {
      server.stop()
    }
    this.result.pages = tried.size
  }

  /** Intents need nothing of Tune and Source: folded away, they take no time. */
  protected async prepare(): Promise<void> {
    await this.inStudio('for (const title of p.state().open) await p.session.selection.unfold(title, false)')
    await this.studio.press('Page')
  }

  // Some edits on one page at one width, on top of one another, then undone. False when the page cannot be compared.
  private async round(page: string, server: string, edits: number): Promise<boolean> {
    const width = this.random.pick(WIDTHS)
    this.served.clear()
    for (const [path, bytes] of this.originals) this.served.set(path, bytes)
    await this.inStudio('p.session.setWidth(args[0])', width)
    await this.studio.goTo(page === 'index.html' ? '/' : `/${page}`)
    await this.studio.driver.sleep(400)
    await this.build()
    // A message takes room from the page until it is dismissed.
    await this.studio.driver.executeScript("document.querySelector('[data-testid=status] button')?.click()")
    const url = `${server}/${page}`
    const size = await this.studio.inPage<Size>('return { width: innerWidth, height: innerHeight }')
    let [ours, theirs, differing]: [Dump, Dump, number] = [[], [], 0]
    // A page's own scripts may still be at work on it.
    for (let attempt = 0; attempt < 3 && differing >= 0; attempt++) {
      await this.loadBare(url, size)
      ;[ours, theirs] = [await this.dump(), await this.dumpBare()]
      differing =
        ours.length === theirs.length ? ours.findIndex((o, i) => o.whole !== theirs[i].whole) : Math.min(ours.length, theirs.length)
      if (differing >= 0) await this.studio.driver.sleep(1000)
    }
    if (ours.length !== theirs.length || differing >= 0) {
      this.result.untouchedDiffers++
      this.cases.push(
        `untouched ${page} at ${width}: ${ours.length} elements against ${theirs.length}, first differing ${differing} ${ours[differing]?.tag}: ${await this.explain(differing)}`,
      )
      return false
    }
    this.last = ours
    const seeded = await this.addConditions()
    let [made, tries] = [seeded, 0]
    const before = this.result.edits
    for (let i = 0; i < edits && tries < edits * 6; i = this.result.edits - before, tries++) if (await this.one(page, url, size)) made++
    await this.compared()
    await this.inStudio(`for (let i = 0; i < ${made}; i++) await p.session.timeline.step('undo')`)
    return true
  }

  // Rules with nested conditions and containers, which few sites have, about a few classes of the page; how many edits that was.
  private async addConditions(): Promise<number> {
    const classes = await this.studio.inPage<string[]>(
      "return [...new Set([...document.body.querySelectorAll('[class]')].flatMap((e) => [...e.classList]))].filter((c) => /^[a-z][\\w-]*$/i.test(c))",
    )
    if (classes.length === 0 || !this.addsConditions) return 0
    const rules = [this.random.pick(classes), this.random.pick(classes)].map(
      (c) =>
        `.${c} {\n  text-indent: 1px;\n\n  @media (width > ${this.random.pick([10, 600, 3000])}px) {\n    text-indent: 2px;\n  }\n\n  @container (width > ${this.random.pick([10, 500, 3000])}px) {\n    padding-left: 3px;\n\n    & > * {\n      letter-spacing: 1px;\n    }\n  }\n}\n`,
    )
    const files = await this.inStudio<[string, string][] | null>(
      `
      const used = await p.session.selection.find('body').then(async ([node]) => (await p.session.selection.look(node))?.sheets ?? [])
      const path = used.findLast((k) => /\\.css$/i.test(k) && p.state().project.sheets.includes(k) && !p.state().project.readOnly.some((f) => f.path === k)) ?? null
      if (!path) return null
      const text = (await p.desk.current.text(path)).replace(/\\r\\n?/g, '\\n')
      const why = await p.session.making.typed(path, text, text + args[0])
      return why === null ? ${CHANGED} : null`,
      `\nbody {\n  container-type: inline-size;\n}\n\n${rules.join('\n')}`,
    )
    if (!files) return 0
    this.serve(files)
    await this.build()
    this.last = await this.dump()
    return 1
  }

  /**
   * Waits for the last comparison. Where it found a mismatch, our live page is loaded again, so that the page's own scripts
   * measure what is written now as they did in the bare browser; what differs still is silent. Whether it was loaded again.
   */
  private async compared(): Promise<boolean> {
    await this.comparing
    const { mismatch } = this
    this.mismatch = null
    if (!mismatch) return false
    await this.inStudio('p.session.page.reload({ scroll: null, picked: null })')
    await this.studio.ready()
    await this.studio.driver.sleep(400)
    this.last = await this.dump()
    const hold = (state: string) =>
      this.inStudio(
        "const { selection } = p.session; await selection.pickSource(args[0]); await selection.setCondition({ state: args[1], media: '' })",
        mismatch.source,
        state,
      )
    if (mismatch.state) await hold(mismatch.state)
    let shown = mismatch.state ? await this.dump() : this.last
    let { written } = mismatch
    const differing = () =>
      shown.length === written.length ? shown.findIndex((p, i) => p.whole !== written[i].whole) : Math.min(shown.length, written.length)
    // Scripts that draw and measure may still be at work on either page.
    for (let attempt = 0; attempt < 3 && differing() >= 0; attempt++) {
      await this.studio.driver.sleep(700)
      ;[shown, written] = [await this.dump(), await this.dumpBare()]
    }
    const wrong = differing()
    mismatch.reach(written)
    if (!mismatch.state) this.last = shown
    if (wrong < 0) {
      this.result.same++
      this.result.reloaded++
    } else {
      this.result.silent++
      this.cases.push(`${mismatch.what}: element ${wrong} ${shown[wrong]?.tag}: ${await this.explain(wrong)}`)
    }
    if (mismatch.state) await hold('')
    return true
  }

  protected async explain(place: number): Promise<string> {
    const [a] = await this.dump([place])
    const [b] = await this.dumpBare([place])
    return differences(a, b)
  }

  // One edit; whether it was written.
  protected async one(page: string, url: string, size: Size): Promise<boolean> {
    const { random } = this
    const sources = await this.studio.inPage<[string, number][]>(
      `const all = [...document.querySelectorAll('*')]; return [...document.body.querySelectorAll('[data-steady]')].filter((e) => !/^(script|style|template|noscript)$/.test(e.localName)).map((e) => [e.dataset.steady, all.indexOf(e)])`,
    )
    // A page can be a piece of markup without an element of its own.
    if (sources.length === 0) return false
    const [source, place] = random.pick(sources)
    const property = random.pick(STYLE_PROPERTIES)
    const aim = random.below(4)
    const state = random.below(5) === 0 ? random.pick(Object.keys(STATES)) : ''
    const media =
      random.below(6) === 0
        ? random.pick([`(max-width: ${size.width + random.below(300)}px)`, `(min-width: ${Math.max(1, size.width - random.below(300))}px)`])
        : ''
    this.result.edits++
    // The aim is chosen as a person would: the default, or another that would win.
    const choose = () =>
      this.inStudio<Target | null>(
        `
      const [source, property, kinds, aim, state, media] = args, { selection, edits } = p.session
      if (!(await selection.pickSource(source))) return null
      if (state || media) await selection.setCondition({ state, media })
      await selection.needAims([property])
      const at = p.state().picked?.aims.get(property)
      if (!at || at.candidates.length === 0) return null
      selection.touch(property)
      const winning = at.candidates.map((c, i) => [c, i]).filter(([c]) => c.wins && (kinds ? kinds.includes(c.ref.kind) : c.fits))
      const index = winning.length === 0 ? (kinds ? -1 : at.chosen) : aim === 0 && !kinds ? at.chosen : winning[aim % winning.length][1]
      if (index < 0) return null
      // One among siblings is placed for itself alone.
      if (property === 'order') await selection.aimAlone([property])
      if (index !== at.chosen || kinds) selection.chooseAim(property, index)
      const c = window.steadyProof.currentAim(property) ?? at.candidates[index]
      return { kind: c.ref.kind, label: c.label, selectors: /rule/.test(c.ref.kind) ? [...await selection.reach.selectorsOf(c.ref)] : null, sheet: c.ref.sheet ?? null, source, state, steps: (c.steps ?? []).map((s) => s.value), closed: (c.closed ?? false) && (index !== at.chosen || kinds !== null), alike: c.ref.alike ?? false }`,
        source,
        property,
        this.kindsWanted,
        aim,
        state,
        media,
      )
    let target = await choose()
    if (await this.compared()) target = await choose()
    const value = this.valueFor(property, target?.steps ?? [], target?.closed ?? false)
    const what = `${page} ${source} ${property}: ${value} aim ${aim} ${state} ${media}`
    if (!target) return this.kindsWanted ? this.passOver(state || media) : this.refuse(what, 'no place', state || media)
    const before = state ? await this.dump() : this.last
    await this.inStudio('await p.session.edits.previewExact(args[0], args[1])', property, value)
    const preview = await this.dump()
    const made = await this.inStudio<{
      ok: boolean
      isNew: boolean
      element: string | null
      why: string
      verdict: { state: string; example?: string }
      reach: number
      files: [string, string][]
    }>(
      `
      const { done } = p.state().ledger
      const ok = await p.session.edits.commit(args[0], args[1])
      const row = p.state().ledger.rows.at(-1)
      const files = ok ? await ${CHANGED} : []
      return { ok, isNew: p.state().ledger.done > done, element: row?.element ?? null, why: p.state().status?.text ?? '', verdict: row?.verdict ?? { state: 'none' }, reach: row?.reach ?? 0, files }`,
      property,
      value,
    )
    if (!made.ok) return this.refuse(what, made.why, state || media)
    // What the source says already is no edit.
    if (!made.isNew) return this.passOver(state || media)
    this.serve(made.files)
    await this.build()
    const reach =
      target.kind === 'token' || target.alike || (target.kind === 'class-list' && made.element === null)
        ? null
        : await this.reachOf(target, place)
    // A sheet that is made in the page's head stands before it.
    const placeNow = await this.studio.inPage<number>(
      'return [...document.querySelectorAll("*")].indexOf(document.querySelector(`[data-steady="${arguments[0]}"]`))',
      source,
    )
    this.comparing = this.loadBare(url, size, state, placeNow)
      .then(() => this.dumpBare())
      .then(async (written) => {
        const shows = await this.bare.driver.executeScript<boolean | null>(SHOWS, placeNow, property, value)
        this.compare(what, target, made, before, preview, written, reach, shows)
      })
    for (const kind of [target.kind, state && 'state', media && 'widths']) if (kind) this.kinds[kind] = (this.kinds[kind] ?? 0) + 1
    if (state || media) await this.inStudio("await p.session.selection.setCondition({ state: '', media: '' })")
    this.last = state ? await this.dump() : preview
    return true
  }

  private async compare(
    what: string,
    target: Target,
    made: { verdict: { state: string; example?: string }; reach: number },
    before: Dump,
    preview: Dump,
    written: Dump,
    reach: Reached | null,
    shows: boolean | null,
  ): Promise<void> {
    const wrong = preview.findIndex((p, i) => p.whole !== written[i]?.whole)
    // Where the page's own scripts measured otherwise in the bare browser, what the edit changed has changed in both.
    const compareReach = (settled: Dump) => reach && this.compareReach(what, target, made.reach, before, [preview, settled], reach)
    if ((wrong >= 0 || preview.length !== written.length) && made.verdict.state === 'holds') {
      this.mismatch = {
        what: `SILENT ${what} in ${target.label}`,
        written,
        source: target.source,
        state: target.state,
        reach: compareReach,
      }
      return
    }
    // A tick stands for the value that was asked for, and not for two pages being alike.
    if (shows === false && made.verdict.state === 'holds') {
      this.result.silent++
      this.cases.push(`SILENT, NOT SHOWN ${what} in ${target.label}`)
    } else if (wrong < 0 && preview.length === written.length && made.verdict.state === 'holds') this.result.same++
    else {
      this.result.flagged++
      if (process.argv.includes('--every'))
        this.cases.push(`FLAGGED ${what} in ${target.label}: ${made.verdict.example ?? made.verdict.state}`)
    }
    compareReach(written)
  }

  // An element without such a place was none of the edits.
  private async passOver(conditioned: string): Promise<false> {
    this.result.edits--
    if (conditioned) await this.inStudio("await p.session.selection.setCondition({ state: '', media: '' })")
    return false
  }

  protected async refuse(what: string, why: string, conditioned: string): Promise<false> {
    this.result.refused++
    this.refusals.push(`REFUSED ${what}: ${why}`)
    await this.inStudio('await p.session.edits.cancelPreview()')
    if (conditioned) await this.inStudio("await p.session.selection.setCondition({ state: '', media: '' })")
    return false
  }

  /** What a build would make of the files as they are served now; called before they are loaded. */
  protected async build(): Promise<void> {}

  /** Whether rules with nested conditions are added to the site's own. */
  protected readonly addsConditions: boolean = true

  /** The kinds of place that edits are to land in; null for any. */
  protected readonly kindsWanted: readonly string[] | null = null

  /** A value for a property: where a closed vocabulary was chosen by hand, one that it has. */
  protected valueFor(property: string, steps: readonly string[], closed: boolean): string {
    if (closed && steps.length) return this.random.pick(steps)
    return (PROPERTIES[property] ?? (() => '7px'))(this.random)
      .replace(/var\(--x, /g, 'var(--none, ')
      .replace(/var\(--(x|g|c)\)/g, '9px')
  }

  protected serve(files: readonly (readonly [string, string])[]): void {
    for (const [path, body] of files) this.served.set(path, new Uint8Array(Buffer.from(body, 'base64')))
  }

  private reachOf(target: Target, place: number): Promise<Reached> {
    return this.studio.inPage<Reached>(
      `
      const [selectors, place, sheet] = arguments, all = [...document.querySelectorAll('*')]
      const plain = (s) => s.replace(/:not\\(\\s*:(disabled|checked|hover|focus|active|focus-visible|target|invalid|valid|required)\\s*\\)/g, ':where(*)').replace(/:(focus-visible|focus-within|focus|hover|active|target|checked|disabled|enabled|invalid|valid|required|link|visited|any-link)(?![\\w-])|::[\\w-]+/g, ':where(*)')
      const frames = [...document.querySelectorAll('iframe')].map((f) => { try { return f.contentDocument } catch { return null } }).filter(Boolean)
      const sheetsOf = (list) => [...list].flatMap((s) => { try { return [s, ...sheetsOf([...s.cssRules].flatMap((r) => r.styleSheet ?? []))] } catch { return [s] } })
      const uses = (doc) => sheet === null || (sheet.startsWith('#') ? doc.querySelector('[data-steady="' + sheet.slice(1) + '"]') !== null : sheetsOf(doc.styleSheets).some((s) => s.href && decodeURIComponent(new URL(s.href).pathname) === '/' + sheet))
      const find = (doc) => selectors && uses(doc) ? selectors.flatMap((s) => { try { return [...doc.querySelectorAll(plain(s))] } catch { return [] } }) : []
      const hits = selectors ? new Set([document, ...frames].flatMap(find)) : new Set([all[place]])
      return { hit: hits.size, below: all.flatMap((e, i) => { for (let x = e; x; x = x.parentElement) if (hits.has(x)) return [i]; return [] }) }`,
      target.selectors,
      place,
      target.sheet,
    )
  }

  // The figure told before the edit, and that nothing else took on other styles, layout and inheritance aside.
  private compareReach(what: string, target: Target, told: number, before: Dump, after: readonly Dump[], { hit, below }: Reached): void {
    if (target.selectors && told !== hit) {
      this.result.reachWrong++
      this.cases.push(`REACH ${what} in ${target.label}: told ${told}, matches ${hit}`)
    }
    const inside = new Set(below)
    const outside = before.findIndex((b, i) => after.every((dump) => dump[i] && dump[i].style !== b.style) && !inside.has(i))
    if (outside >= 0) {
      this.result.outside++
      this.cases.push(`OUTSIDE ${what} in ${target.label}: element ${outside} ${before[outside].tag} changed`)
    }
  }
}
