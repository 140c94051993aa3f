import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anAct, type Act, type Cell } from '../../proof/interleave-acts'
import { playground } from '../../proof/interleave-memory'
import { playground as served } from '../../proof/interleave-served'

const { play } = await playground()

const [a0, a4, b0, b1] = [
  { sheet: 0, rule: 0 },
  { sheet: 0, rule: 3 },
  { sheet: 1, rule: 0 },
  { sheet: 1, rule: 1 },
]

test.each<[string, Act[]]>([
  [
    'an edit over theirs, which a look had brought, before the two meet elsewhere',
    [
      { act: 'theirs', cell: a4 },
      { act: 'set', cell: a0 },
      { act: 'look' },
      { act: 'set', cell: a4 },
      { act: 'theirs', cell: a0 },
      { act: 'look' },
    ],
  ],
  [
    'another program that writes as a file is being closed',
    [
      { act: 'set', cell: b0 },
      { act: 'set', cell: a0 },
      { act: 'save in a race', at: 4, cell: a0 },
    ],
  ],
  [
    'a take from what is saved, after a choice',
    [
      { act: 'set', cell: a0 },
      { act: 'new take' },
      { act: 'theirs', cell: a0 },
      { act: 'set', cell: a0 },
      { act: 'from saved' },
      { act: 'look' },
    ],
  ],
  [
    'a choice that is left out of a save',
    [
      { act: 'set', cell: b0 },
      { act: 'save in a race', at: 0, cell: b0 },
      { act: 'theirs', cell: b1 },
      { act: 'leave out', at: 3 },
    ],
  ],
])('found before: %s', async (_, acts) => expect(await play(acts)).toBe(null))

describe('in a folder of the local server', () => {
  const [checkout, look, next] = [{ act: 'git', does: 'checkout' }, { act: 'look' }, { act: 'next take' }] as const
  const theirs = (cell: Cell) => ({ act: 'theirs', cell }) as const
  const set = (cell: Cell) => ({ act: 'set', cell }) as const
  const commit = { act: 'git', does: 'commit' } as const

  test.each<[string, Act[]]>([
    [
      'git takes back what another take was edited over, before it is asked about',
      [theirs(a4), look, commit, { act: 'new take' }, theirs(a4), look, set(a4), next, next, checkout],
    ],
    [
      'the same, with a change beside it that stays',
      [theirs(a4), look, theirs(a0), commit, { act: 'new take' }, theirs(a4), look, set(a4), next, next, checkout],
    ],
    [
      'a file that comes while a save is under way',
      [
        { act: 'delete', sheet: 1 },
        { act: 'save in a race', at: 1, cell: b1 },
      ],
    ],
  ])('found before: %s', async (_, acts) => expect(await (await served()).play(acts)).toBe(null))
})

test('whatever is done here and by other programs: all that somebody finished is in the folder, in the journal, or was decided about', async () => {
  let acts = 0
  await fc.assert(
    fc.asyncProperty(fc.array(anAct, { minLength: 5, maxLength: 30, size: 'max' }), async (list) => {
      expect(await play(list)).toBe(null)
      acts += list.length
    }),
    { numRuns: 40 },
  )
  expect(acts).toBeGreaterThan(400)
}, 120_000)
