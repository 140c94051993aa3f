import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { UnreadFiles } from './unread-files'

const files = (count: number, size = 10) => Array.from({ length: count }, (_, i) => ({ key: i + 1, path: `f${i}`, size }))
const soon = () => new Promise((done) => setTimeout(done))

describe('files that a project is opened without', () => {
  test('each is read once and taken in before anybody who asked for it goes on, whatever is asked when', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.array(fc.nat(40), { maxLength: 6 }), { maxLength: 8 }), fc.nat(8), async (asked, all) => {
        const taken = new Map<string, number>()
        const unread = new UnreadFiles(files(30), {
          read: async (paths) => {
            await soon()
            return paths.map((path) => (path === 'f7' ? null : new TextEncoder().encode(path)))
          },
          take: async (read) => {
            await soon()
            for (const { path, bytes } of read) {
              expect(bytes && new TextDecoder().decode(bytes)).toBe(path === 'f7' ? null : path)
              taken.set(path, (taken.get(path) ?? 0) + 1)
            }
          },
        })
        await Promise.all(
          asked.map(async (list, i) => {
            if (i === all) await unread.readAll()
            else await unread.readNow(list.map((n) => `f${n}`))
            for (const n of i === all ? [...Array(30).keys()] : list) expect(taken.has(`f${n}`)).toBe(n < 30)
          }),
        )
        await unread.readAll()
        expect(unread.isWhole).toBe(true)
        expect([...taken.values()]).toEqual(Array(30).fill(1))
      }),
      { numRuns: 60 },
    )
  })

  test('what could not be read is tried again, and many are told of as they come', async () => {
    let fails = true
    const told: number[] = []
    const unread = new UnreadFiles(files(2500), {
      read: async (paths) => {
        if (fails && paths.includes('f1500')) throw new Error('the server is away')
        return paths.map(() => new Uint8Array())
      },
      take: async () => {},
    })
    await expect(unread.readAll()).rejects.toThrow('away')
    expect(unread.isWhole).toBe(false)
    fails = false
    await unread.readAll((done) => void told.push(done))
    expect(unread.isWhole).toBe(true)
    expect(told).toEqual(told.toSorted((a, b) => a - b))
  })

  test('a few that are large are read one after another', async () => {
    const batches: number[] = []
    const unread = new UnreadFiles(files(5, 5 * 1024 * 1024), {
      read: async (paths) => {
        batches.push(paths.length)
        return paths.map(() => new Uint8Array())
      },
      take: async () => {},
    })
    await unread.readAll()
    expect(batches).toEqual([1, 1, 1, 1, 1])
  })

  test('a project that was left takes in nothing more', async () => {
    let taken = 0
    const unread = new UnreadFiles(files(3), {
      read: async (paths) => {
        await soon()
        return paths.map(() => new Uint8Array())
      },
      take: async () => void taken++,
    })
    const reading = unread.readAll()
    unread.stop()
    await reading
    expect(taken).toBe(0)
  })
})
