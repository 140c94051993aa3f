import {
  CACHE,
  encodedPath,
  HELD,
  LARGE,
  OWN_PATH,
  type FromHost,
  type HeldRequest,
  type HostHello,
  type PublishedFile,
  type ToHost,
} from './protocol'

/** The host frame: puts files where the service worker finds them. Speaks only with the interface. */
const studio = document.documentElement.dataset.studio!
const hello = (message: HostHello) => parent.postMessage(message, studio)

const address = (path: string): string => `${location.origin}/${encodedPath(path)}`

/** Large files, by their URL. */
const held = new Map<string, Blob>()

function responseFor(file: PublishedFile): Response {
  // A page of another site must not be able to put a project's in a frame.
  const framed = file.type.startsWith('text/html') ? { 'content-security-policy': `frame-ancestors 'self' ${studio}` } : undefined
  const headers = { 'content-type': file.type, 'cache-control': 'no-store', 'accept-ranges': 'bytes', ...framed }
  const { body } = file
  held.delete(address(file.path))
  if (typeof body === 'string' || body.byteLength < LARGE) return new Response(body, { headers })
  held.set(address(file.path), new Blob([body], { type: file.type }))
  return new Response(null, { headers: { ...headers, [HELD]: '1' } })
}

async function carryOut(message: ToHost): Promise<void> {
  if (message.type === 'reset') {
    // On an origin that several projects share, none is to see another's files.
    held.clear()
    await caches.delete(CACHE)
    await caches.open(CACHE)
    return
  }
  const cache = await caches.open(CACHE)
  if (message.type === 'put') await Promise.all(message.files.map((f) => cache.put(address(f.path), responseFor(f))))
  else {
    for (const path of message.paths) held.delete(address(path))
    await Promise.all(message.paths.map((p) => cache.delete(address(p))))
  }
}

addEventListener('message', (e) => {
  if (e.source !== parent || e.origin !== studio || e.data?.steady !== 'port' || !e.ports[0]) return
  const port = e.ports[0]
  let queue = Promise.resolve()
  port.onmessage = ({ data }: MessageEvent<ToHost>) => {
    // In turn: a file put twice has to end as the later one.
    queue = queue.then(async () => {
      let answer: FromHost
      try {
        await carryOut(data)
        answer = { id: data.id, ok: true }
      } catch (error) {
        answer = { id: data.id, ok: false, error: String(error) }
      }
      port.postMessage(answer)
    })
  }
})

async function begin(): Promise<void> {
  if (!('serviceWorker' in navigator)) {
    hello({
      steadyHost: 'failed',
      reason: 'no-service-worker',
      detail: isSecureContext ? 'switched off' : 'not a secure context',
    })
    return
  }
  navigator.serviceWorker.addEventListener('message', ({ data, ports }: MessageEvent<HeldRequest>) =>
    ports[0]?.postMessage(held.get(data.steadyHeld) ?? null),
  )
  navigator.serviceWorker.startMessages()
  try {
    const url = `${OWN_PATH}sw.js?${document.documentElement.dataset.worker}`
    // The same worker is not asked for again: that waits for the browser's own look for another one, for over a second.
    const before = await navigator.serviceWorker.getRegistration('/')
    if (before?.active?.state === 'activated' && before.active.scriptURL === location.origin + url) return hello({ steadyHost: 'ready' })
    const registration = await navigator.serviceWorker.register(url, { scope: '/', updateViaCache: 'none' })
    const worker = registration.installing ?? registration.waiting
    if (worker) {
      await new Promise<void>((done, fail) => {
        const look = () => {
          if (worker.state === 'activated') done()
          else if (worker.state === 'redundant' && !registration.active) fail(new Error('the service worker was discarded'))
          else if (worker.state === 'redundant') done()
        }
        worker.addEventListener('statechange', look)
        look()
      })
    }
    hello({ steadyHost: 'ready' })
  } catch (error) {
    hello({ steadyHost: 'failed', reason: 'refused', detail: String(error) })
  }
}

// A page of another project could put this frame in itself; only the interface, at the top, is answered.
if (parent === top && parent !== window) void begin()
