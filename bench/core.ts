import { parse } from 'parse5'
import postcss from 'postcss'
import { planIntent } from '../src/core/edit'
import { Project, scaleOf, type StoredFile } from '../src/core/project'
import { benchSite } from './bench-page'
import { median, percentile, round, type BenchRow } from './stats'

const bytes = (text: string) => new TextEncoder().encode(text)

/** A sheet of about `size` bytes, written as people write. */
function sheetOf(size: number): string {
  const out: string[] = []
  let length = 0
  for (let i = 0; length < size; i++) {
    const rule = `.part-${i} .name-${i % 97},\n.part-${i}:hover {\n  padding: ${i % 40}px 12px;\n  color: #${((i * 7919) % 0xffffff).toString(16).padStart(6, '0')};\n  font-size: 14px;\n}\n`
    out.push(i % 25 === 0 ? `@media (max-width: ${400 + (i % 600)}px) {\n  .wide-${i} {\n    margin: 0 auto;\n  }\n}\n` : rule)
    length += out[out.length - 1].length
  }
  return out.join('\n')
}

/** Time to plan one edit and apply it; ms each. */
function edits(css: string, count: number): number[] {
  const project = new Project([{ key: 1, path: 'a.css', bytes: bytes(css) }])
  const rules = [...project.sheet('a.css')!.sheet.rules()].filter((s) => s.rule.kind === 'style').map((s) => s.rule.id)
  const times: number[] = []
  for (let i = 0; i < count; i++) {
    const start = performance.now()
    const plan = planIntent(project, {
      kind: 'set',
      aim: { kind: 'rule', sheet: 'a.css', rule: rules[(i * 7919) % rules.length] },
      name: i % 3 ? 'padding-left' : 'color',
      value: i % 3 ? `${i % 30}px` : '#123456',
    })
    if (!plan.ok) throw new Error(plan.why)
    for (const c of plan.changes) project.apply(c.path, c.splices)
    times.push(performance.now() - start)
  }
  return times.slice(Math.floor(count / 4))
}

function timed(times: number, work: () => void): number {
  const out: number[] = []
  for (let i = 0; i < times; i++) {
    const start = performance.now()
    work()
    out.push(performance.now() - start)
  }
  return median(out)
}

/** Rows 3 and 4 of the budgets: one edit in a large sheet, and opening a project. */
export function benchCore(): BenchRow[] {
  const large = sheetOf(1_000_000)
  const small = sheetOf(10_000)
  edits(small, 400)
  const inLarge = edits(large, 400)
  const inSmall = edits(small, 400)
  const parseLarge = timed(7, () => postcss.parse(large))
  const [l, s] = [median(inLarge), median(inSmall)]

  const page = benchSite(400, 10).html
  const css = sheetOf(500_000)
  const files: StoredFile[] = [
    ...Array.from({ length: 200 }, (_, i) => ({ key: i + 1, path: `p${i}.html`, bytes: bytes(page) })),
    ...Array.from({ length: 4 }, (_, i) => ({ key: 300 + i, path: `s${i}.css`, bytes: bytes(css) })),
  ]
  const bare = timed(5, () => {
    for (let i = 0; i < 200; i++) parse(page)
    for (let i = 0; i < 4; i++) postcss.parse(css)
  })
  // All that stands before the first page shows; the other pages are read while it is looked at.
  const open = timed(5, () => {
    const project = new Project(files)
    scaleOf(project)
    project.published('p0.html', '')
    for (const key of project.sheetPaths()) project.outline(key)
  })
  return [
    {
      name: `plan and apply one edit in a 1 MB sheet, median (p95 ${round(percentile(inLarge, 0.95), 3)})`,
      value: round(l, 3),
      unit: 'ms',
      baseline: `one postcss parse of that sheet, ${round(parseLarge)} ms`,
      ratio: round(l / parseLarge, 4),
      budget: 'ratio at most 0.05',
      ok: l / parseLarge <= 0.05,
    },
    {
      name: 'the same against a 10 KB sheet',
      value: round(l, 3),
      unit: 'ms',
      baseline: `one edit in a 10 KB sheet, ${round(s, 3)} ms`,
      ratio: round(l / s),
      budget: 'ratio at most 2',
      ok: l / s <= 2,
    },
    {
      name: 'open a project of 200 pages and 2 MB of CSS, to its first page',
      value: round(open),
      unit: 'ms',
      baseline: `bare parse5 and postcss of its bytes, ${round(bare)} ms`,
      ratio: round(open / bare),
      budget: 'ratio at most 3',
      ok: open / bare <= 3,
    },
  ]
}
