import { execFileSync } from 'node:child_process'
import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const source = (path: string) => readFileSync(join('demo/brinewick', path), 'utf8')
const getStudio = useStudioBrowser()

/** The files as they would be taken away now. */
async function filesNow(studio: Studio): Promise<Record<string, Uint8Array>> {
  return unzipSync(new Uint8Array((await studio.take('as a zip')).bytes))
}

const textOf = (files: Record<string, Uint8Array>, path: string) => Buffer.from(files[path]).toString('utf8')

describe('from the live page to its source', () => {
  test('an element is picked, its padding pulled, and the line is written', async () => {
    const studio = getStudio()
    await studio.open()
    await studio.goTo('/fares.html')
    await studio.pick('.fare', 0.5, 0.03)
    expect(await studio.text('picked-label')).toMatch(/^article\.fare \d+ × \d+$/)
    const row = await studio.test('row-padding-left')
    await (await studio.tape('padding-left')).sendKeys('')
    expect(await studio.text('aim-label')).toBe('.fare')
    expect(await studio.text('aim-place')).toMatch(/^pages\.css:\d+$/)
    expect(await studio.text('reach')).toContain('6 on this page')
    expect(await row.isDisplayed()).toBe(true)

    await studio.startPull('padding-left', 25, Key.ALT)
    const shown = await studio.computed('.fare', 'padding-left')
    expect(shown).not.toBe('22px')
    expect(await studio.computed('.fare:nth-of-type(4)', 'padding-left')).toBe(shown)
    expect(await studio.ledger()).toEqual([])
    await studio.endPull(Key.ALT)

    await studio.until('the edit in the ledger', async () => (await studio.ledger()).length === 1)
    expect(await studio.verdict()).toBe('holds')
    expect(await studio.computed('.fare', 'padding-left')).toBe(shown)
    const [entry] = await studio.ledger()
    expect(entry).toContain('reach 6')
    expect(entry).toContain(shown)
    const line = await studio.markedLine()
    expect(line.trim()).toBe(`padding: 18px 22px 18px ${shown};`)
    const written = textOf(await filesNow(studio), 'css/pages.css')
    expect(written).toBe(
      source('css/pages.css').replace(
        '  padding: 18px 22px;\n  border-radius: var(--radius);\n  background: var(--foam);',
        `  padding: 18px 22px 18px ${shown};\n  border-radius: var(--radius);\n  background: var(--foam);`,
      ),
    )
  })

  test('undo gives the identical bytes, redo the edit, for any number of steps', async () => {
    const studio = getStudio()
    await studio.pull('margin-bottom', 20)
    await studio.pull('padding-top', 10, Key.ALT)
    const edited = await filesNow(studio)
    expect((await studio.ledger()).length).toBe(3)
    for (let i = 0; i < 3; i++) await studio.undo()
    expect(await studio.ledger()).toEqual([])
    const undone = await filesNow(studio)
    for (const path of Object.keys(undone))
      expect(Buffer.from(undone[path]).equals(readFileSync(join('demo/brinewick', path))), path).toBe(true)
    expect(await studio.computed('.fare', 'padding-left')).toBe('22px')
    for (let i = 0; i < 3; i++) await studio.chord(Key.CONTROL, Key.SHIFT, 'z')
    expect(await filesNow(studio)).toEqual(edited)
    expect((await studio.ledger()).length).toBe(3)
  })

  test('a reload brings back project, page, selection, edits and history', async () => {
    const studio = getStudio()
    const before = {
      ledger: await studio.ledger(),
      label: await studio.text('picked-label'),
      aim: await studio.text('aim-label'),
    }
    await studio.driver.navigate().refresh()
    await studio.ready()
    await studio.pickedFrame()
    await studio.until('the aim', async () => (await studio.text('aim-label')) === before.aim)
    expect(await studio.inPage('return location.pathname')).toBe('/fares.html')
    expect(await studio.text('picked-label')).toBe(before.label)
    expect(await studio.ledger()).toEqual(before.ledger)
    for (let i = 0; i < 3; i++) await studio.undo()
    expect(textOf(await filesNow(studio), 'css/pages.css')).toBe(source('css/pages.css'))
  })

  test('a notch writes the token, typed arithmetic the sum, a wrong value nothing', async () => {
    const studio = getStudio()
    await studio.type('padding-top', '--gap-4')
    await studio.until('the token', async () => (await studio.ledger())[0]?.includes('var(--gap-4)'))
    expect(await studio.verdict()).toBe('holds')
    expect(await studio.computed('.fare', 'padding-top')).toBe('26px')
    await studio.type('padding-right', '10+10+5')
    await studio.until('the sum', async () => (await studio.ledger())[0]?.includes('25px'))
    await studio.verdict()
    await studio.type('padding-left', 'banana')
    const row = await studio.test('row-padding-left')
    await studio.until('the reason', async () => (await row.getText()).includes('“banana” is not a value of padding-left'))
    await studio.key(Key.ESCAPE)
    expect((await studio.ledger()).length).toBe(2)
    const tape = await studio.tape('padding-bottom')
    await tape.sendKeys(Key.ARROW_UP, Key.ARROW_UP, Key.ARROW_UP)
    await studio.until('the keys’ edit', async () => (await studio.ledger()).length === 3)
    expect(await studio.computed('.fare', 'padding-bottom')).toBe('21px')
  })

  test('a colour of the project is chosen and shown before it is written', async () => {
    const studio = getStudio()
    await studio.verdict()
    await (await studio.driver.findElement(By.css('[data-testid=row-background-color] button'))).click()
    const mist = await studio.driver.wait(async () => (await studio.driver.findElements(By.css('button[aria-label^="--mist,"]')))[0], 5000)
    await studio.driver.sleep(300)
    await studio.driver.actions().move({ origin: mist! }).perform()
    await studio.until('the preview', async () => (await studio.computed('.fare', 'background-color')) === 'rgb(207, 222, 219)')
    expect((await studio.ledger()).length).toBe(3)
    // Escape leaves the page as it was, even while the chooser closes under the pointer.
    await studio.key(Key.ESCAPE)
    await studio.driver.sleep(500)
    expect(await studio.computed('.fare', 'background-color')).toBe('rgb(247, 251, 250)')
    expect((await studio.ledger()).length).toBe(3)
    await (await studio.driver.findElement(By.css('[data-testid=row-background-color] button'))).click()
    const again = await studio.driver.wait(async () => (await studio.driver.findElements(By.css('button[aria-label^="--mist,"]')))[0], 5000)
    await studio.driver.sleep(300)
    await again!.click()
    await studio.until('the edit', async () => (await studio.ledger())[0]?.includes('background-color'))
    expect(await studio.verdict()).toBe('holds')
    expect((await studio.markedLine()).trim()).toBe('background: var(--mist);')
  })

  test('the patch is one that git applies, and gives the same bytes as the zip', async () => {
    const studio = getStudio()
    const patch = await studio.take('as a patch')
    const dir = mkdtempSync(join(tmpdir(), 'steady-patch-'))
    cpSync('demo/brinewick', dir, { recursive: true })
    writeFileSync(join(dir, 'x.patch'), patch.bytes)
    execFileSync('git', ['-c', 'core.autocrlf=false', 'apply', 'x.patch'], { cwd: dir })
    const files = await filesNow(studio)
    for (const path of Object.keys(files)) expect(readFileSync(join(dir, path)).equals(Buffer.from(files[path])), path).toBe(true)
    const file = await studio.take('css/pages.css')
    expect(file.bytes.equals(Buffer.from(files['css/pages.css']))).toBe(true)
  })
})

describe('picking', () => {
  test('keys walk the tree, breadcrumbs choose, Escape lets go', async () => {
    const studio = getStudio()
    await studio.goTo('/fares.html')
    await studio.pick('.fare .price')
    await studio.driver.executeScript('document.activeElement?.blur()')
    const label = (start: string) => studio.until(start, async () => (await studio.text('picked-label')).startsWith(start))
    await label('span.price')
    await studio.key(Key.ARROW_UP)
    await label('article.fare ')
    await studio.key(Key.ARROW_RIGHT)
    await label('article.fare ')
    await studio.key(Key.ARROW_DOWN)
    await label('h2')
    await (await studio.driver.findElement(By.xpath('//nav[@aria-label="Ancestors"]//button[.="div.cards"]'))).click()
    await label('div.cards')
    await studio.driver.executeScript('document.activeElement?.blur()')
    await studio.key(Key.ESCAPE)
    await studio.until('nothing chosen', async () => (await studio.driver.findElements(By.css('[data-testid=picked-frame]'))).length === 0)
  })

  /** How far the drawn frame is from the element, in CSS px of the window. */
  async function frameError(studio: Studio, selector: string): Promise<number> {
    const drawn = await studio.driver.executeScript<number[]>(`
      const shape = document.querySelector('[data-testid=picked-box]')
      const m = shape.getScreenCTM(), x = +shape.getAttribute('x'), y = +shape.getAttribute('y'), w = +shape.getAttribute('width'), h = +shape.getAttribute('height')
      const points = [[x, y], [x + w, y], [x, y + h], [x + w, y + h]].map(([px, py]) => new DOMPoint(px, py).matrixTransform(m))
      return [Math.min(...points.map((p) => p.x)), Math.min(...points.map((p) => p.y)), Math.max(...points.map((p) => p.x)), Math.max(...points.map((p) => p.y))]`)
    const there = await studio.inPage<number[]>(
      'const r = document.querySelector(arguments[0]).getBoundingClientRect(); return [r.left, r.top, r.right, r.bottom, innerWidth]',
      selector,
    )
    const rect = await (await studio.test('overlay')).getRect()
    const scale = rect.width / there[4]
    const want = [rect.x + there[0] * scale, rect.y + there[1] * scale, rect.x + there[2] * scale, rect.y + there[3] * scale]
    return Math.max(...want.map((v, i) => Math.abs(v - drawn[i])))
  }

  test('frames stay exact through scrolling, scrollers, scale, transforms and sticky headers', async () => {
    const studio = getStudio()
    await studio.goTo('/crossings.html')
    await studio.pick('.scroller tr:nth-child(3) td:nth-child(1)')
    expect(await frameError(studio, '.scroller tr:nth-child(3) td:nth-child(1)')).toBeLessThan(0.6)
    await studio.inPage('document.querySelector(".scroller").scrollTop = 60')
    await studio.driver.sleep(200)
    expect(await frameError(studio, '.scroller tr:nth-child(3) td:nth-child(1)')).toBeLessThan(0.6)
    await studio.scroll(400, 500, 200)
    await studio.driver.sleep(300)
    expect(await frameError(studio, '.scroller tr:nth-child(3) td:nth-child(1)')).toBeLessThan(0.6)

    const end = await studio.test('width-end')
    for (let i = 0; i < 6; i++) await end.sendKeys(Key.chord(Key.SHIFT, Key.ARROW_RIGHT))
    await studio.until('a scaled page', async () => (await studio.text('scale')).includes('%'))
    await studio.driver.sleep(300)
    expect(await frameError(studio, '.scroller tr:nth-child(3) td:nth-child(1)')).toBeLessThan(0.6)
    await studio.goTo('/notices.html')
    await studio.pick('.tilted')
    expect(await frameError(studio, '.tilted')).toBeLessThan(1)
    await studio.pick('.site-header', 0.45, 0.1)
    await studio.inPage('scrollTo(0, 200)')
    await studio.driver.sleep(200)
    expect(await frameError(studio, '.site-header')).toBeLessThan(0.6)
    await end.sendKeys(Key.HOME)
  })

  test('an element in a frame is picked and edited in its own file', async () => {
    const studio = getStudio()
    await studio.goTo('/crossings.html')
    await studio.inPage('document.querySelector("iframe").scrollIntoView({ block: "center" })')
    await studio.driver.sleep(300)
    const inner = await studio.inPage<{ x: number; y: number; w: number }>(
      'const f = document.querySelector("iframe"), r = f.getBoundingClientRect(), i = f.contentDocument.querySelector(".legend").getBoundingClientRect(); return { x: r.left + i.left + 10, y: r.top + i.top + 8, w: innerWidth }',
    )
    const rect = await (await studio.test('overlay')).getRect()
    await studio.clickAt({
      x: Math.round(rect.x + (inner.x * rect.width) / inner.w),
      y: Math.round(rect.y + (inner.y * rect.width) / inner.w),
    })
    await studio.until('the legend', async () => (await studio.text('picked-label')).startsWith('p.legend'))
    await studio.until('its aim', async () => (await studio.text('aim-place')).includes('island-map.html'))
    const before = (await studio.ledger()).length
    await studio.type('padding-top', '14px')
    await studio.until('the edit', async () => (await studio.ledger()).length === before + 1)
    expect(await studio.verdict()).toBe('holds')
    expect((await studio.ledger())[0]).toContain('island-map.html')
    expect(textOf(await filesNow(studio), 'island-map.html')).toBe(
      source('island-map.html').replace('padding: 6px 10px;', 'padding: 14px 10px 6px;'),
    )
    await studio.undo()
  })

  test('an element made by a script says so and leads to the source', async () => {
    const studio = getStudio()
    await studio.goTo('/crossings.html')
    await studio.pick('#count .shown')
    await studio.until('the note', async () => (await studio.text('not-in-source')).includes('A script made this strong'))
    expect(await studio.text('not-in-source')).toMatch(/crossings\.html:\d+/)
    await (await studio.driver.findElement(By.css('[data-testid=not-in-source] button'))).click()
    await studio.until('the paragraph', async () => (await studio.text('picked-label')).startsWith('p#count'))
  })

  test('Use hands the page back: links navigate and the address follows, state and storage work', async () => {
    const studio = getStudio()
    await studio.goTo('/crossings.html')
    await (await studio.driver.findElement(By.xpath('//button[@role="radio"][.="Use"]'))).click()
    await studio.clickAt(await studio.pointOver('[data-filter=sunday]'))
    await studio.until(
      'the filter',
      async () => (await studio.inPage<string>('return document.querySelector("#count").textContent')) === '2 boats shown',
    )
    expect(await studio.inPage('return localStorage.getItem("brinewick.days")')).toBe('"sunday"')
    await studio.clickAt(await studio.pointOver('.site-nav a[href="fares.html"]'))
    await studio.until(
      'the address',
      async () =>
        (await (await studio.driver.findElement(By.css('input[aria-label="Address of the page"]'))).getAttribute('value')) ===
        '/fares.html',
    )
    await (await studio.driver.findElement(By.xpath('//button[@role="radio"][.="Pick"]'))).click()
  })

  test('a missing file shows a page of ours that names it', async () => {
    const studio = getStudio()
    const field = await studio.driver.findElement(By.css('input[aria-label="Address of the page"]'))
    await field.click()
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '/no-such.html', Key.ENTER)
    await studio.until('our page', async () =>
      (await studio.inPage<string>('return document.body.innerText')).includes('/no-such.html is not in this project'),
    )
    await studio.goTo('/fares.html')
  })
})
