/** Serves Steady Brush on this machine. `PORT` chooses the port, `STEADY_LIVE_ORIGIN` the live pages' address, `STEADY_HOST` further names of the interface. */
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import next from 'next'
import { liveOriginTemplate } from '../live/origin'
import { Hosts } from './hosts'
import { listenerFor, listenFrom, listenOnLoopback } from './listener'

const FIRST_PORT = 4310

const root = join(fileURLToPath(import.meta.url), '../../..')
// The routes of the interface read what came with it from there.
process.chdir(root)

const interfaceApp = next({ dev: false, dir: root })
const others = (process.env.STEADY_HOST ?? '').split(',').map((name) => name.trim().toLowerCase()).filter(Boolean)
const listenerOf = (port: number) => listenerFor(root, new Hosts(port, liveOriginTemplate(), others), interfaceApp.getRequestHandler())

try {
  await interfaceApp.prepare()
  const wanted = process.env.PORT ? Number(process.env.PORT) : null
  const { port, servers } = wanted === null ? await listenFrom(FIRST_PORT, listenerOf) : { port: wanted, servers: await listenOnLoopback(wanted, listenerOf(wanted)) }
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => {
    for (const server of servers) server.close()
    process.exit(0)
  })
  console.log(`Steady Brush is at http://localhost:${port} with its sample project, the Brinewick Ferry.`)
} catch (error) {
  const isTaken = (error as NodeJS.ErrnoException).code === 'EADDRINUSE'
  console.error(isTaken ? `Port ${process.env.PORT} is taken. Choose another with PORT.` : String(error))
  process.exit(1)
}
