import fc from 'fast-check'
import postcss from 'postcss'
import { expect, test } from 'vitest'
import { ALWAYS, ElementAims, type Evidence } from '../aim'
import { isNarrower, resolvedSelectors, textOf, widthRange } from '../css'
import { Project } from '../project'
import { planIntent } from '.'

const WIDTHS = [300, 500, 700, 900]
const CONDITIONS = WIDTHS.flatMap((w) => [`(min-width: ${w}px)`, `(max-width: ${w}px)`])
const SAMPLES = WIDTHS.flatMap((w) => [w - 1, w, w + 1])

interface Item {
  readonly condition: string | null
  readonly classes: readonly string[]
}

const ITEMS: fc.Arbitrary<Item[]> = fc.array(
  fc.record({
    condition: fc.option(fc.constantFrom(...CONDITIONS)),
    classes: fc.subarray(['a', 'b'], { minLength: 1 }),
  }),
  { maxLength: 7 },
)

// Every value is another, so that the one that wins is known by it.
function sheetOf(items: readonly Item[]): string {
  let n = 0
  const rules = (classes: readonly string[], indent: string) =>
    classes.map((c) => `${indent}.${c} {\n${indent}  top: ${++n}px;\n${indent}}\n`).join('')
  return items
    .map(({ condition, classes }) => (condition ? `@media ${condition} {\n${rules(classes, '  ')}}\n` : rules(classes, '')))
    .join('\n')
}

const holds = (condition: string, width: number): boolean => {
  const range = widthRange(condition)!
  return width >= range.min && width <= range.max
}

/** What `.a` gets at a width: the last that holds there, all being equally specific (CSS Cascade 5 §6.4.4). */
function topAt(css: string, width: number): string | null {
  let value: string | null = null
  postcss.parse(css).walkDecls('top', (d) => {
    const rule = d.parent as postcss.Rule
    const above = rule.parent as postcss.AtRule
    if (rule.selector === '.a' && (above.type !== 'atrule' || holds(above.params, width))) value = d.value
  })
  return value
}

test('a rule under a condition has its say at the widths it is for, and none at others or where a narrower one stands', () => {
  let narrowed = 0
  fc.assert(
    fc.property(ITEMS, ITEMS, fc.constantFrom(...CONDITIONS), (before, after, condition) => {
      // The last rule of `.a` for all widths is the one to win over.
      const rest = after.map((i) => (i.condition ? i : { ...i, classes: ['b'] }))
      const css = sheetOf([...before, { condition: null, classes: ['a'] }, ...rest])
      const project = new Project([{ key: 1, path: 'a.css', bytes: new TextEncoder().encode(css) }])
      const base = [...project.sheet('a.css')!.sheet.rules()].findLast(
        (s) => s.parents.length === 0 && s.statement.text.slice(s.rule.prelude.from, s.rule.prelude.to) === '.a',
      )!
      const plan = planIntent(project, {
        kind: 'set',
        aim: { kind: 'new-rule', sheet: 'a.css', after: base.rule.id, selector: '.a', under: condition },
        name: 'top',
        value: '777px',
      })
      expect(plan.ok).toBe(true)
      if (plan.ok) for (const change of plan.changes) project.apply(change.path, change.splices)
      const now = project.text('a.css')
      const own = rest.filter((i) => i.condition && i.classes.includes('a'))
      const isThere = rest.some((i) => i.condition === condition)
      for (const width of SAMPLES) {
        const other = own.filter((i) => i.condition !== condition && holds(i.condition!, width))
        if (!holds(condition, width)) expect([width, topAt(now, width)]).toEqual([width, topAt(css, width)])
        else if (other.length === 0) expect([width, topAt(now, width)]).toEqual([width, '777px'])
        else if (!isThere && other.every((i) => isNarrower(widthRange(i.condition!), widthRange(condition)))) {
          narrowed++
          expect([width, topAt(now, width)]).toEqual([width, topAt(css, width)])
        }
      }
    }),
    { numRuns: 250 },
  )
  expect(narrowed).toBeGreaterThan(50)
})

test.each([
  [
    '.a{top:0}.b{top:0}.c{top:0}@media(max-width:400px){.b{top:1px}}',
    '.a{top:0}.b{top:0}.c{top:0}@media(max-width:400px){.b{top:1px}}@media(min-width:900px){.a{top:7px}}',
  ],
  [
    '.a{top:0}.b{top:0}.c{top:0}@media (max-width:400px){.b{top:1px}}',
    '.a{top:0}.b{top:0}.c{top:0}@media (max-width:400px){.b{top:1px}}@media (min-width:900px){.a{top:7px}}',
  ],
  ['.a{top:0}.b{top:0}.c{top:0}', '.a{top:0}@media (min-width:900px){.a{top:7px}}.b{top:0}.c{top:0}'],
  [
    '.a {\n  top: 0;\n}\n\n@media (max-width:400px) {\n  .b {\n    top: 1px;\n  }\n}\n',
    '.a {\n  top: 0;\n}\n\n@media (max-width:400px) {\n  .b {\n    top: 1px;\n  }\n}\n\n@media (min-width:900px) {\n  .a {\n    top: 7px;\n  }\n}\n',
  ],
  [
    '.a {\n  top: 0;\n\n  @media (max-width:400px) {\n    top: 1px;\n  }\n}\n',
    '.a {\n  top: 0;\n\n  @media (max-width:400px) {\n    top: 1px;\n  }\n\n  @media (min-width:900px) {\n    top: 7px;\n  }\n}\n',
  ],
])('a condition is spelled as those of its sheet are: %j', (before, after) => {
  const project = new Project([{ key: 1, path: 'a.css', bytes: new TextEncoder().encode(before) }])
  const plan = planIntent(project, {
    kind: 'set',
    aim: { kind: 'new-rule', sheet: 'a.css', after: 1, selector: '.a', under: '(min-width: 900px)' },
    name: 'top',
    value: '7px',
  })
  expect(plan.ok).toBe(true)
  if (plan.ok) for (const change of plan.changes) project.apply(change.path, change.splices)
  expect(project.text('a.css')).toBe(after)
})

const SELECTORS = ['.a', 'p.a', '.a.b', 'p']
const weightOf = (selector: string): number => (selector.match(/\./g) ?? []).length * 10 + (/^[a-z]/.test(selector) ? 1 : 0)

/** What `<p class="a b">` gets at a width, by specificity and order. */
function decidedAt(css: string, width: number): string | null {
  let best = -1
  let value: string | null = null
  postcss.parse(css).walkDecls('top', (d) => {
    const rule = d.parent as postcss.Rule
    const above = rule.parent as postcss.AtRule
    if (above.type === 'atrule' && !holds(above.params, width)) return
    if (weightOf(rule.selector) >= best) [best, value] = [weightOf(rule.selector), d.value]
  })
  return value
}

test('each place under a condition says truly whether it would win there', () => {
  const items = fc.array(fc.record({ condition: fc.option(fc.constantFrom(...CONDITIONS)), selector: fc.constantFrom(...SELECTORS) }), {
    minLength: 1,
    maxLength: 7,
  })
  let made = 0
  fc.assert(
    fc.property(items, fc.constantFrom(...CONDITIONS), (list, media) => {
      const css = list
        .map(({ condition, selector }, i) =>
          condition ? `@media ${condition} {\n  ${selector} {\n    top: ${i}px;\n  }\n}\n` : `${selector} {\n  top: ${i}px;\n}\n`,
        )
        .join('\n')
      const open = () =>
        new Project([
          {
            key: 1,
            path: 'index.html',
            bytes: new TextEncoder().encode('<link rel=stylesheet href=a.css><p class="a b">'),
          },
          { key: 2, path: 'a.css', bytes: new TextEncoder().encode(css) },
        ])
      const { min, max } = widthRange(media)!
      const width = Number.isFinite(max) ? max : min
      const project = open()
      const rules = [...project.sheet('a.css')!.sheet.rules()].filter((r) => r.rule.kind === 'style')
      const isMet = (r: (typeof rules)[number]) => r.parents.every((p) => holds(textOf(r, p.prelude), width))
      const found = (met: boolean) =>
        rules
          .filter((r) => isMet(r) === met)
          .map((r) => ({
            sheet: 'a.css',
            order: 0,
            rule: r.rule.id,
            selectors: resolvedSelectors(r).map((_, i) => i),
            proximity: null,
          }))
      const p = project.tree('index.html').elements.find((e) => e.tag === 'p')!
      const info = { source: project.sourceOf('index.html', p.id), tag: 'p', id: '', classes: ['a', 'b'] }
      const evidence: Evidence = {
        info,
        ancestors: [info],
        matched: [found(true)],
        unmet: found(false),
        inline: [''],
        computed: { display: 'block', position: 'relative' },
        parent: { display: 'block' },
        isSvg: false,
        unique: 'p',
        place: 'only',
        holds: { elements: false, wideText: false },
        sheets: ['a.css'],
        condition: { ...ALWAYS, media },
        reach: found(true).map(() => ({ count: 1, kin: true })),
      }
      for (const c of new ElementAims(project, evidence).aim('top').candidates) {
        if (c.ref.kind !== 'new-rule' && c.ref.kind !== 'rule') continue
        const now = open()
        const plan = planIntent(now, { kind: 'set', aim: c.ref, name: 'top', value: '777px' })
        if (!plan.ok) continue
        for (const change of plan.changes) now.apply(change.path, change.splices)
        expect([c.label, c.conditions, decidedAt(now.text('a.css'), width) === '777px']).toEqual([c.label, c.conditions, c.wins])
        if (c.ref.kind === 'new-rule') made++
      }
    }),
    { numRuns: 400 },
  )
  expect(made).toBeGreaterThan(100)
})
