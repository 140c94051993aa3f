import { expect, test } from 'vitest'
import { runFidelity } from '../../proof/fidelity'

test('edits through the live page compute to what the written files do, loaded afresh without us', async () => {
  const result = await runFidelity('demo/brinewick', 30, 1)
  expect(result.cases).toEqual([])
  // What a value does not do, such as the width of a border without a style, is said and no mismatch.
  expect(result.same + result.refused + result.flagged).toBe(30)
  expect(result.same).toBeGreaterThan(26)
}, 180_000)
