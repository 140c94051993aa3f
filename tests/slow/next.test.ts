import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { OpenedBrowser } from '../support/browser'
import { commitAll, markTags, openRendered } from '../support/marked-project'
import { linkPackagesOf } from '../support/packages'
import type { RunningApp } from '../support/server'
import type { Studio } from '../support/studio-driver'

let folder: string
let app: RunningApp
let browser: OpenedBrowser
let studio: Studio
/** Where each mark stands, found by searching the texts. */
let places: ReadonlyMap<string, string>
const read = (path: string): string => readFileSync(join(folder, path), 'utf8')
let git: (...args: string[]) => string

// A project of Next.js with a mark of its own on each tag of an element, written by looking for tags alone.
beforeAll(async () => {
  folder = realpathSync(mkdtempSync(join(tmpdir(), 'quay-')))
  cpSync('tests/fixtures/quay', folder, { recursive: true })
  linkPackagesOf(folder, ['next', 'react', 'react-dom', 'tailwindcss', '@tailwindcss/postcss', 'typescript', '@types/react', '@types/node'])
  places = markTags(folder, ['app', 'components'], '.tsx', /(?<=[\s(>{])<([a-z][a-z\d]*|Link)(?=[\s>])/g)
  git = commitAll(folder, 'Quay')
  ;({ app, browser, studio } = await openRendered(folder))
}, 180_000)
afterAll(async () => {
  await browser.close()
  app.stop()
  rmSync(folder, { recursive: true })
})

const state = () => studio.inPage<unknown[]>('return [window.mark, document.querySelector("button").textContent]')

test('each element leads to the very tag that made it, those of a library to what it is used by', async () => {
  const found = await studio.driver.executeAsyncScript<[mark: string, place: string][]>(`
    const done = arguments[arguments.length - 1], p = window.steadyProof
    ;(async () => {
      const out = []
      for (const node of await p.session.selection.find('[data-mark]')) {
        await p.session.selection.pick(node)
        const { picked } = p.state()
        const { attributes } = (await p.session.page.ask('element', { source: picked.report.info.source })) ?? { attributes: [] }
        out.push([attributes.find((a) => a.name === 'data-mark')?.value ?? '', picked.tag?.ok ? picked.tag.path + ':' + picked.tag.line : String(picked.tag?.why)])
      }
      return out
    })().then(done, (e) => done([[String(e), '']]))`)
  expect(found.length).toBeGreaterThan(15)
  for (const [mark, place] of found) expect([mark, place]).toEqual([mark, places.get(mark)])
})

test('its rules, modules, classes and texts are edited; the page shows them at once and keeps its state', async () => {
  await studio.inPage('window.mark = 1; document.querySelector("button").click()')
  await studio.pick('h1')
  await studio.until('its vocabulary', async () => (await studio.text('aim-label')) === 'class list')
  expect(await studio.edit(() => studio.type('font-size', '30px'))).toMatch(/page\.tsx:9 font-size text-2xl text-3xl reach 1 ✓/)
  expect(await studio.computed('h1', 'font-size')).toBe('30px')
  await studio.pick('.bar')
  expect(await studio.edit(() => studio.type('padding-top', '12px'))).toMatch(/globals\.css:\d+ padding-top 8px 12px reach 1 ✓/)
  await studio.pick('article', 0.99, 0.02)
  expect(await studio.text('aim-label')).toBe('.card')
  expect(await studio.edit(() => studio.type('padding-top', '22px'))).toMatch(/Card\.module\.css:2 padding-top 16px 22px reach 3 ✓/)
  await studio.pick('article p')
  const typed = await studio.edit(async () => {
    await studio.key(Key.ENTER)
    await studio.until('typing', () => studio.inPage<boolean>('return document.activeElement?.isContentEditable === true'))
    await studio.driver.actions().sendKeys('Every hour').perform()
    await studio.driver.actions().sendKeys(Key.ENTER).perform()
  })
  expect(typed).toMatch(/Card\.tsx:7 text .*reach 3 ✓/)
  expect(await studio.inPage('return [...document.querySelectorAll("article p")].map((p) => p.textContent)')).toEqual(
    Array(3).fill('Every hour'),
  )
  expect(await state()).toEqual([1, 'Tickets: 1'])
  expect(git('status', '--porcelain')).toBe('')
})

test('saved, the files have it as though typed; the page is not loaded again, and nothing else of the project was touched', async () => {
  await (await studio.test('save')).click()
  await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
  await (await studio.test('save-now')).click()
  await studio.until('saved', async () => (await studio.ledger()).length === 0)
  const lines = git('diff', '-U0')
    .split('\n')
    .filter((l) => /^[-+] /.test(l))
    .map((l) => l.replace(/ data-mark="m\d+"/, ''))
  expect(lines).toEqual([
    '-  padding: 8px 16px;',
    '+  padding: 12px 16px 8px;',
    '-      <h1 className="text-2xl text-sea">The quay today</h1>',
    '+      <h1 className="text-3xl text-sea">The quay today</h1>',
    '-  padding: 16px;',
    '+  padding: 22px 16px 16px;',
    '-      <p>Leaves every hour from the north berth.</p>',
    '+      <p>Every hour</p>',
  ])
  // Edits that are not saved are kept in a folder of ours, which goes with the last of them.
  const status = git('status', '--porcelain', '--ignored').split('\n')
  expect(status.filter((line) => line !== '' && !line.includes('.steady-brush'))).toEqual([
    ' M app/globals.css',
    ' M app/page.tsx',
    ' M components/Card.module.css',
    ' M components/Card.tsx',
    '!! node_modules/',
  ])
  expect(await state()).toEqual([1, 'Tickets: 1'])
})

test('what another program changes comes as the server’s own update, a fault that it makes with a place, and the state stays', async () => {
  const before = read('components/Card.tsx')
  writeFileSync(join(folder, 'components/Card.tsx'), before.replace('Every hour', 'Every two hours'))
  await studio.until('its word', () =>
    studio.inPage<boolean>('return document.querySelector("article p").textContent === "Every two hours"'),
  )
  writeFileSync(join(folder, 'components/Card.tsx'), before.replace('</article>', '</articl>'))
  await studio.until('the fault', faultShown)
  writeFileSync(join(folder, 'components/Card.tsx'), before)
  await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector("article p")?.textContent === "Every hour"'))
  expect(await state()).toEqual([1, 'Tickets: 1'])
})

test('a new class of a module is its rule and its member, and the page has both', async () => {
  const now = async () => [await studio.sourceNow('components/Card.tsx'), await studio.sourceNow('components/Card.module.css')]
  const before = await now()
  await studio.pick('article', 0.99, 0.02)
  await studio.driver.executeScript(`
    const { session, state } = window.steadyProof, at = state().picked.aims.get('padding-left').candidates
    session.selection.touch('padding-left')
    session.selection.chooseAim('padding-left', at.findIndex((c) => c.ref.kind === 'new-class'))`)
  expect(await studio.edit(() => studio.type('padding-left', '30px'))).toMatch(/Card\.module\.css:\d+ padding-left 30px reach 3 ✓/)
  expect((await now())[1]).toContain('.cardAlt {\n  padding-left: 30px;\n}')
  expect((await now())[0]).toContain('className={`${styles.card} ${styles.cardAlt}`}')
  expect(await studio.inPage('return [...document.querySelectorAll("article")].map((e) => getComputedStyle(e).paddingLeft)')).toEqual(
    Array(3).fill('30px'),
  )
  await studio.undo()
  await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
  expect(await now()).toEqual(before)
  await studio.until('as before', async () => (await studio.computed('article', 'padding-left')) === '16px')
  expect(await state()).toEqual([1, 'Tickets: 1'])
})

const faultShown = () =>
  studio.inPage<boolean>('return /Build Error|Expected/.test(document.querySelector("nextjs-portal")?.shadowRoot?.textContent ?? "")')

test('the pages that its files make are listed, and nothing of it is left when it ends', async () => {
  const routes = await studio.driver.executeScript('return window.steadyProof.state().project.routes')
  expect(routes).toEqual(['/', '/fares'])
  const copies = () =>
    readdirSync(tmpdir()).filter(
      (name) => name.startsWith('steady-brush-') && existsSync(join(tmpdir(), name, 'copy', folder.split('/').at(-1)!)),
    )
  expect(copies()).toHaveLength(1)
  app.stop()
  await expect.poll(copies, { timeout: 20_000 }).toEqual([])
})
