import { spawn, type ChildProcess } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DevServer } from '../src/server/dev'
import { openBrowser, type OpenedBrowser } from '../tests/support/browser'
import { linkPackagesOf } from '../tests/support/packages'
import { freePort } from '../tests/support/server'
import { median, round, type BenchRow } from './stats'

const STARTS = 3
const EDITS = 7
/** How long the page rests between edits: Vite's watcher hears of one change of a file in 50 ms; ms. */
const REST = 250
/** How long a page may take to show something; ms. */
const PATIENCE = 60_000

interface Kind {
  readonly name: string
  readonly from: string
  readonly packages: readonly string[]
  /** The command of the project's own server, as its author starts it. */
  readonly command: (port: string) => readonly string[]
  /** A file with a text that the page shows, and an element that shows it. */
  readonly file: string
  readonly text: string
  readonly selector: string
}

const KINDS: readonly Kind[] = [
  {
    name: 'Vite with React',
    from: 'demo/brinewick-desk',
    packages: ['vite', '@vitejs/plugin-react', '@tailwindcss/vite', 'tailwindcss', 'react', 'react-dom', 'clsx'],
    command: (port) => ['node_modules/vite/bin/vite.js', '--port', port, '--strictPort', '--host', '127.0.0.1'],
    file: 'src/pages/Today.tsx',
    text: 'Crossings today',
    selector: 'h1',
  },
  {
    name: 'Next.js',
    from: 'tests/fixtures/quay',
    packages: ['next', 'react', 'react-dom', 'tailwindcss', '@tailwindcss/postcss', 'typescript', '@types/react', '@types/node'],
    command: (port) => ['node_modules/next/dist/bin/next', 'dev', '--port', port, '--hostname', '127.0.0.1'],
    file: 'app/page.tsx',
    text: 'The quay today',
    selector: 'h1',
  },
]

function copyOf({ from, packages }: Kind): string {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'bench-')))
  cpSync(from, folder, { recursive: true })
  linkPackagesOf(folder, packages)
  return folder
}

// Ends once an element says a text.
async function saying({ driver }: OpenedBrowser, selector: string, text: string): Promise<void> {
  await driver.wait(
    async () => driver.executeScript<boolean>('return document.querySelector(arguments[0])?.textContent === arguments[1]', selector, text),
    PATIENCE,
    `${selector} does not say ${text}`,
    10,
  )
}

async function timed(work: () => Promise<void>): Promise<number> {
  const start = performance.now()
  await work()
  return performance.now() - start
}

async function loaded(browser: OpenedBrowser, url: string, kind: Kind): Promise<void> {
  for (const start = performance.now(); performance.now() - start < PATIENCE;) {
    const answers = await fetch(url).then(
      () => true,
      () => false,
    )
    if (answers) break
    await new Promise((done) => setTimeout(done, 25))
  }
  await browser.driver.get(url)
  await saying(browser, kind.selector, kind.text)
}

/** Starts of a project's server and edits of its text, with us and without, in turns. */
async function rowsOf(kind: Kind, browser: OpenedBrowser): Promise<BenchRow[]> {
  const starts: { ours: number[]; plain: number[] } = { ours: [], plain: [] }
  const edits: { ours: number[]; plain: number[] } = { ours: [], plain: [] }
  for (let n = 0; n < STARTS; n++) {
    const most = n === STARTS - 1 ? EDITS : 0
    const own = copyOf(kind)
    const server = new DevServer(own, join(process.cwd(), 'build/server'), () => {})
    starts.ours.push(
      await timed(async () => {
        await server.start(false)
        await loaded(browser, server.target!, kind)
      }),
    )
    const source = readFileSync(join(own, kind.file), 'utf8')
    for (let i = 0; i < most; i++) {
      const next = `Boat ${i}`
      await new Promise((done) => setTimeout(done, REST))
      edits.ours.push(
        await timed(async () => {
          await server.showTexts([{ path: kind.file, text: source.replace(kind.text, next) }], false)
          await saying(browser, kind.selector, next)
        }),
      )
    }
    await server.close()
    rmSync(own, { recursive: true, force: true })

    const bare = copyOf(kind)
    const port = String(await freePort())
    let plain: ChildProcess | null = null
    starts.plain.push(
      await timed(async () => {
        plain = spawn(process.execPath, kind.command(port), {
          cwd: bare,
          stdio: 'ignore',
          detached: true,
          env: { ...process.env, NODE_ENV: 'development', NEXT_TELEMETRY_DISABLED: '1' },
        })
        await loaded(browser, `http://127.0.0.1:${port}`, kind)
      }),
    )
    for (let i = 0; i < most; i++) {
      const next = `Boat ${i}`
      await new Promise((done) => setTimeout(done, REST))
      edits.plain.push(
        await timed(async () => {
          writeFileSync(join(bare, kind.file), source.replace(kind.text, next))
          await saying(browser, kind.selector, next)
        }),
      )
    }
    process.kill(-plain!.pid!, 'SIGKILL')
    rmSync(bare, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 })
  }
  const row = (name: string, { ours, plain }: { ours: number[]; plain: number[] }, most: number, baseline: string): BenchRow => {
    const ratio = median(ours) / median(plain)
    return {
      name: `${kind.name}: ${name}`,
      value: round(median(ours)),
      unit: 'ms',
      ratio: round(ratio),
      baseline: `${baseline} (${round(median(plain))} ms)`,
      budget: `at most ${most}`,
      ok: ratio <= most,
    }
  }
  return [
    row('cold start to the first page', starts, 1.3, 'the same without us'),
    row('an edit that is not saved to the page', edits, 1.25, 'the server’s own hot update after a write of the file'),
  ]
}

/** Rows 8 and 9 of the budgets: pages of a project's own development server. */
export async function benchDevServers(): Promise<BenchRow[]> {
  const browser = await openBrowser()
  try {
    const rows: BenchRow[] = []
    for (const kind of KINDS) rows.push(...(await rowsOf(kind, browser)))
    return rows
  } finally {
    await browser.close()
  }
}
