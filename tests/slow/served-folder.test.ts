import { execFileSync } from 'node:child_process'
import {
  mkdtempSync,
  readFileSync,
  realpathSync,
  rmSync,
  statSync,
  writeFileSync,
  chmodSync,
  mkdirSync,
  existsSync,
  truncateSync,
} from 'node:fs'
import { request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, Key } from 'selenium-webdriver'
import { Select } from 'selenium-webdriver/lib/select.js'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { openBrowser, type OpenedBrowser } from '../support/browser'
import { startApp, type RunningApp } from '../support/server'
import { Studio } from '../support/studio-driver'

const PAGE =
  '\ufeff<!DOCTYPE html>\r\n<html lang="en">\r\n<head>\r\n  <title>Pier</title>\r\n  <link rel="stylesheet" href="css/a b.css">\r\n</head>\r\n<body>\r\n  <h1 class="top">Tide</h1>\r\n  <p class="note">Low</p>\r\n  <img src="img/boat%20small.png" alt="">\r\n</body>\r\n</html>'
const SHEET = '.top {\n  color: rgb(1, 2, 3);\n  padding: 4px;\n}\n\n.note {\n  padding: 8px;\n}'

// A picture of one point, and of two beside each other.
const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='
const FILM = 70 * 1024 * 1024

let folder: string
let app: RunningApp
let browser: OpenedBrowser
let studio: Studio
const git = (...args: string[]): string => execFileSync('git', ['-C', folder, ...args], { encoding: 'utf8' })
const read = (path: string): string => readFileSync(join(folder, path), 'utf8')

beforeAll(async () => {
  folder = realpathSync(mkdtempSync(join(tmpdir(), 'pier-')))
  mkdirSync(join(folder, 'css'))
  writeFileSync(join(folder, 'index.html'), PAGE)
  writeFileSync(join(folder, 'css/a b.css'), SHEET)
  mkdirSync(join(folder, 'img'))
  writeFileSync(join(folder, 'img/boat small.png'), Buffer.from(PIXEL, 'base64'))
  // Larger than all that a project takes.
  writeFileSync(join(folder, 'img/film.mp4'), '')
  truncateSync(join(folder, 'img/film.mp4'), FILM)
  mkdirSync(join(folder, 'times'))
  writeFileSync(join(folder, 'times/index.html'), '<!DOCTYPE html>\n<title>Times</title>\n<h1>Times</h1>\n')
  writeFileSync(join(folder, 'times/low.html'), '<!DOCTYPE html>\n<title>Low</title>\n<p>Low at nine</p>\n')
  writeFileSync(join(folder, '.gitignore'), 'private/\n*.mp4\n!img/film.mp4\nimg/hidden.png\n')
  writeFileSync(join(folder, 'img/hidden.png'), Buffer.from(PIXEL, 'base64'))
  mkdirSync(join(folder, 'private'))
  writeFileSync(join(folder, 'private/secret.html'), '<p>no')
  chmodSync(join(folder, 'css/a b.css'), 0o755)
  git('init', '-q')
  git('config', 'user.name', 'Pier')
  git('config', 'user.email', 'pier@example.invalid')
  git('add', '-A')
  git('commit', '-qm', 'Pier')
  app = await startApp({}, folder)
  browser = await openBrowser()
  studio = new Studio(browser, app.url)
})
afterAll(async () => {
  await browser.close()
  app.stop()
  rmSync(folder, { recursive: true })
})

const save = async () => {
  await studio.until('something to save', async () => /^Save \d/.test(await studio.text('save')))
  await (await studio.test('save')).click()
  await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
  await (await studio.test('save-now')).click()
  await studio.until('saved', async () => (await studio.ledger()).length === 0)
}

describe('a folder that the server was started with', () => {
  test('is there at the printed address, and saved edits are in its files, which keep their mode, line ends and BOM', async () => {
    await studio.driver.get(app.address)
    await studio.until('the folder opened', () =>
      studio.driver.executeScript<boolean>('return document.title.startsWith(arguments[0])', folder.split('/').at(-1)),
    )
    expect(await studio.driver.getCurrentUrl()).not.toContain('open')
    await studio.driver.get(`${app.url}/?proof`)
    await studio.ready()
    expect(await studio.driver.executeScript<string[]>('return window.steadyProof.state().project.written.toSorted()')).toEqual([
      'css/a b.css',
      'index.html',
      'times/index.html',
      'times/low.html',
    ])
    await studio.pick('.top')
    await studio.type('padding-top', '12px')
    expect(read('css/a b.css')).toBe(SHEET)
    // What is not saved yet is kept beside, where git does not see it.
    await studio.until('unsaved edits kept', async () => existsSync(join(folder, '.steady-brush/unsaved.json')))
    expect(git('status', '--porcelain')).toBe('')
    await save()
    expect(read('css/a b.css')).toBe(SHEET.replace('padding: 4px;', 'padding: 12px 4px 4px;'))
    expect(statSync(join(folder, 'css/a b.css')).mode & 0o777).toBe(0o755)
    expect(read('index.html')).toBe(PAGE)
    expect(
      git('diff', '-U0')
        .split('\n')
        .filter((line) => /^[-+] /.test(line)),
    ).toEqual(['-  padding: 4px;', '+  padding: 12px 4px 4px;'])
    await studio.until('nothing kept any more', async () => !existsSync(join(folder, '.steady-brush')))
    expect(git('status', '--porcelain')).toBe(' M "css/a b.css"\n')
  })

  test('media are shown from the disk and not kept a second time, in parts too, and to those alone who know its address', async () => {
    expect(await studio.inPage<number>('return document.querySelector("img").naturalWidth')).toBe(1)
    const stored = await studio.driver.executeAsyncScript<string[]>(`
      const done = arguments[0], open = indexedDB.open('steady-brush')
      open.onsuccess = () => { const all = open.result.transaction('files').objectStore('files').getAll(); all.onsuccess = () => done(all.result.map((f) => f.path).sort()) }`)
    expect(stored).toEqual(['css/a b.css', 'index.html', 'times/index.html', 'times/low.html'])
    const part = await studio.inPage<[number, string | null, number]>(
      'return fetch("/img/film.mp4", { headers: { range: "bytes=1000-1999" } }).then(async (r) => [r.status, r.headers.get("content-range"), (await r.arrayBuffer()).byteLength])',
    )
    expect(part).toEqual([206, `bytes 1000-1999/${FILM}`, 1000])
    expect(
      await studio.inPage<number[]>(
        'return Promise.all(["/img/none.png", "/img/hidden.png", "/private/secret.html", "/.git/config"].map((p) => fetch(p).then((r) => r.status)))',
      ),
    ).toEqual([404, 404, 404, 404])
    const live = new URL(await studio.inPage<string>('return location.origin')).host
    const ask = (host: string, path: string, headers: Record<string, string> = {}) =>
      new Promise<number>((done, fail) => {
        request({ host: '127.0.0.1', port: app.port, path, headers: { host, ...headers } }, (response) => {
          response.resume()
          done(response.statusCode!)
        })
          .on('error', fail)
          .end()
      })
    expect(
      await Promise.all([
        ask(live, '/img/boat%20small.png'),
        ask(live, '/img/film.mp4', { range: `bytes=${FILM}-` }),
        // The name of the host is the way in.
        ask(`pier-1.localhost:${app.port}`, '/img/boat%20small.png'),
        ask(live.replace(/--\w+/, '--x'), '/img/boat%20small.png'),
        ask(live, '/img/hidden.png'),
        ask(live, '/..%2f..%2fetc/passwd'),
        ask(live, '/.git/HEAD'),
      ]),
    ).toEqual([200, 416, 404, 404, 404, 404, 404])
    expect(await studio.inPage<number>('return navigator.serviceWorker.getRegistrations().then((all) => all.length)')).toBe(0)
  })

  test('a page that a link leads to has its elements told apart, with the edits that are not saved', async () => {
    await studio.driver.switchTo().frame(await studio.test('live-page'))
    await studio.driver.executeScript('location.href = "/times/low.html"')
    await studio.driver.switchTo().defaultContent()
    await studio.until('the page', () =>
      studio.driver.executeScript<boolean>('const s = window.steadyProof.state(); return s.connected && s.address === "/times/low.html"'),
    )
    await studio.ready()
    await studio.pick('p')
    expect(await studio.edit(() => studio.type('margin-top', '7px'))).toMatch(/low\.html:\d+ .*7px reach 1 ✓/)
    await studio.inPage('location.reload()')
    await studio.ready()
    await studio.until('the edit', async () => (await studio.computed('p', 'margin-top')) === '7px')
    expect(read('times/low.html')).not.toContain('7px')
    await studio.undo()
    await studio.inPage('location.href = "/times"')
    await studio.until(
      'the folder’s own page',
      async () => (await studio.inPage<string>('return location.pathname + document.title')) === '/times/Times',
    )
    await studio.inPage('location.href = "/"')
    await studio.until('the first page', () => studio.inPage<boolean>('return document.querySelector(".note") !== null'))
    await studio.ready()
  })

  test('another program’s change shows on the page by itself, and what git puts under an unsaved edit is asked about', async () => {
    const now = read('css/a b.css')
    writeFileSync(join(folder, 'css/a b.css'), now.replace('padding: 8px', 'padding: 9px'))
    await studio.until('theirs on the page', async () => (await studio.computed('.note', 'padding-top')) === '9px')
    // Git puts another text under an edit that is not saved: both are there, and nothing is written before a choice.
    await studio.pick('.top')
    await studio.type('padding-top', '16px')
    git('checkout', '-q', '--', '.')
    await studio.until(
      'both changed it',
      async () =>
        (await studio.driver.executeScript<string[]>('return window.steadyProof.state().ledger.conflicts')).join() === 'css/a b.css',
    )
    expect(read('css/a b.css')).toBe(SHEET)
    expect((await studio.ledger()).some((row) => row.includes('16px'))).toBe(true)
    // What git gives back is no conflict any more.
    writeFileSync(join(folder, 'css/a b.css'), now.replace('padding: 8px', 'padding: 9px'))
    await studio.until(
      'the conflict over',
      async () => (await studio.driver.executeScript<string[]>('return window.steadyProof.state().ledger.conflicts')).length === 0,
    )
    expect(await studio.computed('.top', 'padding-top')).toBe('16px')
  })

  test('a commit has what our edits changed and nothing else, with a message that says so', async () => {
    const theirs = read('css/a b.css')
    await studio.driver.sleep(400)
    await studio.key('s')
    const message = await studio.until('the message', async () =>
      studio.driver.executeScript<string>('return document.querySelector("[data-testid=commit] textarea")?.value'),
    )
    expect(message).toMatch(/^Set padding-top of \.top to 16px$/)
    // Against the last commit, what somebody else changed is told from what our edits did, saved or not.
    await new Select(await studio.driver.findElement(By.xpath('//label[starts-with(., "Compared with")]/select'))).selectByValue('commit')
    const lines = await studio.until('the lines', async () => {
      const found = await studio.driver.executeScript<string[]>(
        'return [...document.querySelectorAll("[data-testid=review-files] [data-kind]")].map((l) => (l.dataset.outside ? "outside " : "ours ") + l.firstChild.data)',
      )
      return found.length > 0 && found
    })
    expect(lines).toEqual([
      'ours -   padding: 4px;',
      'ours +   padding: 16px 4px 4px;',
      'outside -   padding: 8px;',
      'outside +   padding: 9px;',
    ])
    await studio.until('ready', async () => (await studio.test('commit-now')).isEnabled())
    await (await studio.test('commit-now')).click()
    await studio.until('committed', async () => /^Committed [0-9a-f]+ on \S+: css\/a b\.css\./.test(await studio.text('status')))
    expect(git('log', '-1', '--format=%s').trim()).toBe('Set padding-top of .top to 16px')
    // Somebody else's padding of 9px is on the disk, and not in the commit.
    expect(git('show', 'HEAD:css/a b.css')).toBe(SHEET.replace('padding: 4px;', 'padding: 16px 4px 4px;'))
    expect(read('css/a b.css')).toBe(theirs.replace('padding: 12px 4px 4px', 'padding: 16px 4px 4px'))
    expect(
      git('diff', '-U0')
        .split('\n')
        .filter((line) => /^[-+] /.test(line)),
    ).toEqual(['-  padding: 8px;', '+  padding: 9px;'])
    expect(git('diff', '--cached', '--name-only')).toBe('')
    // The file list says what git says.
    await studio.until('the state of the file', async () => /css\/a b\.css, not committed/.test(await studio.text('source-path')))
    // Another branch is shown.
    git('stash', '-q')
    git('switch', '-qc', 'tide')
    git('stash', 'pop', '-q')
    await studio.until('its name', async () => (await studio.text('branch')) === 'tide')
  })

  test('nobody else gets in: no other page, no live page, nobody without the secret', async () => {
    const tried = (origin: string) =>
      studio.driver.executeAsyncScript<string[]>(
        `
      const done = arguments[1], base = arguments[0]
      const body = JSON.stringify({ files: [{ path: 'index.html', before: null, after: '' }] })
      Promise.all([
        fetch(base + '/folder/info', { credentials: 'include' }).then((r) => 'read ' + r.status, () => 'kept out'),
        fetch(base + '/folder/write', { method: 'POST', credentials: 'include', body }).then((r) => 'wrote ' + r.status, () => 'kept out'),
        fetch(base + '/folder/write', { method: 'POST', mode: 'no-cors', credentials: 'include', headers: { 'content-type': 'text/plain' }, body }).then((r) => 'sent ' + r.type, () => 'kept out'),
      ]).then(done)`,
        origin,
      )
    const before = [read('index.html'), read('css/a b.css')]
    const frame = await studio.test('live-page')
    await studio.driver.switchTo().frame(frame)
    const fromLive = await tried(app.url)
    await studio.driver.switchTo().defaultContent()
    // A request that no answer may be read of is refused all the same.
    expect(fromLive).toEqual(['kept out', 'kept out', 'sent opaque'])
    const answer = async (headers: Record<string, string>, path = 'info', init: RequestInit = {}) =>
      (await fetch(`${app.url}/folder/${path}`, { headers, ...init })).status
    const cookie = `steady-brush-${app.port}=${app.address.split('/').at(-1)}`
    expect(await answer({ cookie })).toBe(200)
    expect(await answer({})).toBe(401)
    expect(await answer({ cookie: `${cookie}x` })).toBe(401)
    expect(await answer({ cookie, origin: 'http://localhost:1' })).toBe(403)
    expect(await answer({ cookie, 'sec-fetch-site': 'same-site' })).toBe(403)
    // A form can send no header of ours.
    expect(await answer({ cookie, 'content-type': 'application/json' }, 'write', { method: 'POST', body: '{}' })).toBe(403)
    expect(await answer({ 'content-type': 'application/json', 'x-steady-brush': '1' }, 'dev', { method: 'POST', body: '{}' })).toBe(401)
    // Only a live page of ours is served from elsewhere, and only from this machine.
    const dev = (host: string, address: string | null) =>
      answer({ cookie, 'content-type': 'application/json', 'x-steady-brush': '1' }, 'dev', {
        method: 'POST',
        body: JSON.stringify({ host, address, again: false }),
      })
    expect(await dev(`localhost:${app.port}`, null)).toBe(400)
    expect(await dev(`pier.localhost:${app.port}`, 'http://brinewick.example')).toBe(422)
    const post = (path: string, body: unknown, own: Record<string, string> = { cookie }) =>
      answer({ ...own, 'content-type': 'application/json', 'x-steady-brush': '1' }, path, { method: 'POST', body: JSON.stringify(body) })
    expect(await post('pages', { host: `pier.localhost:${app.port}` }, {})).toBe(401)
    expect(await post('pages', { host: `localhost:${app.port}` })).toBe(400)
    const given = (path: string) => post('given', { host: `pier--x.localhost:${app.port}`, files: [{ path, text: '', bytes: null }] })
    expect(await given('../a.html')).toBe(400)
    // No page is served there.
    expect(await given('a.html')).toBe(409)
    expect((await fetch(`${app.url}/open/wrong`, { redirect: 'manual' })).status).toBe(403)
    expect([read('index.html'), read('css/a b.css')]).toEqual(before)
  })

  test('a project whose folder is not served says how to start it', async () => {
    app.stop()
    const other = await startApp({ PORT: String(app.port) })
    try {
      await studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.keeping.look().then(() => done())')
      await (await studio.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
      await studio.menuItem('All projects')
      await studio.until(
        'it in the list of projects',
        async () => /on branch tide/.test(await studio.text('project-card')) && (await studio.text('how-to-start')).includes(folder),
      )
      await studio.key(Key.ESCAPE)
      await studio.until('the way to start it', async () =>
        ((await (await studio.test('closed-folder')).getAttribute('title')) ?? '').includes(`npx steady-brush ${JSON.stringify(folder)}`),
      )
    } finally {
      other.stop()
    }
  })
})
