/** Takes the pictures in `docs/screenshots/` again, from the sample projects. */
import { execFileSync } from 'node:child_process'
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative } from 'node:path'
import { By, Key } from 'selenium-webdriver'
import { openBrowser, type BrowserOptions } from '../tests/support/browser'
import { BrowserFolder } from '../tests/support/folder'
import { startApp, type RunningApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'

const DIR = 'docs/screenshots'
mkdirSync(DIR, { recursive: true })
const app = await startApp()
process.on('exit', () => app.stop())
process.on('uncaughtException', (error) => {
  console.error(error)
  process.exit(1)
})

async function scene(
  options: BrowserOptions,
  play: (studio: Studio, shot: (name: string) => Promise<void>) => Promise<void>,
  { url, address }: RunningApp = app,
): Promise<void> {
  const browser = await openBrowser(options)
  try {
    const studio = new Studio(browser, url)
    if (address === url) await studio.open()
    else {
      await studio.driver.get(address)
      await studio.ready()
    }
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
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.pick('.button')
  await studio.choose('State', ':hover')
  await shot('a-state-held')
  await studio.choose('State', '')
  await studio.goTo('/fares.html')
  await studio.pick('.fare', 0.5, 0.03)
  await studio.key('q')
  await studio.press('In use')
  await studio.until('its colours', async () => (await studio.text('whole-page')).includes('Colours'))
  await studio.driver.sleep(300)
  await (await studio.driver.findElement(By.xpath('//*[@data-testid="whole-page"]//li/button[contains(., "--tide")]'))).click()
  await studio.driver.sleep(600)
  await shot('colours-in-use')
  await studio.press('Theme')
  await studio.until('its tokens', async () => (await studio.text('whole-page')).includes('--tide-dark'))
  await (await studio.driver.findElement(By.xpath('//*[@data-testid="whole-page"]//li/button[contains(., "--tide")]'))).click()
  const field = await studio.driver.findElement(By.css('[data-testid=whole-page] input[aria-label="--tide"]'))
  await studio.edit(() => studio.retype(field, '#7a4b8c', Key.ENTER))
  await studio.driver.sleep(1200)
  await shot('theme-board')
  await studio.undo()
  await studio.key('q')
  await studio.pick('.cards', 0.335, 0.5)
  for (const title of ['Space', 'Type', 'Colour']) await (await studio.test(`section-${title}`)).click()
  await studio.unfold('Layout')
  await shot('layout-of-a-grid')
})

await scene({ dark: true }, async (studio, shot) => {
  await someEdits(studio)
  await shot('dark')
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.goTo('/crossings.html')
  await studio.pick('.timetable td', 0.7, 0.2)
  await studio.key('o')
  await studio.test('outline')
  await shot('outline')
  // In the outline's search the key is a letter.
  await studio.pick('.timetable td', 0.7, 0.2)
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
  await studio.driver
    .actions({ async: true })
    .move({ origin: label })
    .press()
    .move({ origin: label, x: 8, y: 4, duration: 40 })
    .move({ ...to, duration: 150 })
    .perform()
  await studio.test('drop-words')
  await shot('dragging-a-card')
  await studio.driver.actions({ async: true }).release().perform()
  await studio.verdict()
  await studio.press('Half')
  await studio.choose('File in Source', 'css/pages.css')
  await studio.pick('.fare h2')
  await shot('page-and-source')
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.goTo('/fares.html')
  await studio.pick('.cards', 0.335, 0.5)
  await studio.key('g')
  const { x, y, width, height } = await (await studio.test('block-out-canvas')).getRect()
  const at = (u: number, v: number) => ({ x: Math.round(x + width * u), y: Math.round(y + height * v), duration: 60 })
  const draw = (from: readonly [number, number], to: readonly [number, number]) =>
    studio.driver
      .actions({ async: true })
      .move(at(...from))
      .press()
      .move(at((from[0] + to[0]) / 2, (from[1] + to[1]) / 2))
      .move(at(...to))
      .release()
      .perform()
  await draw([0.1, 0.1], [0.9, 0.2])
  await draw([0.1, 0.5], [0.6, 0.55])
  await draw([0.9, 0.5], [0.95, 0.55])
  await shot('drawing-a-layout')
})

await scene({ dark: false }, async (studio, shot) => {
  await studio.open('/?proof')
  const folder = new BrowserFolder(studio, 'brinewick-site')
  const root = 'demo/brinewick'
  await folder.write(
    Object.fromEntries(
      readdirSync(root, { recursive: true, withFileTypes: true })
        .filter((f) => f.isFile())
        .map((f) => [relative(root, join(f.parentPath, f.name)), readFileSync(join(f.parentPath, f.name))]),
    ),
  )
  await folder.open()
  await studio.goTo('/fares.html')
  await studio.pick('.fare h2', 0.9)
  await studio.edit(() => studio.type('font-size', '20px'))
  await studio.pick('.fare', 0.5, 0.03)
  await studio.edit(() => studio.type('padding-left', '32px'))
  await (await studio.test('save')).click()
  await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
  await (await studio.test('save-now')).click()
  await studio.until('saved', async () => (await studio.ledger()).length === 0)
  await studio.driver.sleep(500)
  await studio.edit(() => studio.type('padding-left', '36px'))
  const css = await folder.read('css/pages.css')
  await folder.write({ 'css/pages.css': css.replace('padding: 18px 22px 18px 32px', 'padding: 18px 44px') })
  await studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.keeping.look().then(() => done())')
  await studio.press('Both changed')
  await studio.until('both sides', async () =>
    (await (await studio.driver.findElement(By.css('[role=dialog]'))).getText()).includes('44px'),
  )
  await shot('both-changed-a-file')
  await (await studio.driver.findElement(By.xpath('//label[contains(., "Mine") and not(contains(., "first"))]/input'))).click()
  await studio.press('Settle it')
  await studio.until('no dialog', async () => (await studio.driver.findElements(By.css('[role=dialog]'))).length === 0)
  await studio.driver.executeScript('document.activeElement?.blur()')
  await studio.key('y')
  await studio.test('history')
  await shot('history')
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(500)
  await studio.driver.executeAsyncScript(
    'const done = arguments[0]; window.steadyProof.session.keeping.show(() => window.steadyProof.desk.takes.newTake("Roomier cards", "here")).then(done)',
  )
  await studio.pick('.fare', 0.5, 0.03)
  await studio.edit(() => studio.type('padding-top', '40px'))
  const menu = async (item: string) => {
    await (await studio.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
    await studio.menuItem(item)
    await studio.driver.sleep(500)
  }
  await menu('Takes of this one')
  await studio.press('Beside')
  await studio.test('beside-page')
  await studio.driver.sleep(1500)
  await shot('takes-side-by-side')
  await studio.press('End side by side')
  await menu('All projects')
  await shot('projects')
})

// In a folder with git, by the server that was started in it.
const ferry = join(mkdtempSync(join(tmpdir(), 'sample-')), 'brinewick-ferry')
cpSync('demo/brinewick', ferry, { recursive: true })
const git = (...args: string[]) => execFileSync('git', ['-C', ferry, ...args])
git('init', '-q', '-b', 'spring-fares')
git('config', 'user.name', 'Harbour office')
git('config', 'user.email', 'harbour@brinewick.invalid')
git('add', '-A')
git('commit', '-qm', 'Timetable for the spring')
const served = await startApp({}, ferry)
process.on('exit', () => served.stop())
await scene(
  { dark: false },
  async (studio, shot) => {
    await someEdits(studio)
    await (await studio.test('save')).click()
    await studio.until('a message', async () => (await studio.test('commit-now')).isEnabled())
    await shot('before-saving')
  },
  served,
)
rmSync(join(ferry, '..'), { recursive: true })

// A project of components, by its own development server.
const desk = await startApp({}, 'demo/brinewick-desk')
process.on('exit', () => desk.stop())
await scene(
  { dark: false },
  async (studio, shot) => {
    await studio.inPage('[...document.querySelectorAll("nav a")].find((a) => a.textContent === "Tides").click()')
    await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".tide") !== null'))
    await studio.pick('.tide:nth-child(2) .mark')
    await studio.until('its classes', async () => (await studio.text('aim-label')) === 'class list')
    await (await studio.test('made-place')).click()
    await studio.startPull('padding-left', 20)
    await shot('a-component')
    await studio.endPull()
  },
  desk,
)

process.exit(0)
