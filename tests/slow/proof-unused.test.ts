import { expect, test } from 'vitest'
import { proveUnused } from '../../proof/unused'

test('a page computes to the same without the rules that are called unused', async () => {
  const ferry = await proveUnused('demo/brinewick', true)
  expect([ferry.cases, ferry.differing]).toEqual([[], 0])
  expect([ferry.removed, ferry.elements > 1000]).toEqual([ferry.rules, true])
}, 180_000)
