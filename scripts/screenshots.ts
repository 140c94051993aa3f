/** Takes the pictures in `docs/screenshots/` anew, from the sample projects. */
import { mkdirSync, writeFileSync } from 'node:fs'
import { By, Key } from 'selenium-webdriver'
import { openBrowser, type BrowserOptions } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'

const DIR = 'docs/screenshots'
mkdirSync(DIR, { recursive: true })
const app = await startApp()
process.on('exit', () => app.stop())
process.on('uncaughtException', (error) => {
  console.error(error)
  process.exit(1)
})

async function scene(options: BrowserOptions, play: (studio: Studio, shot: (name: string) => Promise<void>) => Promise<void>): Promise<void> {
  const browser = await openBrowser(options)
  try {
    const studio = new Studio(browser, app.url)
    await studio.open()
    await play(studio, async (name) => {
      await studio.driver.sleep(400)
      writeFileSync(`${DIR}/${name}.png`, await studio.driver.takeScreenshot(), 'base64')
      console.log(`${DIR}/${name}.png`)
    })
  } finally {
    await browser.close()
  }
}

async function someEdits(studio: Studio): Promise<void> {
  await studio.goTo('/fares.html')
  await studio.pick('.fare h2', 0.9)
  await studio.type('font-size', '20px')
  await studio.verdict()
  await studio.pick('.fare', 0.5, 0.03)
  await studio.pull('padding-left', 18, Key.ALT)
}

await scene({ dark: false }, async (studio, shot) => {
  await shot('nothing-chosen')
  await someEdits(studio)
  await studio.startPull('padding-top', 20)
  await shot('pulling-a-padding')
  await studio.endPull()
  await studio.verdict()
  await (await studio.driver.findElement(By.css('[data-testid=row-background-color] button'))).click()
  await shot('choosing-a-colour')
  await studio.key(Key.ESCAPE)
  // The popover takes a moment to go, and the page below is not to be pressed before.
  await studio.driver.sleep(500)
  await (await studio.driver.findElement(By.xpath('//button[contains(., "other place")]'))).click()
  await shot('other-places')
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.pick('.button')
  await studio.choose('State', ':hover')
  await shot('a-state-held')
  await studio.choose('State', '')
  await studio.goTo('/fares.html')
  await studio.pick('.fare', 0.5, 0.03)
  await studio.key('l')
  await studio.driver.sleep(600)
  await shot('many-chosen')
  await studio.pick('.cards', 0.335, 0.5)
  for (const title of ['Space', 'Type', 'Colour']) await (await studio.test(`section-${title}`)).click()
  await studio.unfold('Layout')
  await shot('layout-of-a-grid')
  await (await studio.test('section-Layout')).click()
  await studio.pick('.fare', 0.5, 0.03)
  await studio.unfold('Effects')
  await studio.press('Add a shadow')
  await studio.verdict()
  await studio.press('Add a transition')
  await studio.driver.sleep(900)
  await studio.unfold('Edges')
  await shot('edges-and-effects')
  await (await studio.test('section-Edges')).click()
  await (await studio.test('section-Effects')).click()
  await studio.unfold('Type')
  await studio.pick('.fare h2')
  await (await studio.driver.findElement(By.css('[data-testid=row-font-size] > button[aria-haspopup=dialog]'))).click()
  await studio.driver.sleep(400)
  await shot('about-a-row')
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(400)
  await (await studio.driver.findElement(By.xpath('//button[normalize-space(.)="Keys"]'))).click()
  // The sheet is a script of its own, and then fades in.
  await studio.until('the whole sheet', () => studio.driver.executeScript<boolean>('const d = document.querySelector("[role=dialog]")?.closest(".MuiDialog-container"); return d !== null && d !== undefined && getComputedStyle(d).opacity === "1"'))
  await shot('keys')
})

await scene({ dark: true }, async (studio, shot) => {
  await someEdits(studio)
  await shot('dark')
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.goTo('/fares.html')
  await studio.pick('.fare', 0.5, 0.03)
  for (const title of ['Space', 'Type']) await (await studio.test(`section-${title}`)).click()
  await studio.press('A gradient')
  await studio.verdict()
  const stop = await studio.test('gradient-stop-2')
  await studio.driver.actions().move({ origin: stop }).press().move({ origin: stop, x: 0, y: -8 }).move({ origin: stop, x: 0, y: -60 }).perform()
  await shot('gradient-on-the-page')
  await studio.driver.actions().release().perform()
  await studio.verdict()
  await studio.goTo('/crossings.html')
  await studio.pick('.timetable td', 0.7, 0.2)
  await studio.key('o')
  await studio.test('outline')
  await shot('outline')
  await studio.key('o')
  await studio.unfold('Space')
  await studio.type('margin-top', '12px')
  await studio.verdict()
  await shot('an-edit-without-effect')
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.openSample('Brinewick crew, in utility classes')
  await studio.pick('main li', 0.5, 0.05)
  await studio.type('padding-left', '20px')
  await studio.verdict()
  await studio.startPull('padding-top', 17)
  await shot('a-class-list')
  await studio.endPull()
  await studio.verdict()
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.goTo('/fares.html')
  await studio.pick('.fare', 0.5, 0.04)
  const label = await studio.test('picked-label')
  const to = await studio.pointOver('.fare:nth-child(3)', 0.985, 0.4)
  await studio.driver.actions({ async: true }).move({ origin: label }).press().move({ origin: label, x: 8, y: 4, duration: 40 }).move({ ...to, duration: 150 }).perform()
  await studio.test('drop-words')
  await shot('dragging-a-card')
  await studio.driver.actions({ async: true }).release().perform()
  await studio.verdict()
  await studio.key('i')
  await studio.press('Form field')
  await studio.press('Last inside')
  await shot('inserting')
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(400)
  await studio.press('Head')
  await studio.test('search-result')
  await shot('head-of-the-page')
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(400)
  await studio.press('Half')
  await studio.choose('File in Source', 'css/pages.css')
  await studio.pick('.fare h2')
  await shot('page-and-source')
})

process.exit(0)
