/**
 * `npm run fidelity:components -- DIR [--edits N] [--seed S] [--json]`: random edits of style, of the classes, texts and
 * attributes of tags of components, of where tags stand, and of what components are given, of the project DIR, whose packages are installed, on its own development server through
 * the interface's intents. Each is judged by whether the chosen element shows what was asked for on a plain server of the
 * project's own over a copy with the files saved, and compared with that page, in its markup and computed value by computed
 * value. Exits 1 when one differs and the product did not say so.
 */
import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { cpSync, existsSync, mkdtempSync, readFileSync, realpathSync, renameSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join, resolve } from 'node:path'
import { By, until } from 'selenium-webdriver'
import type chrome from 'selenium-webdriver/chrome'
import { openBrowser, type OpenedBrowser } from '../tests/support/browser'
import { freePort, startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'
import { differences, DUMP_DRAWN as DUMP, type Dump } from './dump'
import { CHANGED, SHOWS, STYLE_PROPERTIES } from './fidelity-intents'
import { folder, option } from './options'
import { Random } from './random'
import { PROPERTIES } from './values'

export interface ComponentsResult {
  readonly routes: number
  readonly edits: number
  readonly same: number
  readonly flagged: number
  readonly refused: number
  readonly silent: number
  /** How many edits were of each kind. */
  readonly kinds: Readonly<Record<string, number>>
  readonly seconds: number
  readonly cases: readonly string[]
}

/**
 * The markup of the page: attributes by their names, since no order of theirs shows, styles as they are read, not as a server spells them, without what we put on it and styles that
 * are empty, and with the names of modules as their sources have them.
 */
const MARKUP = `
  const ours = /^(data-steady-.*|data-(vite|astro-source)-.*|contenteditable)$/
  const clean = (value) => value.replace(/\\b_([A-Za-z][\\w-]*?)_[a-z0-9_-]{5}_\\d+\\b/g, '$1')
  const say = (n) => {
    if (n.nodeType === Node.TEXT_NODE) return n.data
    if (n.nodeType !== Node.ELEMENT_NODE || /^(script|nextjs-portal|next-route-announcer)$/.test(n.localName)) return ''
    const attributes = [...n.attributes].filter((a) => !ours.test(a.name) && !(a.name === 'style' && a.value === ''))
    return '<' + n.localName + attributes.map((a) => ' ' + a.name + '=' + JSON.stringify(a.name === 'style' ? n.style.cssText : clean(a.value))).sort().join('') + '>' + [...n.childNodes].map(say).join('') + '</' + n.localName + '>'
  }
  return say(document.body)`

const CLASSES = ['italic', 'uppercase', 'opacity-75', 'tracking-wide', 'underline', 'mt-6', 'text-center', 'shadow-lg']
const TEXTS = ['Low & high water', 'Boats < 12 m', 'It’s {not} yet known', 'Nine "berths"']
const STEPS = ['duplicate', 'remove', 'wrap', 'unwrap', 'back', 'on']
const TITLES = ['Turn at the "Skerry"', 'Fog & wind', "Harbour's end"]

/** Edits on top of one another before all are undone. */
const ROUND = 12

// A copy that runs on the packages of the project.
function copyOf(dir: string): string {
  const copy = realpathSync(mkdtempSync(join(tmpdir(), 'components-')))
  cpSync(dir, copy, { recursive: true, filter: (path) => !/(^|[/\\])(node_modules|\.git|\.steady-brush)$/.test(path) })
  let at = resolve(dir)
  while (!existsSync(join(at, 'node_modules')) && dirname(at) !== at) at = dirname(at)
  // Turbopack takes no link for a folder of packages: each file by another name instead.
  if (uses(dir, 'next')) execFileSync('cp', ['-al', join(at, 'node_modules'), join(copy, 'node_modules')])
  else symlinkSync(join(at, 'node_modules'), join(copy, 'node_modules'))
  return copy
}

const packageText = (dir: string): string => readFileSync(join(dir, 'package.json'), 'utf8')

const uses = (dir: string, name: string): boolean => packageText(dir).includes(`"${name}":`)

/** The elements that edits are made of: those of the project's own components. */
const ELEMENTS =
  '#root *, #app *, body > div *, body > :is(header, main, footer, nav, section, article), body > :is(header, main, footer, nav, section, article) *'

/** The project's own development server, as its author starts it. */
async function plainServer(dir: string): Promise<{ readonly url: string; readonly process: ChildProcess }> {
  const port = await freePort()
  const host = ['--host', '127.0.0.1']
  const command = uses(dir, 'next')
    ? ['next/dist/bin/next', 'dev', '--hostname', '127.0.0.1', ...(/--(turbopack|webpack)\b/.exec(packageText(dir)) ?? []).slice(0, 1)]
    : uses(dir, 'astro')
      ? ['astro/astro.js', 'dev', ...host]
      : ['vite/bin/vite.js', '--strictPort', ...host]
  const child = spawn(process.execPath, [join(dir, 'node_modules', command[0]), ...command.slice(1), '--port', String(port)], {
    cwd: dir,
    stdio: 'ignore',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', ASTRO_TELEMETRY_DISABLED: '1' },
  })
  const url = `http://127.0.0.1:${port}`
  for (let n = 0; ; n++) {
    if (
      await fetch(url).then(
        () => true,
        () => false,
      )
    )
      return { url, process: child }
    if (n > 200) throw new Error('The plain server does not answer')
    await new Promise((done) => setTimeout(done, 100))
  }
}

class Components {
  readonly result = { routes: 0, edits: 0, same: 0, flagged: 0, refused: 0, silent: 0 }
  readonly kinds: Record<string, number> = {}
  readonly cases: string[] = []
  private readonly random: Random

  constructor(
    private readonly studio: Studio,
    private readonly bare: OpenedBrowser,
    private readonly plain: string,
    private readonly copy: string,
    seed: number,
  ) {
    this.random = new Random(seed)
  }

  private inStudio<T>(script: string, ...args: unknown[]): Promise<T> {
    return this.studio.driver.executeAsyncScript<T>(
      `const done = arguments[arguments.length - 1], args = [...arguments].slice(0, -1), p = window.steadyProof
      ;(async () => { ${script} })().then(done, (e) => done({ failed: String(e && e.stack || e) }))`,
      ...args,
    )
  }

  async run(edits: number): Promise<void> {
    const routes = await this.studio.inPage<string[]>(
      "return [...new Set(['/', ...[...document.querySelectorAll('a[href]')].filter((a) => a.origin === location.origin).map((a) => a.pathname)])]",
    )
    this.result.routes = routes.length
    while (this.result.edits < edits) await this.round(this.random.pick(routes), Math.min(ROUND, edits - this.result.edits))
  }

  private async load(route: string): Promise<void> {
    const size = await this.studio.inPage<{ width: number; height: number }>('return { width: innerWidth, height: innerHeight }')
    await (this.bare.driver as unknown as chrome.Driver).sendAndGetDevToolsCommand('Emulation.setDeviceMetricsOverride', {
      ...size,
      deviceScaleFactor: 1,
      mobile: false,
    })
    await this.bare.driver.get(this.plain + route)
    // It is drawn once its modules are there.
    await this.bare.driver.wait(
      async () => (await this.bare.driver.executeScript<number>('return document.body.querySelectorAll("*").length')) > 5,
      20_000,
    )
    await this.bare.driver.sleep(150)
  }

  // The same for as long as either page is still at work on itself.
  private async differing(ours: Dump): Promise<{ readonly at: number; readonly ours: Dump }> {
    let mine = ours
    for (let attempt = 0; ; attempt++) {
      const theirs = await this.bare.driver.executeScript<Dump>(DUMP, null)
      const at =
        mine.length === theirs.length ? mine.findIndex((o, i) => o.whole !== theirs[i].whole) : Math.min(mine.length, theirs.length)
      if (at < 0 || attempt === 4) return { at, ours: mine }
      await this.bare.driver.sleep(400)
      mine = await this.dump()
    }
  }

  // The markup of both pages. What changes no value may come to the plain one after its values were compared.
  private async markups(): Promise<readonly [ours: string, theirs: string]> {
    for (let attempt = 0; ; attempt++) {
      const [ours, theirs] = [await this.studio.inPage<string>(MARKUP), await this.bare.driver.executeScript<string>(MARKUP)]
      if (ours === theirs || attempt === 4) return [ours, theirs]
      await this.bare.driver.sleep(400)
    }
  }

  private dump(): Promise<Dump> {
    return this.studio.inPage<Dump>(DUMP, null)
  }

  private async explain(place: number): Promise<string> {
    const [[a], [b]] = [await this.studio.inPage<Dump>(DUMP, [place]), await this.bare.driver.executeScript<Dump>(DUMP, [place])]
    return differences(a, b)
  }

  private async round(route: string, edits: number): Promise<void> {
    await this.studio.goTo(route)
    await this.studio.until('the page drawn', () => this.studio.inPage<boolean>('return document.body.querySelectorAll("*").length > 5'))
    await this.studio.driver.sleep(300)
    await this.load(route)
    const untouched = await this.differing(await this.dump())
    if (untouched.at >= 0) throw new Error(`${route} differs untouched at ${untouched.at}: ${await this.explain(untouched.at)}`)
    let made = 0
    for (let i = 0; i < edits; i++) if (await this.one(route)) made++
    await this.inStudio(`for (let i = 0; i < ${made}; i++) await p.session.timeline.step('undo')`)
    await this.put()
  }

  // Writes the files as a save would leave them to the copy that the plain server serves.
  private readonly written = new Map<string, string>()

  private async put(): Promise<void> {
    const files = new Map(await this.inStudio<[string, string][]>(`return ${CHANGED}`))
    for (const [path, original] of this.written) if (!files.has(path)) this.write(path, original)
    for (const [path, body] of files) {
      if (!this.written.has(path)) this.written.set(path, readFileSync(join(this.copy, path), 'base64'))
      this.write(path, body)
    }
    // The server's watcher takes a moment to see them.
    await new Promise((done) => setTimeout(done, 250))
  }

  // Whole at once: the server may read a file at any moment.
  private write(path: string, body: string): void {
    const file = join(this.copy, path)
    if (readFileSync(file, 'base64') === body) return
    writeFileSync(`${file}.new`, body, 'base64')
    renameSync(`${file}.new`, file)
  }

  // One edit; whether it was written.
  private async one(route: string): Promise<boolean> {
    const property = this.random.pick(STYLE_PROPERTIES)
    const value = PROPERTIES[property](this.random)
      .replace(/var\(--x, /g, 'var(--none, ')
      .replace(/var\(--(x|g|c|ink)\)/g, '9px')
      // A bundler shows a fault in the place of a page whose sheet names a file that is not there.
      .replace(/url\([^)]*\)/g, 'none')
    const share = this.random.next()
    const aim = this.random.below(3)
    const kind = this.random.pick(['style', 'style', 'style', 'style', 'class', 'text', 'attribute', 'structure', 'property'])
    const given = this.random.pick({ class: CLASSES, text: TEXTS, attribute: TITLES, structure: STEPS, property: TEXTS }[kind] ?? [''])
    this.result.edits++
    const made = await this.inStudio<{
      ok: boolean
      isNew: boolean
      place: string
      why: string
      verdict: string
      example: string
      node: number
      kind: string
      /** How many elements there were, how often the chosen tag made one, and what the component was given. */
      count: number
      made: number
      given: string
    }>(
      `
      const [property, value, share, aim, kind, given] = args, { selection, edits, page, structure } = p.session
      const all = await selection.find(${JSON.stringify(ELEMENTS)})
      // Few elements are of a component that takes something.
      const first = Math.floor(share * all.length)
      let node = all[first]
      for (let i = 0; i < (kind === 'property' ? 8 : 1); i++) {
        await selection.pick((node = all[(first + 5 * i) % all.length]))
        const { usage, report } = p.state().picked
        if (kind === 'property' && usage?.place.ok && usage.place.source !== null && report.info.source !== null && (await p.desk.places.propertiesOf(usage.place.source, report.info.source))?.properties.length) break
      }
      const source = p.state().picked?.report.info.source ?? null
      const said = source === null ? null : await p.desk.places.elementOf(source)
      const told = (ok, done, kind) => {
        const row = p.state().ledger.rows.at(-1)
        return { ok, kind, isNew: p.state().ledger.done > done, place: row ? row.path + ':' + row.line + ' ' + row.label : '', why: p.state().status?.text ?? '', verdict: row?.verdict.state ?? 'none', example: row?.verdict.example ?? '', node: all.indexOf(node), count: all.length, made: p.state().picked?.report.made?.count ?? 1, given: '' }
      }
      const before = p.state().ledger.done
      if (said && kind === 'class')
        return told(await edits.changeClasses({ kind: 'change-classes', sources: [source], remove: [], add: [{ name: given }] }), before, kind)
      if (said && kind === 'text' && said.texts.length)
        return told(await edits.onElement({ kind: 'set-text', source, index: 0, was: said.texts[0], text: given }), before, kind)
      if (said && kind === 'attribute')
        return told(await edits.onElement({ kind: 'set-attribute', source, name: 'title', value: given }), before, kind)
      if (said && kind === 'structure') {
        const made = p.state().picked.report.made?.count ?? 1
        const ok = given === 'wrap' ? await structure.wrap('div.kept') : given === 'back' || given === 'on' ? await structure.step(given) : await structure[given]()
        return { ...told(ok, before, kind), count: all.length, made }
      }
      const usage = kind === 'property' ? p.state().picked?.usage : null
      const takes = usage?.place.ok && usage.place.source !== null ? await p.desk.places.propertiesOf(usage.place.source, source) : null
      const [own] = (takes?.properties ?? []).filter((x) => x.kind !== 'other' && (x.given === null || x.given.value !== null) && (x.kind !== 'choice' || x.choices.length > 1))
      if (own && source !== null) {
        const to = own.kind === 'choice' ? own.choices.find((c) => c !== (own.given?.value ?? own.initial)) : own.kind === 'boolean' ? String((own.given?.value ?? own.initial) !== 'true') : own.kind === 'number' ? '7' : given
        const ok = await edits.onElement({ kind: 'set-attribute', source: usage.place.source, name: own.name, value: to, as: own.kind })
        return { ...told(ok, before, kind), given: own.name + ' ' + to }
      }
      await selection.needAims([property])
      const at = p.state().picked?.aims.get(property)
      if (!at) return { ok: false, why: 'no place' }
      selection.touch(property)
      // Where a component can be made to take classes, one use of it is the place now and then, which is no default.
      const places = at.candidates.map((c, i) => [c, i])
      const winning = places.filter(([c]) => c.wins && c.fits), taking = places.filter(([c]) => c.wins && c.ref.taking)
      const chosen = aim === 2 && taking.length ? taking[0] : aim && winning.length ? winning[aim % winning.length] : null
      if (chosen) selection.chooseAim(property, chosen[1])
      const { done } = p.state().ledger
      const ok = await edits.commit(property, value)
      return told(ok, done, chosen?.[0].ref.taking ? 'taking' : 'style')`,
      property,
      value,
      share,
      aim,
      kind,
      given,
    )
    const isStyle = made.kind === 'style' || made.kind === 'taking'
    const asked = isStyle ? `${property}: ${value}` : `${made.kind} ${made.given || given}`
    const what = `${route} element ${made.node} ${asked} in ${made.place}`
    this.kinds[made.kind] = (this.kinds[made.kind] ?? 0) + 1
    if (!made.ok) {
      this.result.refused++
      if (process.argv.includes('--progress')) console.error(`REFUSED ${asked}: ${made.why}`)
      return false
    }
    if (!made.isNew) {
      this.result.edits--
      this.kinds[made.kind]--
      return false
    }
    const known = this.cases.length
    await this.put()
    await this.load(route)
    // Where an edit has a page show what is in its head, it shows our script too, which the plain one does not have.
    if (await this.bare.driver.executeScript<boolean>(SHOWS_HEAD)) {
      this.result.edits--
      this.kinds[made.kind]--
      await this.inStudio("await p.session.timeline.step('undo')")
      await this.put()
      return false
    }
    const { at } = await this.differing(await this.dump())
    const place = await this.bare.driver.executeScript<number>(
      'const all = [...document.querySelectorAll("*")]; return all.indexOf([...document.querySelectorAll(arguments[1])][arguments[0]])',
      made.node,
      ELEMENTS,
    )
    const shows = isStyle
      ? await this.bare.driver.executeScript<boolean | null>(SHOWS, place, property, value)
      : made.kind === 'structure'
        ? hasStepped(
            given,
            made,
            await this.bare.driver.executeScript<number>('return document.querySelectorAll(arguments[0]).length', ELEMENTS),
          )
        : made.kind === 'property'
          ? null
          : await this.bare.driver.executeScript<boolean>(HAS, place, made.kind, given)
    const [ours, theirs] = await this.markups()
    if (made.verdict !== 'holds') this.result.flagged++
    else if (at >= 0 || shows === false || ours !== theirs) {
      this.result.silent++
      const why =
        at >= 0
          ? `element ${at} differs: ${await this.explain(at)}`
          : shows === false
            ? 'what was asked for is not there'
            : `the markup differs: ${apart(ours, theirs)}`
      this.cases.push(`SILENT ${what}: ${why}`)
    } else this.result.same++
    if (process.argv.includes('--progress'))
      console.error(JSON.stringify(this.result), this.cases.length > known ? this.cases.at(-1) : what, made.verdict)
    return true
  }
}

/** Whether the plain page has as many elements as it is to have: for each that the tag made, one more or less, or those in it too. */
function hasStepped(step: string, { count, made }: { readonly count: number; readonly made: number }, now: number): boolean {
  if (step === 'wrap') return now === count + made
  if (step === 'unwrap') return now === count - made
  if (step === 'duplicate') return now >= count + made
  if (step === 'remove') return now <= count - made
  return now === count
}

/** Runs in the bare page: whether what stands in its head is drawn. */
const SHOWS_HEAD = "return getComputedStyle(document.head).display !== 'none'"

/** Runs in the bare page: whether an element has the class, text or title that was asked for. */
const HAS = `
  const [place, kind, given] = arguments, e = document.querySelectorAll('*')[place]
  if (kind === 'class') return e.classList.contains(given)
  if (kind === 'attribute') return e.getAttribute('title') === given
  return [...e.childNodes].some((n) => n.nodeType === Node.TEXT_NODE && n.data === given)`

function apart(a: string, b: string): string {
  let i = 0
  while (i < a.length && a[i] === b[i]) i++
  return `${JSON.stringify(a.slice(Math.max(0, i - 60), i + 80))} for ${JSON.stringify(b.slice(Math.max(0, i - 60), i + 80))}`
}

/** Runs the proof of a project in two browsers. */
export async function runComponents(dir: string, edits: number, seed: number): Promise<ComponentsResult> {
  const start = performance.now()
  const [own, plainCopy] = [copyOf(dir), copyOf(dir)]
  const [app, plain] = [await startApp({}, own), await plainServer(plainCopy)]
  const [ours, bare] = [await openBrowser(), await openBrowser()]
  try {
    const studio = new Studio(ours, app.url)
    await studio.driver.get(app.address)
    // A server may compile its first page when it is asked for it.
    await studio.driver.wait(until.elementLocated(By.css('main[data-connected]')), 90_000, 'its page did not load')
    await studio.driver.get(`${app.url}/?proof`)
    await studio.ready()
    await studio.press('Page')
    const proof = new Components(studio, bare, plain.url, plainCopy, seed)
    await proof.run(edits)
    return { ...proof.result, kinds: proof.kinds, seconds: Number(((performance.now() - start) / 1000).toFixed(1)), cases: proof.cases }
  } finally {
    await Promise.all([ours.close(), bare.close()])
    app.stop()
    plain.process.kill()
    for (const copy of [own, plainCopy]) rmSync(copy, { recursive: true, force: true })
  }
}

if (process.argv[1]?.endsWith('fidelity-components.ts')) {
  const dir = folder('fidelity:components', '[--edits N]')
  const { cases, ...result } = await runComponents(dir, option('--edits', 100), option('--seed', 1))
  for (const c of cases.slice(0, 40)) console.log(c.slice(0, 900))
  const { routes, edits, same, flagged, refused, silent, kinds, seconds } = result
  console.log(
    `${routes} routes, ${edits} edits: ${same} same, ${flagged} flagged, ${refused} refused, ${silent} silent; ${seconds} s ${JSON.stringify(kinds)}`,
  )
  if (process.argv.includes('--json')) console.log(JSON.stringify(result))
  process.exit(silent ? 1 : 0)
}
