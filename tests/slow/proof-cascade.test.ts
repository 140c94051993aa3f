import { expect, test } from 'vitest'
import { runCascade } from '../../proof/cascade'

test('the cascade names the declarations that the engine names', async () => {
  const result = await runCascade('demo/brinewick', 60, 1)
  expect(result.cases).toEqual([])
  expect(result.compared).toBeGreaterThan(500)
}, 180_000)
