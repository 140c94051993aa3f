import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const names = (studio: Studio, selector: string) =>
  studio.inPage<string[]>(
    'return [...document.querySelectorAll(arguments[0])].map((e) => e.textContent.trim().split("\\n")[0].trim())',
    selector,
  )
const blockOf = async (studio: Studio, path: string, from: string, lines: number) => {
  const all = (await studio.sourceNow(path)).split('\n')
  const at = all.findIndex((l) => l.includes(from))
  return all.slice(at, at + lines).join('\n')
}

const held = (studio: Studio, modifier: string, key: string) =>
  studio.driver.actions().keyDown(modifier).sendKeys(key).keyUp(modifier).perform()

/** Presses what the Element menu calls this. */
async function fromMenu(studio: Studio, item: string): Promise<void> {
  await studio.press('Element ▾')
  await studio.menuItem(item)
}

describe('which elements a page has, and where', () => {
  test('text is typed where it stands, with tags and references left as they are', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.goTo('/fares.html')
    await studio.inPage('window.notLoadedAgain = true')
    await studio.pick('main p')
    const before = await studio.sourceNow('fares.html')
    const point = await studio.pointOver('main p', 0.1, 0.3)
    await studio.driver.actions({ async: true }).move(point).doubleClick().perform()
    await studio.until('typing', () => studio.driver.executeScript<boolean>('return window.steadyProof.state().typing'))
    await studio.driver.sleep(200)
    await studio.edit(async () => {
      await studio.key(Key.END)
      await studio.key(' Tide & time <i>no</i>')
      await studio.key(Key.ENTER)
    })
    const line = (await studio.sourceNow('fares.html')).split('\n').find((l) => l.includes('Tide'))!
    expect(line).toContain('Tide & time &lt;i>no&lt;/i>')
    expect(await studio.inPage('return document.querySelector("main p").textContent')).toContain('Tide & time <i>no</i>')
    expect(await studio.inPage('return document.querySelector("[contenteditable]")')).toBe(null)
    // Escape leaves all as it was.
    await studio.key(Key.ENTER)
    await studio.until('typing', () => studio.driver.executeScript<boolean>('return window.steadyProof.state().typing'))
    await studio.driver.sleep(200)
    await studio.key('gone')
    await studio.key(Key.ESCAPE)
    await studio.driver.sleep(300)
    expect(await studio.inPage('return document.querySelector("main p").textContent')).toContain('Tide')
    await studio.undo()
    expect(await studio.sourceNow('fares.html')).toBe(before)
  })

  test('dragged by its label, an element lands where the mark says, and undo is byte for byte', async () => {
    const studio = getStudio()
    const before = await studio.sourceNow('fares.html')
    await studio.pick('.fare', 0.5, 0.04)
    const label = await studio.test('picked-label')
    const to = await studio.pointOver('.fare:nth-child(3)', 0.985, 0.5)
    await studio.driver
      .actions({ async: true })
      .move({ origin: label })
      .press()
      .move({ origin: label, x: 8, y: 4, duration: 40 })
      .move({ ...to, duration: 150 })
      .perform()
    await studio.until('the words', async () => (await studio.text('drop-words')) === 'after article.fare in div.cards')
    await studio.edit(() => studio.driver.actions({ async: true }).release().perform())
    expect((await names(studio, '.fare h2')).slice(0, 3)).toEqual(['Islander', 'Carnet of ten', 'Day return'])
    expect(await blockOf(studio, 'fares.html', 'Day return', 1)).toBe('        <h2>Day return</h2>')
    expect(await studio.inPage('return window.notLoadedAgain')).toBe(true)
    // It is still selected.
    expect(await studio.driver.executeScript('return window.steadyProof.state().picked.report.info.source')).toBe(
      await studio.inPage('return document.querySelectorAll(".fare")[2].dataset.steady'),
    )
    await studio.undo()
    expect(await studio.sourceNow('fares.html')).toBe(before)
    expect((await names(studio, '.fare h2'))[0]).toBe('Day return')
  })

  test('what cannot stand there says why', async () => {
    const studio = getStudio()
    await studio.goTo('/crossings.html')
    await studio.pick('tbody tr:nth-child(2) td', 0.95, 0.2)
    expect(
      await studio.driver.executeAsyncScript(
        'const done = arguments[0]; const { session, state } = window.steadyProof; session.structure.tell([state().picked.report.info.source], [{ source: document.querySelector("[data-none]") ?? state().picked.report.ancestors.at(-2).source, where: "last" }]).then((d) => done(d.words))',
      ),
    ).toBe('<td> stands in <tr> only')
    await studio.goTo('/fares.html')
  })

  test('keys move, double, delete, cut and paste, also on another page, with ids of their own', async () => {
    const studio = getStudio()
    const before = await studio.sourceNow('fares.html')
    await studio.pick('.fare', 0.5, 0.04)
    await studio.edit(() => held(studio, Key.ALT, Key.ARROW_DOWN))
    expect((await names(studio, '.fare h2')).slice(0, 2)).toEqual(['Islander', 'Day return'])
    await studio.edit(() => studio.key('2'))
    expect((await names(studio, '.fare h2')).slice(0, 3)).toEqual(['Islander', 'Day return', 'Day return'])
    await studio.edit(() => studio.key(Key.DELETE))
    expect((await names(studio, '.fare h2')).slice(0, 3)).toEqual(['Islander', 'Day return', 'Carnet of ten'])
    for (let i = 0; i < 3; i++) await studio.undo()
    expect(await studio.sourceNow('fares.html')).toBe(before)
    await studio.goTo('/booking.html')
    await studio.pick('#review')
    await held(studio, Key.CONTROL, 'c')
    await studio.edit(() =>
      studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.structure.paste().then(done)'),
    )
    const ids = await studio.inPage<string[]>('return [...document.querySelectorAll("[id]")].map((e) => e.id)')
    expect(ids).toContain('review-2')
    expect(new Set(ids).size).toBe(ids.length)
    await studio.goTo('/fares.html')
    await studio.pick('h1')
    await studio.edit(() =>
      studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.structure.paste().then(done)'),
    )
    expect(await studio.sourceNow('fares.html')).toContain('id="review"')
    await studio.undo()
    await studio.undo()
    expect(await studio.sourceNow('fares.html')).toBe(before)
  })

  test('what is inserted is indented as the file is, and an address that refuses to be framed is told', async () => {
    const studio = getStudio()
    await studio.pick('.fare', 0.5, 0.04)
    await studio.key('i')
    await studio.press('List')
    await studio.press('Last inside')
    await studio.until('where it lands', async () => (await studio.text('insert-lands')) === 'It lands last in article.fare.')
    await studio.edit(async () => studio.driver.findElement(By.xpath('//div[@role="dialog"]//button[normalize-space()="Insert"]')).click())
    expect(await blockOf(studio, 'fares.html', '<ul>', 6)).toBe(
      '        <ul>\n          <li>First</li>\n          <li>Second</li>\n          <li>Third</li>\n        </ul>\n      </article>',
    )
    expect(await studio.inPage('return window.notLoadedAgain === true || document.querySelectorAll(".fare li").length')).toBeTruthy()
    await studio.undo()
    await studio.pick('h1')
    await studio.key('i')
    await studio.press('Embedded page')
    const address = await studio.driver.findElement(By.css('[role=dialog] input[list]'))
    await address.sendKeys('https://vimeo.com/123456')
    await studio.test('embed-note')
    await studio.press('Use the address that is made for it')
    expect(await studio.text('insert-html')).toContain('https://player.vimeo.com/video/123456')
    await studio.key(Key.ESCAPE)
    await studio.driver.sleep(400)
  })

  test('wrapped, and its tags taken away again', async () => {
    const studio = getStudio()
    const before = await studio.sourceNow('fares.html')
    await studio.pick('h1')
    await studio.press('Element ▾')
    const field = await studio.driver.wait(
      async () => (await studio.driver.findElements(By.css('input[aria-label="Tag and class to wrap in"]')))[0],
      5000,
    )
    await studio.driver.sleep(300)
    await field!.sendKeys(Key.chord(Key.CONTROL, 'a'), 'header.lead')
    await studio.edit(async () => studio.driver.findElement(By.xpath('//li//button[normalize-space()="Wrap"]')).click())
    expect(await blockOf(studio, 'fares.html', '<header class="lead">', 3)).toMatch(
      /^ {4}<header class="lead">\n {6}<h1>[^\n]*<\/h1>\n {4}<\/header>$/,
    )
    await studio.driver.sleep(300)
    await studio.edit(() => fromMenu(studio, 'Take its own tags away'))
    expect(await studio.sourceNow('fares.html')).toBe(before)
    await studio.undo()
    await studio.undo()
  })

  test('in the outline, a row is dragged to its place', async () => {
    const studio = getStudio()
    await studio.pick('h1')
    await studio.key('o')
    await studio.test('outline')
    await studio.driver.sleep(500)
    const row = (text: string, nth = 0) =>
      studio.until(
        `the row ${text}`,
        async () => (await studio.driver.findElements(By.xpath(`//*[@role="treeitem"][contains(., "${text}")]`)))[nth],
      )
    const [from, to] = [await row('Fares for every'), await row('article.fare')]
    const rect = await to.getRect()
    await studio.driver
      .actions({ async: true })
      .move({ origin: from })
      .press()
      .move({ origin: from, x: 5, y: 5, duration: 40 })
      .move({ x: Math.round(rect.x + 90), y: Math.round(rect.y + 3), duration: 150 })
      .perform()
    await studio.driver.sleep(300)
    await studio.edit(() => studio.driver.actions({ async: true }).release().perform())
    expect(await blockOf(studio, 'fares.html', '<div class="cards">', 3)).toMatch(/<div class="cards">\n {6}<h1>.*<\/h1>\n {6}<article/)
    await studio.undo()
    await studio.pressNamed('Close the outline')
  })

  test('the head of the page is written where a reader looks for it, and shown as a search result', async () => {
    const studio = getStudio()
    const before = await studio.sourceNow('fares.html')
    await studio.press('Head')
    await studio.until('the search result', async () => (await studio.text('search-result')).includes('Fares · Brinewick Ferry'))
    const field = (label: string) => studio.driver.findElement(By.css(`[role=dialog] input[aria-label="${label}"]`))
    await studio.edit(async () => (await field('Description')).sendKeys('What a crossing costs, & for whom.', Key.ENTER))
    expect(await studio.sourceNow('fares.html')).toContain(
      '  <title>Fares · Brinewick Ferry</title>\n  <meta name="description" content="What a crossing costs, & for whom.">\n',
    )
    expect(await studio.text('search-result')).toContain('What a crossing costs, & for whom.')
    await studio.edit(async () => (await field('Title')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Fares', Key.ENTER))
    expect(await studio.inPage('return document.title')).toBe('Fares')
    await studio.edit(async () => (await field('Language')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'en-GB', Key.ENTER))
    expect(await studio.sourceNow('fares.html')).toContain('<html lang="en-GB">')
    await studio.key(Key.ESCAPE)
    await studio.driver.sleep(400)
    for (let i = 0; i < 3; i++) await studio.undo()
    expect(await studio.sourceNow('fares.html')).toBe(before)
  })

  test('another tag name tells what it would change, and an id takes what names it along', async () => {
    const studio = getStudio()
    await studio.pick('.fare h2')
    await studio.driver.executeScript(
      'const b = document.querySelector("[data-testid=section-Element]"); b.scrollIntoView(); if (b.getAttribute("aria-expanded") === "false") b.click()',
    )
    const tag = await studio.until('the tag’s field', () => studio.driver.findElement(By.css('input[aria-label="Tag name"]')))
    await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', tag)
    await tag.sendKeys(Key.chord(Key.CONTROL, 'a'), 'h3', Key.ENTER)
    expect(await studio.text('retag')).toMatch(/\.fare h2\s+stops matching it\s+css\/pages\.css:\d+/)
    await studio.press('Leave it')
    expect(await studio.sourceNow('fares.html')).toContain('<h2>Day return</h2>')
    await studio.goTo('/booking.html')
    await studio.pick('#review')
    const id = await studio.until('its id', () => studio.driver.findElement(By.css('input[aria-label="id of the element"]')))
    await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', id)
    await studio.edit(() => id.sendKeys(Key.chord(Key.CONTROL, 'a'), 'check', Key.ENTER))
    expect(await studio.sourceNow('booking.html')).toContain('id="check"')
    await studio.undo()
    await studio.goTo('/fares.html')
  })

  test('off the page for now is not in the source, hidden for good is', async () => {
    const studio = getStudio()
    const before = await studio.sourceNow('fares.html')
    await studio.pick('h1')
    await studio.key('h')
    await studio.until('it off the page', async () => (await studio.computed('h1', 'display')) === 'none')
    expect(await studio.sourceNow('fares.html')).toBe(before)
    await studio.key('h')
    await studio.until('it on the page', async () => (await studio.computed('h1', 'display')) === 'block')
    await studio.pick('h1')
    await studio.edit(() => fromMenu(studio, 'hidden attribute'))
    expect(await studio.sourceNow('fares.html')).toContain('<h1 hidden')
    await studio.undo()
  })
})
