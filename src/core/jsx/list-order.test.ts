import fc from 'fast-check'
import { expect, test } from 'vitest'
import { Project } from '../project'
import { planIntent } from '../edit'

const DATA = `export const TIDES = [
  { at: '04:10', high: true },
  { at: '10:22', high: false },
  { at: '16:40', high: true }, // the last by day
]
`
const page = (list: string, more = '') =>
  `import { TIDES } from './data'\n${more}export const Tides = () => <ul>{${list}.map((t) => <li key={t.at}>{t.at}</li>)}</ul>\n`

/** The file of the list after a swap; the reason where it is refused. */
function swapped(files: Readonly<Record<string, string>>, index: number, by: 1 | -1, count = 3): string {
  const all = Object.entries(files)
  const project = new Project(all.map(([path, text], key) => ({ key: key + 1, path, bytes: new TextEncoder().encode(text) })))
  const { id } = project.tree('Tides.tsx').elements.find((e) => e.tag === 'li')!
  const plan = planIntent(project, { kind: 'list-order', source: project.sourceOf('Tides.tsx', id), index, count, by })
  if (!plan.ok) return `${plan.reason}: ${plan.why}`
  for (const { path, splices } of plan.changes) project.apply(path, splices)
  return project.text(plan.path)
}

test('two items of a list change places where it is written: in a file that is imported, in the file, and in the tag itself', () => {
  const moved = DATA.replace("{ at: '04:10', high: true }", '#')
    .replace("{ at: '10:22', high: false }", "{ at: '04:10', high: true }")
    .replace('#', "{ at: '10:22', high: false }")
  expect(swapped({ 'Tides.tsx': page('TIDES'), 'data.ts': DATA }, 0, 1)).toBe(moved)
  expect(swapped({ 'Tides.tsx': page('TIDES'), 'data.ts': DATA }, 1, -1)).toBe(moved)
  const own = page('HOURS', 'const HOURS = [{ at: 1 }, { at: 2 }, { at: 3 }] as const\n')
  expect(swapped({ 'Tides.tsx': own, 'data.ts': DATA }, 1, 1)).toBe(own.replace('{ at: 2 }, { at: 3 }', '{ at: 3 }, { at: 2 }'))
  const inline = page("['a', 'b', 'c']")
  expect(swapped({ 'Tides.tsx': inline, 'data.ts': DATA }, 0, 1)).toBe(inline.replace("'a', 'b'", "'b', 'a'"))
})

test.each<[string, Parameters<typeof swapped>, RegExp]>([
  ['at the end', [{ 'Tides.tsx': page('TIDES'), 'data.ts': DATA }, 2, 1], /^nothing-new: .*last/],
  ['at the start', [{ 'Tides.tsx': page('TIDES'), 'data.ts': DATA }, 0, -1], /^nothing-new: .*first/],
  ['beside a comment', [{ 'Tides.tsx': page('TIDES'), 'data.ts': DATA }, 1, 1], /comment/],
  ['in a list that shows in part', [{ 'Tides.tsx': page('TIDES'), 'data.ts': DATA }, 0, 1, 2], /worked out/],
  ['in a list that is sorted', [{ 'Tides.tsx': page('TIDES.toSorted()'), 'data.ts': DATA }, 0, 1], /worked out/],
  ['in a list that is given', [{ 'Tides.tsx': page('tides').replace('= () =>', '= ({ tides }) =>'), 'data.ts': DATA }, 0, 1], /worked out/],
  [
    'in a list with others in it',
    [{ 'Tides.tsx': page('HOURS', 'const HOURS = [...TIDES, 1, 2]\n'), 'data.ts': DATA }, 0, 1],
    /worked out/,
  ],
  ['in no list', [{ 'Tides.tsx': 'export const A = () => <li>x</li>\n' }, 0, 1, 1], /worked out/],
])('is refused %s', (_, given, why) => {
  expect(swapped(...given)).toMatch(why)
})

test('back and forth, the file is as it was; the items are the same ones', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: 0, max: 99 }), { minLength: 2, maxLength: 8 }), fc.nat(), (items, at) => {
      const text = (list: readonly number[]) => page('HOURS', `const HOURS = [\n${list.map((n) => `  ${n},\n`).join('')}]\n`)
      const index = at % (items.length - 1)
      const once = swapped({ 'Tides.tsx': text(items) }, index, 1, items.length)
      const wanted = items.map((n, i) => (i === index ? items[index + 1] : i === index + 1 ? items[index] : n))
      expect(once).toBe(text(wanted))
      expect(swapped({ 'Tides.tsx': once }, index + 1, -1, items.length)).toBe(text(items))
    }),
    { numRuns: 50 },
  )
})
