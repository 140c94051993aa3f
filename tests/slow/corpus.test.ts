import { expect, test } from 'vitest'
import { runCorpus } from '../../proof/corpus'
import { runClassCorpus } from '../../proof/corpus-classes'

test.each([1, 2, 3])(
  'random edits of the sample project hold, seed %i',
  (seed) => {
    const result = runCorpus('demo/brinewick', 700, seed)
    expect(result.cases.map((c) => `${c.kind} ${c.what}: ${c.why}`)).toEqual([])
    expect(result.edits).toBeGreaterThanOrEqual(700)
    expect(result.refused / result.edits).toBeLessThan(0.02)
  },
  60_000,
)

test('random edits of sources that few would write hold: stray quotes, comments in selectors, hacks, `<!--` in a sheet', () => {
  const result = runCorpus('proof/odd-sources', 3000, 4)
  expect(result.cases.map((c) => `${c.kind} ${c.what}: ${c.why}`)).toEqual([])
  expect(result.edits).toBeGreaterThanOrEqual(3000)
}, 60_000)

test('random edits of class lists hold', async () => {
  const result = await runClassCorpus('demo/brinewick-crew', 700, 1)
  expect(result.violations).toEqual([])
  // Only what the list does not have is refused: to take it out.
  expect(Object.keys(result.reasons).filter((r) => r.startsWith('set'))).toEqual([])
}, 60_000)
