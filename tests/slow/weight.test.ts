import { appendFileSync, cpSync, mkdirSync, mkdtempSync, readFileSync, realpathSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { By } from 'selenium-webdriver'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { openBrowser, type OpenedBrowser } from '../support/browser'
import { startApp, type RunningApp } from '../support/server'
import { Studio } from '../support/studio-driver'

let folder: string
let app: RunningApp
let browser: OpenedBrowser
let studio: Studio

const head = `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>Lamp</title>
<link rel="preload" href="/faces/lamp.woff2" as="font" type="font/woff2" crossorigin>
<link rel="stylesheet" href="css/base.css">
</head>
`

// A small site of a lighthouse: one picture far larger than shown, one not, and a face that is asked for and never drawn in.
beforeAll(async () => {
  folder = realpathSync(mkdtempSync(join(tmpdir(), 'lamp-')))
  for (const name of ['css', 'faces', 'img']) mkdirSync(join(folder, name))
  cpSync('docs/screenshots/nothing-chosen.png', join(folder, 'img/lantern.png'))
  cpSync('docs/screenshots/nothing-chosen.png', join(folder, 'img/view.png'))
  cpSync('node_modules/@fontsource-variable/source-sans-3/files/source-sans-3-latin-wght-normal.woff2', join(folder, 'faces/lamp.woff2'))
  writeFileSync(
    join(folder, 'index.html'),
    `${head}<body>
<h1>The lamp</h1>
<img id="small" src="img/lantern.png" width="100" height="62" alt="The lantern">
<img src="img/view.png" width="1280" height="800" alt="The view">
</body>
</html>
`,
  )
  writeFileSync(join(folder, 'keepers.html'), `${head}<body>\n<h1>Keepers</h1>\n</body>\n</html>\n`)
  const rules = Array.from({ length: 200 }, (_, i) => `.keeper-${i} {\n  margin: ${i}px;\n}\n`).join('\n')
  writeFileSync(join(folder, 'css/base.css'), `@font-face {\n  font-family: Lamp;\n  src: url("../faces/lamp.woff2");\n}\n\n${rules}`)
  app = await startApp({}, folder)
  browser = await openBrowser()
  studio = new Studio(browser, app.url)
  await studio.driver.get(app.address)
  await studio.ready()
}, 60_000)
afterAll(async () => {
  await browser?.close()
  app?.stop()
  rmSync(folder, { recursive: true })
})

const kilobytes = (said: string): number => {
  const [, n, unit] = /^([\d.,]+) (KB|B)$/.exec(said)!
  return Number(n.replaceAll(',', '')) * (unit === 'KB' ? 1024 : 1)
}

/** The rows of a table, by their first cell. */
async function rows(css: string): Promise<Record<string, readonly number[]>> {
  const texts = await studio.driver.executeScript<string[][]>(
    `return [...document.querySelectorAll('${css} tbody tr')].map((r) => [...r.children].map((c) => c.textContent))`,
  )
  return Object.fromEntries(texts.map(([name, ...sizes]) => [name, sizes.map(kilobytes)]))
}

test('what the page loads is weighed as the files are; a picture that is far too large and an idle face are found', async () => {
  await studio.key('q')
  await studio.press('Weight')
  const files = await studio.until('its files', async () => {
    const found = await rows('[data-testid=weight-files]')
    return Object.keys(found).length === 5 && found
  })
  for (const path of ['img/lantern.png', 'img/view.png', 'faces/lamp.woff2', 'css/base.css', 'index.html']) {
    const bytes = readFileSync(join(folder, path))
    const packed = /\.(css|html)$/.test(path) ? gzipSync(bytes).length : bytes.length
    expect(Math.abs(files[path][0] - bytes.length), path).toBeLessThanOrEqual(60)
    expect(Math.abs(files[path][1] - packed), path).toBeLessThanOrEqual(60 + packed * 0.02)
  }
  await studio.until('tiles', async () => (await studio.driver.findElements(By.css('[data-testid=weight-map] rect'))).length >= 5)
  expect(await studio.text('large-pictures')).toContain('lantern.png has 1280 × 800 pixels; 200 × 124 are enough')
  expect(await studio.text('large-pictures')).not.toContain('view.png')
  expect(await studio.text('idle-faces')).toMatch(/^Faces that .*\nLamp\nfaces\/lamp\.woff2$/)
  await (await studio.driver.findElement(By.css('[data-testid=large-pictures] button'))).click()
  await studio.until('the picture chosen', async () => (await studio.text('aim')).includes('img#small'))
})

test('pages stand beside one another by what their sources load, and follow what becomes of the files', async () => {
  const pages = () => rows('[data-testid=weight-of-pages]')
  const sizeOf = (path: string) => statSync(join(folder, path)).size
  const before = await studio.until('the pages', async () => {
    const found = await pages()
    return Object.keys(found).length === 2 && found
  })
  const shared = ['css/base.css', 'faces/lamp.woff2'].reduce((n, path) => n + sizeOf(path), 0)
  expect(Math.abs(before['keepers.html'][0] - shared - sizeOf('keepers.html'))).toBeLessThanOrEqual(60)
  expect(before['index.html'][0] - before['keepers.html'][0]).toBeGreaterThan(2 * sizeOf('img/view.png') - 200)
  appendFileSync(join(folder, 'css/base.css'), `\n/* ${'x'.repeat(3000)} */\n`)
  await studio.until('another size', async () => (await pages())['keepers.html']?.[0] > before['keepers.html'][0] + 2500)
})
