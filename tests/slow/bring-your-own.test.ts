import { execFileSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { unzipSync, zipSync } from 'fflate'
import { By } from 'selenium-webdriver'
import type chrome from 'selenium-webdriver/chrome'
import { expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

function folder(name: string, files: Record<string, string | Uint8Array>): string {
  const root = join(mkdtempSync(join(tmpdir(), 'steady-site-')), name)
  for (const [path, body] of Object.entries(files)) {
    mkdirSync(dirname(join(root, path)), { recursive: true })
    writeFileSync(join(root, path), body)
  }
  return root
}

const zipFile = (entries: Record<string, Uint8Array>): string => {
  const file = join(mkdtempSync(join(tmpdir(), 'steady-zip-')), 'site.zip')
  writeFileSync(file, zipSync(entries))
  return file
}

const bytes = (text: string) => new TextEncoder().encode(text)
const projectName = (studio: Studio) =>
  studio.driver.executeScript<string>('return document.querySelector("header button[aria-haspopup=menu]").innerText')

const QUAY: Record<string, string | Uint8Array> = {
  'index.html':
    '\ufeff<!doctype html>\r\n<title>Quay</title>\r\n<link rel=stylesheet href="/styles/quay name.css">\r\n<style>\r\n\t.tag{color:red}\r\n</style>\r\n<p class=plank>Plank</p>\r\n<p class=tag>Tag <img src="pics/a%20b.svg" alt=""></p>',
  'styles/quay name.css': '.plank {\r\n\tpadding: 3px;\r\n}\r\n.tag { margin: 0 }',
  'pics/a b.svg': '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>',
  'node_modules/x/index.js': 'left out',
  '.git/config': 'left out',
}

test('a folder is opened, edited, and taken away as zip and patch; CRLF, BOM and no final newline stay', async () => {
  const studio = getStudio()
  await studio.open()
  const root = folder('quay', QUAY)
  await studio.importFolder(root)
  await studio.until('the project', async () => (await projectName(studio)).startsWith('quay'))
  await studio.ready()
  await studio.until('its image', () => studio.inPage<boolean>('const i = document.images[0]; return i.complete && i.naturalWidth === 9'))
  await studio.pick('.plank', 0.9)
  await studio.type('padding-left', '12px')
  await studio.until('the edit', async () => (await studio.ledger()).length === 1)
  expect(await studio.verdict()).toBe('holds')
  await studio.pick('.tag', 0.9)
  await studio.type('margin-top', '8px')
  await studio.until('the edit', async () => (await studio.ledger()).length === 2)
  expect(await studio.verdict()).toBe('holds')
  const files = unzipSync(new Uint8Array((await studio.take('as a zip')).bytes))
  expect(Object.keys(files).sort()).toEqual(['index.html', 'pics/a b.svg', 'styles/quay name.css'])
  expect(Buffer.from(files['styles/quay name.css']).toString()).toBe(
    '.plank {\r\n\tpadding: 3px 3px 3px 12px;\r\n}\r\n.tag { margin: 8px 0 0 }',
  )
  expect(Buffer.from(files['index.html']).equals(Buffer.from(QUAY['index.html'] as string))).toBe(true)
  const patch = await studio.take('as a patch')
  const copy = mkdtempSync(join(tmpdir(), 'steady-copy-'))
  cpSync(root, copy, { recursive: true })
  rmSync(join(copy, '.git'), { recursive: true })
  writeFileSync(join(copy, 'x.patch'), patch.bytes)
  execFileSync('git', ['-c', 'core.autocrlf=false', 'apply', 'x.patch'], { cwd: copy })
  expect(readFileSync(join(copy, 'styles/quay name.css')).equals(Buffer.from(files['styles/quay name.css']))).toBe(true)
})

test('a zip is opened; the folder it was made from is no part of the paths', async () => {
  const studio = getStudio()
  await studio.importZip(
    zipFile({
      'site/index.html': bytes('<!doctype html><p class="one" style="margin: 0">One</p>'),
      'site/about/index.html': bytes('<p>About</p>'),
    }),
  )
  await studio.until('the project', async () => (await projectName(studio)).startsWith('site'))
  await studio.ready()
  await studio.goTo('/about/')
  await studio.goTo('/')
  await studio.pick('.one', 0.9)
  await studio.type('margin-left', '20px')
  await studio.until('the edit', async () => (await studio.ledger()).length === 1)
  expect(await studio.verdict()).toBe('holds')
  const files = unzipSync(new Uint8Array((await studio.take('as a zip')).bytes))
  expect(Buffer.from(files['index.html']).toString()).toBe('<!doctype html><p class="one" style="margin: 0 0 0 20px">One</p>')
})

test('a folder is dropped on the window', async () => {
  const studio = getStudio()
  const root = folder('dropped', {
    'index.html': '<!doctype html><p class="it">It</p>',
    'css/a.css': '.it{color:red}',
    '.hidden/x': 'x',
  })
  const driver = studio.driver as unknown as chrome.Driver
  const data = { items: [], files: [root], dragOperationsMask: 1 }
  for (const type of ['dragEnter', 'dragOver', 'drop'])
    await driver.sendDevToolsCommand('Input.dispatchDragEvent', { type, x: 300, y: 700, data })
  await studio.until('the project', async () => (await projectName(studio)).startsWith('dropped'))
  await studio.ready()
  expect(Object.keys(unzipSync(new Uint8Array((await studio.take('as a zip')).bytes))).sort()).toEqual(['css/a.css', 'index.html'])
})

test.each<[string, () => string, RegExp]>([
  ['no HTML inside', () => zipFile({ 'a.css': bytes('a{}') }), /no HTML file/],
  ['a path that climbs out', () => zipFile({ 'index.html': bytes('x'), '../evil.html': bytes('x') }), /“\.\.\/evil\.html” leads out/],
  [
    'a damaged zip',
    () => {
      const file = zipFile({ 'index.html': bytes('x'.repeat(5000)) })
      writeFileSync(file, readFileSync(file).subarray(0, 60))
      return file
    },
    /site\.zip is damaged/,
  ],
  [
    'more than 50 MB unpacked',
    () => zipFile({ 'index.html': bytes('x'), 'big.bin': new Uint8Array(51 * 1024 * 1024) }),
    /“big\.bin” makes site\.zip larger than 50\.0 MB/,
  ],
  [
    'more than 10,000 files',
    () => zipFile(Object.fromEntries(Array.from({ length: 10_002 }, (_, i) => [`p${i}.html`, bytes('x')]))),
    /more than 10000 files/,
  ],
])('refused, with nothing imported: %s', async (_, make, why) => {
  const studio = getStudio()
  const count = () =>
    studio.driver.executeAsyncScript<number>(
      'const done = arguments[0]; indexedDB.open("steady-brush").onsuccess = (e) => { const t = e.target.result.transaction(["projects", "files"]); t.objectStore("projects").count().onsuccess = (a) => t.objectStore("files").count().onsuccess = (b) => done(a.target.result * 100000 + b.target.result) }',
    )
  const before = await count()
  await studio.importZip(make())
  await studio.until('the reason', async () => why.test(await studio.text('import-refused')))
  expect(await count()).toBe(before)
  await (await studio.driver.findElement(By.xpath('//button[.="Close"]'))).click()
  await studio.until('the dialog closed', async () => (await studio.driver.findElements(By.css('[role=dialog]'))).length === 0)
})

test('a page that shows nothing says why: what renders it does not run here, or its scripts fill it with nothing', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  const page = '<!DOCTYPE html>\n<html lang="en">\n<head><title>Desk</title></head>\n<body><div id="root"></div></body>\n</html>\n'
  await studio.importSite('desk', { 'index.html': page, 'package.json': '{ "devDependencies": { "vite": "^8.0.0" } }' })
  await studio.until('why', async () => /rendered by Vite, which does not run here.*npx steady-brush/.test(await studio.text('page-empty')))
  await studio.importSite('blank', { 'index.html': page, 'package.json': '{ "dependencies": [' })
  await studio.until('why', async () => /Nothing of this page is in sight/.test(await studio.text('page-empty')))
  await studio.importSite('filled', { 'index.html': page.replace('"root">', '"root">Tides') })
  await studio.ready()
  await studio.driver.sleep(2500)
  expect(await studio.driver.findElements(By.css('[data-testid=page-empty]'))).toEqual([])
})
