import fc from 'fast-check'
import { expect, test } from 'vitest'
import { anAct, type Act } from '../../proof/interleave-acts'
import { playground } from '../../proof/interleave-memory'

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
