import { fork, type ChildProcess } from 'node:child_process'
import { once } from 'node:events'
import { mkdtemp, rm, stat } from 'node:fs/promises'
import { connect } from 'node:net'
import { homedir, tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { stripVTControlCharacters } from 'node:util'
import type { DevReport, DevState, DevTool, UnsavedText } from '../../folder'
import { recogniseDevProject } from './dev-project'
import type { FromChild, ToChild } from './child-messages'

/** Lines of what a server prints that are kept, and how long each may be. */
const MOST_LINES = 200
const LONGEST_LINE = 2000

/** How long a server may take until it answers; ms. */
const PATIENCE = 60_000

/** How long one that runs already may take to take a connection; ms. */
const ANSWER = 3000

/** How often one that the person started is looked for; ms. */
const LOOK = 2000

/** Ports that development servers listen on by themselves. */
const USUAL_PORTS: readonly number[] = [5173, 5174, 3000, 3001, 4321, 8080, 8000, 4200]

const LOOPBACK: ReadonlySet<string> = new Set(['localhost', '127.0.0.1', '[::1]'])

// Whether something listens there; what it says does not matter yet.
function answers({ hostname, port, protocol }: URL): Promise<boolean> {
  return new Promise((done) => {
    const host = hostname.replace(/^\[|\]$/g, '')
    const socket = connect({ host, port: Number(port) || (protocol === 'https:' ? 443 : 80), timeout: ANSWER })
    const end = (is: boolean) => {
      socket.destroy()
      done(is)
    }
    socket.once('connect', () => end(true))
    socket.once('timeout', () => end(false))
    socket.once('error', () => end(false))
  })
}

/** The scripts that run a project's own server, by what it is. */
const CHILDREN: Readonly<Partial<Record<DevTool, string>>> = { vite: 'vite-child.mjs', next: 'copy-child.mjs', astro: 'copy-child.mjs' }

/** A new folder of ours, on the file system of the project where that can be: a copy of its packages takes no room there. */
async function ownFolder(root: string): Promise<string> {
  const { dev } = await stat(root)
  const places = [tmpdir(), process.env.XDG_CACHE_HOME ?? join(homedir(), '.cache')]
  const isSame = await Promise.all(
    places.map((place) =>
      stat(place).then(
        (found) => found.dev === dev,
        () => false,
      ),
    ),
  )
  return mkdtemp(join(places[Math.max(0, isSame.indexOf(true))], 'steady-brush-'))
}

/** The development server of a folder: started here, or running already at an address that the person gave. */
export class DevServer {
  private state: DevState = { is: 'off' }
  private child: ChildProcess | null = null
  private cache: string | null = null
  private output: string[] = []
  private starting: Promise<void> | null = null

  /**
   * `children` is the folder of the scripts that run in processes of their own; `onChange` is called when one that ran has
   * ended by itself, or answers again; `patience` is how long one may take until it answers, `look` how often one that the
   * person started is looked for, in ms.
   */
  constructor(
    private readonly root: string,
    private readonly children: string,
    private readonly onChange: () => void,
    private readonly patience = PATIENCE,
    private readonly look = LOOK,
  ) {}

  /** Where the pages come from; null while they come from nowhere. */
  get target(): string | null {
    return this.state.is === 'running' ? this.state.address : null
  }

  /** The path that the project's pages begin with, of a server that the person started; null where it is ours. */
  get base(): string | null {
    return this.state.is === 'running' && !this.state.isOurs ? this.state.base : null
  }

  async report(): Promise<DevReport> {
    const found = this.state.is === 'running' ? [] : await this.othersRunning()
    return { project: await recogniseDevProject(this.root), state: this.state, output: this.output, found }
  }

  private async othersRunning(): Promise<string[]> {
    const urls = USUAL_PORTS.map((port) => new URL(`http://localhost:${port}`))
    const answering = await Promise.all(urls.map(answers))
    return urls.filter((_, i) => answering[i]).map((url) => url.origin)
  }

  /** Starts it, unless it runs and is not to be started `again`; ends once it answers or has failed. */
  async start(again: boolean): Promise<void> {
    if (again) {
      this.stop()
      // One that was being started has ended then.
      await this.starting
    }
    if (this.state.is === 'running') return
    this.starting ??= this.startNow().finally(() => (this.starting = null))
    await this.starting
  }

  /** Counts what the server was asked to be: a start that another word came after changes nothing any more. */
  private turn = 0

  private async startNow(): Promise<void> {
    const turn = ++this.turn
    const project = await recogniseDevProject(this.root)
    if (turn !== this.turn) return
    if (!project?.canStart || !project.isInstalled || !(project.tool in CHILDREN)) {
      this.state = { is: 'failed', why: project ? `${project.name} cannot be started from here.` : 'Nothing here is known to be started.' }
      return
    }
    this.state = { is: 'starting' }
    this.output = []
    this.cache ??= await ownFolder(this.root)
    if (turn !== this.turn) return
    const child = fork(join(this.children, CHILDREN[project.tool]!), [this.cache, project.tool], {
      cwd: this.root,
      // The project's packages are to run as they do in development, whatever this server runs as.
      env: { ...process.env, NODE_ENV: 'development', FORCE_COLOR: '0' },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
      // What this process was started with, such as a port for a debugger, is its own.
      execArgv: [],
    })
    this.child = child
    for (const stream of [child.stdout, child.stderr])
      if (stream) createInterface({ input: stream.setEncoding('utf8') }).on('line', (line) => turn === this.turn && this.note(line))
    const state = await new Promise<DevState>((done) => {
      const late = setTimeout(() => {
        child.kill()
        done({ is: 'failed', why: `It did not answer within ${this.patience / 1000} seconds.` })
      }, this.patience)
      child.once('message', (message: FromChild) => {
        clearTimeout(late)
        if (message.is === 'shown') return
        done(
          message.is === 'running'
            ? { is: 'running', address: `http://127.0.0.1:${message.port}`, base: message.base, root: message.root, isOurs: true }
            : { is: 'failed', why: message.why },
        )
      })
      child.once('exit', (code) => {
        clearTimeout(late)
        done({ is: 'failed', why: `It ended${code === null ? '' : ` with ${code}`}.` })
      })
    })
    if (turn !== this.turn) return
    this.state = state
    child.once('exit', (code) => {
      if (this.child !== child) return
      this.child = null
      if (this.state.is !== 'running') return
      this.state = { is: 'failed', why: `It ended${code === null ? '' : ` with ${code}`} while its page was open.` }
      this.onChange()
    })
  }

  private asked = 0

  /** Has the pages show these texts in place of files; ends once they are asked for. Nothing happens with a server that is not ours. */
  async showTexts(files: readonly UnsavedText[], alone: boolean): Promise<void> {
    const { child } = this
    if (!child?.connected) return
    const id = ++this.asked
    await new Promise<void>((done) => {
      const end = () => {
        child.off('message', heard)
        child.off('exit', end)
        clearTimeout(late)
        done()
      }
      const heard = (message: FromChild) => message.is === 'shown' && message.id === id && end()
      const late = setTimeout(end, ANSWER)
      child.on('message', heard)
      child.once('exit', end)
      child.send({ is: 'texts', id, files, alone } satisfies ToChild)
    })
  }

  /** Uses a server that runs already; a text for why it cannot be. Only one on this machine: what it serves gets a script of ours. */
  async use(address: string): Promise<string | null> {
    const url = URL.canParse(address) ? new URL(address) : null
    if (!url || !/^https?:$/.test(url.protocol)) return `${JSON.stringify(address)} is no address. It looks like http://localhost:5173.`
    if (!LOOPBACK.has(url.hostname)) return `${url.host} is not on this machine. Give an address such as http://localhost:5173.`
    if (!(await answers(url))) return `Nothing answers at ${url.origin}.`
    this.stop()
    this.state = {
      is: 'running',
      address: url.origin,
      base: url.pathname.endsWith('/') ? url.pathname : '/',
      root: this.root,
      isOurs: false,
    }
    this.lookFor(url, this.state)
    return null
  }

  // One that begins again takes a moment, which is nothing to speak of: it is gone when it was looked for twice.
  private lookFor(url: URL, running: DevState): void {
    const { turn } = this
    let misses = 0
    const lookOnce = async () => {
      const isThere = await answers(url)
      if (turn !== this.turn) return
      misses = isThere ? 0 : misses + 1
      if (misses === 2) {
        this.state = { is: 'failed', why: `Nothing answers at ${url.origin} any more.`, address: url.origin }
        this.onChange()
      } else if (isThere && this.state.is === 'failed') {
        this.state = running
        this.onChange()
      }
      setTimeout(() => void lookOnce(), this.look).unref()
    }
    setTimeout(() => void lookOnce(), this.look).unref()
  }

  private note(line: string): void {
    const text = stripVTControlCharacters(line).trimEnd().slice(0, LONGEST_LINE)
    if (text) this.output = [...this.output, text].slice(-MOST_LINES)
  }

  stop(): void {
    this.turn++
    const { child } = this
    this.child = null
    this.state = { is: 'off' }
    child?.kill()
  }

  async close(): Promise<void> {
    const { child } = this
    this.stop()
    await this.starting
    // What it still writes would be left behind.
    if (child && child.exitCode === null && child.signalCode === null) await once(child, 'exit')
    if (this.cache !== null) await rm(this.cache, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 })
  }
}
