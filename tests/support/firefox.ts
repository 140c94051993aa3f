import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import WebSocket from 'ws'

/** What its first start would ask, fetch or tell. */
const PREFERENCES: Readonly<Record<string, string | number | boolean>> = {
  'browser.shell.checkDefaultBrowser': false,
  'browser.startup.homepage_override.mstone': 'ignore',
  'browser.aboutwelcome.enabled': false,
  'datareporting.policy.dataSubmissionEnabled': false,
  'toolkit.telemetry.enabled': false,
  'app.update.enabled': false,
  'app.normandy.enabled': false,
  'browser.safebrowsing.malware.enabled': false,
  'browser.safebrowsing.phishing.enabled': false,
  'network.captive-portal-service.enabled': false,
  'extensions.update.enabled': false,
  'network.connectivity-service.enabled': false,
}

const WAIT = 30_000

type Remote = { readonly type: string; readonly value?: unknown }

/** Firefox without a window, spoken with over WebDriver BiDi (https://w3c.github.io/webdriver-bidi/). */
export class Firefox {
  private last = 0
  private readonly waiting = new Map<number, { done: (result: unknown) => void; fail: (error: Error) => void }>()
  private context = ''

  private constructor(
    private readonly child: ChildProcess,
    private readonly profile: string,
    private readonly socket: WebSocket,
  ) {
    socket.on('message', (data) => {
      const { id, type, result, message, error } = JSON.parse(String(data)) as {
        id?: number
        type: string
        result?: unknown
        message?: string
        error?: string
      }
      const waiter = id === undefined ? undefined : this.waiting.get(id)
      if (!waiter) return
      this.waiting.delete(id!)
      if (type === 'success') waiter.done(result)
      else waiter.fail(new Error(`${error}: ${message}`))
    })
  }

  static async open(): Promise<Firefox> {
    const profile = mkdtempSync(join(tmpdir(), 'firefox-'))
    writeFileSync(
      join(profile, 'user.js'),
      Object.entries(PREFERENCES)
        .map(([name, value]) => `user_pref(${JSON.stringify(name)}, ${JSON.stringify(value)});\n`)
        .join(''),
    )
    const child = spawn(
      'firefox-esr',
      ['--headless', '--no-remote', '--profile', profile, '--remote-debugging-port', '0', '--width', '1280', '--height', '800'],
      { stdio: ['ignore', 'ignore', 'pipe'], env: { ...process.env, HOME: profile, MOZ_DISABLE_CONTENT_SANDBOX: '1' } },
    )
    const address = await new Promise<string>((done, fail) => {
      let said = ''
      child.stderr!.on('data', (part) => {
        said += String(part)
        const found = /WebDriver BiDi listening on (ws:\/\/\S+)/.exec(said)
        if (found) done(found[1])
      })
      child.once('exit', (code) => fail(new Error(`Firefox ended with ${code}: ${said.slice(-500)}`)))
      setTimeout(() => fail(new Error(`Firefox did not start: ${said.slice(-500)}`)), WAIT).unref()
    })
    const socket = new WebSocket(`${address}/session`)
    await new Promise((done, fail) => socket.once('open', done).once('error', fail))
    const browser = new Firefox(child, profile, socket)
    await browser.send('session.new', { capabilities: {} })
    const { contexts } = (await browser.send('browsingContext.getTree', {})) as { contexts: { context: string }[] }
    browser.context = contexts[0].context
    await browser.send('browsingContext.setViewport', {
      context: browser.context,
      viewport: { width: 1280, height: 800 },
    })
    return browser
  }

  private send(method: string, params: object): Promise<unknown> {
    const id = ++this.last
    return new Promise((done, fail) => {
      this.waiting.set(id, { done, fail })
      this.socket.send(JSON.stringify({ id, method, params }))
    })
  }

  async goTo(url: string): Promise<void> {
    const navigate = () => this.send('browsingContext.navigate', { context: this.context, url, wait: 'complete' })
    // Where the page before is still being loaded, Firefox ends both.
    await navigate().catch(async (error: Error) => {
      if (!error.message.includes('NS_BINDING_ABORTED')) throw error
      await navigate()
    })
  }

  /** The value of an expression, which may be a promise; its JSON crosses. */
  async evaluate<T>(expression: string): Promise<T> {
    const { type, result, exceptionDetails } = (await this.send('script.evaluate', {
      expression: `(async () => JSON.stringify(await (${expression})))()`,
      target: { context: this.context },
      awaitPromise: true,
    })) as { type: string; result?: Remote; exceptionDetails?: { text: string } }
    if (type !== 'success') throw new Error(exceptionDetails?.text ?? 'the script failed')
    return (result!.value === undefined ? undefined : JSON.parse(String(result!.value))) as T
  }

  async until<T>(what: string, expression: string): Promise<T> {
    for (const end = Date.now() + WAIT; Date.now() < end; await new Promise((done) => setTimeout(done, 50))) {
      const value = await this.evaluate<T>(expression).catch(() => null)
      if (value) return value
    }
    throw new Error(`waited for: ${what}`)
  }

  /** Presses the pointer at a point, moves it by some px in steps, and lets it go. */
  async drag(x: number, y: number, by = 0): Promise<void> {
    const steps =
      by === 0 ? [] : [3, by / 2, by].map((dx) => ({ type: 'pointerMove', x: Math.round(x + dx), y: Math.round(y), duration: 30 }))
    await this.send('input.performActions', {
      context: this.context,
      actions: [
        {
          type: 'pointer',
          id: 'mouse',
          actions: [
            { type: 'pointerMove', x: Math.round(x), y: Math.round(y) },
            { type: 'pointerDown', button: 0 },
            ...steps,
            { type: 'pointerUp', button: 0 },
          ],
        },
      ],
    })
  }

  async close(): Promise<void> {
    await this.send('browser.close', {}).catch(() => {})
    this.socket.close()
    if (this.child.exitCode === null)
      await Promise.race([new Promise((done) => this.child.once('exit', done)), new Promise((done) => setTimeout(done, 5000))])
    this.child.kill('SIGKILL')
    rmSync(this.profile, { recursive: true, force: true, maxRetries: 5 })
  }
}
