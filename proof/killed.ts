/**
 * `npm run killed -- [--times N] [--seed S]`: ends the browser's processes at random moments while values are pulled,
 * edits are committed, files are saved to a folder, takes are begun and switched, and a backup is brought back; opens the
 * project again each time, and checks that no edit and no take that was shown as done is lost, that the folder's file is
 * whole, that a project from a backup is whole or not there, and that the project opens. Exits 1 when one of that fails.
 */
import { execFileSync } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openBrowser } from '../tests/support/browser'
import { BrowserFolder } from '../tests/support/folder'
import { startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'
import { option } from './options'
import { Random } from './random'

export interface KilledResult {
  readonly kills: number
  /** Edits that were shown as done over all of it. */
  readonly edits: number
  readonly saves: number
  readonly takes: number
  readonly backups: number
  readonly faults: readonly string[]
}

const PAGE = '<!DOCTYPE html><html lang="en"><link rel="stylesheet" href="s.css"><body><p class="a">Tide</p></body></html>\n'
const SHEET = `.a {\n  padding: 1px;\n}\n${Array.from({ length: 400 }, (_, i) => `\nmain .row-${i} > p {\n  margin: ${i}px;\n  color: rgb(${i % 256}, 2, 3);\n}\n`).join('')}`

// Runs in the window: edits and saves one after the other, and notes what is done when it is shown as done.
const WORK = `(async () => {
  const from = arguments[0], { session, state, desk, backUpAndRestore } = window.steadyProof
  const { current } = await desk.takes.all()
  window.noted = { take: current, done: state().ledger.done, edits: 0, saves: 0, takes: [], backups: 0 }
  ;(async () => {
    const [node] = await session.selection.find('.a')
    await session.selection.pick(node)
    for (let n = from; ; n++) {
      for (let k = 0; k < 6; k++) { session.edits.preview('padding-top', (n + k) + 'px'); await new Promise((r) => setTimeout(r, 8)) }
      await session.edits.commit('padding-top', n + 'px')
      window.noted.edits++
      window.noted.done = state().ledger.done
      if (n % 2 === 0 && await session.keeping.save([])) window.noted.saves++
      if (n % 5 === 1) {
        await desk.takes.newTake('take ' + n, 'here')
        window.noted.takes.push('take ' + n)
        window.noted.take = (await desk.takes.all()).current
      }
      if (n % 4 === 3) {
        window.noted.take = null
        await session.keeping.nextTake()
        const [node] = await session.selection.find('.a')
        await session.selection.pick(node)
        window.noted.done = state().ledger.done
        window.noted.take = (await desk.takes.all()).current
      }
      if (n % 7 === 2) {
        await backUpAndRestore()
        window.noted.backups++
      }
    }
  })()
})()`

interface Noted {
  /** The take that is shown; null while it is being changed. */
  readonly take: string | null
  readonly done: number
  readonly edits: number
  readonly saves: number
  readonly takes: readonly string[]
  readonly backups: number
}

// What every edit of every take wrote.
const VALUES = `
  const done = arguments[0], r = indexedDB.open('steady-brush')
  r.onsuccess = () => {
    const t = r.result.transaction(['edits', 'takes']), edits = t.objectStore('edits').getAll(), takes = t.objectStore('takes').getAll()
    t.oncomplete = () => { r.result.close(); done([...edits.result, ...takes.result.flatMap((x) => x.edits)].map((e) => e.after)) }
  }`

// What is wrong with the projects that are stored: each has its two files, and a journal without gaps.
const WHOLE = `
  const done = arguments[0], r = indexedDB.open('steady-brush')
  r.onsuccess = () => {
    const t = r.result.transaction(['projects', 'files', 'edits']), [p, f, e] = ['projects', 'files', 'edits'].map((s) => t.objectStore(s).getAll())
    t.oncomplete = () => {
      r.result.close()
      const out = []
      for (const { id, done: count } of p.result.filter((x) => x.id.startsWith('killed'))) {
        if (f.result.filter((x) => x.project === id).length !== 2) out.push(id + ' is not whole')
        const seqs = e.result.filter((x) => x.project === id).map((x) => x.seq).sort((a, b) => a - b)
        if (seqs.some((s, i) => s !== i + 1) || seqs.length < count) out.push(id + ' has a journal with gaps')
      }
      for (const x of [...f.result, ...e.result]) if (!p.result.some((y) => y.id === x.project)) out.push('rows of ' + x.project + ', which there is none of')
      done([...new Set(out)])
    }
  }`

function kill(profile: string): void {
  try {
    execFileSync('pkill', ['-9', '-f', `user-data-dir=${profile}`])
  } catch {
    // None is left.
  }
}

export async function runKilled(times: number, seed: number): Promise<KilledResult> {
  const r = new Random(seed)
  const app = await startApp()
  const profile = mkdtempSync(join(tmpdir(), 'steady-killed-'))
  const faults: string[] = []
  let done = 0
  let take: string | null = null
  const takes = new Set<string>()
  let [saves, edits, backups] = [0, 0, 0]
  try {
    for (let round = 0; round <= times; round++) {
      const browser = await openBrowser({ profile })
      const studio = new Studio(browser, app.url)
      try {
        await studio.open(round === 0 ? '/?proof' : '/?proof&project=killed')
        const folder = new BrowserFolder(studio, 'killed')
        if (round === 0) {
          await folder.write({ 'index.html': PAGE, 's.css': SHEET })
          await folder.open()
        }
        const state = await studio.driver.executeScript<{ done: number; folder: string | null }>('return window.steadyProof.state().ledger')
        if (state.folder !== 'killed') faults.push(`round ${round}: the project that opened is another`)
        const now = await studio.driver.executeAsyncScript<{ current: string; names: string[] }>(
          'const done = arguments[0]; window.steadyProof.desk.takes.all().then((t) => done({ current: t.current, names: t.list.map((x) => x.name) }))',
        )
        // While takes were being switched, either may be the one that opens.
        if (take === now.current && state.done < done)
          faults.push(`round ${round}: ${done} edits were shown as done, ${state.done} are there`)
        for (const name of takes) if (!now.names.includes(name)) faults.push(`round ${round}: ${name} is gone`)
        for (const why of await studio.driver.executeAsyncScript<string[]>(WHOLE)) faults.push(`round ${round}: ${why}`)
        const disk = await folder.read('s.css')
        // Whole, and as some edit of the journal left it: what was saved right before the end was not heard of here.
        const made = await studio.driver.executeAsyncScript<string[]>(VALUES)
        if (!made.some((after) => SHEET.replace('1px;', `${after} 1px 1px;`) === disk) && disk !== SHEET)
          faults.push(`round ${round}: the file holds what it never was: ${disk.length} characters, ${JSON.stringify(disk.slice(0, 60))}`)
        if ((await folder.read('index.html')) !== PAGE) faults.push(`round ${round}: a file that nobody changed is another`)
        done = state.done
        take = now.current
        if (round === times) break
        await studio.driver.executeScript(WORK, 10 + round * 100)
        // The last that was heard before the end was surely shown.
        const until = Date.now() + 300 + r.below(3500)
        while (Date.now() < until) {
          const noted = await studio.driver.executeScript<Noted | null>(
            'const n = window.noted; if (!n) return null; const out = { ...n }; n.edits = n.saves = n.backups = 0; return out',
          )
          if (!noted) continue
          edits += noted.edits
          saves += noted.saves
          backups += noted.backups
          for (const name of noted.takes) takes.add(name)
          done = noted.take !== null && noted.take === take ? Math.max(done, noted.done) : noted.done
          take = noted.take
        }
      } finally {
        kill(profile)
        await browser.close().catch(() => {})
      }
    }
  } finally {
    app.stop()
  }
  return { kills: times, edits, saves, takes: takes.size, backups, faults }
}

if (process.argv[1]?.endsWith('killed.ts')) {
  const result = await runKilled(option('--times', 50), option('--seed', 1))
  for (const f of result.faults) console.log(f)
  console.log(
    `${result.kills} times ended in the act, ${result.edits} edits, ${result.saves} saves, ${result.takes} takes and ${result.backups} backups seen as done; ${result.faults.length} faults`,
  )
  process.exitCode = result.faults.length ? 1 : 0
}
