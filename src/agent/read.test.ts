import fc from 'fast-check'
import { expect, test } from 'vitest'
import type { RequestType } from './protocol'
import { ProtocolError, readAnswer, readFromPage, readHello } from './read'

const TYPES: readonly RequestType[] = [
  'hit',
  'pick',
  'walk',
  'tree',
  'find',
  'within',
  'sheets',
  'tie',
  'reach',
  'read',
  'judge',
  'element',
  'sheetHolds',
  'endText',
  'drop',
  'closed',
  'stacking',
  'palette',
  'sync',
  'sketch',
  'picture',
  'findings',
  'overflow',
  'inUse',
]

/** What reads it: all that a page may send, or that only looks like it. */
const reads = (work: () => unknown): boolean => {
  try {
    work()
    return true
  } catch (error) {
    if (!(error instanceof ProtocolError)) throw error
    return false
  }
}

test('whatever a page sends is read, or refused as no message of ours; nothing else comes of it', () => {
  const anything = fc.oneof(
    fc.anything({ withNullPrototype: true, withBigInt: true, withSparseArray: true }),
    fc.record({
      event: fc.constantFrom('frames', 'sheets', 'tree', 'typed', 'leaving', 'other'),
      keep: fc.anything(),
      page: fc.anything(),
    }),
    fc.record({ id: fc.anything(), error: fc.anything(), answer: fc.anything() }),
  )
  fc.assert(
    fc.property(anything, fc.constantFrom(...TYPES), (sent, type) => {
      reads(() => readFromPage(sent))
      reads(() => readAnswer(type, sent))
      readHello(sent)
    }),
    { numRuns: 2000 },
  )
})

test('an answer has just what was agreed on: no more fields, no lists or texts without end, no numbers that are none', () => {
  const info = { node: 3, origin: 'source', source: '1.2', tag: 'p', id: '', classes: ['a'], twin: null }
  expect(readAnswer('walk', { ...info, more: 'x' })).toEqual(info)
  expect(readAnswer('walk', null)).toBeNull()
  // A page can write anything into the attribute that holds ids of ours.
  expect(readAnswer('walk', { ...info, source: '1.2; drop' })).toEqual({ ...info, source: null })
  for (const wrong of [
    { ...info, node: NaN },
    { ...info, node: '3' },
    { ...info, tag: 'x'.repeat(2000) },
    { ...info, classes: Array.from({ length: 3000 }, () => 'a') },
    { ...info, origin: 'elsewhere' },
    [],
    'p',
  ])
    expect([wrong, reads(() => readAnswer('walk', wrong))]).toEqual([wrong, false])
  expect(
    reads(() =>
      readAnswer(
        'find',
        Array.from({ length: 20_001 }, (_, i) => i),
      ),
    ),
  ).toBe(false)
  expect(
    reads(() =>
      readFromPage({
        event: 'frames',
        hover: null,
        picked: null,
        others: [],
        reach: [],
        containers: [],
        page: { scrollX: Infinity, scrollY: 0, width: 1, height: 1 },
      }),
    ),
  ).toBe(false)
  // What would be written has to name an element and a text of it.
  const typed = { source: '9.1', index: 0, was: 'Prices', text: 'Fares' }
  expect(readAnswer('endText', [typed])).toEqual([typed])
  for (const wrong of [
    { ...typed, source: '9.1; any' },
    { ...typed, index: -5.5 },
    { ...typed, index: 0.5 },
  ])
    expect([wrong, reads(() => readAnswer('endText', [wrong]))]).toEqual([wrong, false])
  const drop = { source: '9.1', stamp: null, tag: 'p', where: 'before', mark: { x: 0, y: 0, width: 1, height: 1 }, within: false }
  expect([drop, { ...drop, source: 'any' }, { ...drop, where: 'over' }].map((d) => reads(() => readAnswer('drop', [d])))).toEqual([
    true,
    false,
    false,
  ])
  expect(readFromPage({ id: 4, answer: 'x', more: 1 })).toEqual({ id: 4, answer: 'x' })
  expect(readHello({ steady: 'hello', address: '/', title: 'x', port: 1 })).toEqual({
    steady: 'hello',
    address: '/',
    title: 'x',
  })
  expect(readHello({ steady: 'hi', address: '/', title: 'x' })).toBeNull()
})
