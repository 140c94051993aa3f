import { expect, test } from 'vitest'
import { onceLoaded } from './once-loaded'

test('what a service is asked waits for it, in order, and it is called as an object is', async () => {
  let come = () => {}
  const calls: string[] = []
  class Counter {
    readonly name = 'counter'
    note(text: string): number {
      calls.push(`${this.name} ${text}`)
      return calls.length
    }
  }
  const counter = new Counter()
  const waits = new Promise<Counter>((done) => (come = () => done(counter)))
  const service = onceLoaded(() => waits)
  const asked = [service.note('a'), service.note('b')]
  await Promise.resolve()
  expect(calls).toEqual([])
  come()
  expect(await Promise.all(asked)).toEqual([1, 2])
  expect(calls).toEqual(['counter a', 'counter b'])
  expect(service.note).toBe(service.note)
})

test('it may be given by a promise, and what it lacks or what it refuses is an error', async () => {
  const service = onceLoaded(async () => ({
    refuse: () => {
      throw new RangeError('no')
    },
  }))
  expect(await Promise.resolve(service)).toBe(service)
  await expect(service.refuse()).rejects.toThrow('no')
  await expect((service as unknown as { other(): Promise<void> }).other()).rejects.toThrow()
})
