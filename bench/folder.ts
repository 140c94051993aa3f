import { execFileSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, until } from 'selenium-webdriver'
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { serveFiles } from '../tests/support/static-server'
import { median, round, type BenchRow } from './stats'

const PAGES = 9_500
const SHEETS = 100
const PICTURES = 400
const TIMES = 3
const PATIENCE = 120_000

/** A site of 10,000 files in a git repository, and the files that its first page is made of. */
function largeSite(): { readonly folder: string; readonly own: readonly string[] } {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'bench-site-')))
  const put = (path: string, text: string) => writeFileSync(join(folder, path), text)
  for (const name of ['css', 'img', ...Array.from({ length: 95 }, (_, i) => `part-${i}`)]) mkdirSync(join(folder, name))
  for (let i = 0; i < SHEETS; i++)
    put(`css/s${i}.css`, Array.from({ length: 40 }, (_, k) => `.card-${i} .line-${k} {\n  padding: ${k}px;\n}\n`).join('\n'))
  for (let i = 0; i < PICTURES; i++)
    put(`img/p${i}.svg`, '<svg xmlns="http://www.w3.org/2000/svg" width="8" height="8"><path d="M0 0h8v8z"/></svg>')
  for (let i = 0; i < PAGES; i++) {
    const lines = Array.from({ length: 20 }, (_, k) => `  <p class="line-${k}">Crossing ${k} of ${i}</p>`).join('\n')
    put(
      i === 0 ? 'index.html' : `part-${i % 95}/page-${i}.html`,
      `<!DOCTYPE html>\n<html lang="en">\n<title>Page ${i}</title>\n<link rel="stylesheet" href="/css/s${i % SHEETS}.css">\n<main class="card-${i % SHEETS}">\n  <h1>Page ${i}</h1>\n${lines}\n  <img src="/img/p${i % PICTURES}.svg" alt="">\n</main>\n</html>\n`,
    )
  }
  const git = (...args: string[]) =>
    execFileSync('git', ['-c', 'user.name=Pier', '-c', 'user.email=pier@example.invalid', ...args], { cwd: folder })
  git('init', '-q')
  git('add', '-A')
  git('commit', '-qm', 'Site')
  return { folder, own: ['index.html', 'css/s0.css', 'img/p0.svg'] }
}

/** How long a window takes from the address of a folder, as for the first time, to its first page, and to the last file read; ms. */
async function openings(folder: string): Promise<{ readonly first: number; readonly whole: number }> {
  const app = await startApp({}, folder)
  const browser = await openBrowser()
  const { driver } = browser
  try {
    const [first, whole]: number[][] = [[], []]
    for (let i = 0; i < TIMES; i++) {
      await driver.get(`${app.url}/robots.txt`)
      await driver.executeAsyncScript(
        'const r = indexedDB.deleteDatabase("steady-brush"); r.onsuccess = r.onerror = r.onblocked = arguments[0]',
      )
      const start = performance.now()
      await driver.get(app.address)
      await driver.wait(until.elementLocated(By.css('main[data-connected] [data-testid=live-page]')), PATIENCE)
      first.push(performance.now() - start)
      // A small folder may be read before anything is said of it.
      await driver.wait(async () => (await driver.findElements(By.css('[data-testid=reading-folder]'))).length === 0, PATIENCE)
      whole.push(performance.now() - start)
    }
    return { first: median(first), whole: median(whole) }
  } finally {
    await browser.close()
    app.stop()
  }
}

/** How long a browser takes to load a page of a plain server, with nothing of ours; ms. */
async function bareNavigation(folder: string, own: readonly string[]): Promise<number> {
  const server = await serveFiles(new Map(own.map((path) => [path, readFileSync(join(folder, path))])))
  const browser = await openBrowser()
  try {
    const times: number[] = []
    for (let i = 0; i < TIMES; i++) {
      await browser.driver.get('about:blank')
      const start = performance.now()
      await browser.driver.get(`${server.url}/`)
      times.push(performance.now() - start)
    }
    return median(times)
  } finally {
    await browser.close()
    server.stop()
  }
}

/** Opening a folder on the disk with 10,000 files, from its address to its first page and to the last file read. */
export async function benchFolder(): Promise<BenchRow[]> {
  const { folder, own } = largeSite()
  const few = realpathSync(mkdtempSync(join(tmpdir(), 'bench-few-')))
  try {
    for (const path of own) cpSync(join(folder, path), join(few, path))
    const bare: number[] = []
    for (let i = 0; i < TIMES; i++) {
      const start = performance.now()
      execFileSync('git', ['ls-files'], { cwd: folder })
      for (const path of own) readFileSync(join(folder, path))
      bare.push(performance.now() - start)
    }
    const base = median(bare)
    const floor = await bareNavigation(folder, own)
    const small = await openings(few)
    const large = await openings(folder)
    return [
      {
        name: `open a folder of 10,000 files in the browser, from its address to its first page (all read after ${round(large.whole)} ms)`,
        value: round(large.first),
        unit: 'ms',
        baseline: `git ls-files and reading that page's own files, ${round(base)} ms (this browser loads that page from a plain server, with nothing of ours, in ${round(floor)} ms)`,
        ratio: round(large.first / base),
        budget: 'ratio at most 3',
        ok: large.first / base <= 3,
      },
      {
        name: 'the same, against a folder that has only the files of that page',
        value: round(large.first),
        unit: 'ms',
        baseline: `${round(small.first)} ms`,
        ratio: round(large.first / small.first),
        budget: 'ratio at most 3',
        ok: large.first / small.first <= 3,
      },
    ]
  } finally {
    for (const made of [folder, few]) rmSync(made, { recursive: true })
  }
}
