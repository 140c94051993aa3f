/**
 * Runs a project's own Next.js in a copy of the project: `node next-child.mjs <folder of ours>`, with the project as working
 * directory. What it has to say goes to the parent process as a message.
 */
import { spawn } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { connect } from 'node:net'
import { dirname, join } from 'node:path'
import { tellParent, type ToChild } from './child-messages'
import { freePort } from './free-port'
import { Mirror } from './mirror'

/** How often the server is looked for until it listens; ms. */
const LOOK_AGAIN = 50

const [, , place] = process.argv

/** The path of the command of the copy's own package. */
async function commandOf(top: string): Promise<string> {
  const path = createRequire(join(top, 'package.json')).resolve('next/package.json')
  const { bin } = JSON.parse(await readFile(path, 'utf8')) as { bin: string | Readonly<Record<string, string>> }
  return join(dirname(path), typeof bin === 'string' ? bin : bin.next)
}

const listens = (port: number): Promise<boolean> =>
  new Promise((done) => {
    const socket = connect({ host: '127.0.0.1', port })
    const end = (is: boolean) => {
      socket.destroy()
      done(is)
    }
    socket.once('connect', () => end(true))
    socket.once('error', () => end(false))
  })

/** The path that the project's pages begin with (`basePath`), as the server writes it down once it has started. */
async function baseOf(top: string): Promise<string> {
  for (const folder of ['.next/dev', '.next']) {
    const text = await readFile(join(top, folder, 'routes-manifest.json'), 'utf8').catch(() => null)
    if (text === null) continue
    const { basePath } = JSON.parse(text) as { basePath?: unknown }
    if (typeof basePath === 'string' && basePath.startsWith('/')) return `${basePath}/`
  }
  return '/'
}

// What this process was started with is about another server.
const environment = () => ({
  ...Object.fromEntries(Object.entries(process.env).filter(([name]) => !/^(__NEXT|NEXT_(?!PUBLIC_)|NODE_CHANNEL_FD)/.test(name))),
  NODE_ENV: 'development' as const,
  NEXT_TELEMETRY_DISABLED: '1',
})

try {
  const mirror = await Mirror.make(process.cwd(), place)
  const port = await freePort()
  const child = spawn(process.execPath, [await commandOf(mirror.at), 'dev', '--port', String(port), '--hostname', '127.0.0.1'], {
    cwd: mirror.at,
    env: environment(),
    stdio: ['ignore', 'inherit', 'inherit'],
    // It starts processes of its own, which end with it as one group.
    detached: process.platform !== 'win32',
  })
  const end = () => {
    try {
      if (child.pid !== undefined && child.exitCode === null) process.kill(process.platform === 'win32' ? child.pid : -child.pid, 'SIGKILL')
    } catch {
      // It has ended.
    }
  }
  child.once('exit', (code) => process.exit(code ?? 1))
  process.once('exit', end)
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, () => process.exit(0))
  // It ends with what started it.
  process.on('disconnect', () => process.exit(0))
  process.on('message', ({ id, files, alone }: ToChild) => void mirror.show(files, alone).finally(() => tellParent({ is: 'shown', id })))
  while (!(await listens(port))) await new Promise((done) => setTimeout(done, LOOK_AGAIN))
  tellParent({ is: 'running', port, base: await baseOf(mirror.at), root: mirror.at })
} catch (error) {
  tellParent({ is: 'failed', why: error instanceof Error ? error.message : String(error) })
  process.exit(1)
}
