import { expect, test } from 'vitest'
import type { UsedColor } from '../../agent/protocol'
import type { Scale } from '../../core/project'
import { inNotations, listColors } from './colors'

const use = (color: string, more: Partial<UsedColor> = {}): UsedColor => {
  const roles = { text: 0, ground: 0, edge: 0, paint: 0, ...more }
  return { color, ...roles, count: roles.text + roles.ground + roles.edge + roles.paint, nodes: [], ...more }
}
const token = (name: string, text: string, kind: Scale['tokens'][number]['kind'] = 'color') => ({
  name,
  text,
  kind,
  path: 'a.css',
  line: 1,
})

test('a colour is listed once, whatever notations the page computes it in, the most used first', () => {
  const listed = listColors(
    [
      use('rgb(15, 91, 102)', { text: 2, nodes: [1, 2] }),
      use('rgb(255, 255, 255)', { ground: 4, nodes: [5] }),
      use('color(srgb 0.0588235 0.356863 0.4)', { edge: 3, paint: 1, nodes: [2, 3] }),
    ],
    [],
  )
  expect(listed.map(({ short, roles, count, nodes }) => [short, roles, count, nodes])).toEqual([
    ['#0f5b66', '2 text, 3 border, 1 SVG', 6, [1, 2, 3]],
    ['#fff', '4 background', 4, [5]],
  ])
})

test('each says which token of the theme it is; what a framework keeps for itself is none', () => {
  const tokens = [
    token('--gap', '#fff', 'other'),
    token('--tw-ring-offset-color', '#fff'),
    token('--paper', 'rgb(255 255 255)'),
    token('--deep', '#0F5B66'),
  ]
  expect(
    listColors(
      [use('rgb(255, 255, 255)', { text: 3 }), use('rgb(15, 91, 102)', { text: 2 }), use('rgb(1, 2, 3)', { text: 1 })],
      tokens,
    ).map((c) => c.token),
  ).toEqual(['--paper', '--deep', null])
})

test('one that is hardly told from another is said to be near the one that is used more, and not the other way', () => {
  const near = (...colors: string[]) =>
    listColors(
      colors.map((c, i) => use(c, { text: 9 - i })),
      [],
    ).map((c) => c.near)
  expect(near('rgb(255, 255, 255)', 'rgb(247, 251, 250)', 'rgb(0, 0, 0)')).toEqual([null, '#fff', null])
  expect(near('rgb(15, 91, 102)', 'rgba(15, 91, 102, 0.5)')).toEqual([null, null])
  expect(near('rgb(200, 0, 0)', 'rgb(0, 200, 0)')).toEqual([null, null])
})

test('a colour is copied in the notations that people write', () => {
  expect(inNotations('rgb(15, 91, 102)').map(({ name, text }) => [name, text])).toEqual([
    ['hex', '#0f5b66'],
    ['rgb', 'rgb(15 91 102)'],
    ['hsl', expect.stringMatching(/^hsl\(187\S* 74\S*% 22\S*%\)$/)],
    ['oklch', expect.stringMatching(/^oklch\(43\.\d+% 0\.07\d* 209\.\d+\)$/)],
  ])
  expect(inNotations('currentcolor')).toEqual([])
})
