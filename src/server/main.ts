/**
 * Serves Steady Brush on this machine: `steady-brush [folder] [--port N] [--no-open]`. `STEADY_LIVE_ORIGIN` sets the live
 * pages' address, `STEADY_HOST` further names of the interface.
 */
import { createServer, type Server } from 'node:http'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import next from 'next'
import { liveOriginTemplate } from '../live/origin'
import { Access, OPEN_PATH } from './access'
import { ASSISTANT_PATH } from './assistant'
import { DevPage } from './dev'
import { FolderRoutes } from './folder-routes'
import { Hosts } from './hosts'
import { listFolder, TooManyFiles } from './list-folder'
import { listenerFor, listenFrom, listenOnLoopback } from './listener'
import { openBrowser } from './open-browser'
import { readOptions, StartError } from './options'
import { FolderWatch } from './watch-folder'

const FIRST_PORT = 4310

const root = join(fileURLToPath(import.meta.url), '../../..')

// A terminal or a pipe that is closed takes no more words: to tell that there would be one more that it does not take, without end.
for (const stream of [process.stdout, process.stderr]) stream.on('error', () => {})

async function start(): Promise<void> {
  const { folder, port: wanted, opens } = await readOptions(process.argv.slice(2), process.cwd(), process.env)
  // The routes of the interface read what came with it from there.
  process.chdir(root)
  // It listens for web sockets on this one, and would close those of live pages.
  const interfaceApp = next({ dev: false, dir: root, httpServer: createServer() })
  await interfaceApp.prepare()
  const serveInterface = interfaceApp.getRequestHandler()
  if (folder !== null) {
    console.log(`Looking through ${folder} …`)
    const { files, leftOut } = await listFolder(folder, new Set())
    console.log(
      `${files.length} files${
        leftOut.length
          ? `; left out: ${leftOut
              .slice(0, 5)
              .map((l) => l.path)
              .join(', ')}${leftOut.length > 5 ? ` and ${leftOut.length - 5} more` : ''}`
          : ''
      }.`,
    )
  }
  const others = (process.env.STEADY_HOST ?? '')
    .split(',')
    .map((name) => name.trim().toLowerCase())
    .filter(Boolean)
  // What answers for the folder is there once the port is known, which names its cookie.
  let routes: FolderRoutes | null = null
  let dev: DevPage | null = null
  const { port, servers } = await listen(wanted, (at) =>
    listenerFor(
      root,
      new Hosts(at, liveOriginTemplate(), others),
      async (request, response) => {
        if (!(await routes?.answer(request, response))) await serveInterface(request, response)
      },
      async (request, response) => {
        const { host } = request.headers
        if (dev?.isFor(host)) await dev.forward(request, response)
        else if (routes?.pages.isFor(host)) await routes.pages.answer(request, response)
        else return false
        return true
      },
    ),
  )
  const opened = folder === null ? null : { access: new Access(port), watch: new FolderWatch(folder) }
  if (folder !== null && opened) {
    dev = new DevPage(folder, join(root, 'build', 'server'), () => opened.watch.say('dev'))
    const hosts = new Hosts(port, liveOriginTemplate(), others)
    routes = await FolderRoutes.open(folder, opened.access, opened.watch, { page: dev, isLive: (host) => hosts.kindOf(host) === 'live' })
  }
  for (const server of servers)
    server.on('upgrade', (request, socket, head) => {
      if (dev?.isFor(request.headers.host)) dev.upgrade(request, socket, head)
      else socket.destroy()
    })
  for (const signal of ['SIGINT', 'SIGTERM'] as const)
    process.on(signal, () => {
      for (const server of servers) server.close()
      void Promise.all([opened?.watch.close(), dev?.close()]).finally(() => process.exit(0))
    })
  const address = `http://localhost:${port}${opened ? OPEN_PATH + opened.access.secret : ''}`
  console.log(`Steady Brush is at ${address} with ${folder ?? 'its sample project, the Brinewick Ferry'}.`)
  if (opened)
    console.log(`Assistants that speak the Model Context Protocol: http://localhost:${port}${ASSISTANT_PATH}${opened.access.secret}`)
  if (opens) openBrowser(address)
}

async function listen(
  wanted: number | null,
  listenerOf: Parameters<typeof listenFrom>[1],
): Promise<{ readonly port: number; readonly servers: readonly Server[] }> {
  if (wanted === null) return listenFrom(FIRST_PORT, listenerOf)
  try {
    return { port: wanted, servers: await listenOnLoopback(wanted, listenerOf(wanted)) }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
    throw new StartError(`Port ${wanted} is taken. Choose another with --port.`)
  }
}

try {
  await start()
} catch (error) {
  console.error(error instanceof StartError || error instanceof TooManyFiles ? error.message : error)
  process.exit(1)
}
