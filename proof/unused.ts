/**
 * `npm run unused -- DIR [--all] [--json]`: finds the rules that nothing in the sources of a site matches, takes out those
 * that no script says (with `--all`, all of them), and serves the site as it was and as it is then by two bare servers. In
 * Chromium, every computed value of every element of each page is to be the same, at three widths, light and dark. Exits 1
 * where one is not.
 */
import { isDeepStrictEqual } from 'node:util'
import type * as chrome from 'selenium-webdriver/chrome'
import { planIntent } from '../src/core/edit'
import { loadLanguages } from '../src/core/language'
import { Project, unusedRules } from '../src/core/project'
import { applySplices } from '../src/core/text'
import { openBrowser, type OpenedBrowser } from '../tests/support/browser'
import { serveFiles } from '../tests/support/static-server'
import { differences, DUMP, type Dump } from './dump'
import { flag, folder } from './options'
import { readSite } from './site'

const WIDTHS = [375, 760, 1280]

/** How long scripts of a page get until it is read; ms. */
const REST = 700

export interface UnusedResult {
  readonly pages: number
  readonly rules: number
  readonly removed: number
  /** Of removed rules; UTF-16 units. */
  readonly size: number
  readonly elements: number
  readonly differing: number
  readonly cases: readonly string[]
}

async function dumpOf(browser: OpenedBrowser, url: string, places: readonly number[] | null): Promise<Dump> {
  await browser.driver.get(url)
  await browser.driver.sleep(REST)
  return browser.driver.executeScript<Dump>(DUMP, places)
}

async function setMedia(browser: OpenedBrowser, width: number, scheme: string): Promise<void> {
  const driver = browser.driver as unknown as chrome.Driver
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', { width, height: 800, deviceScaleFactor: 1, mobile: false })
  await driver.sendDevToolsCommand('Emulation.setEmulatedMedia', { features: [{ name: 'prefers-color-scheme', value: scheme }] })
}

/** Takes out what is called unused, and compares. */
export async function proveUnused(dir: string, all: boolean): Promise<UnusedResult> {
  const files = readSite(dir)
  await loadLanguages(files.keys())
  const project = new Project([...files].map(([path, bytes], i) => ({ key: i + 1, path, bytes })))
  const found = (await unusedRules(project, async () => true))!
  const taken = found.rules.filter((r) => all || r.named === null)
  const after = new Map<string, Uint8Array | string>(files)
  if (taken.length) {
    const plan = planIntent(project, { kind: 'remove-rules', rules: taken })
    if (!plan.ok) throw new Error(plan.why)
    for (const { path, splices } of plan.changes) after.set(path, applySplices(project.text(path), splices))
  }
  const servers = [await serveFiles(files), await serveFiles(after)]
  const browser = await openBrowser()
  let [elements, differing] = [0, 0]
  const cases: string[] = []
  try {
    for (const width of WIDTHS)
      for (const scheme of width === WIDTHS[0] ? ['light', 'dark'] : ['light']) {
        await setMedia(browser, width, scheme)
        for (const page of project.pages()) {
          const [a, b] = [
            await dumpOf(browser, `${servers[0].url}/${page}`, null),
            await dumpOf(browser, `${servers[1].url}/${page}`, null),
          ]
          elements += a.length
          const others = a.flatMap((e, i) => (isDeepStrictEqual(e, b[i]) ? [] : [i]))
          if (others.length === 0 && a.length === b.length) continue
          // A page whose scripts never rest differs from itself too.
          const again = await dumpOf(browser, `${servers[0].url}/${page}`, null)
          const real = others.filter((i) => isDeepStrictEqual(a[i], again[i]))
          differing += real.length
          if (real.length === 0) continue
          const [was, is] = [
            await dumpOf(browser, `${servers[0].url}/${page}`, real.slice(0, 1)),
            await dumpOf(browser, `${servers[1].url}/${page}`, real.slice(0, 1)),
          ]
          cases.push(`${page} at ${width} px, ${scheme}: ${real.length}, ${a[real[0]].tag} ${differences(was[0], is[0])}`)
        }
      }
  } finally {
    await browser.close()
    for (const server of servers) server.stop()
  }
  const size = taken.reduce((n, r) => n + r.size, 0)
  return { pages: project.pages().length, rules: found.rules.length, removed: taken.length, size, elements, differing, cases }
}

if (process.argv[1]?.endsWith('unused.ts')) {
  const result = await proveUnused(folder('unused', '[--all]'), flag('all'))
  for (const line of result.cases) console.log(line)
  if (flag('json')) console.log(JSON.stringify(result))
  else
    console.log(
      `${result.pages} pages: ${result.removed} of ${result.rules} rules taken out (${result.size} characters); ${result.elements} elements compared, ${result.differing} differ`,
    )
  process.exitCode = result.differing ? 1 : 0
}
