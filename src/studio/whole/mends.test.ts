// @vitest-environment jsdom
import { afterEach, expect, test } from 'vitest'
import type { Finding } from '../../agent/protocol'
import { contrast, parseColor } from '../../core/value'
import type { Session } from '../session/session'
import { INITIAL, setStudio } from '../store'
import { mendFor } from './mends'

afterEach(() => setStudio(INITIAL))

const made: unknown[] = []
const edits = {
  commit: async (...what: unknown[]) => !!made.push(what),
  commitAll: async (...what: unknown[]) => !!made.push(what),
  onElement: async (...what: unknown[]) => !!made.push(what),
}
const session = { edits } as unknown as Session
const finding = (more: Record<string, unknown>): Finding =>
  ({ info: { node: 1, source: '1.2' }, rule: 'color-contrast', contrast: null, ...more }) as unknown as Finding

/** Has an element chosen that shows these values, of which the source writes the colour so. */
function choose(computed: Record<string, string>, written: string | null = null, backdrop: string | null = '#ffffff') {
  const aims = new Map(written === null ? [] : [['color', { written }]])
  setStudio({ picked: { report: { info: { node: 1 }, computed, facts: { backdrop } }, aims } as never })
}

test('text with too little contrast gets the nearest lightness that has enough, as the source writes its colours', async () => {
  for (const [written, like] of [
    ['#9aa5a8', /^#[\da-f]{6}$/],
    ['rgb(154 165 168)', /^rgb\(\d+ \d+ \d+\)$/],
    [null, /^#[\da-f]{3,6}$/],
  ] as const) {
    choose({ color: 'rgb(154, 165, 168)' }, written)
    const mend = mendFor(session, finding({ contrast: { ground: '#fff', wanted: 4.5 } }))!
    const value = mend.words.replace('color: ', '')
    expect(value).toMatch(like)
    const ratio = contrast(parseColor(value)!, parseColor('#fff')!)
    expect(ratio).toBeGreaterThanOrEqual(4.5)
    expect(ratio).toBeLessThan(4.9)
    made.length = 0
    expect(await mend.make()).toBe(true)
    expect(made).toEqual([['color', value]])
  }
})

test('what no lightness of it can reach, what is not chosen, and what a person has to decide has no edit', () => {
  choose({ color: 'rgb(128, 128, 128)' }, null, '#808080')
  expect(mendFor(session, finding({ contrast: { ground: '#808080', wanted: 21 } }))).toBeNull()
  choose({ color: 'currentcolor' })
  expect(mendFor(session, finding({ contrast: { ground: '#fff', wanted: 4.5 } }))).toBeNull()
  expect(mendFor(session, finding({ info: { node: 9, source: '1.2' }, rule: 'image-alt' }))).toBeNull()
  expect(mendFor(session, finding({ rule: 'heading-order' }))).toBeNull()
})

test('a target gets its least size where it can have one, a picture without words says nothing', async () => {
  choose({ display: 'block' })
  made.length = 0
  await mendFor(session, finding({ rule: 'target-size' }))!.make()
  await mendFor(session, finding({ rule: 'image-alt' }))!.make()
  expect(made).toEqual([
    [
      [
        ['min-width', '24px'],
        ['min-height', '24px'],
      ],
      'a target’s least size',
    ],
    [{ kind: 'set-attribute', source: '1.2', name: 'alt', value: '' }],
  ])
  // What is in lines has no size of its own; what is in no file takes no attribute.
  choose({ display: 'inline' })
  expect(mendFor(session, finding({ rule: 'target-size' }))).toBeNull()
  expect(mendFor(session, finding({ rule: 'image-alt', info: { node: 1, source: null } }))).toBeNull()
})
