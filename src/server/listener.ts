import { createServer, type IncomingMessage, type RequestListener, type Server, type ServerResponse } from 'node:http'
import { OWN_PATH } from '../live/protocol'
import type { Hosts } from './hosts'
import { serveLiveAsset } from './live-assets'

type Serve = (request: IncomingMessage, response: ServerResponse) => Promise<void>
/** Serves a live page that no service worker does; whether it did. */
type ServeLive = (request: IncomingMessage, response: ServerResponse) => Promise<boolean>

/** Answers each request by the address it came to: the interface's goes to `serveInterface`, live pages that the server has itself to `serveLive`; an address that is none of ours is refused. */
export function listenerFor(root: string, hosts: Hosts, serveInterface: Serve, serveLive: ServeLive = async () => false): RequestListener {
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const kind = hosts.kindOf(request.headers.host)
    if (kind === 'unknown') {
      // RFC 9110 §15.5.20.
      response
        .writeHead(421, { 'content-type': 'text/plain; charset=utf-8' })
        .end('Steady Brush does not answer for this address. Open the address that it printed when it started.')
      return
    }
    const path = request.url ?? '/'
    if (!URL.canParse(path, 'http://ours')) {
      response.writeHead(400).end()
      return
    }
    const url = new URL(path, 'http://ours')
    if (kind === 'live' && !url.pathname.startsWith(OWN_PATH) && (await serveLive(request, response))) return
    if (kind === 'live') return serveLiveAsset(root, hosts, url, response)
    // A live page must not be able to put the interface in a frame.
    response.setHeader('content-security-policy', "frame-ancestors 'none'")
    await serveInterface(request, response)
  }
  return (request, response) => {
    answer(request, response).catch((error: unknown) => {
      console.error(error)
      if (!response.headersSent) response.writeHead(500)
      response.end()
    })
  }
}

const listening = (server: Server, port: number, host: string): Promise<void> =>
  new Promise((done, fail) => {
    server.once('error', fail)
    server.listen({ port, host, exclusive: true }, () => {
      server.off('error', fail)
      done()
    })
  })

/** Listens on this machine's loopback addresses only (RFC 6890 §2.2), by IPv6 too where it has that. @throws Error when the port is taken. */
export async function listenOnLoopback(port: number, listener: RequestListener): Promise<readonly Server[]> {
  const four = createServer(listener)
  await listening(four, port, '127.0.0.1')
  const six = createServer(listener)
  try {
    await listening(six, port, '::1')
    return [four, six]
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EADDRINUSE') {
      four.close()
      throw error
    }
    return [four]
  }
}

const MOST_TRIES = 50

/** The same on the first port from `from` on that is free; `listenerOf` gives what listens there. */
export async function listenFrom(
  from: number,
  listenerOf: (port: number) => RequestListener,
): Promise<{ readonly port: number; readonly servers: readonly Server[] }> {
  for (let port = from; port < from + MOST_TRIES; port++) {
    try {
      return { port, servers: await listenOnLoopback(port, listenerOf(port)) }
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EADDRINUSE') throw error
    }
  }
  throw new Error(`No port from ${from} to ${from + MOST_TRIES - 1} is free.`)
}
