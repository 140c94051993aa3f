import { once } from 'node:events'
import { createServer, request, type IncomingHttpHeaders, type RequestListener, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { Readable } from 'node:stream'
import { text } from 'node:stream/consumers'
import fc from 'fast-check'
import { afterEach, expect, test } from 'vitest'
import { forward, insertIntoHead, policyWithOurs, upgrade } from './proxy'

const servers: Server[] = []
afterEach(() => servers.splice(0).forEach((s) => s.closeAllConnections() ?? s.close()))

async function listening(listener: RequestListener): Promise<{ server: Server; port: number }> {
  const server = createServer(listener).listen(0, '127.0.0.1')
  servers.push(server)
  await once(server, 'listening')
  return { server, port: (server.address() as AddressInfo).port }
}

const LIVE = 'pier.localhost:4310'
const STUDIO = 'http://localhost:4310'

/** A development server, and the live origin in front of it. */
async function behind(listener: RequestListener) {
  const dev = await listening(listener)
  const route = { target: new URL(`http://127.0.0.1:${dev.port}`), live: LIVE, studio: STUDIO }
  const front = await listening((req, res) => void forward(route, req, res))
  front.server.on('upgrade', (req, socket, head) => upgrade(route, req, socket, head))
  const ask = (path: string, headers: Record<string, string> = {}, body = '') =>
    new Promise<{ status: number; headers: IncomingHttpHeaders; body: string }>((done, fail) => {
      const going = request(
        { host: '127.0.0.1', port: front.port, path, method: body ? 'POST' : 'GET', headers: { host: LIVE, ...headers } },
        (res) => void text(res).then((t) => done({ status: res.statusCode!, headers: res.headers, body: t }), fail),
      )
      going.on('error', fail)
      going.end(body)
    })
  return { dev, front, ask }
}

test('a page has our script first in its head, whatever parts it comes in, and every other byte as it was', async () => {
  const html = fc.stringMatching(/^(<!doctype html>)?(<html lang="ä">)?(<head( class="x")?>)?[a-zß<>/ ]{0,40}$/)
  await fc.assert(
    fc.asyncProperty(html, fc.integer({ min: 1, max: 9 }), async (page, size) => {
      const bytes = Buffer.from(page)
      const parts = Array.from({ length: Math.ceil(bytes.length / size) }, (_, i) => bytes.subarray(i * size, (i + 1) * size))
      const out = await text(Readable.from(parts).pipe(insertIntoHead('<script></script>')))
      expect(out.replace('<script></script>', '')).toBe(page)
      const before = out.slice(0, out.indexOf('<script></script>'))
      expect(before).toBe(
        /^.*?<head[^>]*>/i.exec(page)?.[0] ?? /^.*?<html[^>]*>/i.exec(page)?.[0] ?? /^<!doctype html>/i.exec(page)?.[0] ?? '',
      )
    }),
  )
})

test.each([
  ["default-src 'self'", "default-src 'self'; script-src 'self' http://pier.localhost:4310/__steady/"],
  ["script-src 'none'; img-src *", 'script-src http://pier.localhost:4310/__steady/; img-src *'],
  ["frame-ancestors 'none'", 'frame-ancestors http://localhost:4310'],
  ['img-src *', 'img-src *'],
])('the policy %s lets our script in and nothing else', (policy, with_) => expect(policyWithOurs(policy, STUDIO, LIVE)).toBe(with_))

test('requests reach the server as though it was asked itself; answers keep status, cookies and bodies', async () => {
  const seen: IncomingHttpHeaders[] = []
  const { dev, ask } = await behind((req, res) => {
    seen.push(req.headers)
    if (req.url === '/there') return void res.writeHead(302, { location: `http://127.0.0.1:${dev.port}/here?x=1` }).end()
    if (req.url === '/page') {
      res.writeHead(203, { 'content-type': 'text/html', 'set-cookie': ['a=1; Domain=127.0.0.1; Path=/', 'b=2'], 'x-frame-options': 'DENY' })
      return void res.end('<html><head><title>x</title>')
    }
    req.pipe(res)
  })
  const page = await ask('/page', {
    origin: `http://${LIVE}`,
    referer: `http://${LIVE}/a`,
    'sec-fetch-dest': 'iframe',
    'accept-encoding': 'gzip',
  })
  expect(seen[0]).toMatchObject({
    host: `127.0.0.1:${dev.port}`,
    origin: `http://127.0.0.1:${dev.port}`,
    referer: `http://127.0.0.1:${dev.port}/a`,
    'accept-encoding': 'identity',
  })
  expect(page.status).toBe(203)
  expect(page.headers['set-cookie']).toEqual(['a=1; Path=/', 'b=2'])
  expect(page.headers['x-frame-options']).toBeUndefined()
  expect(page.body).toBe(`<html><head><script src="/__steady/agent.js" data-studio="${STUDIO}"></script><title>x</title>`)
  expect((await ask('/there')).headers.location).toBe(`http://${LIVE}/here?x=1`)
  expect((await ask('/echo', {}, 'x'.repeat(300_000))).body).toHaveLength(300_000)
})

test('no request leads to another server than the one that was given', async () => {
  const asked: string[] = []
  const other = await listening((req, res) => void (asked.push(`other ${req.url}`), res.end()))
  const { ask } = await behind((req, res) => void (asked.push(`own ${req.url}`), res.end()))
  for (const path of [
    `http://127.0.0.1:${other.port}/x`,
    `//127.0.0.1:${other.port}/x`,
    `/\\127.0.0.1:${other.port}/x`,
    `/@127.0.0.1:${other.port}`,
  ])
    await ask(path).catch(() => null)
  expect(asked.filter((a) => a.startsWith('other'))).toEqual([])
  expect(asked.length).toBeGreaterThan(2)
})

test('what is streamed comes as it is sent; a web socket is opened; a server that is gone is told', async () => {
  let end = () => {}
  const { dev, front, ask } = await behind((_, res) => {
    res.writeHead(200, { 'content-type': 'text/event-stream' }).write('first')
    end = () => res.end()
  })
  dev.server.on('upgrade', (req, socket) => {
    socket.write(`HTTP/1.1 101 Switching Protocols\r\nupgrade: ${req.headers.upgrade}\r\nconnection: Upgrade\r\n\r\nhello`)
    socket.pipe(socket)
  })
  await new Promise<void>((done) => {
    request({ host: '127.0.0.1', port: front.port, path: '/events' }, (res) =>
      res.once('data', (part) => {
        expect(String(part)).toBe('first')
        end()
        done()
      }),
    ).end()
  })
  const said = await new Promise<string>((done) => {
    const going = request({ host: '127.0.0.1', port: front.port, headers: { host: LIVE, connection: 'Upgrade', upgrade: 'websocket' } })
    going.on('upgrade', (_, socket, head) => {
      let all = String(head)
      socket.on('data', (part) => (all += String(part)).endsWith('back') && (done(all), socket.destroy()))
      socket.write('back')
    })
    going.end()
  })
  expect(said).toBe('helloback')
  dev.server.closeAllConnections()
  dev.server.close()
  const gone = await ask('/')
  expect(gone.status).toBe(502)
  expect(gone.body).toContain(`127.0.0.1:${dev.port} does not answer (ECONNREFUSED)`)
})

const overByTurbopack = (path: string) => `/* [project]/${path} [app-client] (css) */`
const overByWebpack = (path: string) => {
  const line = `css ./node_modules/css-loader/index.js??rules[1].use[2]!./${path}`
  const stars = '*'.repeat(line.length + 8)
  return `/*!${stars}!*\\\n  !*** ${line} ***!\n  \\${stars}/`
}

test('a sheet that a bundler joined comes as one that imports its parts, each by itself and by its file; any other as it is', async () => {
  const name = fc.stringMatching(/^[a-z(]{1,6}\/[a-zé &+]{1,8}\.(module\.)?css$/)
  const rule = fc.stringMatching(/^\.[a-z]{1,5} \{\n {2}color: #[0-9a-f]{3};\n\}$/)
  await fc.assert(
    fc.asyncProperty(fc.array(fc.tuple(name, rule), { maxLength: 4 }), fc.boolean(), fc.boolean(), async (files, isLed, isWebpack) => {
      const lead = isLed ? '@import url("https://faces.invalid/a.css");\n' : ''
      const bundle = lead + files.map(([path, css]) => `${(isWebpack ? overByWebpack : overByTurbopack)(path)}\n${css}\n`).join('\n')
      const { ask } = await behind((req, res) => {
        expect(req.headers['if-none-match']).toBeUndefined()
        res
          .writeHead(200, { 'content-type': 'text/css; charset=utf-8', etag: '"1"' })
          .end(req.url === '/chunks/a.css?v=1' ? bundle : 'wrong')
      })
      const sheet = { 'sec-fetch-dest': 'style', 'if-none-match': '"1"' }
      const whole = await ask('/chunks/a.css?v=1', sheet)
      if (files.length === 0) {
        expect(whole.body).toBe(bundle)
        return
      }
      const parts = [...whole.body.matchAll(/@import url\("([^"]+)"\);/g)].map(([, url]) => new URL(url, `http://${LIVE}/chunks/`))
      const texts = await Promise.all(parts.map((url) => ask(url.pathname + url.search, sheet)))
      expect(parts.map((url) => url.searchParams.get('steady-file'))).toEqual([...(isLed ? [null] : []), ...files.map(([path]) => path)])
      expect(texts.map(({ body }) => body.trim())).toEqual([...(isLed ? [lead.trim()] : []), ...files.map(([, css]) => css)])
    }),
    { numRuns: 30 },
  )
})
