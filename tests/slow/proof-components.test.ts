import { expect, test } from 'vitest'
import { runComponents } from '../../proof/fidelity-components'

test('edits of a project of components show what a plain server of its own makes of the saved files', async () => {
  const { edits, same, silent, cases } = await runComponents('demo/brinewick-desk', 20, 11)
  expect(cases).toEqual([])
  expect({ edits, silent }).toEqual({ edits: 20, silent: 0 })
  // Of where tags stand, some edits have no answer but a refusal.
  expect(same).toBeGreaterThanOrEqual(15)
})
