import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { ServedPages } from '../folder'
import type { PublishedFile } from '../live/protocol'
import { FolderPageServer } from './folder-page-server'
import { LiveFaultError } from './live-fault'

const TEMPLATE = 'http://{project}.live.localhost:{port}'
const file = (path: string, body = path): PublishedFile => ({ path, body, type: 'text/html' })
const rest = (ms = 0) => new Promise((go) => setTimeout(go, ms))

/** A server of this machine that notes what it has been given, after so long for each. */
function served(delays: () => number = () => 0) {
  const given = new Map<string, string | null>()
  const opened: string[] = []
  let wanted: { host: string; path: string }[] = []
  let tell = () => {}
  let isGone = false
  const pages: ServedPages = {
    open: async (host: string) => {
      if (isGone) throw new Error('Nothing answers.')
      opened.push(host)
    },
    give: async (_host: string, files: readonly PublishedFile[]) => {
      await rest(delays())
      for (const f of files) given.set(f.path, String(f.body))
    },
    refuse: async (_host: string, path: string) => void given.set(path, null),
    wanted: async () => wanted,
    watch: (heard: () => void) => {
      tell = heard
      return () => (tell = () => {})
    },
  } as unknown as ServedPages
  const want = async (paths: readonly string[], host = opened.at(-1)!) => {
    wanted = paths.map((path) => ({ host, path }))
    tell()
    await rest()
  }
  return { pages, given, opened, want, end: () => (isGone = true) }
}

function serverOf(
  of: ReturnType<typeof served>,
  page: (path: string) => Promise<readonly PublishedFile[] | null> = async (path) => [file(path)],
) {
  return new FolderPageServer('q1-a2b3', TEMPLATE, '4310', of.pages, { given: async (path) => [file(path, 'first')], page })
}

test('opened, its host is known and the page that is to be shown is given; any other once a page wants it', async () => {
  const of = served()
  const server = serverOf(of, async (path) => (path === 'gone.html' ? null : [file(path)]))
  const progress: number[][] = []
  expect(await server.open('index.html', (done, all) => progress.push([done, all]))).toBe(true)
  expect([of.opened, progress, [...of.given]]).toEqual([
    ['q1-a2b3.live.localhost:4310'],
    [
      [0, 1],
      [1, 1],
    ],
    [['index.html', 'first']],
  ])
  expect(server.urlOf('fares.html')).toBe('http://q1-a2b3.live.localhost:4310/fares.html')
  await of.want(['fares.html', 'gone.html'])
  await server.whole()
  expect([of.given.get('fares.html'), of.given.get('gone.html')]).toEqual(['fares.html', null])
  // What a page of another project wants is none of its business.
  await of.want(['other.html'], 'q2.live.localhost:4310')
  await server.whole()
  expect(of.given.has('other.html')).toBe(false)
})

test('what is shown later takes the place of what was asked for before, however long each takes', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(fc.boolean(), fc.nat(3)), { minLength: 2, maxLength: 12 }), async (acts) => {
      const delays = acts.map(([, delay]) => delay)
      const of = served(() => delays.shift() ?? 0)
      let text = 0
      // A page is read when its turn comes: it has what was edited by then.
      const server = serverOf(of, async (path) => [file(path, String(text))])
      await server.open('index.html', () => {})
      for (const [isEdit] of acts) {
        if (isEdit) void server.show([file('a.html', String(++text))])
        else await of.want(['a.html'])
      }
      await server.whole()
      if (text > 0 || acts.some(([isEdit]) => !isEdit)) expect(of.given.get('a.html')).toBe(String(text))
    }),
    { numRuns: 20 },
  )
})

test('a page that fails to be read keeps no other from being given, and can be wanted again', async () => {
  const of = served()
  let fails = true
  const server = serverOf(of, async (path) => {
    if (path === 'a.html' && fails) throw new Error('not read')
    return [file(path)]
  })
  await server.open('index.html', () => {})
  await of.want(['a.html', 'b.html'])
  await server.whole()
  expect([of.given.has('a.html'), of.given.get('b.html')]).toEqual([false, 'b.html'])
  fails = false
  await of.want(['a.html'])
  await server.whole()
  expect(of.given.get('a.html')).toBe('a.html')
})

test('a server that is gone is said, with what to do; cancelled, no page is shown; closed, nothing is given any more', async () => {
  const gone = served()
  gone.end()
  const fault = await serverOf(gone)
    .open('index.html', () => {})
    .catch((error: unknown) => error)
  expect(fault).toBeInstanceOf(LiveFaultError)
  expect((fault as LiveFaultError).fault).toMatchObject({ title: 'The server does not answer', detail: 'Nothing answers.' })
  const of = served()
  const server = serverOf(of)
  server.cancel()
  expect(await server.open('index.html', () => {})).toBe(false)
  // Started again, it is another origin, which a page that hangs does not hold up.
  server.restart()
  expect(server.origin).toBe('http://q1-a2b3--2.live.localhost:4310')
  expect(await server.open('index.html', () => {})).toBe(true)
  server.close()
  await of.want(['late.html'])
  await server.whole()
  expect(of.given.has('late.html')).toBe(false)
})
