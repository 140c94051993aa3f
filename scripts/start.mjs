/** Builds what is not built yet and serves Steady Brush. `PORT` chooses the port, `STEADY_LIVE_ORIGIN` the live pages' address. */
import { spawn, spawnSync } from 'node:child_process'
import { createServer } from 'node:net'
import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'

process.env.NEXT_TELEMETRY_DISABLED = '1'

const newest = (dir) => readdirSync(dir, { recursive: true, withFileTypes: true })
  .filter((e) => e.isFile()).reduce((t, e) => Math.max(t, statSync(join(e.parentPath, e.name)).mtimeMs), 0)

const isBuilt = () => {
  if (!existsSync('.next/BUILD_ID') || !existsSync('build/live/agent.js')) return false
  const built = statSync('.next/BUILD_ID').mtimeMs
  return newest('src') < built && statSync('package-lock.json').mtimeMs < built
}

const isFree = (port) => new Promise((done) => {
  const server = createServer()
  server.once('error', () => done(false))
  server.listen(port, () => server.close(() => done(true)))
})

async function freePort(from) {
  for (let port = from; port < from + 50; port++) if (await isFree(port)) return port
  throw new Error(`No free port from ${from} on`)
}

if (!isBuilt()) {
  console.log('Building Steady Brush; this takes about half a minute …')
  const { status } = spawnSync('npm', ['run', '--silent', 'build'], { stdio: ['ignore', 'inherit', 'inherit'] })
  if (status !== 0) process.exit(status ?? 1)
}

const port = process.env.PORT ? Number(process.env.PORT) : await freePort(4310)
const server = spawn('node', ['node_modules/next/dist/bin/next', 'start', '-p', String(port)], { stdio: ['ignore', 'pipe', 'inherit'] })
let told = false
server.stdout.on('data', (data) => {
  if (told || !/Ready/.test(String(data))) return
  told = true
  console.log(`Steady Brush is at http://localhost:${port} with its sample project, the Brinewick Ferry.`)
})
server.on('exit', (code) => process.exit(code ?? 0))
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal))
