import { expect, test } from 'vitest'
import { runKilled } from '../../proof/killed'

test('ended in the act, no finished edit is lost, no file is half-written, and the project opens', async () => {
  const { faults, edits } = await runKilled(3, 7)
  expect(faults).toEqual([])
  expect(edits).toBeGreaterThan(0)
}, 120_000)
