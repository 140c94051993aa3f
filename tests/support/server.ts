import { spawn, type ChildProcess } from 'node:child_process'
import { createServer } from 'node:net'

export async function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer()
    server.listen(0, () => {
      const { port } = server.address() as { port: number }
      server.close(() => done(port))
    })
  })
}

export interface RunningApp {
  readonly url: string
  /** What else it printed. */
  readonly printed: () => string
  /** What it printed: the way in, where it has a folder open. */
  readonly address: string
  readonly port: number
  stop(): void
}

/** Starts the built application, with a folder where one is given; builds it first when it is not. */
export async function startApp(env: Record<string, string> = {}, folder: string | null = null): Promise<RunningApp> {
  const port = env.PORT ? Number(env.PORT) : await freePort()
  const child: ChildProcess = spawn('node', ['scripts/start.mjs', ...(folder === null ? [] : [folder, '--no-open'])], {
    env: { ...process.env, ...env, PORT: String(port) },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  let text = ''
  const address = await new Promise<string>((done, fail) => {
    child.stdout!.on('data', (data) => {
      text += String(data)
      const found = /is at (http\S+) with .*\n/.exec(text)
      if (found) done(found[1])
    })
    child.once('exit', (code) => fail(new Error(`The application ended with ${code}`)))
  })
  return { url: `http://localhost:${port}`, address, printed: () => text, port, stop: () => void child.kill('SIGTERM') }
}
