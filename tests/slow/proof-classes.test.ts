import { expect, test } from 'vitest'
import { runFidelity } from '../../proof/fidelity'

test('edits of class lists compute to what a build of the written files does', async () => {
  const result = await runFidelity('demo/brinewick-crew', 20, 4, 'classes')
  expect(result.cases).toEqual([])
  // Others are told not to show, such as a height in a line of text.
  expect(result.same).toBeGreaterThan(14)
}, 240_000)
