import { expect, test } from 'vitest'
import { runComponentCorpus } from '../../proof/corpus-components'

const OF_TAGS = /^(delete|duplicate|move|wrap|unwrap|insert-html):/

// Each way that a class list is written, and the sample.
test.each([
  ['tests/fixtures/components', 150],
  ['demo/brinewick-desk', 150],
])('random edits of components hold: %s', (dir, edits) => {
  const result = runComponentCorpus(dir, edits, 3)
  expect(result.violations).toEqual([])
  expect(result.unread).toEqual([])
  expect(result.edits).toBe(edits)
  // What is worked out while the page runs is refused, and little else; of where tags stand, what a component has no place for.
  const refused = (isOfTags: boolean) =>
    Object.entries(result.reasons).reduce((n, [why, times]) => n + (OF_TAGS.test(why) === isOfTags ? times : 0), 0)
  const ofTags = Object.entries(result.kinds).reduce((n, [kind, times]) => n + (OF_TAGS.test(`${kind}:`) ? times : 0), 0)
  expect(refused(false)).toBeLessThan(edits * 0.03)
  expect(refused(true)).toBeLessThan(ofTags * 0.3)
  expect(result.lists.editable).toBe(result.lists.all)
})
