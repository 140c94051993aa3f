import { beforeAll, beforeEach, describe, expect, test, vi } from 'vitest'
import { CACHE, encodedPath, HELD, OWN_PATH } from './protocol'

const ORIGIN = 'http://p1.localhost:7333'

/** What the cache has, by URL. */
const files = new Map<string, Response>()
/** Windows that the worker can ask, and what they answer for a held file. */
let windows: { url: string; answer: Blob | null | 'never' }[] = []

const listeners = new Map<string, (e: unknown) => void>()

beforeAll(async () => {
  vi.stubGlobal('self', {
    location: new URL(`${ORIGIN}${OWN_PATH}sw.js`),
    addEventListener: (type: string, listen: (e: unknown) => void) => listeners.set(type, listen),
    skipWaiting: () => Promise.resolve(),
    clients: {
      claim: () => Promise.resolve(),
      matchAll: async () =>
        windows.map(({ url, answer }) => ({
          url,
          postMessage: (_: unknown, [port]: MessagePort[]) => {
            if (answer !== 'never') port.postMessage(answer)
            port.close()
          },
        })),
    },
  })
  vi.stubGlobal('caches', {
    open: async (name: string) => {
      expect(name).toBe(CACHE)
      return { match: async (asked: Request | string) => files.get(typeof asked === 'string' ? asked : asked.url)?.clone() }
    },
  })
  // A relative address is one of the worker's own origin.
  vi.stubGlobal(
    'Request',
    class extends Request {
      constructor(input: string | URL | Request, init?: RequestInit) {
        super(typeof input === 'string' ? new URL(input, ORIGIN) : input, init)
      }
    },
  )
  await import('./service-worker')
})

beforeEach(() => {
  files.clear()
  windows = []
})

const put = (path: string, body: BodyInit | null, headers: Record<string, string> = {}) =>
  files.set(`${ORIGIN}/${encodedPath(path)}`, new Response(body, { headers: { 'content-type': 'text/plain', ...headers } }))

/** Asks as a page does; null where the worker leaves the request alone. */
async function ask(path: string, headers: Record<string, string> = {}, mode = 'no-cors'): Promise<Response | null> {
  let answer: Promise<Response> | null = null
  const url = path.startsWith('http') ? path : ORIGIN + path
  const request = { url, mode, headers: new Headers(headers) }
  listeners.get('fetch')!({ request, respondWith: (r: Promise<Response>) => (answer = r) })
  return answer
}
const read = async (path: string, headers: Record<string, string> = {}, mode?: string) => {
  const answer = await ask(path, headers, mode)
  return answer && { status: answer.status, text: await answer.text() }
}

describe('the files of a project, as they were published', () => {
  test('are found however their address is written, folders by their index', async () => {
    put('index.html', 'home')
    put('fähre/plan 1.html', 'plan')
    put('@scope/a.css', 'a')
    expect(await read('/')).toEqual({ status: 200, text: 'home' })
    for (const path of ['/f%C3%A4hre/plan%201.html', '/fähre/plan%201.html'])
      expect(await read(path)).toEqual({ status: 200, text: 'plan' })
    for (const path of ['/@scope/a.css', '/%40scope/a.css']) expect(await read(path)).toEqual({ status: 200, text: 'a' })
    put('notices/index.html', 'notices')
    expect(await read('/notices/')).toEqual({ status: 200, text: 'notices' })
  })

  test('what is ours and what is elsewhere is left alone', async () => {
    expect(await ask(`${OWN_PATH}agent.js`)).toBeNull()
    expect(await ask('https://elsewhere.example/a.css')).toBeNull()
  })

  test('what is missing is said: to a person as a page, to the page as a status', async () => {
    const page = await read('/gone.html', {}, 'navigate')
    expect(page?.status).toBe(404)
    expect(page?.text).toContain('gone.html is not in this project')
    const file = await ask('/gone.css')
    expect([file?.status, file?.headers.get('content-type')]).toEqual([404, 'text/plain; charset=utf-8'])
    // A malformed address is one that nothing is at.
    expect((await read('/100%.html'))?.status).toBe(404)
  })

  test('markup in an address that is missing is no markup of the page that says so', async () => {
    const page = await read('/%3Cscript%3Ealert(1)%3C%2Fscript%3E', {}, 'navigate')
    expect(page?.text).not.toContain('<script>alert(1)')
  })

  test.each([
    ['bytes=0-3', 206, '0123', 'bytes 0-3/10'],
    ['bytes=4-', 206, '456789', 'bytes 4-9/10'],
    ['bytes=-2', 206, '89', 'bytes 8-9/10'],
    ['bytes=8-99', 206, '89', 'bytes 8-9/10'],
    ['bytes=20-', 416, '', 'bytes */10'],
    ['lines=1-2', 200, '0123456789', null],
    ['bytes=-', 200, '0123456789', null],
  ])('a range %s (RFC 9110 §14)', async (range, status, text, said) => {
    put('film.webm', '0123456789')
    const answer = (await ask('/film.webm', { range }))!
    expect([answer.status, await answer.text(), answer.headers.get('content-range')]).toEqual([status, text, said])
  })
})

describe('a large file that the host frame holds', () => {
  beforeEach(() => put('chart.png', null, { [HELD]: '1', 'content-type': 'image/png' }))

  test('comes from it, in parts too, and without the note that it is held', async () => {
    windows = [
      { url: `${ORIGIN}/index.html`, answer: new Blob(['not asked']) },
      { url: `${ORIGIN}${OWN_PATH}host?studio=x`, answer: new Blob(['abcdef']) },
    ]
    const answer = (await ask('/chart.png'))!
    expect([answer.status, answer.headers.get('content-type'), answer.headers.has(HELD)]).toEqual([200, 'image/png', false])
    expect(await answer.text()).toBe('abcdef')
    expect(await read('/chart.png', { range: 'bytes=1-2' })).toEqual({ status: 206, text: 'bc' })
  })

  test('is said to be away where the window is closed', async () => {
    expect((await read('/chart.png'))?.status).toBe(503)
    windows = [{ url: `${ORIGIN}${OWN_PATH}host?studio=x`, answer: null }]
    expect((await read('/chart.png'))?.status).toBe(503)
  })
})
