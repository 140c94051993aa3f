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
  readonly port: number
  stop(): void
}

/** Starts the built application; builds it first when it is not. */
export async function startApp(env: Record<string, string> = {}): Promise<RunningApp> {
  const port = await freePort()
  const child: ChildProcess = spawn('node', ['scripts/start.mjs'], { env: { ...process.env, ...env, PORT: String(port) }, stdio: ['ignore', 'pipe', 'inherit'] })
  await new Promise<void>((done, fail) => {
    child.stdout!.on('data', (data) => {
      if (/is at http/.test(String(data))) done()
    })
    child.once('exit', (code) => fail(new Error(`The application ended with ${code}`)))
  })
  return { url: `http://localhost:${port}`, port, stop: () => void child.kill('SIGTERM') }
}
