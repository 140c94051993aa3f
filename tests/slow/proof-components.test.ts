import { expect, test } from 'vitest'
import { runComponents } from '../../proof/fidelity-components'

test('edits of a project of components show what a plain server of its own makes of the saved files', async () => {
  const { edits, silent, refused, cases } = await runComponents('demo/brinewick-desk', 24, 11)
  expect(cases).toEqual([])
  expect({ edits, silent, refused }).toEqual({ edits: 24, silent: 0, refused: 0 })
})
