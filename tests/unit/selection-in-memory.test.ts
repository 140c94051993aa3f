import 'fake-indexeddb/auto'
import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import type { Desk } from '../../src/desk'
import type { Edits } from '../../src/studio/session/edits'
import { currentAim, landings } from '../../src/studio/session/landings'
import type { Selection } from '../../src/studio/session/selection'
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
  <article class="berth"><h2 class="name">North berth</h2><p class="tide">High at 6</p></article>
  <article class="berth"><h2 class="name">South berth</h2><p class="tide">Low at 12</p></article>
  <footer class="signs"><p class="sign" style="color: teal">Mind the gap</p></footer>
</main>
`
const SHEET = `.quay {
  gap: 8px;
}

.berth {
  padding-top: 12px;
}

.tide {
  padding-top: 4px;
}

.sign {
  margin-top: 2px;
}
`

let page: DocumentPage
let selection: Selection
let edits: Edits
let views: { readonly count: number }

beforeEach(async () => {
  desk = await openDesk({ 'index.html': PAGE, 'quay.css': SHEET })
  ;({ page, selection, edits, views } = await openPage(desk, 'index.html', ['quay.css'], 'padding-top'))
})
afterEach(() => {
  selection.leave()
  page.close()
})

const picked = () => getStudio().picked?.report.info.node ?? null
const others = () => getStudio().others.map((o) => o.report.info.node)
const aim = (property = 'padding-top') => currentAim(property)?.label ?? null
const text = () => desk.current.text('quay.css')!

/** Holds back the next answer to a question of this kind, until what is given is called. */
function holdBack(type: string, when: (ask: never) => boolean = () => true): () => void {
  let release = () => {}
  const held = new Promise<void>((done) => (release = done))
  let left = 1
  page.before = async (asked, ask) => {
    if (asked === type && left > 0 && when(ask as never)) {
      left--
      await held
    }
    return undefined
  }
  return release
}

test('what is chosen is read once, with where an edit of it lands, and the view is worth keeping', async () => {
  await selection.pick(page.node('.tide'))
  expect([picked(), aim(), views.count]).toEqual([page.node('.tide'), '.tide', 1])
  expect(page.asked.filter((a) => a === 'pick')).toHaveLength(1)
  expect(getStudio().picked!.place).toEqual({ path: 'index.html', line: 4 })
  expect(getStudio().picked!.aims.get('padding-top')).toMatchObject({ written: '4px' })
})

test('an element chosen while the one before is still read is the one that stays', async () => {
  const first = page.node('.berth')
  const release = holdBack('pick', ({ of }: { of: number }) => of === first)
  const early = selection.pick(first)
  await selection.pick(page.node('.tide'))
  release()
  await early
  expect([picked(), aim(), views.count]).toEqual([page.node('.tide'), '.tide', 1])
})

test('nothing is chosen once the choice was let go, whatever is still read then', async () => {
  const release = holdBack('pick')
  const early = selection.pick(page.node('.berth'))
  selection.letGo()
  release()
  await early
  expect([picked(), others(), getStudio().condition.state]).toEqual([null, [], ''])
})

test('a page that was left chooses nothing and says no fault; there again, it does', async () => {
  await selection.pick(page.node('.berth'))
  page.here = false
  await selection.pick(page.node('.tide'))
  expect([await selection.pickSource(page.source('.tide')), await selection.find('p')]).toEqual([false, []])
  await selection.walk('child')
  expect([picked(), getStudio().status]).toEqual([page.node('.berth'), null])
  page.here = true
  expect(await selection.pickSource(page.source('.tide'))).toBe(true)
  expect(picked()).toBe(page.node('.tide'))
})

test('elements are added and taken out one by one; the last one taken out lets go', async () => {
  const [a, b] = [page.node('.berth', 0), page.node('.berth', 1)]
  await selection.pick(a)
  await selection.toggle(b)
  expect([picked(), others()]).toEqual([a, [b]])
  await selection.toggle(a)
  expect([picked(), others()]).toEqual([b, []])
  await selection.toggle(b)
  expect([picked(), others()]).toEqual([null, []])
})

test('of elements chosen at once, those that are gone are left out; where the first is gone, the choice stays', async () => {
  const [a, b, gone] = [page.node('.berth'), page.node('.sign'), page.node('.tide')]
  page.remove('.tide')
  await selection.choose([a, gone, b])
  expect([picked(), others()]).toEqual([a, [b]])
  await selection.choose([gone, b])
  expect([picked(), others()]).toEqual([a, [b]])
})

test('what a box takes in, and what is like the chosen one, is chosen with it, each once', async () => {
  await selection.pickBox(0, 0, 100, 100, false)
  expect([picked(), others()]).toEqual([page.node('p', 0), [page.node('p', 1), page.node('p', 2)]])
  await selection.pick(page.node('.name', 1))
  await selection.pickLike('classes')
  expect([picked(), others()]).toEqual([page.node('.name', 1), [page.node('.name', 0)]])
})

test('keys walk the tree from what is chosen, and stay where there is nothing', async () => {
  await selection.pickFirst()
  const path: (number | null)[] = []
  for (const to of ['child', 'child', 'next', 'next', 'next', 'child', 'child'] as const) {
    await selection.walk(to)
    path.push(picked())
  }
  expect(path).toEqual([
    page.node('main'),
    page.node('.berth', 0),
    page.node('.berth', 1),
    page.node('.signs'),
    page.node('.signs'),
    page.node('.sign'),
    page.node('.sign'),
  ])
})

test('an edit that is asked for while an element is being chosen lands on that one', async () => {
  await selection.pick(page.node('.berth'))
  const release = holdBack('pick')
  const choosing = selection.pick(page.node('.tide'))
  page.values = { 'padding-top': '6px' }
  const editing = edits.commit('padding-top', '6px')
  release()
  await choosing
  expect(await editing).toBe(true)
  expect(text()).toBe(SHEET.replace('4px', '6px'))
})

test('an edit is of what was chosen when it was asked for, not of what is chosen while it waits', async () => {
  await selection.pick(page.node('.tide'))
  page.values = { 'padding-top': '6px' }
  const release = holdBack('preview')
  const first = edits.commit('padding-top', '6px')
  const second = edits.commit('padding-bottom', '9px')
  await selection.pick(page.node('.sign'))
  release()
  expect(await Promise.all([first, second])).toEqual([true, true])
  expect(text()).toBe(SHEET.replace('  padding-top: 4px;', '  padding-top: 6px;\n  padding-bottom: 9px;'))
})

test('a condition stays with its element and goes with the next; what was shown in a state while something in it is chosen, stays shown', async () => {
  await selection.pick(page.node('.berth'))
  await selection.setCondition({ state: ':hover' })
  await selection.refresh()
  expect(getStudio().condition.state).toBe(':hover')
  await selection.pick(page.node('.berth .tide'))
  expect([getStudio().condition.state, getStudio().held.map((h) => [h.info.node, h.state])]).toEqual([
    '',
    [[page.node('.berth'), ':hover']],
  ])
  await selection.pick(page.node('.sign'))
  await selection.setCondition({ state: ':focus' })
  await selection.pick(page.node('.berth'))
  expect(getStudio().held).toHaveLength(1)
})

test('an aim that is held is that of the next element too, until it is let go', async () => {
  await selection.pick(page.node('.berth'))
  selection.holdAim(true)
  await selection.pick(page.node('.tide'))
  expect([aim(), landings('padding-top').map((c) => c.label)]).toEqual(['.berth', ['.berth']])
  selection.holdAim(false)
  expect(aim()).toBe('.tide')
})

test('a place chosen by hand is that of the other properties too, until another element is chosen', async () => {
  await selection.pick(page.node('.sign'))
  const inline = getStudio()
    .picked!.aims.get('padding-top')!
    .candidates.findIndex((c) => c.ref.kind === 'inline')
  expect(aim()).toBe('.sign')
  selection.chooseAim('padding-top', inline)
  expect([aim(), aim('margin-top')]).toEqual(['style attribute', 'style attribute'])
  await selection.pick(page.node('.tide'))
  await selection.pick(page.node('.sign'))
  expect([aim(), aim('margin-top')]).toEqual(['.sign', '.sign'])
})

test('a rule chooses the first element that it matches, unless the chosen one is, and is the aim', async () => {
  const stands = await desk.places.standsAt('quay.css', SHEET.indexOf('.berth') + 1)
  if (!stands || !('rule' in stands)) throw new Error('no rule')
  const asked = { sheet: 'quay.css', rule: stands.rule, selectors: ['.berth'] }
  await selection.pickByRule(asked)
  expect([picked(), aim()]).toEqual([page.node('.berth', 0), '.berth'])
  await selection.pick(page.node('.berth', 1))
  await selection.pickByRule(asked)
  expect(picked()).toBe(page.node('.berth', 1))
  await selection.pickByRule({ ...asked, selectors: ['.nothing'] })
  expect(picked()).toBe(page.node('.berth', 1))
})

test('properties without a row are worked out for what was asked about, and added to it alone', async () => {
  await selection.pick(page.node('.quay'))
  const asking = selection.needAims(['scroll-margin-top'])
  await selection.pick(page.node('.tide'))
  const about = await asking
  expect(about.picked!.report.info.node).toBe(page.node('.quay'))
  expect(about.picked!.aims.get('scroll-margin-top')!.candidates.length).toBeGreaterThan(0)
  expect([picked(), getStudio().picked!.aims.has('scroll-margin-top')]).toEqual([page.node('.tide'), false])
})

test('read again after an edit, an element has what is written now, and stays the chosen one', async () => {
  await selection.pick(page.node('.tide'))
  page.values = { 'padding-top': '7px' }
  await edits.commit('padding-top', '7px')
  expect(getStudio().picked!.aims.get('padding-top')).toMatchObject({ written: '7px' })
  expect([picked(), getStudio().ledger.rows.map((r) => `${r.label} ${r.before}→${r.after} ${r.verdict.state}`)]).toEqual([
    page.node('.tide'),
    ['.tide 4px→7px holds'],
  ])
})
