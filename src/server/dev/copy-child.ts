/**
 * Runs a project's own development server in a copy of the project: `node copy-child.mjs <folder of ours> <tool>`, with the
 * project as working directory. What it has to say goes to the parent process as a message.
 */
import { spawn } from 'node:child_process'
import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { connect } from 'node:net'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { tellParent, type ToChild } from './child-messages'
import { freePort } from './free-port'
import { Mirror } from './mirror'

/** How often the server is looked for until it listens; ms. */
const LOOK_AGAIN = 50

const [, , place, tool] = process.argv

/** How a server is started. */
interface Command {
  /** The path of the program, where the copy is at `top`. @throws where its package is not installed. */
  readonly program: (top: string) => Promise<string>
  readonly arguments: (port: string, script: string) => readonly string[]
  /** The path that the project's pages begin with, with a slash at both ends. */
  readonly base: (top: string) => Promise<string>
}

const ASTRO_START = fileURLToPath(new URL('astro-start.mjs', import.meta.url))

const COMMANDS = new Map<string, Command>([
  [
    'next',
    {
      program: commandOf,
      // With the bundler that the project's own script asks for.
      arguments: (port, script) => [
        'dev',
        ...(/--(?:turbopack|turbo|webpack)\b/.exec(script) ?? []).slice(0, 1),
        '--port',
        port,
        '--hostname',
        '127.0.0.1',
      ],
      base: nextBase,
    },
  ],
  ['astro', { program: async () => ASTRO_START, arguments: (port) => [port], base: astroBase }],
])

async function readJson<T>(path: string): Promise<T | null> {
  try {
    return JSON.parse(await readFile(path, 'utf8')) as T
  } catch {
    return null
  }
}

/** The path of the command of a package that bears its name. @throws where it is not installed. */
async function commandOf(top: string): Promise<string> {
  const path = createRequire(join(top, 'package.json')).resolve(`${tool}/package.json`)
  const { bin } = (await readJson<{ bin: string | Readonly<Record<string, string>> }>(path))!
  return join(dirname(path), typeof bin === 'string' ? bin : bin[tool])
}

/** The project's own script of that command; empty where it has none. */
async function scriptOf(top: string): Promise<string> {
  const { scripts = {} } = (await readJson<{ scripts?: Readonly<Record<string, unknown>> }>(join(top, 'package.json'))) ?? {}
  return String(Object.values(scripts).find((s) => String(s).includes(`${tool} dev`)) ?? '')
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

/** As Next.js writes it down once it has started (`basePath`). */
async function nextBase(top: string): Promise<string> {
  for (const folder of ['.next/dev', '.next']) {
    const { basePath } = (await readJson<{ basePath?: unknown }>(join(top, folder, 'routes-manifest.json'))) ?? {}
    if (typeof basePath === 'string' && basePath.startsWith('/')) return `${basePath}/`
  }
  return '/'
}

/** As the settings of Astro say it, where that is a literal. */
async function astroBase(top: string): Promise<string> {
  for (const name of ['astro.config.mjs', 'astro.config.ts', 'astro.config.js']) {
    const text = await readFile(join(top, name), 'utf8').catch(() => '')
    const base = /^\s*base:\s*(['"])\/?(.*?)\/?\1/m.exec(text)?.[2]
    if (base) return `/${base}/`
  }
  return '/'
}

// What this process was started with is about another server.
const environment = () => ({
  ...Object.fromEntries(Object.entries(process.env).filter(([name]) => !/^(__NEXT|NEXT_(?!PUBLIC_)|TURBOPACK|NODE_CHANNEL_FD)/.test(name))),
  NODE_ENV: 'development' as const,
  NEXT_TELEMETRY_DISABLED: '1',
  ASTRO_TELEMETRY_DISABLED: '1',
})

try {
  const command = COMMANDS.get(tool)
  if (!command) throw new RangeError(`No command is known for ${tool}`)
  const mirror = await Mirror.make(process.cwd(), place)
  const port = await freePort()
  const child = spawn(process.execPath, [await command.program(mirror.at), ...command.arguments(String(port), await scriptOf(mirror.at))], {
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
  tellParent({ is: 'running', port, base: await command.base(mirror.at), root: mirror.at })
} catch (error) {
  tellParent({ is: 'failed', why: error instanceof Error ? error.message : String(error) })
  process.exit(1)
}
