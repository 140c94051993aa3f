import { expect, test } from 'vitest'
import { runComponentCorpus } from '../../proof/corpus-components'

// Each way that a class list is written, and the sample.
test.each([
  ['tests/fixtures/components', 150],
  ['demo/brinewick-desk', 150],
])('random edits of components hold: %s', (dir, edits) => {
  const result = runComponentCorpus(dir, edits, 3)
  expect(result.violations).toEqual([])
  expect(result.unread).toEqual([])
  expect(result.edits).toBe(edits)
  // What is worked out while the page runs is refused, and little else.
  expect(result.refused).toBeLessThan(edits * 0.03)
  expect(result.lists.editable).toBe(result.lists.all)
})
