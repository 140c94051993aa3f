import { describe, expect, test } from 'vitest'
import { resolvedSelectors, Sheet, textOf } from '../css'
import { Project } from '../project'
import { ALWAYS, asksForState, ElementAims, type Condition, type Evidence } from '.'

const site = (css: string, html: string) =>
  new Project(
    [
      ['a.css', css],
      ['index.html', html],
    ].map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })),
  )

/** What a page would say of `<a class="btn">` in `<p class="row">`: the rules named match it, those of `wide` reach other kinds too. */
function evidence(
  project: Project,
  matching: readonly string[],
  more: Partial<Evidence> & { wide?: readonly string[]; condition?: Condition } = {},
): Evidence {
  const rules = [...project.sheet('a.css')!.sheet.rules()].filter((s) => s.rule.kind === 'style')
  const of = (list: readonly string[]) =>
    rules.flatMap((site) => {
      const selectors = resolvedSelectors(site)
      return list.includes(selectors.join(', '))
        ? [{ sheet: 'a.css', order: 0, rule: site.rule.id, selectors: selectors.map((_, i) => i), proximity: null }]
        : []
    })
  const matched = of(matching)
  const info = { source: '2.5', tag: 'a', id: '', classes: ['btn'] }
  const wide = of(more.wide ?? []).map((m) => m.rule)
  return {
    info,
    ancestors: [info, { source: '2.4', tag: 'p', id: '', classes: ['row'] }],
    matched: [matched, []],
    unmet: [],
    inline: ['', ''],
    computed: { display: 'inline', position: 'static' },
    parent: { display: 'block' },
    isSvg: false,
    unique: 'p > a',
    place: 'only',
    holds: { elements: false, wideText: false },
    sheets: ['a.css'],
    condition: ALWAYS,
    ...more,
    reach: matched.map((m) => ({ count: wide.includes(m.rule) ? 40 : 3, kin: !wide.includes(m.rule) })),
  }
}

const HTML = '<p class="row"><a class="btn">Go</a></p>'
const CSS =
  'a { color: red; top: 0 }\n.btn { color: blue }\n.btn:hover { color: navy }\n@media (max-width: 600px) { .btn { color: teal } }\n'
const BASE = CSS.split('@media')[0]
const chosen = (css: string, e: (p: Project) => Evidence, property = 'color') => {
  const project = site(css, HTML)
  const aim = new ElementAims(project, e(project)).aim(property)
  return { ...aim, at: aim.candidates[aim.chosen] }
}

describe('where an edit lands', () => {
  test('what decides now, when only the element’s like is reached', () => {
    const { at, origin, without } = chosen(BASE, (p) => evidence(p, ['a', '.btn'], { wide: ['a'] }))
    expect([at.label, at.line, at.reach, origin.text]).toEqual(['.btn', 2, 3, 'blue'])
    expect(without.map((w) => [w.label, w.reason.code])).toEqual([['a', 'overridden']])
  })

  test('its own class when what decides reaches wider, with the reason in words', () => {
    const { at, because } = chosen(CSS, (p) => evidence(p, ['a', '.btn'], { wide: ['a'] }), 'top')
    expect([at.label, at.current]).toEqual(['.btn', null])
    expect(because).toMatch(/reaches other kinds/)
  })

  test('where every rule reaches wider, a rule for the class that has none yet, beside its relatives; else the element alone', () => {
    const fresh = (css: string, above: readonly string[], more: Partial<Evidence> = {}) =>
      chosen(css, (p) => ({
        ...evidence(p, ['a'], { wide: ['a'] }),
        matched: [evidence(p, ['a']).matched[0], evidence(p, above).matched[0]],
        ...more,
      }))
    const css = '@layer base, parts;\n@layer base {\n  a { color: red }\n}\n@layer parts {\n  .row { top: 0 }\n  .later { top: 0 }\n}\n'
    const made = fresh(css, ['.row'])
    expect([made.at.ref, made.at.wins]).toEqual([
      {
        kind: 'new-rule',
        sheet: 'a.css',
        after: [...new Sheet(css).rules()].find((s) => textOf(s, s.rule.prelude) === '.row')!.rule.id,
        selector: '.btn',
        under: '',
      },
      true,
    ])
    expect(made.because).toBe(
      'What sets the value now reaches other kinds of element too, so the edit stays nearer: a rule for its class, which has none yet.',
    )
    expect(fresh('.row { top: 0 }\na { color: red }\n', ['.row']).at.ref).toMatchObject({ kind: 'new-rule', after: 1 })
    // A rule of tags that happens to reach nothing else is not about it; one that names what it stands in is.
    expect(chosen('a { top: 0 }\n', (p) => evidence(p, ['a'])).at.label).toBe('.btn')
    expect(chosen('.row a { top: 0 }\n', (p) => evidence(p, ['.row a'])).at.label).toBe('.row a')
    // A name that another says already is left out, unless its weight is needed.
    const wide = ['btn', 'btn--wide']
    const two = {
      info: { source: '2.5', tag: 'a', id: 'x', classes: wide },
      ancestors: [
        { source: '2.5', tag: 'a', id: 'x', classes: wide },
        { source: '2.4', tag: 'p', id: '', classes: ['row'] },
      ],
    }
    expect(fresh('a { color: red }\n.row { top: 0 }\n', ['.row'], two).at.label).toBe('.btn--wide')
    const heavy = 'a { color: red }\n.row .btn { color: blue }\n'
    expect(chosen(heavy, (p) => ({ ...evidence(p, ['a', '.row .btn'], { wide: ['a', '.row .btn'] }), ...two })).at.label).toBe(
      '.btn.btn--wide',
    )
    // Rules for some widths go on winning there.
    const narrow = 'a { color: red }\n.row { top: 0 }\n@media (max-width: 9em) { .btn { color: teal } }\n.foot { top: 0 }\n'
    expect(fresh(narrow, ['.row'], { unmet: evidence(site(narrow, HTML), ['.btn']).matched[0] }).at.ref).toMatchObject({
      kind: 'new-rule',
      after: 2,
    })
    // Only what its style attribute sets itself is set there again.
    expect(fresh(css, ['.row'], { inline: ['top: 1px', ''] }).at.label).toBe('.btn')
    expect(fresh(css, ['.row'], { inline: ['color: red', ''] }).at.ref.kind).toBe('inline')
    // One without a class of its own is reached by its place.
    const unnamed = (
      html: string,
      classes: readonly string[],
      above: Evidence['ancestors'],
      css = '.row { top: 0 }\na { color: red }\n',
    ) => {
      const project = new Project(
        [
          ['a.css', css],
          ['index.html', html],
        ].map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })),
      )
      const e = evidence(project, ['a'], { wide: ['a'] })
      const info = { source: '2.5', tag: 'a', id: '', classes }
      const aim = new ElementAims(project, {
        ...e,
        info,
        ancestors: [info, ...above],
        matched: [e.matched[0], ...above.map(() => [])],
      }).aim('color')
      return aim.candidates[aim.chosen].label
    }
    const row = [{ source: '2.4', tag: 'p', id: '', classes: ['row'] }]
    for (const classes of [[], ['js-go']]) expect(unnamed('<p class="row"><a>Go</a></p>', classes, row)).toBe('.row a')
    // Another of them with a class that sets it too goes on having its own.
    expect(unnamed('<p class="row"><a>Go</a> <b><a class="x">Go</a></b></p>', [], row)).toBe('.row a')
    expect(
      unnamed(
        '<p class="row"><a>Go</a> <b><a class="x">Go</a></b></p>',
        [],
        row,
        '.row { top: 0 }\na { color: red }\n.x { color: blue }\n',
      ),
    ).toBe('.row > a')
    // A row says nothing of what stands in it, unless all rows are marked so; a landmark does.
    const table = [
      { source: null, tag: 'tr', id: '', classes: ['odd'] },
      { source: null, tag: 'table', id: '', classes: ['prices'] },
    ]
    expect(unnamed('<table class="prices"><tr class="odd"><td><a>1</a><tr><td><a>2</a></table>', [], table)).toBe('.prices a')
    expect(unnamed('<main><a>1</a></main><footer><a>2</a></footer>', [], [{ source: null, tag: 'main', id: '', classes: [] }])).toBe(
      'main a',
    )
    // Where no rule would be about its like alone, it gets a class, named as the project names classes.
    expect(
      unnamed(
        '<b class="row"><i><a>1</a></i></b><p class="row"><a>2</a></p>',
        [],
        [{ source: null, tag: 'i', id: '', classes: [] }, ...row],
      ),
    ).toBe('.row a')
    expect(unnamed('<a>1</a><p class="row"><a>2</a></p>', [], [], 'a { color: red }\n.row__item { top: 0 }\n')).toBe('.page-link')
  })

  test('a sheet of a library is no place by default while the author has one', () => {
    const project = new Project(
      [
        ['vendor/kit.css', '.btn { color: blue }'],
        ['a.css', '.row { top: 0 }'],
        ['index.html', HTML],
      ].map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })),
    )
    const own = [
      {
        sheet: 'vendor/kit.css',
        order: 0,
        rule: [...project.sheet('vendor/kit.css')!.sheet.rules()][0].rule.id,
        selectors: [0],
        proximity: null,
      },
    ]
    const at = (sheets: readonly string[], row: readonly string[]) => {
      const aim = new ElementAims(project, {
        ...evidence(project, []),
        matched: [own, evidence(project, row).matched[0].map((m) => ({ ...m, order: 1 }))],
        reach: [{ count: 3, kin: true }],
        sheets,
      }).aim('color')
      return aim.candidates[aim.chosen]
    }
    expect(at(['vendor/kit.css', 'a.css'], ['.row'])).toMatchObject({
      ref: { kind: 'new-rule', sheet: 'a.css', selector: '.btn' },
      wins: true,
    })
    expect(at(['vendor/kit.css'], [])).toMatchObject({ ref: { kind: 'rule', sheet: 'vendor/kit.css' } })
  })

  test('what would lose is never the default', () => {
    const { candidates, at } = chosen('.btn { top: 0 }\n#x { top: 1px !important }', (p) => evidence(p, ['.btn', '#x']), 'top')
    expect(at.label).toBe('#x')
    expect(candidates.find((c) => c.label === '.btn')!.losesTo).toMatch(/^#x \(a\.css:2\): it is !important/)
  })

  test('a token of the element’s own is what a colleague would change, and not the rule that all its kind share', () => {
    const shared =
      '.btn { color: var(--btn-ink) }\n.btn:hover { color: var(--btn-hover-ink) }\n.main { --btn-ink: white; --btn-hover-ink: #eee }\n'
    const main = (p: Project) => {
      const e = evidence(p, ['.btn', '.main'])
      return {
        ...e,
        info: { ...e.info, classes: ['btn', 'main'] },
        reach: [
          { count: 20, kin: true },
          { count: 8, kin: true },
        ],
      }
    }
    const own = chosen(shared, main)
    expect([own.at.ref.kind, own.at.label, own.at.of, own.at.line, own.at.current, own.at.reach, own.because]).toEqual([
      'token',
      '--btn-ink',
      '.main',
      3,
      'white',
      8,
      '.main gives --btn-ink its value, and only the element and others like it use it.',
    ])
    // What else than its like uses it would change too.
    expect(chosen(`${shared}.badge { color: var(--btn-ink) }`, main).at.label).toBe('.btn')
    expect(chosen(`${shared}.btn-group { color: var(--btn-ink) }`, main).at.label).toBe('.btn')
    // In a state only a token that nothing but states uses.
    const held = (css: string) =>
      chosen(css, (p) => ({
        ...main(p),
        ...((e) => ({
          matched: e.matched,
          reach: [
            { count: 20, kin: true },
            { count: 20, kin: true },
            { count: 8, kin: true },
          ],
        }))(evidence(p, ['.btn', '.btn:hover', '.main'])),
        condition: { ...ALWAYS, state: ':hover' },
      }))
    expect([held(shared).at.ref.kind, held(shared).at.label]).toEqual(['token', '--btn-hover-ink'])
    expect(held(`${shared}.btn:focus { color: var(--btn-hover-ink) }`).because).toBe(
      '.main gives --btn-hover-ink its value, and only the element and others like it use it, .btn:focus too.',
    )
    expect(held(`${shared}.btn.is-on { color: var(--btn-hover-ink) }`).at.label).toBe('.btn:hover')
  })

  test('of the definitions of a token, the one that gives it its value here wins, and the others say what they lose to', () => {
    const css =
      ':root { --ink: black }\n@media (prefers-color-scheme: dark) { :root { --ink: white } }\n.dark { --ink: silver }\n.btn { color: var(--ink) }\n'
    const tokens = (light: readonly string[], above: readonly string[]) => {
      const project = site(css, HTML)
      const { matched } = evidence(project, light)
      const e = {
        ...evidence(project, ['.btn']),
        matched: [evidence(project, ['.btn']).matched[0], above.length ? evidence(project, above).matched[0] : [], matched[0].slice(0, 1)],
        inline: ['', '', ''],
      }
      return new ElementAims(project, e)
        .aim('color')
        .candidates.filter((c) => c.ref.kind === 'token')
        .map((c) => [c.of ?? c.label, c.line, c.wins, c.losesTo])
    }
    expect(tokens([':root'], [])).toEqual([
      ['--ink', 1, true, null],
      ['--ink', 2, false, ':root (a.css:1), which gives it here'],
    ])
    expect(tokens([':root'], ['.dark'])).toEqual([
      ['.dark', 3, true, null],
      ['--ink', 1, false, '.dark (a.css:3), which gives it here'],
      ['--ink', 2, false, '.dark (a.css:3), which gives it here'],
    ])
  })

  test('a state goes to its rule, or to a new one beside the base', () => {
    const held = { ...ALWAYS, state: ':hover' }
    expect(chosen(CSS, (p) => evidence(p, ['.btn', '.btn:hover'], { condition: held })).at.label).toBe('.btn:hover')
    const fresh = chosen('.btn { color: blue }', (p) => evidence(p, ['.btn'], { condition: held })).at
    expect([fresh.label, fresh.ref.kind, fresh.wins, fresh.reach]).toEqual(['.btn:hover', 'new-rule', true, 3])
    expect(chosen(CSS, (p) => evidence(p, ['.btn', '.btn:hover'], { condition: { ...held, state: ':focus' } })).at.label).toBe('.btn:focus')
  })

  test('widths go into their block, and a pseudo-element beside the element’s rule', () => {
    const media = { ...ALWAYS, media: '(max-width:600px)' }
    expect(chosen(CSS, (p) => evidence(p, ['.btn'], { condition: media })).at.conditions).toEqual(['@media (max-width: 600px)'])
    const other = chosen(CSS, (p) => evidence(p, ['.btn'], { condition: { ...ALWAYS, media: '(min-width: 50em)' } }), 'top').at
    expect(other.ref).toMatchObject({ kind: 'new-rule', selector: '.btn', under: '(min-width: 50em)' })
    const part = chosen(
      CSS,
      (p) => ({
        ...evidence(p, ['.btn'], { condition: { ...ALWAYS, part: '::before' } }),
        matched: [[], evidence(p, ['.btn']).matched[0], []],
        inline: ['', '', ''],
        reach: [],
      }),
      'top',
    ).at
    expect(part.label).toBe('.btn::before')
  })

  test('where a style attribute wins, a rule for a state is marked !important', () => {
    const state = { condition: { ...ALWAYS, state: ':hover' } }
    const inline = (css: string) =>
      chosen(
        css,
        (p) => ({
          ...evidence(p, css.includes('hover') ? ['.btn', '.btn:hover'] : ['.btn'], state),
          inline: ['top: 1px', ''],
        }),
        'top',
      )
    expect(inline('.btn { color: red }').at).toMatchObject({
      ref: { kind: 'new-rule', selector: '.btn:hover' },
      asImportant: true,
      wins: true,
    })
    expect(inline('.btn { color: red }\n.btn:hover { top: 0 }').at).toMatchObject({
      ref: { kind: 'rule' },
      label: '.btn:hover',
      asImportant: true,
    })
    expect(inline('.btn { color: red }').because).toMatch(/!important/)
  })

  test('tokens and an own class are offered and never the default', () => {
    const project = site(':root { --ink: #123 }\n.btn { color: var(--ink) }', HTML)
    const aim = new ElementAims(project, evidence(project, ['.btn'])).aim('color')
    expect(aim.candidates.map((c) => [c.ref.kind, c.label])).toEqual([
      ['rule', '.btn'],
      ['token', '--ink'],
      ['new-class', '.btn-alt'],
      ['inline', 'style attribute'],
    ])
    expect(aim.chosen).toBe(0)
  })
})

test('what does not count is told apart', () => {
  const project = site(
    '.btn { color: blue; color: nonsense; colour: red }\n.btn { top: var(--none) }\n@media print { .btn { color: black } }',
    HTML,
  )
  for (const [text, taken] of [
    ['color: nonsense', false],
    ['color: blue', true],
    ['color: initial', true],
  ] as const)
    project.taken.set(text, taken)
  const all = evidence(project, ['.btn'])
  const cascade = new ElementAims(project, {
    ...all,
    matched: [all.matched[0].slice(0, 2), []],
    unmet: all.matched[0].slice(2),
  })
  expect(cascade.aim('color').without.map((w) => w.reason.code)).toEqual(['invalid-value', 'unmet-condition'])
  expect(cascade.aim('top').without.map((w) => w.reason.code)).toEqual(['variable-undefined'])
})

test.each([
  ['.a:hover', ':hover', true],
  ['.a:hover .b', ':hover', false],
  ['.a:focus-within', ':focus', false],
  ['.a:not(:hover)', ':hover', false],
  ['.a:is(:hover, :focus)', ':focus', true],
  ['details[open]', '[open]', true],
])('%s asks for %s: %s', (selector, state, expected) => expect(asksForState(selector, state)).toBe(expected))
