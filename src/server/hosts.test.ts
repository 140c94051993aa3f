import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { networkInterfaces, tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { DEFAULT_LIVE_ORIGIN } from '../live/origin'
import { Hosts } from './hosts'
import { listenerFor, listenFrom } from './listener'

const hosts = new Hosts(4310, DEFAULT_LIVE_ORIGIN, ['brush.example', 'other.example:8443'])

test.each([
  ['localhost:4310', 'interface'],
  ['LOCALHOST:4310', 'interface'],
  ['127.0.0.1:4310', 'interface'],
  ['[::1]:4310', 'interface'],
  ['brush.example', 'interface'],
  ['brush.example:444', 'interface'],
  ['other.example:8443', 'interface'],
  ['p1.localhost:4310', 'live'],
  // A name that its owner lets lead to this machine, another port of it, and what is no address at all.
  ['attacker.example:4310', 'unknown'],
  ['localhost.attacker.example:4310', 'unknown'],
  ['localhost:4311', 'unknown'],
  ['localhost', 'unknown'],
  ['other.example', 'unknown'],
  ['', 'unknown'],
  [undefined, 'unknown'],
  ['localhost:4310@attacker.example', 'unknown'],
  ['localhost:4310, attacker.example', 'unknown'],
] as const)('the address %s is %s', (host, kind) => expect(hosts.kindOf(host)).toBe(kind))

test.each([
  ['http://localhost:4310', true],
  ['https://brush.example', true],
  ['http://localhost:4311', false],
  ['http://p1.localhost:4310', false],
  ['null', false],
  ['http://localhost:4310/', false],
  ['http://localhost:4310" onload="x', false],
  ['javascript:alert(1)', false],
])('the origin %s is the interface: %s', (origin, is) => expect(hosts.isInterface(origin)).toBe(is))

let port: number
let close: () => void
const root = mkdtempSync(join(tmpdir(), 'steady-built-'))
const putWorker = (text: string) => writeFileSync(join(root, 'build/live/service-worker.js'), text)
beforeAll(async () => {
  mkdirSync(join(root, 'build/live'), { recursive: true })
  putWorker('// the first')
  const { port: found, servers } = await listenFrom(24310, (at) =>
    listenerFor(root, new Hosts(at, DEFAULT_LIVE_ORIGIN), async (_, response) => void response.end('the interface')),
  )
  port = found
  close = () => servers.forEach((s) => s.close())
})
afterAll(() => {
  close()
  rmSync(root, { recursive: true })
})

const ask = (host: string, path = '/', address = '127.0.0.1') =>
  new Promise<{ status: number; text: string; policy: string | undefined }>((done, fail) => {
    request({ host: address, port, path, headers: { host } }, (response) => {
      let text = ''
      response.on('data', (part) => (text += String(part)))
      response.on('end', () =>
        done({
          status: response.statusCode!,
          text,
          policy: response.headers['content-security-policy'] as string | undefined,
        }),
      )
    })
      .on('error', fail)
      .end()
  })

test('the interface is served at its own address only, and in no frame; another name that leads here is refused', async () => {
  expect(await ask(`localhost:${port}`)).toEqual({
    status: 200,
    text: 'the interface',
    policy: "frame-ancestors 'none'",
  })
  const refused = await ask(`attacker.example:${port}`)
  expect([refused.status, refused.text]).toEqual([421, expect.stringContaining('does not answer for this address')])
})

test('a live origin has no part of the interface, and its host frame stands in the interface alone', async () => {
  const live = `p1.localhost:${port}`
  expect((await ask(live)).text).toContain('This page is not published yet')
  expect(await ask(live, `/__steady/host?studio=http://localhost:${port}`)).toMatchObject({
    status: 200,
    policy: `frame-ancestors http://localhost:${port}`,
  })
  // Another service worker has another address, and the same one the same: what is there already need not be asked for again.
  const workerOf = async () => /data-worker="(\w+)"/.exec((await ask(live, `/__steady/host?studio=http://localhost:${port}`)).text)?.[1]
  const first = await workerOf()
  expect(await workerOf()).toBe(first)
  putWorker('// another')
  expect(await workerOf()).toMatch(/^\w{16}$/)
  expect(await workerOf()).not.toBe(first)
  for (const studio of ['http://localhost:1', `http://p2.localhost:${port}`, 'https://attacker.example', ''])
    expect((await ask(live, `/__steady/host?studio=${encodeURIComponent(studio)}`)).status).toBe(400)
  expect((await ask(live, '/__steady/../host.js')).status).toBe(404)
})

test('nothing listens but the loopback addresses, and a port that is taken is passed by', async () => {
  const outer = Object.values(networkInterfaces())
    .flat()
    .find((a) => a && !a.internal && a.family === 'IPv4')
  if (outer) await expect(ask(`localhost:${port}`, '/', outer.address)).rejects.toThrow(/ECONNREFUSED/)
  const second = await listenFrom(port, () => () => {})
  expect(second.port).toBeGreaterThan(port)
  second.servers.forEach((s) => s.close())
})
