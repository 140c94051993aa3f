import { readFileSync } from 'node:fs'
import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const FILES = Object.fromEntries(
  ['index.html', 'inner.html', 'pier.css', 'small.css'].map((path) => [path, readFileSync(`tests/sites/pier/${path}`, 'utf8')]),
)

const state = <T>(studio: Studio, expression: string): Promise<T> =>
  studio.driver.executeScript<T>(`const s = window.steadyProof.state(); return ${expression}`)
const run = (studio: Studio, script: string): Promise<unknown> =>
  studio.driver.executeAsyncScript(
    `const done = arguments[0], p = window.steadyProof; (async () => { ${script} })().then((v) => done(v ?? null), (e) => done(String(e)))`,
  )

/** Puts the caret behind a text of the editor. */
async function caretAfter(studio: Studio, text: string): Promise<void> {
  await studio.until(`the text ${text}`, () =>
    studio.driver.executeScript<boolean>('return document.querySelector(".cm-content").innerText.includes(arguments[0])', text),
  )
  await studio.driver.executeScript(
    `
    const view = document.querySelector('.cm-content').cmTile?.view ?? document.querySelector('.cm-content').cmView.view, at = view.state.doc.toString().indexOf(arguments[0]) + arguments[0].length
    view.focus(); view.dispatch({ selection: { anchor: at } })`,
    text,
  )
}

test('text at fault is a draft of its file: no part of another edit, and what undo takes back first', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('pier', FILES)
  await studio.ready()
  const css = FILES['pier.css']
  await studio.choose('File in Source', 'pier.css')
  await caretAfter(studio, '  padding: 12px 16px;')
  await studio.key(Key.ENTER, 'color: rgb(1,2;')
  await studio.test('source-fault')
  await studio.pick('.chip')
  await studio.edit(() => studio.type('padding-top', '5px'))
  expect(await studio.sourceNow('pier.css')).toBe(css.replace('padding: 2px 6px', 'padding: 5px 6px 2px'))
  expect(await studio.computed('.note', 'padding-top')).toBe('12px')
  // Another file, and back: it waits there.
  await studio.choose('File in Source', 'index.html')
  await studio.driver.sleep(600)
  expect(await studio.sourceNow('pier.css')).not.toContain('rgb(1,2')
  expect(
    await studio.driver.executeScript(
      'return [...document.querySelectorAll("[data-testid=source-path] option")].map((o) => o.textContent).find((t) => t.includes("pier.css"))',
    ),
  ).toContain('(text at fault)')
  await studio.choose('File in Source', 'pier.css')
  await studio.until('the draft', () =>
    studio.driver.executeScript<boolean>('return document.querySelector(".cm-content").innerText.includes("rgb(1,2")'),
  )
  expect(await studio.text('source-fault')).toMatch(/^Line \d+: .*the text is no part of the file/)
  await studio.driver.executeScript('document.activeElement.blur()')
  await studio.chord(Key.CONTROL, 'z')
  await studio.until('the draft taken back', () =>
    studio.driver.executeScript<boolean>('return !document.querySelector(".cm-content").innerText.includes("rgb(1,2")'),
  )
  expect((await studio.ledger()).length).toBe(1)
  await studio.undo()
  expect(await studio.sourceNow('pier.css')).toBe(css)
  // With a yes of its own it is written, fault and all.
  await caretAfter(studio, '  color: #222;')
  await studio.key(Key.ENTER, 'margin: 1px 2px )')
  await studio.test('source-fault')
  await studio.press('Write it all the same')
  await studio.until('it in the file', async () => (await studio.sourceNow('pier.css')).includes('margin: 1px 2px )'))
  await studio.driver.executeScript('document.activeElement.blur()')
  await studio.undo()
})

test('mixed units are one length; several lengths in a row take the unit that stands there; what is no value is told at the field, which keeps its height', async () => {
  const studio = getStudio()
  await studio.pick('.note', 0.98, 0.9)
  await studio.edit(() => studio.type('padding-top', '1.5em+4px'))
  expect(await studio.sourceNow('pier.css')).toContain('padding: calc(1.5em + 4px) 16px 12px;')
  await studio.undo()
  await studio.edit(() => studio.type('padding', '12 14'))
  expect(await studio.sourceNow('pier.css')).toContain('padding: 12px 14px;')
  await studio.undo()
  const height = () =>
    studio.driver.executeScript<number>('return document.querySelector("[data-testid=row-padding]").getBoundingClientRect().height')
  const before = await height()
  for (const wrong of ['nope', 'x'.repeat(10_000)]) {
    const field = await studio.driver.findElement(By.css('input[aria-label="padding value"]'))
    await field.click()
    await studio.driver.executeScript(
      'const f = arguments[0], set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set; set.call(f, arguments[1]); f.dispatchEvent(new Event("input", { bubbles: true }))',
      field,
      wrong,
    )
    await field.sendKeys(Key.ENTER)
    expect(
      await studio.until('why', () =>
        studio.driver.executeScript<string>('return document.querySelector("[data-testid=row-padding] [role=alert]")?.textContent'),
      ),
    ).toMatch(wrong === 'nope' ? /is not a value of padding/ : /is longer than the 2000 characters/)
    expect(Math.abs((await height()) - before)).toBeLessThan(2)
    await field.sendKeys(Key.ESCAPE)
  }
  expect(await studio.ledger()).toEqual([])
})

test('a menu that is held open stays open while something in it is chosen', async () => {
  const studio = getStudio()
  await studio.pick('.entry', 0.1, 0.5)
  await studio.choose('State', ':hover')
  await studio.until('the menu', async () => (await studio.computed('.sub', 'display')) === 'block')
  await studio.pick('.sub a')
  expect(await state(studio, 's.picked.report.info.tag')).toBe('a')
  expect(await studio.computed('.sub', 'display')).toBe('block')
  expect(await studio.text('held')).toMatch(/li\.entry :hover/)
  await studio.press('li.entry')
  await studio.until('the menu closed', async () => (await studio.computed('.sub', 'display')) === 'none')
})

test('a rule is counted where its sheet is used, frames of the page among it only where they use it', async () => {
  const studio = getStudio()
  await studio.pick('.note', 0.98, 0.9)
  await studio.until('the count', async () => /1 on this page, 1 in 1 page$/m.test(await studio.text('reach')))
})

test('two alike are told apart; the outline covers nothing, its key puts the caret in its search', async () => {
  const studio = getStudio()
  await studio.pick('.layer:nth-of-type(2)')
  expect(await studio.text('aim')).toContain('div.layer 2')
  await studio.driver.executeScript('document.activeElement.blur()')
  await studio.key('o')
  await studio.test('outline')
  await studio.until('the caret in the search', () =>
    studio.driver.executeScript<boolean>(
      'return document.activeElement?.getAttribute("aria-label") === "Find by selector, text or attribute"',
    ),
  )
  expect(await studio.text('outline')).toMatch(/div\.layer1[^]*div\.layer2/)
  const [panel, frame] = [await (await studio.test('outline')).getRect(), await (await studio.pickedFrame()).getRect()]
  expect(frame.x).toBeGreaterThanOrEqual(panel.x + panel.width)
  await studio.key(Key.ARROW_DOWN)
  expect(await studio.driver.executeScript('return document.activeElement?.getAttribute("role")')).toBe('tree')
  await studio.driver.executeScript('document.activeElement.blur()')
  await studio.key('o')
})

test('by keys alone: the first element, and a row by its property', async () => {
  const studio = getStudio()
  await studio.key(Key.ESCAPE)
  await studio.until('nothing chosen', () => state(studio, 's.picked === null'))
  await studio.key(Key.ARROW_DOWN)
  await studio.until('the body', () => state(studio, 's.picked?.report.info.tag === "body"'))
  await studio.key(Key.ARROW_DOWN)
  await studio.until('what is in it', () => state(studio, 's.picked?.report.info.tag === "nav"'))
  await studio.key('f')
  await studio.until('the field', () =>
    studio.driver.executeScript<boolean>('return document.activeElement?.getAttribute("aria-label") === "A row by its property"'),
  )
  await studio.key('padding-left', Key.ENTER)
  await studio.until('the row', () =>
    studio.driver.executeScript<boolean>('return document.activeElement?.getAttribute("aria-label") === "padding-left value"'),
  )
  await studio.driver.executeScript('document.activeElement.blur()')
})

test('the sheet of what is chosen opens at its rule; a minified one says what it is near', async () => {
  const studio = getStudio()
  await studio.choose('File in Source', 'index.html')
  await studio.pick('.chip')
  await studio.choose('File in Source', 'pier.css')
  expect(await studio.until('its rule', async () => /chip/.test(await studio.markedLine()) && studio.markedLine())).toBe('.chip {')
  await studio.pick('.grid i')
  await studio.driver.executeScript('window.steadyProof.session.selection.touch("padding-top")')
  await studio.until('near what', async () => (await studio.text('aim-place')) === 'small.css, behind .grid')
})

test('handles of a small element stand outside its text', async () => {
  const studio = getStudio()
  await studio.pick('.chip')
  const box = await (await studio.test('picked-box')).getRect()
  const handles = await studio.driver.findElements(By.css('[data-testid^="handle-"]'))
  expect(handles.length).toBeGreaterThan(2)
  for (const handle of handles) {
    const r = await handle.getRect()
    const [x, y] = [r.x + r.width / 2, r.y + r.height / 2]
    expect(x < box.x || x > box.x + box.width || y < box.y || y > box.y + box.height).toBe(true)
  }
})

test('what is pointed at is told with its face, contrast and layout, beside it', async () => {
  const studio = getStudio()
  await studio.driver
    .actions()
    .move(await studio.pointOver('.note', 0.3, 0.5))
    .perform()
  const card = await studio.test('hover-card')
  expect((await card.getText()).replace(/\s+/g, ' ')).toMatch(
    /text .+ 16px 400 colour rgb\(34, 34, 34\), contrast 15\.\d+ on rgb\(255 255 255\) layout block in block padding 12px 16px margin 8px 0px/,
  )
  const [a, b] = [
    await card.getRect(),
    await studio.inPage<DOMRect>('return document.querySelector(".note").getBoundingClientRect().toJSON()'),
  ]
  const page = await (await studio.test('live-page')).getRect()
  expect(a.y + a.height <= page.y + b.top || a.y >= page.y + b.bottom || a.x >= page.x + b.right).toBe(true)
})

test('Z gives back a declaration that was taken out; what is carried goes to each element’s own place though the aim is held', async () => {
  const studio = getStudio()
  await studio.pick('.chip')
  await run(studio, "await p.session.edits.change('remove', 'padding-top')")
  expect(await studio.sourceNow('pier.css')).toContain('.chip {\n  display: inline-block;\n}')
  await studio.key('z')
  await studio.until('the padding back', async () => (await studio.computed('.chip', 'padding-left')) === '6px')
  await run(studio, "while (p.state().ledger.canUndo) await p.session.timeline.step('undo')")
  await studio.pick('.chip')
  await run(
    studio,
    "p.session.selection.touch('padding-top'); p.session.selection.holdAim(true); await p.session.edits.commit('padding-top', '9px')",
  )
  await studio.key('c')
  await studio.clickAt(await studio.pointOver('.note', 0.98, 0.9))
  await studio.until('carried', async () => (await studio.computed('.note', 'padding-top')) === '9px')
  await studio.key('c')
  await run(studio, "p.session.selection.holdAim(false); while (p.state().ledger.canUndo) await p.session.timeline.step('undo')")
})

test('a tag that a place cannot have is told beside the field, until it is typed in again', async () => {
  const studio = getStudio()
  await studio.pick('.note', 0.98, 0.9)
  await (await studio.test('section-Element')).click()
  const field = await studio.until('the tag', async () => (await studio.driver.findElements(By.css('input[aria-label="Tag name"]')))[0])
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'script', Key.ENTER)
  const alert = () =>
    studio.driver.executeScript<string | null>(
      'return document.querySelector("section[aria-label=Element] [role=alert]")?.textContent ?? null',
    )
  expect(await studio.until('why not', alert)).toMatch(/cannot be <script> here|what <script> holds/)
  expect(await studio.sourceNow('index.html')).toBe(FILES['index.html'])
  await field.sendKeys('x')
  expect(await alert()).toBeNull()
  await field.sendKeys(Key.ESCAPE)
})

test('four tracks are one more of three that are repeated', async () => {
  const studio = getStudio()
  await studio.pick('.grid', 0.5, 0.01)
  await run(studio, "const [n] = await p.session.selection.find('.grid'); await p.session.selection.pick(n)")
  await studio.unfold('Layout')
  await studio.edit(() => studio.pressNamed('Add a track to grid-template-columns'))
  expect(await studio.sourceNow('small.css')).toContain('grid-template-columns:repeat(4,1fr)')
  await studio.undo()
})
