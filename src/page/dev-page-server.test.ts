import { expect, test } from 'vitest'
import type { DevReport, Development, DevState, UnsavedText } from '../folder'
import { devFault, DevPageServer, isCompilerInput } from './dev-page-server'
import { LiveFaultError } from './live-fault'

const RUNNING: DevState = { is: 'running', address: 'http://127.0.0.1:4999', base: '/quay/', root: '/home/ro/quay', isOurs: true }
const VITE: DevReport['project'] = { tool: 'vite', name: 'Vite 8.1.0', isInstalled: true, canStart: true }

const report = (state: DevState, more: Partial<DevReport> = {}): DevReport => ({ project: VITE, state, output: [], found: [], ...more })

/** A development server that notes what it is asked; `states` are what it is in after each start. */
function serverOf({
  states = [RUNNING],
  unsaved = [],
  address = null as string | null,
}: {
  states?: DevState[]
  unsaved?: UnsavedText[]
  address?: string | null
}) {
  const asked: unknown[] = []
  let at = 0
  const development: Development = {
    report: async () => report({ is: 'off' }, { found: ['http://localhost:5173'] }),
    start: async (host, again) => {
      asked.push(['start', host, again])
      return report(states[Math.min(at++, states.length - 1)])
    },
    use: async (host, from) => {
      asked.push(['use', host, from])
      if (from.includes('nobody')) throw new Error('Nothing answers there.')
      return report({ ...RUNNING, address: from, isOurs: false } as DevState)
    },
    show: async (files, alone) => void asked.push(['show', files.map((f) => f.path), alone]),
    watch: () => () => {},
  }
  const server = new DevPageServer(
    'q1',
    'http://{project}.live.localhost:{port}',
    '4310',
    development,
    async () => unsaved,
    address === null ? null : { address, write: async (paths) => void asked.push(['write', paths]) },
  )
  return { server, asked, open: () => server.open('index.html', () => {}) }
}

const text = (path: string, body = 'x') => ({ path, body, type: 'text/plain' })

test('opened, it has what is not saved, and begins again only when it was told to', async () => {
  const { server, asked, open } = serverOf({ unsaved: [{ path: 'src/Berth.tsx', text: 'x' }] })
  const { host } = new URL(server.origin)
  await open()
  server.restart()
  await open()
  await open()
  expect(asked).toEqual([
    ['start', host, false],
    ['show', ['src/Berth.tsx'], true],
    ['start', host, true],
    ['show', ['src/Berth.tsx'], true],
    ['start', host, false],
    ['show', ['src/Berth.tsx'], true],
  ])
  expect([server.urlOf('/'), server.urlOf('/tides?x#y'), server.urlOf('tides')]).toEqual(
    ['/quay/', '/tides?x#y', '/tides'].map((path) => server.origin + path),
  )
})

test('one that does not run says why, and what it printed last', async () => {
  const { open } = serverOf({ states: [{ is: 'failed', why: 'It ended with 3.' }] })
  const error: unknown = await open().catch((e: unknown) => e)
  expect(error).toBeInstanceOf(LiveFaultError)
  expect((error as LiveFaultError).fault).toMatchObject({ title: 'Vite 8.1.0 does not run', detail: 'It ended with 3.' })
  const lines = Array.from({ length: 40 }, (_, i) => `line ${i}`)
  expect(devFault(report({ is: 'failed', why: 'x' }, { output: lines })).detail.split('\n')).toEqual(['x', ...lines.slice(-12)])
  expect(devFault(report({ is: 'off' }, { project: { ...VITE!, isInstalled: false } }))).toMatchObject({
    title: 'The packages of this project are not installed',
  })
  expect(devFault(report({ is: 'off' }, { project: { ...VITE!, canStart: false }, found: ['http://localhost:3000'] }))).toMatchObject({
    title: 'Vite 8.1.0 renders the pages of this project',
    addresses: ['http://localhost:3000'],
  })
})

test('a server that runs already is given no texts: they are written; one that does not answer is named with those that do', async () => {
  const { server, asked, open } = serverOf({ address: 'http://localhost:5173', unsaved: [{ path: 'src/Berth.tsx', text: 'x' }] })
  await open()
  await server.show([text('src/quay.css')])
  await server.show([text('src/Berth.tsx')])
  expect(asked).toEqual([
    ['use', new URL(server.origin).host, 'http://localhost:5173'],
    ['write', ['src/Berth.tsx']],
  ])
  const error = await serverOf({ address: 'http://localhost:1/nobody' })
    .open()
    .catch((e: unknown) => e)
  expect((error as LiveFaultError).fault).toMatchObject({ detail: 'Nothing answers there.', addresses: ['http://localhost:5173'] })
})

test('scripts, and what a compiler makes sheets of, go to the server before a save; plain sheets stay on the page', async () => {
  const { server, asked, open } = serverOf({})
  await open()
  asked.length = 0
  await server.show([text('src/quay.css')])
  await server.show([text('src/Card.module.css')])
  expect(asked).toEqual([])
  await server.show([text('src/app.css', '@import "tailwindcss";')])
  await server.show([text('src/berth.scss'), text('src/data.json')])
  // A script that takes a class from a module that came with it: the module goes with it, and before it, from then on.
  await server.show([text('src/Card.tsx'), text('src/Card.module.css')])
  await server.show([text('src/Card.module.css')])
  expect(asked).toEqual([
    ['show', ['src/app.css'], false],
    ['show', ['src/berth.scss', 'src/data.json'], false],
    ['show', ['src/Card.module.css', 'src/Card.tsx'], false],
    ['show', ['src/Card.module.css'], false],
  ])
  expect([server.hasNow('src/Card.module.css'), server.hasNow('src/quay.css')]).toEqual([true, false])
})

test('the sheets of a page lead to their files, and to no others', async () => {
  const { server, open } = serverOf({})
  await open()
  const of = (name: string) => server.sheetOf(name)
  expect(of('@/home/ro/quay/src/app.css')).toBe('src/app.css')
  expect(of('@/home/ro/quay/src/Berth.vue?vue&type=style&index=1&scoped=ab&lang.css')).toMatch(/^src\/Berth\.vue\?style=1$/)
  expect(of('@src/app.css')).toBe('src/app.css')
  expect(of('@/home/ro/quay-other/src/app.css')).toBeNull()
  expect(of('@C:/other/app.css')).toBeNull()
  expect(of(`${server.origin}/quay/a%20b.css?v=2`)).toBe('a b.css')
  expect(of(`${server.origin}/elsewhere/a.css`)).toBeNull()
  expect(of('https://fonts.example/a.css')).toBeNull()
  expect(of('no address')).toBeNull()
})

test('what Tailwind CSS compiles another sheet from is known by its text', () => {
  const inputs = ['@import "tailwindcss";', "@import url('tailwindcss') layer(x)", '@tailwind base;']
  expect(inputs.map((t) => isCompilerInput('a.css', t))).toEqual([true, true, true])
  expect([isCompilerInput('a.css', '.tailwind {}'), isCompilerInput('a.md', inputs[0])]).toEqual([false, false])
})
