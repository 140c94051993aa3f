import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

/** Puts the caret behind a text in Source, as a click there would. */
async function caretAfter(studio: Studio, text: string): Promise<void> {
  const path = (await studio.driver.executeScript<string>('return document.querySelector("[data-testid=source-path]").value'))
  const line = (await studio.sourceNow(path)).split('\n').findIndex((l) => l.includes(text))
  // Only lines that can be seen are drawn.
  await studio.driver.executeScript('document.activeElement?.blur(); window.steadyProof.show(arguments[0], arguments[1] + 1)', path, line)
  await studio.driver.sleep(400)
  await studio.until(`${text} in Source`, () => studio.driver.executeScript<boolean>('return document.querySelector(".cm-content")?.innerText.includes(arguments[0])', text))
  const at = await studio.driver.executeScript<{ x: number; y: number }>(`
    const line = [...document.querySelectorAll('.cm-line')].find((l) => l.textContent.includes(arguments[0]))
    const end = line.textContent.indexOf(arguments[0]) + arguments[0].length, range = document.createRange()
    let seen = 0
    for (let n = document.createTreeWalker(line, NodeFilter.SHOW_TEXT), t; (t = n.nextNode()); seen += t.length) if (seen + t.length >= end) { range.setStart(t, end - seen - 1); range.setEnd(t, end - seen); break }
    const r = range.getBoundingClientRect()
    return { x: Math.round(r.right), y: Math.round((r.top + r.bottom) / 2) }`, text)
  await studio.driver.actions({ async: true }).move(at).click().perform()
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
    expect((await studio.ledger())[0]).toMatch(/pages\.css:\d+ typed .*reach 0 ✓/)
    expect(await studio.inPage('return [window.notLoadedAgain, scrollY]')).toEqual([true, 40])
  })

  test('while the text is at fault the page keeps what it had, and the line is told', async () => {
    const studio = getStudio()
    await studio.key(Key.ENTER, '} }')
    await studio.test('source-fault')
    expect(await studio.text('source-fault')).toMatch(/^Line \d+: .*\. The page keeps what it had\.$/)
    expect(await studio.computed('.cards', 'outline-width')).toBe('3px')
    await studio.key(Key.BACK_SPACE, Key.BACK_SPACE, Key.BACK_SPACE)
    await studio.until('the fault gone', async () => (await studio.driver.findElements(By.css('[data-testid=source-fault]'))).length === 0)
    // One history for gestures and for what is typed.
    while (await studio.driver.executeScript<boolean>('return window.steadyProof.state().ledger.canUndo')) {
      await studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.edits.step("undo").then(done)')
    }
    expect(await studio.computed('.cards', 'outline-style')).toBe('none')
    await studio.until('the text as it was', () => studio.driver.executeScript<boolean>('return !document.querySelector(".cm-content").innerText.includes("rgb(1, 2, 3)")'))
  })

  test('the caret chooses the rule or the element it stands in; what is chosen is marked', async () => {
    const studio = getStudio()
    await caretAfter(studio, '.fare h2')
    await studio.until('the heading chosen', async () => (await studio.text('aim-label')) === '.fare h2')
    await studio.until('its rule marked', () => studio.driver.executeScript<boolean>('return [...document.querySelectorAll("[class*=chosen]")].some((e) => e.innerText === ".fare h2")'))
    await studio.choose('File in Source', 'fares.html')
    await caretAfter(studio, 'For those who live')
    await studio.until('the paragraph chosen', () => studio.driver.executeScript<boolean>('return window.steadyProof.state().picked?.report.info.tag === "p"'))
    await studio.key(' all year')
    await studio.until('the words on the page', async () => (await studio.inPage<string>('return document.querySelectorAll(".fare p")[1].textContent')) === 'For those who live all year on Brinewick.')
    // Tags too come without the page being loaded again.
    await caretAfter(studio, '<h2>Islander</h2>')
    await studio.key('<em>new</em>')
    await studio.until('the tag on the page', () => studio.inPage<boolean>('return document.querySelector(".fare em")?.textContent === "new"'))
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
    await studio.until('a token', () => studio.driver.executeScript<boolean>('return [...document.querySelectorAll(".cm-tooltip-autocomplete li")].some((l) => l.innerText.startsWith("--tide"))'))
    await studio.key(Key.ESCAPE)
  })
})
