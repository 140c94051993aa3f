/**
 * `npm run killed -- [--times N] [--seed S]`: ends the browser's processes at random moments while values are pulled,
 * edits are committed and files are saved to a folder, opens the project again each time, and checks that no edit that was
 * shown as done is lost, that the folder's file is whole, and that the project opens. Exits 1 when one of that fails.
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
  readonly faults: readonly string[]
}

const PAGE = '<!DOCTYPE html><html lang="en"><link rel="stylesheet" href="s.css"><body><p class="a">Tide</p></body></html>\n'
const SHEET = `.a {\n  padding: 1px;\n}\n${Array.from({ length: 400 }, (_, i) => `\nmain .row-${i} > p {\n  margin: ${i}px;\n  color: rgb(${i % 256}, 2, 3);\n}\n`).join('')}`

// Runs in the window: edits and saves one after the other, and notes what is done when it is shown as done.
const WORK = `
  const from = arguments[0], { session, state } = window.steadyProof
  window.noted = { done: state().ledger.done, edits: 0, saves: 0 }
  ;(async () => {
    const [node] = await session.selection.find('.a')
    await session.selection.pick(node)
    for (let n = from; ; n++) {
      for (let k = 0; k < 6; k++) { session.edits.preview('padding-top', (n + k) + 'px'); await new Promise((r) => setTimeout(r, 8)) }
      await session.edits.commit('padding-top', n + 'px')
      window.noted.edits++
      window.noted.done = state().ledger.done
      if (n % 2 === 0 && await session.keeping.save([])) window.noted.saves++
    }
  })()`

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
  let saves = 0
  let edits = 0
  try {
    for (let round = 0; round <= times; round++) {
      const browser = await openBrowser({ profile })
      const studio = new Studio(browser, app.url)
      try {
        await studio.open('/?proof')
        const folder = new BrowserFolder(studio, 'killed')
        if (round === 0) {
          await folder.write({ 'index.html': PAGE, 's.css': SHEET })
          await folder.open()
        }
        const state = await studio.driver.executeScript<{ done: number; folder: string | null }>('return window.steadyProof.state().ledger')
        if (state.folder !== 'killed') faults.push(`round ${round}: the project that opened is another`)
        if (state.done < done) faults.push(`round ${round}: ${done} edits were shown as done, ${state.done} are there`)
        const disk = await folder.read('s.css')
        // Whole, and as some edit of the journal left it: what was saved right before the end was not heard of here.
        const made = await studio.driver.executeAsyncScript<string[]>('const done = arguments[0]; window.steadyProof.desk.history().then((h) => done(h.edits.map((e) => e.after)))')
        if (!made.some((after) => SHEET.replace('1px;', `${after} 1px 1px;`) === disk) && disk !== SHEET) faults.push(`round ${round}: the file holds what it never was: ${disk.length} characters, ${JSON.stringify(disk.slice(0, 60))}`)
        if (await folder.read('index.html') !== PAGE) faults.push(`round ${round}: a file that nobody changed is another`)
        done = state.done
        if (round === times) break
        await studio.driver.executeScript(WORK, 10 + round * 100)
        // The last that was heard before the end was surely shown.
        const until = Date.now() + 300 + r.below(3500)
        while (Date.now() < until) {
          const noted = await studio.driver.executeScript<{ done: number; edits: number; saves: number }>('const n = window.noted; const { done, edits, saves } = n; n.edits = n.saves = 0; return { done, edits, saves }')
          edits += noted.edits
          saves += noted.saves
          done = Math.max(done, noted.done)
        }
      } finally {
        kill(profile)
        await browser.close().catch(() => {})
      }
    }
  } finally {
    app.stop()
  }
  return { kills: times, edits, saves, faults }
}

if (process.argv[1]?.endsWith('killed.ts')) {
  const result = await runKilled(option('--times', 50), option('--seed', 1))
  for (const f of result.faults) console.log(f)
  console.log(`${result.kills} times ended in the act, ${result.edits} edits and ${result.saves} saves seen as done; ${result.faults.length} faults`)
  process.exitCode = result.faults.length ? 1 : 0
}
