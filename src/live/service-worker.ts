/// <reference lib="webworker" />
import { ourPage } from './our-page'
import { CACHE, keptPath, OWN_PATH } from './protocol'

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
  const find = (pathname: string) => cache.match(new Request(url.origin + keptPath(pathname)))
  const isFolder = url.pathname.endsWith('/')
  const found = await find(isFolder ? `${url.pathname}index.html` : url.pathname)
  if (found) return ranged(request, found)
  if (!isFolder && (await find(`${url.pathname}/index.html`))) return Response.redirect(`${url.pathname}/${url.search}`, 301)
  const path = safeDecode(url.pathname)
  const headers = { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store', 'x-steady-missing': encodeURIComponent(path) }
  if (request.mode !== 'navigate') return new Response(`${path} is not in the project`, { status: 404, headers: { ...headers, 'content-type': 'text/plain; charset=utf-8' } })
  const page = ourPage(`${path} is not in this project`, [
    'The page asked for a file that the project does not have.',
    'Check the link that led here, or open another page from the address field.',
  ])
  return new Response(page, { status: 404, headers })
}

const safeDecode = (path: string): string => {
  try {
    return decodeURIComponent(path)
  } catch {
    return path
  }
}

// Media elements seek by byte ranges (RFC 9110 §14).
async function ranged(request: Request, response: Response): Promise<Response> {
  const range = /^bytes=(\d*)-(\d*)$/.exec(request.headers.get('range') ?? '')
  if (!range || (!range[1] && !range[2])) return response
  const body = await response.arrayBuffer()
  const from = range[1] ? Number(range[1]) : Math.max(0, body.byteLength - Number(range[2]))
  const to = range[1] && range[2] ? Math.min(Number(range[2]), body.byteLength - 1) : body.byteLength - 1
  if (from > to) return new Response(null, { status: 416, headers: { 'content-range': `bytes */${body.byteLength}` } })
  const headers = new Headers(response.headers)
  headers.set('content-range', `bytes ${from}-${to}/${body.byteLength}`)
  headers.set('content-length', String(to - from + 1))
  return new Response(body.slice(from, to + 1), { status: 206, headers })
}
