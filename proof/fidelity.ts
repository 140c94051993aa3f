/**
 * `npm run fidelity -- DIR [--edits N] [--seed S] [--json]`: random edits of a site through the product's own live page,
 * each compared, computed value by computed value, with the written files loaded afresh from a bare server. Exits 1 when
 * one differs and the product did not say so.
 */
import type chrome from 'selenium-webdriver/chrome'
import { openBrowser, type OpenedBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { serveFiles } from '../tests/support/static-server'
import { Studio } from '../tests/support/studio-driver'
import { folder, option } from './options'
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
  readonly seconds: number
  /** Edits whose reach was not the number of elements the rule matches. */
  readonly reachWrong: number
  readonly untouchedDiffers: number
  readonly cases: readonly string[]
}

const WIDTHS = [null, 480, 700, 1000]
const ROUND = 25

/** Runs in a page: all computed values of the elements with these places in document order; `null` for all. */
const DUMP = `
  const [places, whole] = arguments
  for (const a of document.getAnimations()) { try { a.finish() } catch { a.cancel() } }
  const all = [...document.querySelectorAll('*')]
  const names = [...getComputedStyle(document.documentElement)].filter((n) => !n.startsWith('--'))
  const origin = new RegExp(location.origin.replace(/[.*+?^$()|[\\]\\\\]/g, '\\\\$&'), 'g')
  return (places ?? all.map((_, i) => i)).map((i) => {
    const e = all[i]
    if (!e) return null
    const s = getComputedStyle(e)
    const values = names.map((n) => s.getPropertyValue(n).replace(origin, ''))
    return whole ? [e.localName, ...names.map((n, k) => n + ': ' + values[k])] : [e.localName, values.join(';')]
  })`

/** What goes through the interface's intents. `content` changes nothing on elements, and a property of our own is no style. */
const FIDELITY_PROPERTIES = Object.keys(PROPERTIES).filter((p) => p !== 'content' && p !== '--own')

interface Size { readonly width: number; readonly height: number }
type Dump = ([string, string] | null)[]

class Fidelity {
  private readonly random: Random
  private readonly originals: ReadonlyMap<string, Uint8Array>
  /** What the bare server serves: the originals with the edits of the round. */
  private readonly served = new Map<string, Uint8Array>()
  readonly result = { pages: 0, edits: 0, same: 0, flagged: 0, refused: 0, silent: 0, reachWrong: 0, untouchedDiffers: 0 }
  readonly cases: string[] = []

  constructor(private readonly studio: Studio, private readonly bare: OpenedBrowser, dir: string, seed: number) {
    this.random = new Random(seed)
    this.originals = readSite(dir)
  }

  private async inStudio<T>(script: string, ...args: unknown[]): Promise<T> {
    const out = await this.studio.driver.executeAsyncScript<{ value?: T; failed?: string }>(`
      const done = arguments[arguments.length - 1], args = [...arguments].slice(0, -1), p = window.steadyProof
      ;(async () => { ${script} })().then((value) => done({ value }), (e) => done({ failed: String(e && e.stack || e) }))`, ...args)
    if (out.failed) throw new Error(out.failed)
    return out.value as T
  }

  private dump(places: readonly number[] | null, whole = false): Promise<Dump> {
    return this.studio.inPage(DUMP, places, whole)
  }

  private async dumpBare(url: string, size: Size, places: readonly number[] | null, whole = false): Promise<Dump> {
    await (this.bare.driver as unknown as chrome.Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', { ...size, deviceScaleFactor: 1, mobile: false })
    await this.bare.driver.get(url)
    await this.bare.driver.executeAsyncScript('const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => setTimeout(done, 30)))')
    return this.bare.driver.executeScript(DUMP, places, whole)
  }

  async run(edits: number): Promise<void> {
    const pages = await openSite(this.studio, this.originals)
    const server = await serveFiles(this.served)
    const tried = new Set<string>()
    const skipped = new Set<string>()
    try {
      while (this.result.edits < edits && skipped.size < pages.length) {
        const page = this.random.pick(pages)
        tried.add(page)
        if (!(await this.round(page, server.url, Math.min(ROUND, edits - this.result.edits)))) skipped.add(page)
      }
    } finally {
      server.stop()
    }
    this.result.pages = tried.size
  }

  // Some edits on one page at one width, on top of one another, then undone. False when the page cannot be compared.
  private async round(page: string, server: string, edits: number): Promise<boolean> {
    const width = this.random.pick(WIDTHS)
    this.served.clear()
    for (const [path, bytes] of this.originals) this.served.set(path, bytes)
    await this.inStudio('p.session.setWidth(args[0])', width)
    await this.studio.goTo(page === 'index.html' ? '/' : `/${page}`)
    await this.studio.driver.sleep(400)
    const url = `${server}/${page}`
    const size = await this.studio.inPage<Size>('return { width: innerWidth, height: innerHeight }')
    const [ours, theirs] = [await this.dump(null), await this.dumpBare(url, size, null)]
    const differing = ours.findIndex((o, i) => o?.[1] !== theirs[i]?.[1])
    if (ours.length !== theirs.length || differing >= 0) {
      this.result.untouchedDiffers++
      this.cases.push(`untouched ${page} at ${width}: ${ours.length} elements against ${theirs.length}, first differing ${differing} ${ours[differing]?.[0]}: ${await this.explain(differing, url, size)}`)
      return false
    }
    let made = 0
    for (let i = 0; i < edits; i++) if (await this.one(page, url, size)) made++
    await this.inStudio(`for (let i = 0; i < ${made}; i++) await p.session.edits.step('undo')`)
    return true
  }

  private async explain(place: number, url: string, size: Size): Promise<string> {
    const [a] = (await this.dump([place], true)) as unknown as (string[] | null)[]
    const [b] = (await this.dumpBare(url, size, [place], true)) as unknown as (string[] | null)[]
    return a && b ? a.flatMap((v, i) => (v !== b[i] ? [`${v} | ${b[i]}`] : [])).slice(0, 4).join('; ') : 'missing'
  }

  // One edit; whether it was written.
  private async one(page: string, url: string, size: Size): Promise<boolean> {
    const sources = await this.studio.inPage<string[]>(`return [...document.body.querySelectorAll('[data-steady]')].filter((e) => !/^(script|style|template|noscript)$/.test(e.localName)).map((e) => e.dataset.steady)`)
    const source = this.random.pick(sources)
    const property = this.random.pick(FIDELITY_PROPERTIES)
    const value = (PROPERTIES[property] ?? (() => '7px'))(this.random).replace(/var\(--x, /g, 'var(--none, ').replace(/var\(--(x|g|c)\)/g, '9px')
    const aim = this.random.below(3)
    this.result.edits++
    const what = `${page} ${source} ${property}: ${value} aim ${aim}`
    // The aim is chosen as a person would: the default, or another that would win.
    const target = await this.inStudio<{ label: string; selectors: string[] | null } | null>(`
      if (!(await p.session.selection.pickSource(args[0]))) return null
      await p.session.selection.needAim(args[1])
      const aim = p.state().picked?.aims.get(args[1])
      if (!aim || aim.candidates.length === 0) return null
      p.session.selection.touch(args[1])
      const winning = aim.candidates.map((c, i) => [c, i]).filter(([c]) => c.wins)
      const at = args[3] === 0 || winning.length === 0 ? aim.chosen : winning[args[3] % winning.length][1]
      if (at < 0) return null
      p.session.selection.chooseAim(args[1], at)
      const c = aim.candidates[at]
      await p.session.edits.previewExact(args[1], args[2])
      return { label: c.label, selectors: c.ref.kind === 'rule' ? [...await p.session.selection.selectorsOf(c.ref)] : null }`, source, property, value, aim)
    if (!target) {
      this.result.refused++
      return false
    }
    const places = await this.studio.inPage<number[]>(`
      const all = [...document.querySelectorAll('*')]
      const hit = arguments[0] ? arguments[0].flatMap((s) => { try { return [...document.querySelectorAll(s)] } catch { return [] } }) : [...document.querySelectorAll('[data-steady="' + arguments[1] + '"]')].slice(0, 1)
      return [...new Set(hit)].map((e) => all.indexOf(e)).slice(0, 150)`, target.selectors, source)
    const preview = await this.dump(places)
    const made = await this.inStudio<{ ok: boolean; why: string; verdict: { state: string; elements: number }; reach: number }>(`
      const ok = await p.session.edits.commit(args[0], args[1])
      const row = p.state().ledger.rows.at(-1)
      return { ok, why: p.state().status?.text ?? '', verdict: row?.verdict ?? { state: 'none' }, reach: row?.reach ?? 0 }`, property, value)
    if (!made.ok) {
      this.result.refused++
      return false
    }
    const changed = await this.inStudio<[string, string][]>(`return Promise.all(p.state().ledger.changed.map(async (path) => {
      const bytes = await p.desk.file(path)
      let text = ''
      for (const b of bytes) text += String.fromCharCode(b)
      return [path, btoa(text)]
    }))`)
    for (const [path, body] of changed) this.served.set(path, new Uint8Array(Buffer.from(body, 'base64')))
    const written = await this.dumpBare(url, size, places)
    const wrong = places.findIndex((_, i) => preview[i]?.[1] !== written[i]?.[1])
    if (wrong < 0) this.result.same++
    else if (made.verdict.state !== 'holds') this.result.flagged++
    else {
      this.result.silent++
      this.cases.push(`SILENT ${what} in ${target.label}: element ${places[wrong]} ${preview[wrong]?.[0]}: ${await this.explain(places[wrong], url, size)}`)
    }
    if (target.selectors && made.reach !== (await this.reachNow(target.selectors))) {
      this.result.reachWrong++
      this.cases.push(`REACH ${what}: told ${made.reach}`)
    }
    return true
  }

  private reachNow(selectors: readonly string[]): Promise<number> {
    return this.studio.inPage<number>('return new Set(arguments[0].flatMap((s) => { try { return [...document.querySelectorAll(s), ...[...document.querySelectorAll("iframe")].flatMap((f) => [...(f.contentDocument?.querySelectorAll(s) ?? [])])] } catch { return [] } })).size', selectors)
  }
}

export async function runFidelity(dir: string, edits: number, seed: number): Promise<FidelityResult> {
  const start = performance.now()
  const app = await startApp()
  const [ours, bare] = [await openBrowser(), await openBrowser()]
  try {
    const proof = new Fidelity(new Studio(ours, app.url), bare, dir, seed)
    await proof.run(edits)
    return { ...proof.result, seconds: Number(((performance.now() - start) / 1000).toFixed(1)), cases: proof.cases }
  } finally {
    await Promise.all([ours.close(), bare.close()])
    app.stop()
  }
}

if (process.argv[1]?.endsWith('fidelity.ts')) {
  const dir = folder('fidelity', '[--edits N]')
  const { cases, ...result } = await runFidelity(dir, option('--edits', 200), option('--seed', 1))
  for (const c of cases.slice(0, 20)) console.log(c.slice(0, 900))
  const { pages, edits, same, flagged, refused, silent, seconds, reachWrong, untouchedDiffers } = result
  console.log(`${pages} pages, ${edits} edits: ${same} same, ${flagged} flagged, ${refused} refused, ${silent} silent; ${reachWrong} with another reach than told; ${untouchedDiffers} untouched pages that differ; ${seconds} s`)
  if (process.argv.includes('--json')) console.log(JSON.stringify(result))
  process.exitCode = silent || untouchedDiffers ? 1 : 0
}
