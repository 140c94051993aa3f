import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const selected = (studio: Studio) =>
  studio.driver.executeScript<string | null>(
    'return document.querySelector("[role=treeitem][aria-selected=true]")?.innerText.replace(/\\s+/g, " ").trim() ?? null',
  )
const inHand = (studio: Studio) =>
  studio.driver.executeScript<string>(
    'const i = window.steadyProof.state().picked?.report.info; return i ? i.tag + i.classes.map((c) => "." + c).join("") : ""',
  )

test('what is chosen on the page is chosen in the outline, and the other way round, by pointer and keys', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.goTo('/crossings.html')
  await studio.key('o')
  const tree = await studio.driver.wait(async () => (await studio.driver.findElements(By.css('[role=tree]')))[0] ?? null, 5000)
  await studio.pick('.timetable td.via', 0.7)
  await studio.until('the cell in the outline', async () => (await selected(studio))?.startsWith('td.via'))
  await tree!.sendKeys(Key.ARROW_LEFT, Key.ENTER)
  await studio.until('the row on the page', async () => (await inHand(studio)) === 'tr.weekday')
  await tree!.sendKeys(Key.ARROW_LEFT)
  expect(await studio.driver.executeScript('return document.querySelector("[role=treeitem][aria-selected=true]").ariaExpanded')).toBe(
    'false',
  )
  await tree!.sendKeys(Key.ARROW_RIGHT, Key.ARROW_DOWN, Key.ENTER)
  await studio.until('its first cell', async () => (await inHand(studio)) === 'td')
  await (await studio.driver.findElement(By.xpath('//*[@role="treeitem"][contains(., "table")]'))).click()
  await studio.until('the table', async () => (await inHand(studio)).startsWith('table'))
})

test('it is searched by selector, text and attribute, from one to the next', async () => {
  const studio = getStudio()
  const field = await studio.driver.findElement(By.css('[role=search] input'))
  const look = async (query: string) => {
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), query, Key.ENTER)
    await studio.driver.sleep(400)
    return (await studio.driver.findElement(By.css('[role=search] output'))).getText()
  }
  const weekdays = await studio.inPage<number>('return document.querySelectorAll("tr.weekday").length')
  expect(await look('tr.weekday')).toBe(`1 of ${weekdays}`)
  await field.sendKeys(Key.ENTER)
  await studio.until(
    'the next',
    async () => (await (await studio.driver.findElement(By.css('[role=search] output'))).getText()) === `2 of ${weekdays}`,
  )
  expect(await inHand(studio)).toBe('tr.weekday')
  expect(await look('Seal Rock')).toMatch(/^1 of \d/)
  expect(await inHand(studio)).toBe('td.via')
  expect(await look('data-days="sunday"')).toMatch(/^1 of \d/)
  expect(await look('nowhere at all')).toBe('none')
})

test('what scripts add is marked as such', async () => {
  const studio = getStudio()
  await studio.inPage('const p = document.createElement("p"); p.textContent = "late news"; document.querySelector("main").append(p)')
  await studio.until('the new element', () =>
    studio.driver.executeScript<boolean>(
      'return window.steadyProof.state().tree?.some((r) => r.text === "late news" && r.info.origin === "script")',
    ),
  )
})

test('ten thousand elements are a tree of which only what is seen is drawn', async () => {
  const studio = getStudio()
  const list = Array.from({ length: 2500 }, (_, i) => `<section id="s${i}"><h2>Part ${i}</h2><p>Some <b>words</b></p></section>`).join('\n')
  await studio.importSite('long', { 'index.html': `<!doctype html><title>Long</title><main>${list}</main>` })
  await studio.until('the long page', () =>
    studio.driver.executeScript<boolean>('return (window.steadyProof.state().tree?.length ?? 0) > 10000'),
  )
  const drawn = () => studio.driver.executeScript<number>('return document.querySelectorAll("[role=treeitem]").length')
  expect(await drawn()).toBeLessThan(120)
  const field = await studio.driver.findElement(By.css('[role=search] input'))
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '#s2400', Key.ENTER)
  await studio.until('a part near the end', async () => /#s2400/.test((await selected(studio)) ?? ''))
  expect(await drawn()).toBeLessThan(120)
  expect(
    await studio.inPage<boolean>(
      'const r = document.querySelector("#s2400").getBoundingClientRect(); return r.top < innerHeight && r.bottom > 0',
    ),
  ).toBe(true)
})
