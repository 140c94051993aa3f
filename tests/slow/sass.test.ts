import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, expect, test } from 'vitest'
import type { OpenedBrowser } from '../support/browser'
import { deskInGit, linkPackages } from '../support/desk-copy'
import { openRendered } from '../support/marked-project'
import type { RunningApp } from '../support/server'
import type { Studio } from '../support/studio-driver'

const SHEET = 'src/parts/Card.scss'
const CHART = 'src/parts/SeatChart.module.css'
const TEXT = `// The cards of the desk; don't move them.
$edge: 1px solid var(--line);

.card {
  padding: var(--space-3);
  border: $edge;
  border-radius: var(--round);
  background: white;

  &-strong {
    border-color: var(--buoy);
  }

  &-note {
    margin: var(--space-2) 0 0;
    color: var(--slate);
    font-size: 14px;
  }
}

.card-title {
  margin-bottom: var(--space-1);
}
`

let folder: string
let app: RunningApp
let browser: OpenedBrowser
let studio: Studio
const put = (path: string, text: string): void => writeFileSync(join(folder, path), text)
const aim = (property: string) =>
  studio.driver.executeAsyncScript<{ chosen: number; preprocessed: unknown; places: string[] }>(
    `const [property, done] = arguments, { session, state } = window.steadyProof
    session.selection.needAims([property]).then(() => {
      const a = state().picked.aims.get(property)
      done({ chosen: a.chosen, preprocessed: a.preprocessed, places: a.candidates.map((c) => c.path) })
    })`,
    property,
  )

// The harbour desk with one of its sheets in Sass.
beforeAll(async () => {
  ;({ folder } = deskInGit())
  linkPackages(folder)
  put(SHEET, TEXT)
  rmSync(join(folder, 'src/parts/Card.css'))
  // A style module in Sass beside it.
  put('src/parts/SeatChart.module.scss', readFileSync(join(folder, CHART), 'utf8'))
  rmSync(join(folder, CHART))
  put('src/parts/SeatChart.tsx', readFileSync(join(folder, 'src/parts/SeatChart.tsx'), 'utf8').replace('.module.css', '.module.scss'))
  put('src/parts/Card.tsx', readFileSync(join(folder, 'src/parts/Card.tsx'), 'utf8').replace('./Card.css', './Card.scss'))
  ;({ app, browser, studio } = await openRendered(folder))
  await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".card-note") !== null'))
}, 180_000)
afterAll(async () => {
  await browser.close()
  app.stop()
  rmSync(folder, { recursive: true })
})

test('a rule of Sass is led to its line, takes no edit, and no other place is taken for it unasked', async () => {
  await studio.pick('.card-note', 0.1, 0.5)
  await studio.unfold('Type')
  const [nowhere, there] = [-1, { label: '.card-note', path: SHEET, line: 14 }]
  for (const property of ['font-size', 'margin-top', 'padding-top'])
    expect([property, await aim(property)]).toMatchObject([property, { chosen: nowhere, preprocessed: there }])
  expect((await aim('font-size')).places).not.toContain(SHEET)
  expect(await studio.text('aim-none')).toContain('compiled from Sass')
  await studio.type('font-size', '17px')
  await studio.until('why not', async () => /Not written: \.card-note in src\/parts\/Card\.scss:14/.test(await studio.text('status')))
  expect([await studio.ledger(), await studio.computed('.card-note', 'font-size')]).toEqual([[], '14px'])
  // Its line opens in Source.
  await (await studio.test('aim-preprocessed')).click()
  expect(await studio.markedLine()).toContain('&-note {')
})

test('a module in Sass is led to by the names of its source, and no new class goes to another sheet unasked', async () => {
  await studio.pick('svg rect:nth-of-type(2)', 0.5, 0.5)
  const there = { label: '.taken', path: 'src/parts/SeatChart.module.scss', line: 11 }
  // Its names come with the sheet that was compiled for it.
  await studio.until('its rule', async () => (await aim('fill')).preprocessed !== null)
  expect(await aim('fill')).toMatchObject({ chosen: -1, preprocessed: there })
  expect(await aim('padding-top')).toMatchObject({ chosen: -1, preprocessed: there })
})

test('what another place would do is known, and it can be chosen', async () => {
  await studio.pick('.card-note', 0.1, 0.5)
  await studio.driver.executeScript(`
    const { session, state } = window.steadyProof, at = state().picked.aims.get('font-size').candidates
    session.selection.touch('font-size')
    session.selection.chooseAim('font-size', at.findIndex((c) => c.ref.kind === 'inline'))`)
  expect(await studio.edit(() => studio.type('font-size', '17px'))).toMatch(/Card\.tsx:\d+ font-size 17px reach 1 ✓/)
  await studio.undo()
  // Elements that plain sheets style land there as before.
  await studio.pick('h1')
  expect(await studio.text('aim-place')).toMatch(/\.css:\d+/)
})

test('what is typed into it in Source is on the page by its own compiler, and the file is as it was until a save', async () => {
  await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
  const why = await studio.driver.executeAsyncScript<string | null>(
    'const [path, base, text, done] = arguments; window.steadyProof.session.making.typed(path, base, text).then(done)',
    SHEET,
    TEXT,
    TEXT.replace('font-size: 14px', 'font-size: 19px'),
  )
  expect(why).toBeNull()
  await studio.until('the size', async () => (await studio.computed('.card-note', 'font-size')) === '19px')
  expect(readFileSync(join(folder, SHEET), 'utf8')).toBe(TEXT)
  await studio.undo()
  await studio.until('as before', async () => (await studio.computed('.card-note', 'font-size')) === '14px')
})
