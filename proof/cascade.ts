/**
 * `npm run cascade -- DIR [--elements N] [--seed S] [--json]`: for random elements of a site in the live page, the
 * declaration that our cascade says wins each property against the one Chromium's DevTools protocol reports
 * (CSS.getMatchedStylesForNode, ranked by the engine; inherited declarations and several widths included). Exits 1 when one differs.
 */
import type chrome from 'selenium-webdriver/chrome'
import { ALWAYS, isInherited } from '../src/core/aim'
import { longhandsOf } from '../src/core/css'
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { serveFiles } from '../tests/support/static-server'
import { Studio } from '../tests/support/studio-driver'
import { folder, option } from './options'
import { Random } from './random'
import { openSite, readSite } from './site'

interface CdpProperty {
  readonly name: string
  readonly value: string
  readonly important?: boolean
  readonly disabled?: boolean
  readonly parsedOk?: boolean
  readonly implicit?: boolean
  readonly range?: { startLine: number; startColumn: number }
}
interface CdpStyle {
  readonly cssProperties: CdpProperty[]
  readonly styleSheetId?: string
}
interface CdpMatch {
  readonly rule: {
    readonly origin: string
    readonly styleSheetId?: string
    readonly style: CdpStyle
    readonly selectorList: { text: string }
  }
}
interface CdpStyles {
  readonly matchedCSSRules: CdpMatch[]
  readonly inlineStyle?: CdpStyle
  /** The nearest ancestor first. */
  readonly inherited?: CdpStyles[]
}

interface EngineWinner {
  /** 1-based, in the sheet: a `<style>` element's sheet begins where its text does. Null of a style attribute, which the engine counts by itself. */
  readonly line: number | null
  readonly value: string
  readonly sheet: string | null
}

/** The author declaration that the engine says decides `longhand`: on the element, else on the nearest ancestor it is inherited from. */
function engineDecides(styles: CdpStyles, longhand: string): EngineWinner | null {
  const own = engineWinner(styles, longhand)
  if (own || !isInherited(longhand)) return own
  for (const above of styles.inherited ?? []) {
    const found = engineWinner(above, longhand)
    if (found) return found
  }
  return null
}

/** Of the engine's matched rules, weakest first, the author declaration that sets `longhand`. */
function engineWinner(styles: CdpStyles, longhand: string): EngineWinner | null {
  type Found = { p: CdpProperty; important: boolean; sheet: string | null; isInline: boolean }
  let best: Found | null = null
  const take = (style: CdpStyle, isInline: boolean) => {
    for (const p of style.cssProperties) {
      if (!p.range || p.disabled || p.parsedOk === false) continue
      if (!longhandsOf(p.name.startsWith('--') ? p.name : p.name.toLowerCase()).includes(longhand)) continue
      const important = p.important === true || /!\s*important/i.test(p.value)
      if (!best || important || !best.important) best = { p, important, sheet: style.styleSheetId ?? null, isInline }
    }
  }
  for (const m of styles.matchedCSSRules) if (m.rule.origin === 'regular') take(m.rule.style, false)
  if (styles.inlineStyle) take(styles.inlineStyle, true)
  const found = best as Found | null
  return (
    found && {
      line: found.isInline ? null : found.p.range!.startLine + 1,
      value: found.p.value,
      sheet: found.isInline ? null : found.sheet,
    }
  )
}

/** The page's widths: conditions hold at some and not at others. */
const WIDTHS = [null, 420, 700, 1000]

export interface CascadeResult {
  readonly elements: number
  readonly compared: number
  /** Winners in sheets that scripts of the page wrote: left out. */
  readonly byScripts: number
  readonly differing: number
  readonly cases: readonly string[]
}

export async function runCascade(dir: string, elements: number, seed: number): Promise<CascadeResult> {
  const random = new Random(seed)
  const files = readSite(dir)
  const app = await startApp()
  const [ours, bare] = [await openBrowser(), await openBrowser()]
  const server = await serveFiles(files)
  const cases: string[] = []
  let seen = 0
  let compared = 0
  let byScripts = 0
  try {
    const studio = new Studio(ours, app.url)
    const pages = await openSite(studio, files)
    const send = <T>(method: string, params: object = {}) =>
      (bare.driver as unknown as chrome.Driver).sendAndGetDevToolsCommand(method, params) as unknown as Promise<T>
    while (seen < elements) {
      const page = random.pick(pages)
      await studio.driver.executeScript('window.steadyProof.session.setWidth(arguments[0])', random.pick(WIDTHS))
      await studio.goTo(page === 'index.html' ? '/' : `/${page}`)
      await studio.driver.sleep(400)
      const size = await studio.inPage<{ width: number; height: number }>('return { width: innerWidth, height: innerHeight }')
      await send('Emulation.setDeviceMetricsOverride', { ...size, deviceScaleFactor: 1, mobile: false })
      await bare.driver.get(`${server.url}/${page}`)
      await bare.driver.sleep(400)
      const tags = await studio.inPage<(string | null)[]>(
        'return [...document.querySelectorAll("body, body *")].map((e) => e.getAttribute("data-steady"))',
      )
      await send('DOM.enable')
      await send('CSS.enable')
      const { root } = await send<{ root: { nodeId: number } }>('DOM.getDocument', { depth: 0 })
      const { nodeIds } = await send<{ nodeIds: number[] }>('DOM.querySelectorAll', {
        nodeId: root.nodeId,
        selector: 'body, body *',
      })
      if (nodeIds.length !== tags.length) continue
      const text = new TextDecoder().decode(files.get(page))
      const linesBefore = new Map<string, number>()
      const lineInFile = async ({ line, sheet }: EngineWinner): Promise<number | null> => {
        if (line === null || sheet === null) return line
        if (!linesBefore.has(sheet)) {
          const { text: own } = await send<{ text: string }>('CSS.getStyleSheetText', { styleSheetId: sheet })
          const start = own.trim() === '' ? -1 : text.indexOf(`>${own}</style`)
          linesBefore.set(sheet, start < 0 ? 0 : text.slice(0, start).split('\n').length - 1)
        }
        return line + linesBefore.get(sheet)!
      }
      // A sheet that a script wrote stands in no file, so that no edit could land there.
      const scripted = new Map<string, boolean>()
      const isScripted = async (sheet: string | null): Promise<boolean> => {
        if (sheet === null) return false
        if (!scripted.has(sheet)) {
          const { text: own } = await send<{ text: string }>('CSS.getStyleSheetText', { styleSheetId: sheet })
          scripted.set(
            sheet,
            !text.includes(own) &&
              ![...files].some(([path, b]) => path.endsWith('.css') && new TextDecoder().decode(b).trim() === own.trim()),
          )
        }
        return scripted.get(sheet)!
      }
      const at = tags.flatMap((t, i) => (t ? [i] : []))
      for (let n = 0; n < 40 && seen < elements; n++) {
        const i = random.pick(at)
        seen++
        const styles = await send<CdpStyles>('CSS.getMatchedStylesForNode', { nodeId: nodeIds[i] })
        const names = new Set<string>()
        const note = (s: CdpStyles, wanted: (longhand: string) => boolean) => {
          for (const m of s.matchedCSSRules)
            if (m.rule.origin === 'regular')
              for (const p of m.rule.style.cssProperties)
                if (p.range)
                  for (const l of longhandsOf(p.name.startsWith('--') ? p.name : p.name.toLowerCase())) if (wanted(l)) names.add(l)
        }
        note(styles, () => true)
        for (const above of styles.inherited ?? []) note(above, isInherited)
        const list = [...names]
        const told = await studio.driver.executeAsyncScript<{ line: number; value: string }[] | null>(
          `
          const [source, nth, names, condition, done] = arguments, p = window.steadyProof
          p.session.selection.pickSource(source).then(() => p.desk.reading.winners({ ...p.state().picked.report, condition }, names)).then(done, () => done(null))`,
          tags[i],
          0,
          list,
          ALWAYS,
        )
        if (!told) continue
        for (const [k, name] of list.entries()) {
          const engine = engineDecides(styles, name)
          const we = told[k]
          if (engine && (await isScripted(engine.sheet))) {
            byScripts++
            continue
          }
          compared++
          const equal = engine
            ? we &&
              [we.line, null].includes(await lineInFile(engine)) &&
              we.value.replace(/\s+/g, '') === engine.value.replace(/\s*!important\s*$/i, '').replace(/\s+/g, '')
            : !we
          if (!equal)
            cases.push(
              `${page} ${tags[i]} ${name}: the engine says ${engine ? `${engine.line} ${engine.value}` : 'none'}, we say ${we ? `${we.line} ${we.value}` : 'none'}`,
            )
        }
      }
    }
  } finally {
    server.stop()
    await Promise.all([ours.close(), bare.close()])
    app.stop()
  }
  return { elements: seen, compared, byScripts, differing: cases.length, cases }
}

if (process.argv[1]?.endsWith('cascade.ts')) {
  const { cases, ...result } = await runCascade(folder('cascade', '[--elements N]'), option('--elements', 100), option('--seed', 1))
  for (const c of cases.slice(0, 25)) console.log(c.slice(0, 300))
  console.log(
    `${result.elements} elements, ${result.compared} winners compared, ${result.differing} differing, ${result.byScripts} in sheets that scripts wrote left out`,
  )
  if (process.argv.includes('--json')) console.log(JSON.stringify(result))
  process.exitCode = result.differing ? 1 : 0
}
