import fc from 'fast-check'
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest'
import type { PageEvent } from '../agent/protocol'
import { PageBusyError, PageClient } from './page-client'

interface Heard {
  readonly events: PageEvent[]
  readonly garbage: string[]
  late: number
}

/** A port whose other end is this test. */
class Port {
  onmessage: ((e: MessageEvent<unknown>) => void) | null = null
  readonly sent: { id: number; type: string; ask: unknown }[] = []
  isClosed = false

  postMessage(message: { id: number; type: string; ask: unknown }): void {
    this.sent.push(message)
  }

  close(): void {
    this.isClosed = true
  }

  say(data: unknown): void {
    this.onmessage!({ data } as MessageEvent<unknown>)
  }
}

let port: Port
let heard: Heard
let client: PageClient

beforeEach(() => {
  vi.useFakeTimers()
  port = new Port()
  heard = { events: [], garbage: [], late: 0 }
  client = new PageClient(
    port as unknown as MessagePort,
    (e) => heard.events.push(e),
    (why) => heard.garbage.push(why),
    () => heard.late++,
  )
})

afterEach(() => vi.useRealTimers())

describe('what is asked of a page', () => {
  test('is answered by the number it was asked with, in whatever order', async () => {
    const [first, second] = [
      client.ask('reach', { selectors: ['.a'], sheets: [null] }),
      client.ask('reach', { selectors: ['.b'], sheets: [null] }),
    ]
    const [a, b] = port.sent
    expect(a.id).not.toBe(b.id)
    port.say({ id: b.id, answer: [2] })
    port.say({ id: a.id, answer: [1] })
    expect(await first).toEqual([1])
    expect(await second).toEqual([2])
  })

  test('and not answered in time is a page that is busy; what comes then is late, and no answer to anything', async () => {
    const asked = client.ask('reach', { selectors: ['.a'], sheets: [null] })
    const failed = expect(asked).rejects.toBeInstanceOf(PageBusyError)
    await vi.advanceTimersByTimeAsync(5000)
    await failed
    expect(heard.late).toBe(0)
    port.say({ id: port.sent[0].id, answer: [1] })
    expect([heard.late, heard.garbage]).toEqual([1, []])
    // It has answered: the next one is not late again.
    const next = client.ask('reach', { selectors: ['.a'], sheets: [null] })
    port.say({ id: port.sent[1].id, answer: [3] })
    expect([await next, heard.late]).toEqual([[3], 1])
  })

  test('and refused by it fails with its reason, cut to a length that can be shown', async () => {
    const asked = client.ask('reach', { selectors: ['.a'], sheets: [null] })
    port.say({ id: port.sent[0].id, error: 'no such element' })
    await expect(asked).rejects.toThrow('no such element')
    expect(heard.garbage).toEqual([])
  })

  test('of a page that is left fails at once, and the port is closed', async () => {
    const asked = client.ask('reach', { selectors: ['.a'], sheets: [null] })
    const failed = expect(asked).rejects.toThrow('The page was left')
    client.close()
    await failed
    expect(port.isClosed).toBe(true)
    expect(vi.getTimerCount()).toBe(0)
  })
})

describe('what a page says is not trusted', () => {
  test('an answer of another shape is refused, and said; the one who asked hears of it', async () => {
    const asked = client.ask('reach', { selectors: ['.a'], sheets: [null] })
    const failed = expect(asked).rejects.toThrow()
    port.say({ id: port.sent[0].id, answer: ['many'] })
    await failed
    expect(heard.garbage).toHaveLength(1)
  })

  test('an answer to what nobody asked, or twice, does nothing', async () => {
    port.say({ id: 99, answer: [1] })
    const asked = client.ask('reach', { selectors: ['.a'], sheets: [null] })
    for (const count of [1, 2]) port.say({ id: port.sent[0].id, answer: [count] })
    expect(await asked).toEqual([1])
    expect(heard).toMatchObject({ events: [], garbage: [] })
  })

  test('events are read, and nothing else is taken for one', () => {
    port.say({ event: 'sheets' })
    port.say({ event: 'typed', keep: true })
    port.say({ event: 'typed', keep: 'yes' })
    port.say({ event: 'open the door' })
    expect(heard.events).toEqual([{ event: 'sheets' }, { event: 'typed', keep: true }])
    expect(heard.garbage).toHaveLength(2)
  })

  test('whatever it sends, nothing is thrown and nothing is answered that was not read', () => {
    fc.assert(
      fc.property(fc.anything(), (data) => {
        const events = heard.events.length
        expect(() => port.say(data)).not.toThrow()
        expect(heard.events.length).toBe(events)
      }),
      { numRuns: 300 },
    )
  })
})
