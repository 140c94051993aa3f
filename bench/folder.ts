import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, until } from 'selenium-webdriver'
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
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

/** Opening a folder on the disk with 10,000 files, from its address to its first page and to the last file read. */
export async function benchFolder(): Promise<BenchRow[]> {
  const { folder, own } = largeSite()
  const app = await startApp({}, folder)
  const browser = await openBrowser()
  const { driver } = browser
  try {
    const [first, whole, bare]: number[][] = [[], [], []]
    for (let i = 0; i < TIMES; i++) {
      let start = performance.now()
      execFileSync('git', ['ls-files'], { cwd: folder })
      for (const path of own) readFileSync(join(folder, path))
      bare.push(performance.now() - start)
      // As for the first time.
      await driver.get(`${app.url}/robots.txt`)
      await driver.executeAsyncScript(
        'const r = indexedDB.deleteDatabase("steady-brush"); r.onsuccess = r.onerror = r.onblocked = arguments[0]',
      )
      start = performance.now()
      await driver.get(app.address)
      await driver.wait(until.elementLocated(By.css('main[data-connected] [data-testid=live-page]')), PATIENCE)
      first.push(performance.now() - start)
      await driver.wait(until.elementLocated(By.css('[data-testid=reading-folder]')), PATIENCE)
      await driver.wait(async () => (await driver.findElements(By.css('[data-testid=reading-folder]'))).length === 0, PATIENCE)
      whole.push(performance.now() - start)
    }
    const [page, all, base] = [median(first), median(whole), median(bare)]
    return [
      {
        name: `open a folder of 10,000 files in the browser, from its address to its first page (all read after ${round(all)} ms)`,
        value: round(page),
        unit: 'ms',
        baseline: `git ls-files and reading that page's own files, ${round(base)} ms`,
        ratio: round(page / base),
        budget: 'ratio at most 3',
        ok: page / base <= 3,
      },
    ]
  } finally {
    await browser.close()
    app.stop()
    rmSync(folder, { recursive: true })
  }
}
