import { mkdir, mkdtemp, realpath, rm, writeFile } from 'node:fs/promises'
import { createServer, get, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { FolderWatch } from './watch-folder'

let root: string
let watch: FolderWatch
let server: Server
let stream: IncomingMessage
let heard: string[]

const until = async (isSo: () => boolean) => {
  for (let n = 0; n < 200 && !isSo(); n++) await new Promise((go) => setTimeout(go, 50))
  expect(isSo()).toBe(true)
}

beforeEach(async () => {
  root = await realpath(await mkdtemp(join(tmpdir(), 'watch-')))
  await writeFile(join(root, 'a.css'), '')
  for (const dir of ['node_modules', '.git', '.steady-brush']) await mkdir(join(root, dir))
  watch = new FolderWatch(root)
  server = createServer((_, response) => watch.tell(response))
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  heard = []
  stream = await new Promise((done) => get({ host: '127.0.0.1', port: (server.address() as AddressInfo).port }, done))
  stream.on('data', (part: Buffer) =>
    heard.push(
      ...part
        .toString()
        .split('\n')
        .filter((line) => line.startsWith('event: ')),
    ),
  )
})
afterEach(async () => {
  await watch.close()
  server.closeAllConnections()
  await new Promise((done) => server.close(done))
  await rm(root, { recursive: true, force: true })
})

test('a change below the folder is reported to who listens; packages, what git keeps and our own files are none', async () => {
  expect([stream.headers['content-type'], watch.revision]).toEqual(['text/event-stream', null])
  // Once it looks through the folder, what was changed before is reported as one.
  await until(() => heard.length === 1)
  const before = watch.revision
  await writeFile(join(root, 'a.css'), 'a {}')
  await until(() => heard.length === 2)
  expect(watch.revision).toBeGreaterThan(before!)
  const now = watch.revision
  await writeFile(join(root, 'node_modules/x.js'), '')
  await writeFile(join(root, '.steady-brush/unsaved.json'), '{}')
  await writeFile(join(root, '.git/index'), '')
  await new Promise((go) => setTimeout(go, 400))
  expect([heard.length, watch.revision]).toEqual([2, now])
  // Which branch is checked out is a change.
  await writeFile(join(root, '.git/HEAD'), 'ref: refs/heads/other')
  await until(() => heard.length === 3)
})

test('what the server has to say goes to all who listen, by its name', async () => {
  watch.say('wishes')
  await until(() => heard.includes('event: wishes'))
  stream.destroy()
  await until(() => server.listening)
  // Nobody listens any more: nothing is thrown.
  watch.say('wishes')
})
