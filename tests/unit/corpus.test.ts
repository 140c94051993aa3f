import { expect, test } from 'vitest'
import { runCorpus } from '../../proof/corpus'

test.each([1, 2, 3])('random edits of the sample project hold, seed %i', (seed) => {
  const result = runCorpus('demo/brinewick', 700, seed)
  expect(result.cases.map((c) => `${c.kind} ${c.what}: ${c.why}`)).toEqual([])
  expect(result.edits).toBeGreaterThanOrEqual(700)
  expect(result.refused / result.edits).toBeLessThan(0.02)
}, 60_000)
