import { mkdir, mkdtemp, readdir, readFile, realpath, rm, symlink, writeFile } from 'node:fs/promises'
import { createServer, request, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import fc from 'fast-check'
import { afterEach, beforeEach, expect, test } from 'vitest'
import { FOLDER_PATH, KEPT_FOLDER, MOST_BODY, OURS_HEADER, unpackFiles } from '../folder'
import { Access, OPEN_PATH } from './access'
import { ASSISTANT_PATH } from './assistant'
import { FolderRoutes } from './folder-routes'
import { FolderWatch } from './watch-folder'
import { hashOf } from './write-files'

let root: string
let outside: string
let server: Server
let port: number
let access: Access
let watch: FolderWatch
const bytes = (text: string) => new TextEncoder().encode(text)
const base64 = (text: string) => Buffer.from(text).toString('base64')

async function put(path: string, text: string): Promise<void> {
  await mkdir(dirname(join(root, path)), { recursive: true })
  await writeFile(join(root, path), text)
}

beforeEach(async () => {
  root = await realpath(await mkdtemp(join(tmpdir(), 'routes-')))
  outside = await realpath(await mkdtemp(join(tmpdir(), 'outside-')))
  await put('index.html', '<p>x</p>')
  await put('css/a.css', '.a { top: 0 }')
  await put('.env', 'KEY=1')
  await put('.gitignore', 'built/\n')
  await put('built/out.css', '.out {}')
  await writeFile(join(outside, 'private.txt'), 'private')
  await symlink(outside, join(root, 'out'))
  watch = new FolderWatch(root)
  let routes: FolderRoutes
  server = createServer((req, res) => void routes.answer(req, res).then((isAnswered) => isAnswered || res.writeHead(404).end()))
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  port = (server.address() as AddressInfo).port
  access = new Access(port)
  routes = await FolderRoutes.open(root, access, watch)
})
afterEach(async () => {
  await watch.close()
  server.closeAllConnections()
  await new Promise((done) => server.close(done))
  await Promise.all([root, outside].map((dir) => rm(dir, { recursive: true, force: true })))
})

interface Answer {
  readonly status: number
  readonly body: Buffer
  readonly headers: Record<string, string | string[] | undefined>
}

/** A request as the interface makes it, but for what `headers` say; undefined leaves one out. */
function ask(
  method: string,
  path: string,
  body: string | Buffer | null = null,
  headers: Record<string, string | undefined> = {},
): Promise<Answer> {
  const all: Record<string, string | undefined> = {
    cookie: `steady-brush-${port}=${access.secret}`,
    origin: `http://127.0.0.1:${port}`,
    [OURS_HEADER]: '1',
    ...(body !== null && { 'content-type': 'application/json' }),
    ...headers,
  }
  const kept = Object.fromEntries(Object.entries(all).filter((h): h is [string, string] => h[1] !== undefined))
  return new Promise((done, fail) => {
    const sent = request({ host: '127.0.0.1', port, path, method, headers: kept }, (answer) => {
      const parts: Buffer[] = []
      answer.on('data', (part: Buffer) => parts.push(part))
      answer.on('end', () => done({ status: answer.statusCode!, body: Buffer.concat(parts), headers: answer.headers }))
    })
    sent.on('error', fail)
    sent.end(body ?? undefined)
  })
}
const post = (what: string, body: unknown) => ask('POST', FOLDER_PATH + what, JSON.stringify(body))
const said = ({ status, body }: Answer) => [status, body.toString()] as const
const here = async () => (await readdir(root, { recursive: true })).filter((path) => !path.startsWith('out/')).sort()

test('only a browser that was let in, on a page of the interface itself, is answered', async () => {
  const info = `${FOLDER_PATH}info`
  expect(JSON.parse((await ask('GET', info)).body.toString())).toEqual({ path: root })
  const refused: readonly (readonly [Record<string, string | undefined>, number])[] = [
    [{ cookie: undefined }, 401],
    [{ cookie: `steady-brush-${port}=` }, 401],
    [{ cookie: `steady-brush-${port}=${access.secret}x` }, 401],
    [{ cookie: `steady-brush-${port + 1}=${access.secret}` }, 401],
    [{ origin: 'http://evil.test' }, 403],
    [{ origin: 'null' }, 403],
    [{ origin: undefined, 'sec-fetch-site': 'cross-site' }, 403],
    [{ 'sec-fetch-site': 'same-site' }, 403],
  ]
  for (const [headers, status] of refused) expect([headers, (await ask('GET', info, null, headers)).status]).toEqual([headers, status])
  // What changes something needs a header that no form of another page can send.
  expect((await ask('POST', `${FOLDER_PATH}list`, '{"include":[]}', { [OURS_HEADER]: undefined })).status).toBe(403)
  expect((await ask('GET', OPEN_PATH + access.secret)).headers['set-cookie']?.[0]).toMatch(/HttpOnly; SameSite=Strict$/)
  expect((await ask('GET', `${OPEN_PATH}another`)).status).toBe(403)
  // Assistants come with the secret of this start in the address, and from no page.
  expect((await ask('POST', `${ASSISTANT_PATH}another`, '{}', { origin: undefined })).status).toBe(403)
  expect((await ask('POST', ASSISTANT_PATH + access.secret, '{}')).status).toBe(403)
})

test('a body that is not what it is to be is refused in words, and changes nothing', async () => {
  const before = await here()
  const write = `${FOLDER_PATH}write`
  const file = { path: 'css/a.css', before: hashOf(bytes('.a { top: 0 }')), after: base64('x') }
  for (const body of [
    {},
    { files: [] },
    { files: [{ ...file, mode: 1 }] },
    { files: [{ ...file, after: 'not base64!' }] },
    { files: [{ ...file, before: 'abc' }] },
    { files: [{ ...file, path: 7 }] },
    { files: [file], more: true },
    { files: 'css/a.css' },
    [],
    null,
  ])
    expect(said(await post('write', body))).toEqual([400, expect.stringMatching(/^The request is not what it is to be: /)])
  expect((await ask('POST', write, '{"files":')).status).toBe(400)
  expect((await ask('POST', write, Buffer.from([0x7b, 0xff, 0x7d]))).status).toBe(400)
  expect((await ask('POST', write, '{}', { 'content-type': 'text/plain' })).status).toBe(415)
  const huge = await ask('POST', write, Buffer.alloc(MOST_BODY + 1, 0x20)).catch(() => null)
  // The connection may be closed before all of it is sent.
  expect(huge === null || huge.status === 413).toBe(true)
  expect((await ask('DELETE', `${FOLDER_PATH}file?path=css/a.css`)).status).toBe(404)
  expect(await here()).toEqual(before)
  expect(await readFile(join(root, 'css/a.css'), 'utf8')).toBe('.a { top: 0 }')
})

test('nothing that is asked for, whatever it is, reads or writes outside of the folder or what is no file of the project', async () => {
  const part = fc.constantFrom(
    '..',
    '.',
    '',
    'out',
    'css',
    'a.css',
    'private.txt',
    '.git',
    '.env',
    'built',
    'out.css',
    '%2e%2e',
    'new.css',
    '\0',
    '\\',
    '~',
  )
  const path = fc.oneof(
    fc.array(part, { minLength: 1, maxLength: 4 }).map((p) => p.join('/')),
    fc.string({ maxLength: 12 }),
    fc.constant(outside),
  )
  await fc.assert(
    fc.asyncProperty(path, async (name) => {
      const got = await ask('GET', `${FOLDER_PATH}file?path=${encodeURIComponent(name)}`)
      expect(got.body.toString()).not.toBe('private')
      expect([200, 400, 404]).toContain(got.status)
      const files = await post('files', { paths: [name] })
      if (files.status === 200) expect(unpackFiles(files.body, 1).map((f) => f && new TextDecoder().decode(f))).not.toEqual(['private'])
      const wrote = await post('write', { files: [{ path: name, before: null, after: base64('planted') }] })
      expect([200, 400, 409, 500]).toContain(wrote.status)
      expect(await readdir(outside)).toEqual(['private.txt'])
      expect(await readFile(join(outside, 'private.txt'), 'utf8')).toBe('private')
    }),
    { numRuns: 50 },
  )
  expect(await readFile(join(root, '.env'), 'utf8')).toBe('KEY=1')
  expect(await readFile(join(root, 'built/out.css'), 'utf8')).toBe('.out {}')
})

test('a file is written where it is what it was believed to be; what is ignored, hidden or a link is not', async () => {
  const write = async (path: string, before: string | null, after: string) => {
    const answer = await post('write', { files: [{ path, before: before === null ? null : hashOf(bytes(before)), after: base64(after) }] })
    return [answer.status, (JSON.parse(answer.body.toString()) as { why?: string }).why ?? null]
  }
  expect(await write('css/a.css', '.a { top: 0 }', '.a { top: 1px }')).toEqual([200, null])
  expect(await readFile(join(root, 'css/a.css'), 'utf8')).toBe('.a { top: 1px }')
  expect(await write('css/a.css', '.a { top: 0 }', '.a { top: 2px }')).toEqual([409, 'it was changed in the folder meanwhile'])
  expect(await write('css/new.css', null, '.n {}')).toEqual([200, null])
  expect((await write('.env', 'KEY=1', 'KEY=2'))[1]).toMatch(/not one of the files of the project/)
  expect((await write('built/out.css', '.out {}', '.o {}'))[1]).toMatch(/not one of the files of the project/)
  expect((await write('.new', null, 'x'))[0]).toBe(409)
  expect((await write('node_modules/a/b.css', null, 'x'))[0]).toBe(409)
  // Nothing of a save is left beside the files.
  expect((await here()).filter((path) => /tmp|saving/.test(path))).toEqual([])
})

test('files are given as data: none of them runs on the address of the interface', async () => {
  const { headers, body } = await ask('GET', `${FOLDER_PATH}file?path=index.html`)
  expect(body.toString()).toBe('<p>x</p>')
  expect([
    headers['content-type'],
    headers['content-disposition'],
    headers['x-content-type-options'],
    headers['content-security-policy'],
  ]).toEqual(['application/octet-stream', 'attachment', 'nosniff', 'sandbox'])
  expect(
    unpackFiles((await post('files', { paths: ['gone.css', 'css/a.css'] })).body).map((f) => f && new TextDecoder().decode(f)),
  ).toEqual([null, '.a { top: 0 }'])
})

test('what is kept in our own folder goes through no link that came with the project', async () => {
  const keep = (path: string, text: string | null) => post('keep', { path, text })
  expect((await keep('unsaved.json', '{}')).status).toBe(200)
  expect(await readFile(join(root, KEPT_FOLDER, 'unsaved.json'), 'utf8')).toBe('{}')
  expect((await keep('../../x', '{}')).status).toBe(400)
  // A link in the place of what is written first.
  await symlink(join(outside, 'private.txt'), join(root, KEPT_FOLDER, 'unsaved.json.tmp'))
  expect((await keep('unsaved.json', '{"a":1}')).status).toBe(200)
  expect(await readFile(join(root, KEPT_FOLDER, 'unsaved.json'), 'utf8')).toBe('{"a":1}')
  expect((await keep('unsaved.json', null)).status).toBe(200)
  expect((await readdir(root)).includes(KEPT_FOLDER)).toBe(false)
  // A link in the place of the folder.
  await symlink(outside, join(root, KEPT_FOLDER))
  expect((await keep('unsaved.json', '{}')).status).toBe(400)
  const file = { path: 'css/a.css', before: hashOf(bytes('.a { top: 0 }')), after: base64('x') }
  expect((await post('write', { files: [file] })).status).toBe(409)
  expect([await readdir(outside), await readFile(join(outside, 'private.txt'), 'utf8')]).toEqual([['private.txt'], 'private'])
})

test('a record of a save that came with the folder changes nothing outside of it', async () => {
  const beside = (what: string) => join(root, 'out', `.private.txt.0123456789ab.${what}.tmp`)
  const placing = {
    path: 'a',
    file: join(root, 'out/private.txt'),
    fresh: beside('new'),
    old: beside('old'),
    before: null,
    after: hashOf(bytes('private')),
  }
  await put(`${KEPT_FOLDER}/saving.json`, JSON.stringify({ format: 'steady-brush-save', files: [placing], folders: [] }))
  await put('out/.private.txt.0123456789ab.new.tmp', 'planted')
  await FolderRoutes.open(root, access, watch)
  expect(await readFile(join(outside, 'private.txt'), 'utf8')).toBe('private')
  // Neither are records of other shapes an end of the start.
  for (const text of ['{', 'null', '{"format":"steady-brush-save"}', '{"format":"steady-brush-save","files":[{}],"folders":[1]}']) {
    await put(`${KEPT_FOLDER}/saving.json`, text)
    await FolderRoutes.open(root, access, watch)
    expect((await here()).includes(`${KEPT_FOLDER}/saving.json`)).toBe(false)
  }
})

test('what the window shares is what assistants get, and only what has its shape is shared', async () => {
  const element = { file: 'index.html', line: 1, selector: 'p', html: '<p>' }
  const shared = {
    project: 'Pier',
    page: 'index.html',
    chosen: [{ ...element, values: [] }],
    wishes: [{ id: 'w1', words: 'calmer', state: 'open', elements: [element] }],
    edits: [],
  }
  const call = async (name: string, args: unknown) => {
    const message = { jsonrpc: '2.0', id: 1, method: 'tools/call', params: { name, arguments: args } }
    const answer = await ask('POST', ASSISTANT_PATH + access.secret, JSON.stringify(message), {
      origin: undefined,
      accept: 'application/json, text/event-stream',
    })
    const { result } = JSON.parse(answer.body.toString()) as { result: { content: { text: string }[]; isError?: boolean } }
    return [result.isError ?? false, result.content[0].text] as const
  }
  expect(await call('wishes', {})).toEqual([true, expect.stringMatching(/^No window has the folder open/)])
  expect((await post('share', { ...shared, chosen: [element] })).status).toBe(400)
  expect((await post('share', { ...shared, wishes: [{ ...shared.wishes[0], state: 'gone' }] })).status).toBe(400)
  expect((await post('share', shared)).status).toBe(200)
  expect(JSON.parse((await call('chosen_elements', {}))[1])).toEqual({ page: 'index.html', elements: shared.chosen })
  expect(await call('edits_since_save', {})).toEqual([false, 'All edits are saved.'])
  expect((await call('take_up_wish', { id: 'w1' }))[0]).toBe(false)
  expect((await call('take_up_wish', { id: 'w2' }))[1]).toBe('There is no wish "w2".')
  expect((await call('report_wish_done', { id: 'w1' }))[0]).toBe(true)
  expect((await call('report_wish_done', { id: 'w1', files: ['css/a.css'], told: 'done' }))[0]).toBe(false)
  expect((await call('report_wish_done', { id: 'w1', files: [] }))[1]).toBe('It is done already.')
  const { news } = JSON.parse((await ask('GET', `${FOLDER_PATH}wishes`)).body.toString()) as { news: unknown }
  expect(news).toEqual([{ id: 'w1', state: 'done', told: 'done', files: ['css/a.css'] }])
  expect((await call('picture_of_element', { index: 3 }))[1]).toBe('The person has chosen one element; they are counted from 0.')
  expect((await call('nothing', {}))[0]).toBe(true)
})
