import 'fake-indexeddb/auto'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import type { Desk } from '../../src/desk'
import type { Edits } from '../../src/studio/session/edits'
import { LayoutEdits } from '../../src/studio/session/layout-edits'
import { Making } from '../../src/studio/session/making'
import type { Selection } from '../../src/studio/session/selection'
import { Structure } from '../../src/studio/session/structure'
import type { Timeline } from '../../src/studio/session/timeline'
import { getStudio } from '../../src/studio/store'
import { openDesk, openPage } from '../support/desk-in-memory'
import type { DocumentPage } from '../support/document-page'

let desk: Desk
vi.mock('../../src/desk/the-desk', () => ({ theDesk: () => desk }))
// The engine takes all that the sources say here.
vi.stubGlobal('CSS', { supports: () => true })

const PAGE = `<!doctype html>
<html>
<head>
  <title>Tides</title>
  <link rel="stylesheet" href="quay.css">
</head>
<body>
  <main class="quay">
    <h1>Tides</h1>
    <ul class="list">
      <li class="tide">High at six</li>
      <li class="tide">Low at twelve</li>
    </ul>
    <p class="note">Times are local.</p>
  </main>
</body>
</html>
`
const SHEET = '.quay {\n  color: teal;\n}\n\n.note {\n  top: 0;\n}\n\n.tide {\n  z-index: 1;\n}\n'

let page: DocumentPage
let selection: Selection
let edits: Edits
let timeline: Timeline
let structure: Structure
let layout: LayoutEdits
let copied: string[]

beforeEach(async () => {
  desk = await openDesk({ 'index.html': PAGE, 'quay.css': SHEET })
  const opened = await openPage(desk, 'index.html', ['quay.css'], 'top')
  ;({ page, selection, edits, timeline } = opened)
  structure = new Structure(page.asLivePage, selection, edits, new Making(page.asLivePage, selection, opened.writing))
  layout = new LayoutEdits(selection, edits)
  copied = []
  vi.stubGlobal('navigator', { clipboard: { writeText: async (text: string) => void copied.push(text) } })
})
afterEach(() => {
  selection.leave()
  page.close()
})

const html = () => desk.current.text('index.html')!
const status = () => getStudio().status?.text ?? null
const verdict = () => getStudio().ledger.rows.at(-1)?.verdict.state
/** The elements of the page, by tag and class, as they stand in each other. */
const shown = (e: Element = page.document.querySelector('main')!): string =>
  `${e.localName}${e.classList.length ? `.${[...e.classList].join('.')}` : ''}${e.children.length ? `(${[...e.children].map(shown).join(' ')})` : ''}`
const START = 'main.quay(h1 ul.list(li.tide li.tide) p.note)'

/** Makes an edit that the page and the source then have, and takes it back in both. */
async function andBack(work: () => Promise<boolean>, wanted: string, becomes: string): Promise<void> {
  expect([await work(), status()]).toEqual([true, null])
  expect([shown(), html(), verdict()]).toEqual([wanted, becomes, 'holds'])
  await timeline.step('undo')
  expect([shown(), html()]).toEqual([START, PAGE])
}

test('by steps an element goes past its neighbours, out of its parent and into the one before', async () => {
  expect(shown()).toBe(START)
  const [high, low] = ['      <li class="tide">High at six</li>\n', '      <li class="tide">Low at twelve</li>\n']
  await selection.pick(page.node('.tide', 1))
  await andBack(() => structure.step('back'), START, PAGE.replace(high + low, low + high))
  await selection.pick(page.node('.tide'))
  await andBack(() => structure.step('on'), START, PAGE.replace(high + low, low + high))
  await selection.pick(page.node('.note'))
  const note = '    <p class="note">Times are local.</p>\n'
  await andBack(
    () => structure.step('out'),
    'main.quay(h1 ul.list(li.tide li.tide))',
    PAGE.replace(note, '').replace('  </main>\n', '  </main>\n  <p class="note">Times are local.</p>\n'),
  )
  await selection.pick(page.node('h1'))
  expect([await structure.step('back'), status()]).toEqual([false, 'There is no neighbour on that side.'])
  // What HTML does not let stand there is refused, and nothing is written.
  await selection.pick(page.node('.note'))
  expect([await structure.step('in'), status()]).toEqual([false, expect.stringMatching(/ul|li/)])
  expect(html()).toBe(PAGE)
})

test('what is chosen is duplicated, taken out, wrapped and unwrapped, several at once', async () => {
  await selection.pick(page.node('.tide', 1))
  const low = '      <li class="tide">Low at twelve</li>\n'
  await andBack(() => structure.duplicate(), 'main.quay(h1 ul.list(li.tide li.tide li.tide) p.note)', PAGE.replace(low, low + low))
  await selection.choose([page.node('.tide'), page.node('.tide', 1)])
  await andBack(() => structure.remove(), 'main.quay(h1 ul.list p.note)', PAGE.replace(/\n +<li.*<\/li>/g, ''))
  await selection.pick(page.node('.note'))
  await andBack(
    () => structure.wrap('aside.side.wide'),
    'main.quay(h1 ul.list(li.tide li.tide) aside.side.wide(p.note))',
    PAGE.replace(
      '    <p class="note">Times are local.</p>\n',
      '    <aside class="side wide">\n      <p class="note">Times are local.</p>\n    </aside>\n',
    ),
  )
  await selection.pick(page.node('.note'))
  await structure.wrap('')
  expect(shown()).toBe('main.quay(h1 ul.list(li.tide li.tide) div(p.note))')
  // What was written is selected: unwrapped, it is as it was.
  expect(getStudio().picked?.report.info.tag).toBe('div')
  expect(await structure.unwrap()).toBe(true)
  expect([shown(), html()]).toEqual([START, PAGE])
})

test('what is copied is the source as it is written, and is pasted behind what is chosen then', async () => {
  await selection.choose([page.node('.tide', 1), page.node('.note')])
  expect(await structure.copy()).toBe(true)
  expect(copied).toEqual(['<li class="tide">Low at twelve</li>\n<p class="note">Times are local.</p>'])
  await selection.pick(page.node('.note'))
  expect(await structure.copy()).toBe(true)
  await selection.pick(page.node('h1'))
  await andBack(
    () => structure.paste(),
    'main.quay(h1 p.note ul.list(li.tide li.tide) p.note)',
    PAGE.replace('</h1>\n', '</h1>\n    <p class="note">Times are local.</p>\n'),
  )
  await selection.pick(page.node('h1'))
  await andBack(
    () => structure.paste('<hr class="line">'),
    'main.quay(h1 hr.line ul.list(li.tide li.tide) p.note)',
    PAGE.replace('</h1>\n', '</h1>\n    <hr class="line">\n'),
  )
  await selection.pick(page.node('.note'))
  expect(await structure.cut()).toBe(true)
  expect([shown(), copied.at(-1)]).toEqual(['main.quay(h1 ul.list(li.tide li.tide))', '<p class="note">Times are local.</p>'])
  await selection.pick(page.node('h1'))
  expect([await structure.paste('  '), status()]).toEqual([false, 'Nothing was copied.'])
})

test('what runs on the page is said before it comes, and the page is loaded again for it', async () => {
  await selection.pick(page.node('h1'))
  const before = page.reloads
  expect(await structure.insert({ source: page.source('h1'), where: 'after' }, '<script src="a.js"></script>', 'script')).toBe(true)
  expect(page.reloads).toBe(before + 1)
  expect(html()).toContain('</h1>\n    <script src="a.js"></script>\n')
})

test('a rule that comes with what is inserted is one edit with it', async () => {
  await selection.pick(page.node('h1'))
  const place = { source: page.source('h1'), where: 'after' } as const
  const rule = { sheet: 'quay.css', after: null, selector: '.cards', declarations: [{ name: 'display', value: 'grid' }] }
  expect(await structure.insertWith({ kind: 'insert-html', place, html: '<div class="cards"></div>', what: 'cards' }, rule as never)).toBe(
    true,
  )
  expect([shown(), desk.current.text('quay.css')]).toEqual([
    'main.quay(h1 div.cards ul.list(li.tide li.tide) p.note)',
    `${SHEET}\n.cards {\n  display: grid;\n}\n`,
  ])
  expect(getStudio().ledger.rows).toHaveLength(1)
  await timeline.step('undo')
  expect([shown(), html(), desk.current.text('quay.css')]).toEqual([START, PAGE, SHEET])
})

test('an element is hidden in the source and shown again; for now, it is only off the page', async () => {
  await selection.pick(page.node('.note'))
  expect(await structure.hide()).toBe(true)
  expect([html(), page.document.querySelector('.note')!.hasAttribute('hidden')]).toEqual([PAGE.replace('"note"', '"note" hidden'), true])
  expect(await structure.hide()).toBe(true)
  expect(html()).toBe(PAGE)
  await selection.pick(page.node('.note'))
  await structure.hideForNow(true)
  expect([getStudio().hidden.map((h) => h.tag), getStudio().picked, html()]).toEqual([['p'], null, PAGE])
  await structure.hideForNow(false)
  expect(getStudio().hidden).toEqual([])
})

test('where what is dragged may land is said in words, or why it may not', async () => {
  await selection.pick(page.node('.tide'))
  expect(await structure.dropOn({ source: page.source('.note'), where: 'last' })).toMatchObject({
    place: null,
    words: expect.stringMatching(/li|ul/),
  })
  const into = await structure.dropOn({ source: page.source('.list'), where: 'last' })
  expect(into).toMatchObject({ place: { source: page.source('.list'), where: 'last' }, words: expect.stringContaining('list') })
  expect(await structure.move(into!.place!)).toBe(true)
  expect([...page.document.querySelectorAll('.tide')].map((e) => e.textContent)).toEqual(['Low at twelve', 'High at six'])
})

test('an element is centred, lifted and put at the end of its row by what stands around it, as one edit each', async () => {
  const sheetAfter = async (work: () => Promise<boolean>) => {
    expect([await work(), status()]).toEqual([true, null])
    expect(getStudio().ledger.rows).toHaveLength(1)
    const text = desk.current.text('quay.css')
    await timeline.step('undo')
    return text
  }
  await selection.pick(page.node('.note'))
  const note = (lines: string) => SHEET.replace('  top: 0;\n', `  top: 0;\n${lines}`)
  page.values = { 'margin-left': 'auto', 'margin-right': 'auto' }
  expect(await sheetAfter(() => layout.centre(false))).toBe(note('  margin-left: auto;\n  margin-right: auto;\n'))
  page.values = { 'z-index': '8', position: 'static' }
  expect(await sheetAfter(() => layout.bringInFront({ z: '7' }))).toBe(note('  z-index: 8;\n  position: relative;\n'))
  page.values = { display: 'flex', 'align-items': 'center', 'margin-left': 'auto' }
  const row = await sheetAfter(() => layout.rowWithThisAtTheEnd())
  expect(row).toContain('.quay {\n  color: teal;\n  display: flex;\n  align-items: center;\n}')
  expect(row).toContain('margin-left: auto;')
})
