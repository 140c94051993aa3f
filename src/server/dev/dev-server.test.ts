import { once } from 'node:events'
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { DevServer } from './dev-server'

let root: string
let ended: number
let server: DevServer

/** What the process does that runs the project's server; `say` tells the one that started it, `notes` is a file that lasts. */
function child(code: string): void {
  writeFileSync(
    join(root, 'children', 'vite-child.mjs'),
    `import { appendFileSync, readFileSync } from 'node:fs'
const say = (message) => process.send(message)
const notes = ${JSON.stringify(join(root, 'notes'))}
appendFileSync(notes, process.argv[2] + '\\n')
${code}`,
  )
}

const RUNNING = `say({ is: 'running', port: 4999, base: '/', root: process.cwd() })\nsetInterval(() => {}, 1000)\n`
const starts = () => readFileSync(join(root, 'notes'), 'utf8').trim().split('\n')
const why = async () => {
  const { state } = await server.report()
  return state.is === 'failed' ? state.why : state.is
}

beforeEach(() => {
  root = mkdtempSync(join(tmpdir(), 'quay-'))
  mkdirSync(join(root, 'children'))
  mkdirSync(join(root, 'node_modules', 'vite'), { recursive: true })
  writeFileSync(join(root, 'package.json'), JSON.stringify({ devDependencies: { vite: '*' } }))
  writeFileSync(join(root, 'node_modules', 'vite', 'package.json'), JSON.stringify({ name: 'vite', version: '8.1.0' }))
  ended = 0
  server = new DevServer(root, join(root, 'children'), () => ended++, 1500)
})
afterEach(async () => {
  await server.close()
  rmSync(root, { recursive: true })
})

test('one that runs is asked for its pages; it is started once, however often that is asked for, and leaves nothing behind', async () => {
  child(RUNNING)
  await Promise.all([server.start(false), server.start(false)])
  await server.start(false)
  expect([server.target, starts().length]).toEqual(['http://127.0.0.1:4999', 1])
  const [folder] = starts()
  expect(existsSync(folder)).toBe(true)
  await server.close()
  expect([server.target, existsSync(folder), ended]).toEqual([null, false, 0])
})

test('one that ends before it answers, says that it cannot, or says nothing is reported with the reason, and can be started again', async () => {
  child(`console.error('vite.config.js:3: no such plugin'); process.exit(3)`)
  await server.start(false)
  expect([await why(), (await server.report()).output]).toEqual(['It ended with 3.', ['vite.config.js:3: no such plugin']])
  child(`say({ is: 'failed', why: 'Port taken.' }); setInterval(() => {}, 1000)`)
  await server.start(true)
  expect(await why()).toBe('Port taken.')
  child(`setInterval(() => {}, 1000)`)
  await server.start(true)
  expect(await why()).toBe('It did not answer within 1.5 seconds.')
  child(RUNNING)
  await server.start(true)
  expect([await why(), ended]).toEqual(['running', 0])
})

test('one that dies while its page is open is reported once, and starts again with an output of its own', async () => {
  child(`console.log('ready'); say({ is: 'running', port: 4999, base: '/', root: '' }); setTimeout(() => process.exit(9), 200)`)
  await server.start(false)
  expect(server.target).not.toBeNull()
  await expect.poll(() => ended, { timeout: 5000 }).toBe(1)
  expect([server.target, await why()]).toEqual([null, 'It ended with 9 while its page was open.'])
  child(`console.log('ready again'); ${RUNNING}`)
  await server.start(false)
  await expect.poll(async () => (await server.report()).output).toEqual(['ready again'])
  expect(ended).toBe(1)
})

test.each([0, 30, 250])('asked for something else %i ms after it began to start, it does that', async (wait) => {
  child(`setTimeout(() => { ${RUNNING} }, 200)`)
  const later = () => new Promise((done) => setTimeout(done, wait))
  const first = server.start(false)
  await later()
  await Promise.all([first, server.start(true)])
  expect([server.target, ended]).toEqual(['http://127.0.0.1:4999', 0])
  server.stop()
  const other = createServer((_, response) => void response.end('x')).listen(0, '127.0.0.1')
  await once(other, 'listening')
  const at = `http://127.0.0.1:${(other.address() as AddressInfo).port}`
  const second = server.start(false)
  await later()
  expect(await server.use(at)).toBeNull()
  await second
  expect(server.target).toBe(at)
  other.close()
  server.stop()
  const third = server.start(false)
  await later()
  await server.close()
  await third
  // No process is left that nobody ends, and no folder of its own.
  const begun = existsSync(join(root, 'notes')) ? starts() : []
  expect([server.target, begun.filter((folder) => existsSync(folder)), ended]).toEqual([null, [], 0])
})

test('of a megabyte that it prints the last lines are kept, short and without colours, in any pieces', async () => {
  child(`
for (let i = 0; i < 20000; i++) process.stdout.write('\\u001b[31mline ' + i + '\\u001b[0m ' + 'x'.repeat(40) + '\\n')
process.stdout.write('y'.repeat(50000) + '\\n')
process.stdout.write('é'.repeat(3) + '\\n', () => { ${RUNNING} })`)
  await server.start(false)
  await expect.poll(async () => (await server.report()).output.at(-1)).toBe('ééé')
  const { output } = await server.report()
  expect(output).toHaveLength(200)
  expect(Math.max(...output.map((l) => l.length))).toBeLessThanOrEqual(2000)
  expect(output.slice(0, 198).every((l) => /^line 19\d\d\d x{40}$/.test(l))).toBe(true)
})

test('texts are shown once it says so; one that says nothing, or ends, holds nobody up', async () => {
  child(`process.on('message', (m) => { appendFileSync(notes, m.files[0].path + '\\n'); say({ is: 'shown', id: m.id }) })\n${RUNNING}`)
  await server.start(false)
  await server.showTexts([{ path: 'src/Quay.tsx', text: 'x' }], false)
  expect(starts().at(-1)).toBe('src/Quay.tsx')
  child(`process.on('message', () => process.exit(1))\n${RUNNING}`)
  await server.start(true)
  await server.showTexts([{ path: 'src/Quay.tsx', text: 'x' }], false)
  await expect.poll(() => ended).toBe(1)
  // There is nobody to ask any more.
  await server.showTexts([{ path: 'src/Quay.tsx', text: 'x' }], false)
})

test('a server that runs already is used where it is on this machine and answers; one of ours ends for it', async () => {
  child(RUNNING)
  await server.start(false)
  expect(await server.use('quay')).toMatch(/is no address/)
  expect(await server.use('ftp://localhost/')).toMatch(/is no address/)
  expect(await server.use('http://192.0.2.1:80')).toMatch(/is not on this machine/)
  expect(await server.use('http://localhost.example:80')).toMatch(/is not on this machine/)
  expect(server.target).toBe('http://127.0.0.1:4999')
  const other = createServer((_, response) => void response.end('x')).listen(0, '127.0.0.1')
  await once(other, 'listening')
  const at = `http://127.0.0.1:${(other.address() as AddressInfo).port}`
  expect(await server.use(`${at}/app/`)).toBeNull()
  expect([server.target, (await server.report()).state]).toEqual([at, { is: 'running', address: at, base: '/app/', root, isOurs: false }])
  expect(ended).toBe(0)
  other.close()
  await once(other, 'close')
  expect(await server.use(at)).toBe(`Nothing answers at ${at}.`)
})

test('one that the person started is missed when it is gone, and found again', async () => {
  const patient = new DevServer(root, join(root, 'children'), () => ended++, 1500, 40)
  const other = createServer((_, response) => void response.end('x')).listen(0, '127.0.0.1')
  await once(other, 'listening')
  const { port } = other.address() as AddressInfo
  const at = `http://127.0.0.1:${port}`
  expect(await patient.use(at)).toBeNull()
  other.close()
  await expect.poll(() => ended).toBe(1)
  expect([patient.target, (await patient.report()).state]).toEqual([
    null,
    { is: 'failed', why: `Nothing answers at ${at} any more.`, address: at },
  ])
  const again = createServer((_, response) => void response.end('x')).listen(port, '127.0.0.1')
  await expect.poll(() => ended).toBe(2)
  expect(patient.target).toBe(at)
  await patient.close()
  again.close()
  await new Promise((done) => setTimeout(done, 150))
  expect(ended).toBe(2)
})

test('where nothing is known to be started, or its packages are missing, nothing is', async () => {
  child(RUNNING)
  rmSync(join(root, 'node_modules'), { recursive: true })
  await server.start(false)
  expect(await why()).toBe('Vite cannot be started from here.')
  writeFileSync(join(root, 'package.json'), '{ not json')
  await server.start(true)
  expect([await why(), existsSync(join(root, 'notes'))]).toEqual(['Nothing here is known to be started.', false])
})
