import { once } from 'node:events'
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs'
import { createServer, request, type IncomingHttpHeaders, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { FolderPages } from './folder-pages'

const HOST = 'quay--k3y.live.localhost'
const STUDIO = 'http://localhost:4310'

let root: string
let pages: FolderPages
let server: Server
let wanted: number

/** What is asked of a live page, by the address as it is written. */
function ask(path: string, headers: Record<string, string> = {}, host = HOST) {
  return new Promise<{ status: number; headers: IncomingHttpHeaders; body: string }>((done, fail) => {
    const { port } = server.address() as AddressInfo
    const going = request({ host: '127.0.0.1', port, path, headers: { host, ...headers } }, (answer) => {
      const parts: Buffer[] = []
      answer.on('data', (part: Buffer) => parts.push(part))
      answer.on('end', () => done({ status: answer.statusCode!, headers: answer.headers, body: Buffer.concat(parts).toString() }))
    })
    going.on('error', fail).end()
  })
}

const bytes = (text: string) => new TextEncoder().encode(text)
const LISTED = ['index.html', 'tides/index.html', 'quay.css', 'films/ferry.mp4', 'a b ü.css', 'way-out.css', 'gone.css']

beforeEach(async () => {
  root = mkdtempSync(join(tmpdir(), 'quay-'))
  for (const folder of ['tides', 'films', '.git']) mkdirSync(join(root, folder))
  writeFileSync(join(root, 'index.html'), 'from the disk')
  writeFileSync(join(root, 'tides', 'index.html'), 'tides')
  writeFileSync(join(root, 'quay.css'), '.quay {}')
  writeFileSync(join(root, 'a b ü.css'), '.b {}')
  writeFileSync(join(root, '.git', 'config'), 'secret')
  writeFileSync(join(root, 'films', 'ferry.mp4'), Buffer.from(Array.from({ length: 1000 }, (_, i) => 65 + (i % 26))))
  symlinkSync('/etc/hostname', join(root, 'way-out.css'))
  wanted = 0
  pages = new FolderPages(
    root,
    async (path) => LISTED.includes(path),
    () => wanted++,
  )
  pages.open(HOST, STUDIO)
  server = createServer((asked, answer) => {
    if (!pages.isFor(asked.headers.host)) return void answer.writeHead(421).end()
    pages.answer(asked, answer).catch((error: unknown) => answer.writeHead(500).end(String(error)))
  }).listen(0, '127.0.0.1')
  await once(server, 'listening')
})
afterEach(() => {
  server.close()
  rmSync(root, { recursive: true })
})

test('a page is asked of the window, for all that wait for it at once, and never taken from the disk as it is', async () => {
  const both = [ask('/'), ask('/index.html')]
  await expect.poll(() => pages.wanted).toEqual([{ host: HOST, path: 'index.html' }])
  expect(pages.give(HOST, 'index.html', bytes('with ids'))).toBe(true)
  expect((await Promise.all(both)).map(({ status, body }) => [status, body])).toEqual([
    [200, 'with ids'],
    [200, 'with ids'],
  ])
  expect([pages.wanted, wanted]).toEqual([[], 2])
  const { headers } = await ask('/')
  expect(headers['content-type']).toMatch(/^text\/html/)
  expect(headers['content-security-policy']).toBe(`frame-ancestors 'self' ${STUDIO}`)
})

test('what the window gives stands in the place of the file; null takes it away', async () => {
  expect((await ask('/quay.css')).body).toBe('.quay {}')
  pages.give(HOST, 'quay.css', bytes('.quay { gap: 1px }'))
  expect((await ask('/quay.css')).body).toBe('.quay { gap: 1px }')
  pages.give(HOST, 'quay.css', null)
  expect((await ask('/quay.css')).status).toBe(404)
  // Of a file that is not there yet, too.
  pages.give(HOST, 'new.css', bytes('.n {}'))
  expect((await ask('/new.css')).body).toBe('.n {}')
})

test('only what the project lists is served, and nothing that leads out of the folder', async () => {
  const outside = [
    '/.git/config',
    '/%2e%2e/%2e%2e/etc/hostname',
    '/..%2f..%2fetc/hostname',
    '/films/../.git/config',
    '/%00',
    '/films%5c..%5c.git',
  ]
  for (const path of outside) {
    const { status, body } = await ask(path)
    expect([path, status, body.includes('secret')]).toEqual([path, 404, false])
  }
  // A link that leads out is listed, and not followed.
  const link = await ask('/way-out.css')
  expect([link.status >= 400, link.body.length < 200]).toEqual([true, true])
  expect((await ask('/gone.css')).status).toBeGreaterThanOrEqual(400)
  expect((await ask('/%')).status).toBe(404)
  expect((await ask(`/a%20b%20%C3%BC.css`)).body).toBe('.b {}')
})

test('a page of the folder that is not there says so as a page; its name is text', async () => {
  const { status, body, headers } = await ask('/no<b>pe.html', { 'sec-fetch-mode': 'navigate' })
  expect([status, headers['content-type']]).toEqual([404, 'text/html; charset=utf-8'])
  expect(body).not.toContain('<b>pe')
  expect((await ask('/nope.css')).headers['content-type']).toBe('text/plain; charset=utf-8')
  const moved = await ask('/tides?x=1')
  expect([moved.status, moved.headers.location]).toEqual([301, '/tides/?x=1'])
})

test.each([
  ['bytes=0-3', 206, 'ABCD', 'bytes 0-3/1000'],
  ['bytes=998-', 206, 'KL', 'bytes 998-999/1000'],
  ['bytes=-2', 206, 'KL', 'bytes 998-999/1000'],
  ['bytes=2000-', 416, '', 'bytes */1000'],
])('a part of a film: %s', async (range, status, body, said) => {
  const answer = await ask('/films/ferry.mp4', { range })
  expect([answer.status, answer.body, answer.headers['content-range']]).toEqual([status, body, said])
})

test('a state of another window is its own, and makes room for later ones', async () => {
  pages.open('other.live.localhost', STUDIO)
  pages.give('other.live.localhost', 'quay.css', bytes('other'))
  expect([(await ask('/quay.css')).body, (await ask('/quay.css', {}, 'other.live.localhost')).body]).toEqual(['.quay {}', 'other'])
  for (let i = 0; i < 8; i++) pages.open(`h${i}.live.localhost`, STUDIO)
  expect([pages.isFor(HOST), pages.give(HOST, 'quay.css', null), pages.isFor('h7.live.localhost')]).toEqual([false, false, true])
  expect((await ask('/quay.css')).status).toBe(421)
})
