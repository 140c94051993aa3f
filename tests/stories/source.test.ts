import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

/** Puts the caret behind a text in Source, as a click there would. */
async function caretAfter(studio: Studio, text: string): Promise<void> {
  const path = await studio.driver.executeScript<string>('return document.querySelector("[data-testid=source-path]").value')
  const line = (await studio.sourceNow(path)).split('\n').findIndex((l) => l.includes(text))
  // Only lines that can be seen are drawn.
  await studio.driver.executeScript('document.activeElement?.blur(); window.steadyProof.show(arguments[0], arguments[1] + 1)', path, line)
  await studio.driver.sleep(400)
  await studio.until(`${text} in Source`, () =>
    studio.driver.executeScript<boolean>('return document.querySelector(".cm-content")?.innerText.includes(arguments[0])', text),
  )
  const at = await studio.driver.executeScript<{ x: number; y: number }>(
    `
    const line = [...document.querySelectorAll('.cm-line')].find((l) => l.textContent.includes(arguments[0]))
    const end = line.textContent.indexOf(arguments[0]) + arguments[0].length, range = document.createRange()
    let seen = 0
    for (let n = document.createTreeWalker(line, NodeFilter.SHOW_TEXT), t; (t = n.nextNode()); seen += t.length) if (seen + t.length >= end) { range.setStart(t, end - seen - 1); range.setEnd(t, end - seen); break }
    const r = range.getBoundingClientRect()
    return { x: Math.round(r.right), y: Math.round((r.top + r.bottom) / 2) }`,
    text,
  )
  await studio.driver.actions({ async: true }).move(at).click().perform()
}

/** Takes back what the stories before did. */
async function undoAll(studio: Studio): Promise<void> {
  while (await studio.driver.executeScript<boolean>('return window.steadyProof.state().ledger.canUndo')) {
    await studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.timeline.step("undo").then(done)')
  }
}

/** Chooses the caret as the place, once it is told that what is to be inserted can stand there. */
async function atTheCaret(studio: Studio): Promise<void> {
  const button = await studio.until(
    'the caret as a place',
    async () => (await studio.driver.findElements(By.xpath('//button[normalize-space(.)="At the caret in Source" and not(@disabled)]')))[0],
  )
  await studio.driver.sleep(300)
  await button.click()
}

describe('Source, both ways', () => {
  test('what is typed is seen on the page, without its losing its place', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.goTo('/fares.html')
    await studio.inPage('window.notLoadedAgain = true; document.body.style.minHeight = "3000px"; scrollTo(0, 40)')
    await studio.press('Half')
    await studio.choose('File in Source', 'css/pages.css')
    await caretAfter(studio, '.cards {')
    await studio.key(Key.END, Key.ENTER, 'outline: 3px solid rgb(1, 2, 3);')
    await studio.until('it on the page', async () => (await studio.computed('.cards', 'outline')) === 'rgb(1, 2, 3) solid 3px')
    expect(await studio.sourceNow('css/pages.css')).toMatch(/\.cards \{\n {2}outline: 3px solid rgb\(1, 2, 3\);\n/)
    expect((await studio.ledger())[0]).toMatch(/pages\.css:\d+ typed .* ✓/)
    expect(await studio.inPage('return [window.notLoadedAgain, scrollY]')).toEqual([true, 40])
  })

  test('while the text is at fault the page keeps what it had, and the line is told', async () => {
    const studio = getStudio()
    await studio.key(Key.ENTER, '} }')
    await studio.test('source-fault')
    expect(await studio.text('source-fault')).toMatch(/^Line \d+: .*\. The page keeps what it had, and the text is no part of the file\./)
    expect(await studio.computed('.cards', 'outline-width')).toBe('3px')
    await studio.key(Key.BACK_SPACE, Key.BACK_SPACE, Key.BACK_SPACE)
    await studio.until('the fault gone', async () => (await studio.driver.findElements(By.css('[data-testid=source-fault]'))).length === 0)
    // One history for gestures and for what is typed.
    await undoAll(studio)
    expect(await studio.computed('.cards', 'outline-style')).toBe('none')
    await studio.until('the text as it was', () =>
      studio.driver.executeScript<boolean>('return !document.querySelector(".cm-content").innerText.includes("rgb(1, 2, 3)")'),
    )
  })

  test('the caret chooses the rule or the element it stands in; what is chosen is marked', async () => {
    const studio = getStudio()
    await caretAfter(studio, '.fare h2')
    await studio.until('the heading chosen', async () => (await studio.text('aim-label')) === '.fare h2')
    await studio.until('its rule marked', () =>
      studio.driver.executeScript<boolean>(
        'return [...document.querySelectorAll("[class*=chosen]")].some((e) => e.innerText === ".fare h2")',
      ),
    )
    await studio.choose('File in Source', 'fares.html')
    await caretAfter(studio, 'For those who live')
    await studio.until('the paragraph chosen', () =>
      studio.driver.executeScript<boolean>('return window.steadyProof.state().picked?.report.info.tag === "p"'),
    )
    await studio.key(' all year')
    await studio.until(
      'the words on the page',
      async () =>
        (await studio.inPage<string>('return document.querySelectorAll(".fare p")[1].textContent')) ===
        'For those who live all year on Brinewick.',
    )
    // Tags too come without the page being loaded again.
    await caretAfter(studio, '<h2>Islander</h2>')
    await studio.key('<em>new</em>')
    await studio.until('the tag on the page', () =>
      studio.inPage<boolean>('return document.querySelector(".fare em")?.textContent === "new"'),
    )
    expect(await studio.inPage('return window.notLoadedAgain')).toBe(true)
  })

  test('what is typed is written where it was typed, whatever is done before it rests', async () => {
    const studio = getStudio()
    await studio.choose('File in Source', 'css/pages.css')
    await caretAfter(studio, '.cards {')
    const tokens = await studio.sourceNow('css/tokens.css')
    // Another file is chosen at once.
    await studio.key(Key.END, Key.ENTER, 'order: 3;')
    await studio.choose('File in Source', 'css/tokens.css')
    await studio.until('it in its file', async () => (await studio.sourceNow('css/pages.css')).includes('.cards {\n  order: 3;\n'))
    await studio.driver.sleep(700)
    expect(await studio.sourceNow('css/tokens.css')).toBe(tokens)
    // The same file is edited on the page while the text is at fault.
    await studio.choose('File in Source', 'css/pages.css')
    await caretAfter(studio, 'order: 3;')
    await studio.key(' }')
    await studio.test('source-fault')
    await studio.pick('.fare h2')
    await studio.edit(() => studio.type('font-size', '23px'))
    await caretAfter(studio, 'order: 3;')
    await studio.key(Key.END, Key.BACK_SPACE, Key.BACK_SPACE, ' top: 0;')
    await studio.until('both in the file', async () => /order: 3; top: 0;[^]*font-size: 23px/.test(await studio.sourceNow('css/pages.css')))
  })

  test('the project’s own names are completed', async () => {
    const studio = getStudio()
    await studio.choose('File in Source', 'css/pages.css')
    await caretAfter(studio, '.cards {')
    await studio.key(Key.END, Key.ENTER, 'color: var(--ti')
    await studio.until('a token', () =>
      studio.driver.executeScript<boolean>(
        'return [...document.querySelectorAll(".cm-tooltip-autocomplete li")].some((l) => l.innerText.startsWith("--tide"))',
      ),
    )
    await studio.key(Key.ESCAPE)
  })

  test('colours and lengths in the text open the chooser and the tape of Tune; what they give is one edit', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.goTo('/fares.html')
    await undoAll(studio)
    await studio.choose('File in Source', 'css/pages.css')
    await caretAfter(studio, '.fare h2')
    await studio.driver.sleep(500)
    const before = await studio.sourceNow('css/pages.css')
    await caretAfter(studio, '.fare h2 { margin: 0 0 2px; font-size: 18p')
    const tape = await studio.until('the tape', async () => studio.driver.findElement(By.css('[role=dialog] [role=slider]')))
    // It grows to its place.
    await studio.driver.sleep(400)
    const { x, y } = await tape.getRect()
    await studio.driver
      .actions({ async: true })
      .move({ x: Math.round(x + 60), y: Math.round(y + 10) })
      .press()
      .move({ x: Math.round(x + 80), y: Math.round(y + 10), duration: 100 })
      .perform()
    await studio.until('it on the page', async () => Number.parseFloat(await studio.computed('.fare h2', 'font-size')) > 19)
    expect(await studio.sourceNow('css/pages.css')).toBe(before)
    await studio.edit(() => studio.driver.actions({ async: true }).release().perform())
    const after = await studio.sourceNow('css/pages.css')
    expect(after).toMatch(/\.fare h2 \{ margin: 0 0 2px; font-size: 2\d(\.\d+)?px; \}/)
    expect(after).not.toBe(before)
    await studio.undo()
    // By keys, left as it was.
    await caretAfter(studio, '.fare p { min-height: 3em; color: var(--ink-soft)')
    await studio.key(Key.ESCAPE)
    await studio.driver.actions().keyDown(Key.ALT).sendKeys(Key.ENTER).keyUp(Key.ALT).perform()
    await studio.until('the chooser', async () => studio.driver.findElement(By.css('[role=dialog] input[aria-label="Colour value"]')))
    await studio.key(Key.ESCAPE)
    await studio.driver.sleep(400)
    expect(await studio.sourceNow('css/pages.css')).toBe(before)
    expect(await studio.ledger()).toEqual([])
  })

  test('scripts are typed in too, and the page is loaded with them', async () => {
    const studio = getStudio()
    await studio.goTo('/notices.html')
    await studio.choose('File in Source', 'js/notices.js')
    await studio.driver.sleep(500)
    const before = await studio.sourceNow('js/notices.js')
    await (await studio.driver.findElement(By.css('.cm-content'))).click()
    await studio.driver.actions().keyDown(Key.CONTROL).sendKeys(Key.END).keyUp(Key.CONTROL).perform()
    await studio.key('\ndocument.title = "typed"\n')
    await studio.until('it in the ledger', async () => /notices\.js:\d+ typed/.test((await studio.ledger())[0] ?? ''))
    await studio.until('the script run', () => studio.inPage<boolean>('return document.title === "typed"'))
    await studio.until(
      'all that was typed',
      async () => (await studio.sourceNow('js/notices.js')) === `${before}\ndocument.title = "typed"\n`,
    )
    // What is typed with a rest between is two edits.
    while ((await studio.ledger()).length > 0) await studio.undo()
    expect(await studio.sourceNow('js/notices.js')).toBe(before)
  })

  test('something is inserted at the caret, between elements with its indentation and in a text as it is', async () => {
    const studio = getStudio()
    await studio.goTo('/fares.html')
    await studio.choose('File in Source', 'fares.html')
    const before = await studio.sourceNow('fares.html')
    await caretAfter(studio, '<h2>Day return</h2>')
    await studio.until('the element chosen', async () => (await studio.text('picked-label')).startsWith('h2'))
    await studio.driver.executeScript('document.activeElement.blur()')
    await studio.key('i')
    await studio.press('Grid of boxes')
    await atTheCaret(studio)
    await studio.until('where it lands', async () => (await studio.text('insert-lands')) === 'It lands after h2 in article.fare.')
    await studio.edit(() => studio.press('Insert'))
    expect(await studio.sourceNow('fares.html')).toContain(
      '        <h2>Day return</h2>\n        <div class="grid">\n          <div></div>\n          <div></div>\n          <div></div>\n        </div>\n',
    )
    expect(await studio.sourceNow('css/pages.css')).toMatch(
      /\n\.grid \{\n {2}display: grid;\n {2}grid-template-columns: repeat\(3, minmax\(0, 1fr\)\);\n {2}gap: 1rem;\n\}\n$/,
    )
    await studio.undo()
    await caretAfter(studio, '<p>Out and back')
    await studio.until('the paragraph chosen', async () => (await studio.text('picked-label')).startsWith('p'))
    await studio.driver.executeScript('document.activeElement.blur()')
    await studio.key('i')
    await studio.press('Link')
    await atTheCaret(studio)
    await studio.until('where it lands', async () => (await studio.text('insert-lands')).includes('in the text of p'))
    await studio.press('Insert')
    await studio.until('it in the ledger', async () => (await studio.ledger()).length === 1)
    expect(await studio.sourceNow('fares.html')).toContain('<p>Out and back<a>Link</a> before')
    await studio.undo()
    expect(await studio.sourceNow('fares.html')).toBe(before)
  })
})
