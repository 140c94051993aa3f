import 'fake-indexeddb/auto'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import type { Desk } from '../../src/desk'
import type { Edits } from '../../src/studio/session/edits'
import type { Selection } from '../../src/studio/session/selection'
import type { Timeline } from '../../src/studio/session/timeline'
import { getStudio } from '../../src/studio/store'
import { openDesk, openPage } from '../support/desk-in-memory'
import type { DocumentPage } from '../support/document-page'

let desk: Desk
vi.mock('../../src/desk/the-desk', () => ({ theDesk: () => desk }))
// The engine takes all that the sources say here.
vi.stubGlobal('CSS', { supports: () => true })

const PAGE = `<!doctype html>
<link rel="stylesheet" href="quay.css">
<main class="quay">
  <article class="berth"><p class="tide" style="color: teal; left: 1px">High at 6</p><p class="tide">Low at 12</p></article>
  <svg class="flag"><circle r="4" fill="red"/></svg>
</main>
`
const SHEET = `:root {
  --deep: #123456;
}

.quay {
  color: var(--deep);
}

.berth {
  padding-top: 12px;
  margin: 0 !important;
}

.tide {
  padding-top: 4px;
}
`

let page: DocumentPage
let selection: Selection
let edits: Edits
let timeline: Timeline

beforeEach(async () => {
  desk = await openDesk({ 'index.html': PAGE, 'quay.css': SHEET })
  ;({ page, selection, edits, timeline } = await openPage(desk, 'index.html', ['quay.css'], 'padding-top'))
})
afterEach(() => {
  selection.leave()
  page.close()
})

const text = (path = 'quay.css') => desk.current.text(path)!
const status = () => getStudio().status?.text ?? null
const rows = () => getStudio().ledger.rows.map((r) => `${r.label} ${r.name}: ${r.after}`)

/** Makes an edit, and then undoes it: the files are as they were. */
async function andBack(work: () => Promise<boolean>, path: string, becomes: string): Promise<void> {
  const before = [text(), text('index.html')]
  expect([await work(), status()]).toEqual([true, null])
  expect(text(path)).toBe(becomes)
  await timeline.step('undo')
  expect([text(), text('index.html')]).toEqual(before)
}

test('a declaration is taken out, switched off and on, and marked, where edits of its property land', async () => {
  await selection.pick(page.node('.berth'))
  await andBack(() => edits.change('remove', 'padding-top'), 'quay.css', SHEET.replace('  padding-top: 12px;\n', ''))
  await andBack(
    () => edits.change('switch-off', 'padding-top'),
    'quay.css',
    SHEET.replace('padding-top: 12px;', '/* padding-top: 12px; */'),
  )
  await andBack(() => edits.change('make-important', 'padding-top'), 'quay.css', SHEET.replace('12px', '12px !important'))
  await andBack(() => edits.change('make-normal', 'margin'), 'quay.css', SHEET.replace('0 !important', '0'))
  await selection.pick(page.node('.tide'))
  await andBack(() => edits.change('remove', 'color'), 'index.html', PAGE.replace('color: teal; ', ''))
  // Nothing says it anywhere.
  expect(await edits.change('remove', 'line-height')).toBe(false)
})

test('a property is put back to what the first of its edits found, and an element to what was saved', async () => {
  await selection.pick(page.node('.tide'))
  for (const value of ['5px', '6px']) {
    page.values = { 'padding-top': value }
    await edits.commit('padding-top', value)
  }
  page.values = { 'padding-top': '6px', 'padding-bottom': '2px' }
  await edits.commit('padding-bottom', '2px')
  expect(edits.firstEdit('padding-top')).toMatchObject({ before: '4px', after: '5px' })
  expect(await edits.reset('padding-top')).toBe(true)
  expect(text()).toBe(SHEET.replace('  padding-top: 4px;', '  padding-top: 4px;\n  padding-bottom: 2px;'))
  expect(await edits.resetElement()).toBe(true)
  expect(text()).toBe(SHEET)
  await selection.pick(page.node('.berth'))
  expect([await edits.resetElement(), status()]).toEqual([false, 'Nothing of this element was changed since the last save.'])
  expect(await edits.reset('padding-top')).toBe(false)
})

test('a value gets a name of its own, and is used by it', async () => {
  await selection.pick(page.node('.berth'))
  await andBack(
    () => edits.makeToken('padding-top', '--room'),
    'quay.css',
    SHEET.replace('#123456;', '#123456;\n  --room: 12px;').replace('padding-top: 12px', 'padding-top: var(--room)'),
  )
})

test('several values are one edit; one without a place writes none', async () => {
  await selection.pick(page.node('.berth'))
  page.values = { 'padding-top': '1px', 'padding-bottom': '2px' }
  await andBack(
    () =>
      edits.commitAll(
        [
          ['padding-top', '1px'],
          ['padding-bottom', '2px'],
        ],
        'room',
      ),
    'quay.css',
    SHEET.replace('padding-top: 12px;', 'padding-top: 1px;\n  padding-bottom: 2px;'),
  )
  expect(await edits.commitAll([])).toBe(false)
  expect(text()).toBe(SHEET)
})

test('for one element alone, others of its class keep what they have', async () => {
  await selection.pick(page.node('.tide', 1))
  page.values = { 'padding-top': '9px' }
  expect(await edits.commitAlone([['padding-top', '9px']], 'alone')).toBe(true)
  expect(text()).toContain('.tide {\n  padding-top: 4px;\n}')
  const alone = getStudio().ledger.rows.at(-1)!
  expect([alone.after, alone.reach]).toEqual(['9px', 1])
})

test('what many chosen elements are given lands once where they share the place, and once for each where not', async () => {
  await selection.choose([page.node('.tide', 0), page.node('.tide', 1)])
  page.values = { 'padding-top': '3px' }
  await andBack(() => edits.commit('padding-top', '3px'), 'quay.css', SHEET.replace('4px', '3px'))
  await selection.choose([page.node('.tide', 0), page.node('.berth')])
  await andBack(() => edits.commit('padding-top', '3px'), 'quay.css', SHEET.replace('4px', '3px').replace('12px', '3px'))
})

test('the edit made last is carried to another element, each to its own place; what has no values is not', async () => {
  await selection.pick(page.node('.tide'))
  page.values = { 'padding-top': '7px' }
  await edits.commit('padding-top', '7px')
  await edits.carryTo(page.node('.berth'))
  expect(text()).toBe(SHEET.replace('4px', '7px').replace('12px', '7px'))
  expect(rows()).toEqual(['.tide padding-top: 7px', '.berth padding-top: 7px'])
  // There already, it is no edit.
  await edits.carryTo(page.node('.berth'))
  expect(rows()).toHaveLength(2)
  await selection.pick(page.node('.tide'))
  await edits.onElement({ kind: 'set-attribute', source: page.source('.tide'), name: 'lang', value: 'en' })
  await edits.carryTo(page.node('.berth'))
  expect(status()).toBe('The last edit has nothing to carry: only values can be.')
})

test('the element itself is changed: classes, attributes, a text, its tag', async () => {
  await selection.pick(page.node('.berth'))
  const source = page.source('.berth')
  await andBack(
    () => edits.changeClasses({ kind: 'change-classes', sources: [source], remove: [], add: [{ name: 'north' }] }),
    'index.html',
    PAGE.replace('class="berth"', 'class="berth north"'),
  )
  await andBack(() => edits.onElement({ kind: 'set-tag', source, tag: 'section' }), 'index.html', PAGE.replaceAll('article', 'section'))
  await andBack(
    () => edits.onElement({ kind: 'set-attribute', source, name: 'title', value: 'a "b"' }),
    'index.html',
    PAGE.replace('<article class="berth"', `<article class="berth" title='a "b"'`),
  )
  const tide = page.source('.tide')
  await selection.pick(page.node('.tide'))
  await andBack(
    () => edits.onElement({ kind: 'set-text', source: tide, index: 0, text: 'High <b' }),
    'index.html',
    PAGE.replace('High at 6', 'High &lt;b'),
  )
})

test('a value that is shown and not kept leaves the files and the page as they were', async () => {
  await selection.pick(page.node('.tide'))
  edits.preview('padding-top', '40px')
  await edits.previewExact('padding-top', '41px')
  expect(getStudio().pulling).toEqual({ property: 'padding-top', value: '41px' })
  expect(getStudio().writes).toMatchObject({ ok: true })
  await edits.cancelPreview()
  expect([text(), getStudio().pulling, getStudio().writes, rows()]).toEqual([SHEET, null, null, []])
})

test('what decides elsewhere is named where an edit has no place, and a value is written as the person wrote it where it has', async () => {
  await selection.pick(page.node('circle'))
  page.values = { fill: 'rgb(0, 0, 255)' }
  await andBack(() => edits.commit('fill', 'blue'), 'index.html', PAGE.replace('fill="red"', 'fill="blue"'))
})
