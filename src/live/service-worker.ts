/// <reference lib="webworker" />
import { decodePath } from '../core/text'
import { byteRange } from './byte-range'
import { missingPage } from './our-page'
import { CACHE, HELD, keptPath, OWN_PATH, type HeldRequest } from './protocol'

declare const self: ServiceWorkerGlobalScope

self.addEventListener('install', () => void self.skipWaiting())
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()))

self.addEventListener('fetch', (e) => {
  const url = new URL(e.request.url)
  if (url.origin !== self.location.origin || url.pathname.startsWith(OWN_PATH)) return
  e.respondWith(serve(e.request, url))
})

async function serve(request: Request, url: URL): Promise<Response> {
  const cache = await caches.open(CACHE)
  const addressOf = (pathname: string) => url.origin + keptPath(pathname)
  const find = (pathname: string) => cache.match(new Request(addressOf(pathname)))
  const isFolder = url.pathname.endsWith('/')
  const wanted = isFolder ? `${url.pathname}index.html` : url.pathname
  const found = await find(wanted)
  if (found) {
    const body = found.headers.has(HELD) ? await heldByHost(addressOf(wanted)) : null
    if (body) return ranged(request, new Response(body, { headers: withoutHeld(found.headers) }))
    if (found.headers.has(HELD))
      return new Response('The window that shows this project is closed', {
        status: 503,
        headers: { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'no-store' },
      })
    return ranged(request, found)
  }
  if (!isFolder && (await find(`${url.pathname}/index.html`))) return Response.redirect(`${url.pathname}/${url.search}`, 301)
  const path = decodePath(url.pathname)
  const headers = {
    'content-type': 'text/html; charset=utf-8',
    'cache-control': 'no-store',
    'x-steady-missing': encodeURIComponent(path),
  }
  if (request.mode !== 'navigate')
    return new Response(`${path} is not in the project`, {
      status: 404,
      headers: { ...headers, 'content-type': 'text/plain; charset=utf-8' },
    })
  return new Response(missingPage(path), { status: 404, headers })
}

const withoutHeld = (headers: Headers): Headers => {
  const out = new Headers(headers)
  out.delete(HELD)
  return out
}

/** How long a host frame may take to answer; ms. */
const HELD_TIMEOUT = 5000

/** A large file, from the host frame that holds it; null where none does. */
async function heldByHost(address: string): Promise<Blob | null> {
  const frames = (await self.clients.matchAll({ type: 'window', includeUncontrolled: true })).filter((c) =>
    new URL(c.url).pathname.startsWith(`${OWN_PATH}host`),
  )
  for (const frame of frames) {
    const { port1, port2 } = new MessageChannel()
    const blob = await new Promise<Blob | null>((done) => {
      const timer = setTimeout(() => done(null), HELD_TIMEOUT)
      port1.onmessage = ({ data }) => {
        clearTimeout(timer)
        done(data instanceof Blob ? data : null)
      }
      frame.postMessage({ steadyHeld: address } satisfies HeldRequest, [port2])
    })
    if (blob) return blob
  }
  return null
}

// Media elements seek by byte ranges (RFC 9110 §14).
async function ranged(request: Request, response: Response): Promise<Response> {
  if (!request.headers.has('range')) return response
  const body = await response.blob()
  const range = byteRange(request.headers.get('range'), body.size)
  if (!range) return new Response(body, { headers: response.headers })
  if (range === 'none') return new Response(null, { status: 416, headers: { 'content-range': `bytes */${body.size}` } })
  const { from, to } = range
  const headers = new Headers(response.headers)
  headers.set('content-range', `bytes ${from}-${to}/${body.size}`)
  headers.set('content-length', String(to - from + 1))
  return new Response(body.slice(from, to + 1), { status: 206, headers })
}
