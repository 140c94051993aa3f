import { afterEach, beforeEach, expect, test, vi } from 'vitest'
import type { DeskState, Written } from '../../desk'
import { Drawing } from './drawing'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

const PENDING = { state: 'pending' }
const HOLDS = { state: 'holds', elements: 3 } as const
const WRITTEN = { edit: { seq: 2 }, state: { rows: [{ seq: 1 }, { seq: 2, verdict: PENDING }] } } as unknown as Written

function drawn() {
  const said: unknown[] = []
  const drawing = new Drawing(
    (ledger: DeskState) => said.push(ledger.rows.at(-1)!.verdict),
    () => said.push('the rest'),
  )
  return { drawing, said }
}

test('an edit is drawn with its verdict, the ledger before the rest, and once', () => {
  const { drawing, said } = drawn()
  drawing.takeIn(WRITTEN)
  expect(said).toEqual([])
  drawing.draw(HOLDS)
  expect(said).toEqual([HOLDS])
  vi.runAllTimers()
  expect(said).toEqual([HOLDS, 'the rest'])
})

test('a page that takes its time does not keep the edit from being drawn; its verdict comes behind', () => {
  const { drawing, said } = drawn()
  drawing.takeIn(WRITTEN)
  vi.runAllTimers()
  expect(said).toEqual([PENDING, 'the rest'])
  drawing.draw(HOLDS)
  vi.runAllTimers()
  expect(said).toEqual([PENDING, 'the rest', HOLDS])
})

test('what no page was given, as the project was left, is not drawn', () => {
  const { drawing, said } = drawn()
  drawing.draw(HOLDS)
  vi.runAllTimers()
  expect(said).toEqual([])
})
