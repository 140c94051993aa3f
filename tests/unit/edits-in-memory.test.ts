import 'fake-indexeddb/auto'
import fc from 'fast-check'
import { afterEach, expect, test, vi } from 'vitest'
import { textOf } from '../../src/core/css'
import type { Intent } from '../../src/core/edit'
import { PageBusyError } from '../../src/page'
import { Database } from '../../src/storage/db'
import { createProject } from '../../src/storage/projects'
import { Desk } from '../../src/desk'
import { Drafts } from '../../src/studio/session/drafts'
import { Edits } from '../../src/studio/session/edits'
import type { Candidate } from '../../src/core/aim'
import { isReadingClasses } from '../../src/studio/session/classes-read'
import type { Selected } from '../../src/studio/session/landings'
import type { Selection } from '../../src/studio/session/selection'
import { Timeline } from '../../src/studio/session/timeline'
import { UnderWay } from '../../src/studio/session/under-way'
import { Writing } from '../../src/studio/session/writing'
import { getStudio, INITIAL, setStudio, type Picked } from '../../src/studio/store'
import { MemoryPage } from '../support/memory-page'

let desk: Desk
vi.mock('../../src/desk/the-desk', () => ({ theDesk: () => desk }))

const bytes = (text: string) => new TextEncoder().encode(text)
const SHEET = Array.from({ length: 12 }, (_, i) => `.r${i} {\n  top: ${i}px;\n}\n`).join('\n')

/** The element that is selected; its places are not asked for, since intents name theirs. */
const PICKED = { report: { info: { node: 1, source: '1.5' }, nth: 0 }, aims: new Map(), place: null } as unknown as Picked

const pages: MemoryPage[] = []

async function open() {
  const db = new Database()
  const id = await createProject(db, 'Quay', [
    { path: 'index.html', bytes: bytes('<link rel="stylesheet" href="a.css"><p class="r1">x') },
    { path: 'a.css', bytes: bytes(SHEET) },
  ])
  desk = new Desk()
  await desk.opening.open(id, '')
  const page = new MemoryPage()
  pages.push(page)
  desk.editing.usePage(page.port)
  page.tie(desk.pageSync.outlines(['a.css']).sheets, () => SHEET)
  setStudio({ ...INITIAL, picked: PICKED, connected: true, ledger: await desk.current.setReadOnly(null) })
  const choices = new UnderWay()
  const selection = {
    choices,
    refresh: async () => {},
    pickSource: async () => true,
    look: async () => null,
  } as unknown as Selection
  const writing = new Writing(page.asLivePage, selection)
  const edits = new Edits(page.asLivePage, selection, writing)
  const timeline = new Timeline(page.asLivePage, selection, writing, new Drafts())
  return { page, edits, timeline, choices, selection }
}

afterEach(() => {
  for (const page of pages.splice(0)) page.close()
})

const set = (rule: number, value: string, name = 'top'): Intent => ({
  kind: 'set',
  aim: { kind: 'rule', sheet: 'a.css', rule },
  name,
  value,
})
const idOf = (n: number): number => {
  const { sheet } = desk.current.project.allSheets().find((ref) => ref.path === 'a.css')!
  const site = [...sheet.rules()].find((s) => s.rule.kind === 'style' && textOf(s, s.rule.prelude) === `.r${n}`)
  if (!site) throw new Error(`no rule .r${n}`)
  return site.rule.id
}
const write = (edits: Edits, n: number, value: string) => edits.write(set(idOf(n), value), ['top'])
const ledger = () => getStudio().ledger.rows.map((r) => `${r.label} ${r.after} ${r.verdict.state}`)

/** The page has the rules that the sources have, as they are written, in their order and by their ids. */
function expectInStep(page: MemoryPage): void {
  const now = new MemoryPage()
  now.tie(desk.pageSync.outlines(['a.css']).sheets, () => desk.current.text('a.css')!)
  now.close()
  expect(page.sheets.get('a.css')).toEqual(now.sheets.get('a.css'))
  expect(page.files.get('a.css')?.body ?? SHEET).toBe(desk.current.text('a.css'))
}

test('an edit is planned once: shown, read, written as it was shown, and only what changed goes to the page', async () => {
  const { page, edits } = await open()
  // The object that calls reach once the project is whole.
  const editor = Reflect.get(desk, 'editor') as Pick<Desk['editing'], 'show' | 'commit'>
  const shows = vi.spyOn(editor, 'show')
  const commits = vi.spyOn(editor, 'commit')
  page.values = { top: '7px' }
  expect(await write(edits, 3, '7px')).toBe(true)
  expect(page.asked).toEqual(['preview', 'read', 'sync', 'read'])
  expect([shows.mock.calls.length, commits.mock.calls.length]).toEqual([1, 0])
  expect(ledger()).toEqual(['.r3 7px holds'])
  expectInStep(page)
})

test('a plan of a text that is another since is not written: the edit is shown again on the new one, and both are kept', async () => {
  const { page, edits, timeline } = await open()
  let others = 1
  let theirs: Promise<void> | null = null
  page.before = async (type) => {
    if (type !== 'read' || others-- <= 0) return
    const made = await desk.editing.commit(set(idOf(5), '55px'), 1)
    // It is told to the page behind the edit that is under way.
    if (!('ok' in made)) theirs = timeline.showWritten(made)
  }
  expect(await write(edits, 3, '7px')).toBe(true)
  await theirs!
  expect(desk.current.text('a.css')).toContain('.r3 {\n  top: 7px;')
  expect(desk.current.text('a.css')).toContain('.r5 {\n  top: 55px;')
  expect(page.asked.filter((a) => a === 'preview')).toHaveLength(2)
  expectInStep(page)
})

test('a plan that was not the last one shown is refused', async () => {
  await open()
  const first = await desk.editing.show(set(idOf(1), '1em'), true)
  await desk.editing.show(set(idOf(2), '2em'), true)
  expect(first.ok && first.plan !== null && (await desk.editing.commitPlan(first.plan, 1))).toMatchObject({ ok: false, reason: 'stale' })
  expect(desk.current.text('a.css')).toBe(SHEET)
})

test('a page that cannot take a part in is given the whole sheet', async () => {
  const { page, edits } = await open()
  page.sheets.set('a.css', page.sheets.get('a.css')!.slice(2))
  await write(edits, 1, '9px')
  expect(page.asked.filter((a) => a === 'sync')).toHaveLength(2)
  expectInStep(page)
  // And what changed is enough again from then on.
  await write(edits, 1, '8px')
  expect(page.asked.filter((a) => a === 'sync')).toHaveLength(3)
  expectInStep(page)
})

test('a page that did not answer is told of the whole sheet next; the edit is written all the same, and says that it was not read', async () => {
  const { page, edits } = await open()
  page.before = (type) => {
    if (type === 'sync') throw new PageBusyError('The page does not answer')
  }
  await write(edits, 1, '9px')
  expect(desk.current.text('a.css')).toContain('.r1 {\n  top: 9px;')
  page.before = (type) => {
    if (type === 'read') throw new PageBusyError('The page does not answer')
  }
  await write(edits, 2, '9px')
  expect(ledger().at(-1)).toBe('.r2 9px unread')
  expectInStep(page)
})

test('what is refused is not written, leaves nothing on the page, and says why', async () => {
  const { page, edits } = await open()
  expect(await edits.write(set(idOf(1), 'a; b'), ['top'])).toBe(false)
  expect(desk.current.text('a.css')).toBe(SHEET)
  expect(page.asked.at(-1)).toBe('preview')
  expect(getStudio().status).toMatchObject({ kind: 'error' })
  expect(getStudio().pulling).toBeNull()
})

test('what the source says already is no error and no row', async () => {
  const { edits } = await open()
  expect(await write(edits, 3, '3px')).toBe(true)
  expect(ledger()).toEqual([])
  expect(getStudio().status).toMatchObject({ kind: 'info' })
})

test('of steps that come faster than the page, the first and the last are shown', async () => {
  const { page, edits } = await open()
  const shown: string[] = []
  page.before = async (type, ask) => {
    if (type !== 'preview') return
    await new Promise((done) => setTimeout(done, 20))
    const [op] = (ask as { ops: { set?: { value: string } }[] }).ops
    if (op?.set) shown.push(op.set.value)
  }
  for (let i = 0; i < 30; i++) edits.show(set(idOf(1), `${i}px`), false)
  await vi.waitFor(() => expect(shown).toEqual(['0px', '29px']))
  expect(desk.current.text('a.css')).toBe(SHEET)
})

test('what is asked for at once takes turns, and each is of what was selected then', async () => {
  const { page, edits, choices } = await open()
  let chosen = () => {}
  void choices.during(() => new Promise<void>((done) => (chosen = done)))
  const all = [write(edits, 1, '10px'), write(edits, 2, '20px'), write(edits, 1, '30px')]
  await new Promise((done) => setTimeout(done, 30))
  // What is still being selected is waited for.
  expect(page.asked).toEqual([])
  chosen()
  expect(await Promise.all(all)).toEqual([true, true, true])
  expect(ledger().map((r) => r.replace(/ \w+$/, ''))).toEqual(['.r1 10px', '.r2 20px', '.r1 30px'])
  expectInStep(page)
})

test('a project that is left meanwhile is not written to', async () => {
  const { page, edits } = await open()
  page.before = (type) => {
    if (type === 'read') page.left = true
  }
  expect(await write(edits, 1, '9px')).toBe(false)
  expect(desk.current.text('a.css')).toBe(SHEET)
  expect(getStudio().status).toMatchObject({ kind: 'error', text: expect.stringContaining('Not written') })
})

test('an edit that finds no room is not made, and can be made again once there is', async () => {
  const { page, edits } = await open()
  const { edits: table } = desk.current.db
  const put = table.put.bind(table)
  let full = true
  table.put = ((...args: Parameters<typeof put>) =>
    full ? Promise.reject(new DOMException('no room', 'QuotaExceededError')) : put(...args)) as typeof table.put
  expect(await write(edits, 1, '9px')).toBe(false)
  expect(desk.current.text('a.css')).toBe(SHEET)
  expect(getStudio().status?.text).toMatch(/no room left/)
  full = false
  await (getStudio().again as unknown as () => Promise<boolean>)()
  expect(desk.current.text('a.css')).toContain('.r1 {\n  top: 9px;')
  expectInStep(page)
})

type Act =
  | { readonly act: 'write'; readonly rule: number; readonly value: number }
  | { readonly act: 'undo' | 'redo' | 'compare' | 'lost' | 'reload' }
  | { readonly act: 'add' | 'remove' | 'theirs'; readonly rule: number }

const acts: fc.Arbitrary<Act> = fc.oneof(
  { weight: 6, arbitrary: fc.record({ act: fc.constant('write' as const), rule: fc.nat(11), value: fc.nat(99) }) },
  {
    weight: 4,
    arbitrary: fc.record({
      act: fc.constantFrom('undo' as const, 'redo' as const, 'compare' as const, 'lost' as const, 'reload' as const),
    }),
  },
  {
    weight: 4,
    arbitrary: fc.record({ act: fc.constantFrom('add' as const, 'remove' as const, 'theirs' as const), rule: fc.nat(11) }),
  },
)

test('whatever is edited, undone, compared, lost on the way and loaded again: after the next edit the page has just what the sources have', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(acts, { minLength: 1, maxLength: 12 }), async (list) => {
      const { page, edits, timeline } = await open()
      const last: Act = { act: 'write', rule: 0, value: 1234 }
      for (const a of [...list, last]) {
        const stands = (n: number) => desk.current.text('a.css')!.includes(`.r${n} `)
        if (a.act === 'write') {
          if (stands(a.rule)) await write(edits, a.rule, `${a.value}px`)
        } else if (a.act === 'undo' || a.act === 'redo') await timeline.step(a.act)
        else if (a.act === 'compare') {
          await timeline.compare(true)
          await timeline.compare(false)
        } else if (a.act === 'reload') page.tie(desk.pageSync.outlines(['a.css']).sheets, () => desk.current.text('a.css')!)
        else if (a.act === 'lost') {
          page.before = (type) => {
            if (type === 'sync') throw new PageBusyError('The page does not answer')
          }
          if (stands(1)) await write(edits, 1, `${getStudio().revision}pt`)
          page.before = () => undefined
        } else if (a.act === 'add') {
          const intent: Intent = {
            kind: 'add-rule',
            sheet: 'a.css',
            selector: `.n${a.rule}`,
            declarations: [{ name: 'left', value: '1px' }],
            under: '',
          }
          await edits.write(intent, ['left'])
        } else if (a.act === 'theirs') {
          const made = stands(a.rule) ? await desk.editing.commit(set(idOf(a.rule), `${a.rule}em`), 1) : null
          if (made && !('ok' in made)) await timeline.showWritten(made)
        } else if (a.act === 'remove' && stands(a.rule) && a.rule > 0) {
          const rule = idOf(a.rule)
          await edits.write({ kind: 'remove', aim: { kind: 'rule', sheet: 'a.css', rule }, name: 'top' }, ['top'])
        }
      }
      expectInStep(page)
      page.close()
    }),
    { numRuns: 25 },
  )
})

test('an edit whose place is only so because the utility classes are still being read waits for them', async () => {
  const { page, edits, selection } = await open()
  const reading = (share: number) => setStudio({ vocabulary: { label: 'Tailwind CSS', isOfFramework: true, share, notes: [] } })
  const early = { kind: 'new-rule', sheet: 'a.css', after: null, selector: '.early', under: '' }
  const late = { kind: 'rule', sheet: 'a.css', rule: idOf(2) }
  const aimOf = () => ({
    property: 'top',
    chosen: 0,
    candidates: [{ ref: isReadingClasses() ? early : late, wins: true, fits: true, current: null } as unknown as Candidate],
  })
  Object.assign(selection, {
    needAims: async (_: readonly string[], { picked, ...rest }: Selected) => ({
      ...rest,
      picked: { ...picked!, aims: new Map([['top', aimOf() as never]]) },
    }),
  })
  page.values = { top: '9px' }
  reading(0.2)
  const done = edits.commit('top', '9px')
  await new Promise((go) => setTimeout(go, 20))
  reading(0.6)
  await new Promise((go) => setTimeout(go, 20))
  expect([page.asked, desk.current.text('a.css')]).toEqual([[], SHEET])
  reading(1)
  expect(await done).toBe(true)
  expect(ledger()).toEqual(['.r2 9px holds'])
})
