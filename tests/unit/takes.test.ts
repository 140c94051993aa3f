import fc from 'fast-check'
import { expect, test } from 'vitest'
import { Desk } from '../../src/desk'
import { openDesk } from '../support/desk-in-memory'

const SELECTORS = ['.quay', '.mole', '.buoy', '.reef']
const SHEET = SELECTORS.map((s) => `${s} {\n  top: 0;\n}\n`).join('\n')
const FILES = { 'index.html': '<!doctype html>\n<link rel="stylesheet" href="a.css">\n<p class="quay mole">x</p>\n', 'a.css': SHEET }

const set = (rule: number, value: string) =>
  ({ kind: 'set', aim: { kind: 'rule', sheet: 'a.css', rule: rule + 1 }, name: 'top', value }) as const
/** The sheet with another value in one rule, made without what is tested. */
const withTop = (sheet: string, rule: number, value: string) =>
  sheet
    .split('\n\n')
    .map((text, i) => (i === rule ? text.replace(/top: .*;/, `top: ${value};`) : text))
    .join('\n\n')

type Act =
  | { readonly do: 'edit'; readonly rule: number; readonly value: string }
  | { readonly do: 'undo' | 'redo' | 'reopen' }
  | { readonly do: 'new'; readonly from: 'here' | 'saved' }
  | { readonly do: 'switch'; readonly to: number }
  | { readonly do: 'drop'; readonly which: number }

const ACT: fc.Arbitrary<Act> = fc.oneof(
  { weight: 6, arbitrary: fc.record({ do: fc.constant('edit' as const), rule: fc.nat(3), value: fc.nat(99).map((n) => `${n + 1}px`) }) },
  { weight: 3, arbitrary: fc.record({ do: fc.constantFrom('undo' as const, 'redo' as const, 'reopen' as const) }) },
  { weight: 2, arbitrary: fc.record({ do: fc.constant('new' as const), from: fc.constantFrom('here' as const, 'saved' as const) }) },
  { weight: 3, arbitrary: fc.record({ do: fc.constant('switch' as const), to: fc.nat(9) }) },
  { weight: 1, arbitrary: fc.record({ do: fc.constant('drop' as const), which: fc.nat(9) }) },
)

/** A take as a person thinks of it: the states of the sheet in a row, and which of them is shown. */
interface Line {
  readonly id: string
  states: string[]
  at: number
}

test('each take has its own states of the files, whatever is done in others, and after the project is opened again', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(ACT, { minLength: 4, maxLength: 24 }), async (acts) => {
      let desk = await openDesk(FILES)
      const id = desk.current.id
      let shown: Line = { id: '', states: [SHEET], at: 0 }
      let lines = [shown]
      for (const act of acts) {
        if (act.do === 'edit') {
          const next = withTop(shown.states[shown.at], act.rule, act.value)
          const done = await desk.editing.commit(set(act.rule, act.value), 1)
          if (next === shown.states[shown.at]) expect(done).toMatchObject({ ok: false, reason: 'nothing-new' })
          else {
            shown.states = [...shown.states.slice(0, shown.at + 1), next]
            shown.at++
          }
        }
        if (act.do === 'undo' || act.do === 'redo') {
          await desk.history.step(act.do)
          shown.at = act.do === 'undo' ? Math.max(0, shown.at - 1) : Math.min(shown.states.length - 1, shown.at + 1)
        }
        if (act.do === 'new') {
          await desk.takes.newTake(`take ${lines.length}`, act.from)
          // Nothing was saved in these projects.
          const states = act.from === 'here' ? shown.states.slice(0, shown.at + 1) : [SHEET]
          shown = { id: (await desk.takes.all()).current, states, at: states.length - 1 }
          lines = [...lines, shown]
        }
        if (act.do === 'switch') {
          shown = lines[act.to % lines.length]
          await desk.takes.switchTake(shown.id)
        }
        if (act.do === 'drop') {
          // The one that is shown stays, also where it is named.
          const { id: gone } = lines[act.which % lines.length]
          await desk.takes.dropTakes([gone])
          if (gone !== shown.id) lines = lines.filter((line) => line.id !== gone)
        }
        if (act.do === 'reopen') {
          desk = new Desk()
          await desk.opening.open(id, '')
        }
        expect(desk.current.text('a.css')).toBe(shown.states[shown.at])
        const { current, list } = await desk.takes.all()
        expect([current, list.map((t) => t.id).sort()]).toEqual([shown.id, lines.map((line) => line.id).sort()])
        expect(list.find((t) => t.id === current)?.edits).toBe(shown.at)
      }
      for (const line of lines.filter((l) => l !== shown)) {
        const differs = line.states[line.at] !== shown.states[shown.at]
        expect((await desk.points.difference({ take: line.id })) !== '').toBe(differs)
      }
    }),
    { numRuns: 30 },
  )
})

test('edits of another take come over as one edit; those that stand on edits left out, and those that meet ours, do not', async () => {
  const desk = await openDesk(FILES)
  await desk.takes.newTake('Tight', 'here')
  const { current: tight } = await desk.takes.all()
  for (const [rule, value] of [
    [0, '1px'],
    [1, '2px'],
    [1, '3px'],
  ] as const)
    await desk.editing.commit(set(rule, value), 1)
  await desk.takes.switchTake('')
  expect(desk.current.text('a.css')).toBe(SHEET)
  const only = await desk.takes.editsOnlyIn(tight)
  expect(only.map((r) => [r.seq, r.label, r.before, r.after])).toEqual([
    [1, '.quay', '0', '1px'],
    [2, '.mole', '0', '2px'],
    [3, '.mole', '2px', '3px'],
  ])
  expect(await desk.takes.bringFrom(tight, [3])).toEqual({
    ok: false,
    reason: 'not-allowed',
    why: 'edit 3 of it stands on edits that were not chosen.',
  })
  expect(await desk.takes.bringFrom(tight, [2, 3])).not.toHaveProperty('ok')
  const brought = withTop(SHEET, 1, '3px')
  expect(desk.current.text('a.css')).toBe(brought)
  expect((await desk.history.read()).edits.map((e) => [e.name, e.after, e.label])).toEqual([['2 edits', 'from Tight', 'takes']])
  expect(await desk.takes.bringFrom(tight, [2, 3])).toMatchObject({ ok: false, why: 'This take has all of that already.' })
  // The same line says something else here by now.
  await desk.editing.commit(set(0, '9px'), 1)
  const met = await desk.takes.bringFrom(tight, [1])
  expect(met).toMatchObject({
    ok: false,
    why: 'a.css: both takes change the same lines. Choose other edits, or make this one by hand.',
  })
  expect(desk.current.text('a.css')).toBe(withTop(brought, 0, '9px'))
  await desk.history.goTo(0)
  expect(desk.current.text('a.css')).toBe(SHEET)
})

test('an edit of another take comes over beside a line that was changed here', async () => {
  const css = '.a {\n  top: 0;\n  left: 0;\n}\n'
  const desk = await openDesk({ 'index.html': FILES['index.html'], 'a.css': css })
  await desk.takes.newTake('Tight', 'here')
  const { current: tight } = await desk.takes.all()
  await desk.editing.commit(set(0, '1px'), 1)
  await desk.takes.switchTake('')
  await desk.editing.commit({ ...set(0, '2px'), name: 'left' }, 1)
  expect(await desk.takes.bringFrom(tight, [1])).not.toHaveProperty('ok')
  expect(desk.current.text('a.css')).toBe('.a {\n  top: 1px;\n  left: 2px;\n}\n')
})

test('takes have names, the first too; one that is gone is said to be, and nothing is switched', async () => {
  const desk = await openDesk(FILES)
  const names = async () => (await desk.takes.all()).list.map((t) => t.name)
  expect(await names()).toEqual(['First take'])
  await desk.takes.renameTake('', 'As it was')
  await desk.editing.commit(set(2, '5px'), 1)
  await desk.takes.newTake('Airy', 'here')
  const { current: airy } = await desk.takes.all()
  await desk.takes.renameTake(airy, 'Airier')
  expect(await names()).toEqual(['As it was', 'Airier'])
  await desk.takes.switchTake('')
  await desk.takes.dropTakes([airy, ''])
  expect(await names()).toEqual(['As it was'])
  for (const work of [() => desk.takes.switchTake(airy), () => desk.takes.editsOnlyIn(airy), () => desk.takes.bringFrom(airy, [1])])
    await expect(work()).rejects.toThrow('That take is gone.')
  expect(desk.current.text('a.css')).toBe(withTop(SHEET, 2, '5px'))
})
