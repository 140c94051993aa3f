import { expect, test } from 'vitest'
import { runCascade } from '../../proof/cascade'
import { runFidelity } from '../../proof/fidelity'

test('edits through the live page compute to what the written files do, loaded afresh without us', async () => {
  const result = await runFidelity('demo/brinewick', 40, 1)
  expect(result.cases).toEqual([])
  expect(result.same + result.refused).toBe(40)
  expect(result.same).toBeGreaterThan(34)
}, 180_000)

test('edits of class lists compute to what a build of the written files does', async () => {
  const result = await runFidelity('demo/brinewick-crew', 30, 4, 'classes')
  expect(result.cases).toEqual([])
  expect(result.same).toBeGreaterThan(27)
}, 240_000)

test('the cascade names the declarations that the engine names', async () => {
  const result = await runCascade('demo/brinewick', 60, 1)
  expect(result.cases).toEqual([])
  expect(result.compared).toBeGreaterThan(500)
}, 180_000)
