import fc from 'fast-check'
import { expect, test } from 'vitest'
import postcss from 'postcss'
import { planIntent } from '../../src/core/edit'
import { attribute, classesOf, type SourceElement } from '../../src/core/language'
import { matcher, Project } from '../../src/core/project'
import { resolvedSelectors } from '../../src/core/css'
import { ALWAYS, ElementAims, type Evidence } from '../../src/core/aim'

/** Selectors with the specificity that Selectors 4 §17 gives each. */
const SELECTORS: readonly (readonly [string, number, number, number])[] = [
  ['*', 0, 0, 0],
  ['p', 0, 0, 1],
  ['div', 0, 0, 1],
  ['.a', 0, 1, 0],
  ['.b', 0, 1, 0],
  ['.a.b', 0, 2, 0],
  ['#x', 1, 0, 0],
  ['p.a', 0, 1, 1],
  ['div .a', 0, 1, 1],
  ['div > p', 0, 0, 2],
  ['.b p', 0, 1, 1],
  [':is(.a, #x)', 1, 0, 0],
  [':where(.b)', 0, 0, 0],
  ['p:not(.a)', 0, 1, 1],
  ['.c > .a', 0, 2, 0],
  ['p, .c', 0, 0, 1],
  [':root', 0, 1, 0],
]
const PROPERTY = 'top'
const TOKEN = '--t'

interface Drawn {
  readonly selector: number
  /** The value itself, the token in its place, or what the token is. */
  readonly says: 'value' | 'token' | 'definition' | 'both'
  readonly value: string
  readonly important: boolean
  readonly layer: '' | 'one' | 'two'
}
interface Case {
  readonly rules: readonly Drawn[]
  readonly tags: readonly {
    readonly tag: 'div' | 'p'
    readonly classes: readonly string[]
    readonly id: boolean
    readonly inside: boolean
    readonly inline: string
  }[]
  readonly pick: number
}

const CASES: fc.Arbitrary<Case> = fc.record({
  rules: fc.array(
    fc.record({
      selector: fc.nat(SELECTORS.length - 1),
      says: fc.constantFrom('value' as const, 'value' as const, 'token' as const, 'definition' as const, 'both' as const),
      value: fc.integer({ min: 1, max: 99 }).map((n) => `${n}px`),
      important: fc.boolean(),
      layer: fc.constantFrom('' as const, '' as const, 'one' as const, 'two' as const),
    }),
    { minLength: 1, maxLength: 7 },
  ),
  tags: fc.array(
    fc.record({
      tag: fc.constantFrom('div' as const, 'p' as const),
      classes: fc.subarray(['a', 'b', 'c']),
      id: fc.boolean(),
      inside: fc.boolean(),
      inline: fc.constantFrom('', '', '', 'top: 3em', 'top: 3em !important', 'color: red'),
    }),
    { minLength: 2, maxLength: 8 },
  ),
  pick: fc.nat(7),
})

function siteOf({ rules, tags }: Case): { css: string; html: string } {
  const css = `@layer one, two;\n${rules
    .map((r) => {
      const set = (name: string, value: string) => `${name}: ${value}${r.important ? ' !important' : ''};`
      const own =
        r.says === 'value' ? [set(PROPERTY, r.value)] : r.says === 'token' || r.says === 'both' ? [set(PROPERTY, `var(${TOKEN})`)] : []
      const rule = `${SELECTORS[r.selector][0]} { ${[...own, ...(r.says === 'definition' || r.says === 'both' ? [set(TOKEN, r.value)] : [])].join(' ')} }`
      return r.layer ? `@layer ${r.layer} {\n  ${rule}\n}` : rule
    })
    .join('\n')}\n`
  let id = 0
  const html = tags
    .map((t) => {
      const tag = `<${t.tag}${t.id && id++ === 0 ? ' id="x"' : ''}${t.classes.length ? ` class="${t.classes.join(' ')}"` : ''}${t.inline ? ` style="${t.inline}"` : ''}>`
      return t.inside ? `<div class="c">${tag}x</${t.tag}></div>` : `${tag}x</${t.tag}>`
    })
    .join('\n')
  return {
    css,
    html: `<!DOCTYPE html><html><head><title>t</title><link rel="stylesheet" href="a.css"></head><body>\n${html}\n</body></html>\n`,
  }
}

const open = (css: string, html: string) =>
  new Project(
    [
      ['a.css', css],
      ['index.html', html],
    ].map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })),
  )
const elementsOf = (project: Project) => project.tree('index.html').elements.filter((e) => e.startTag)
const matches = (project: Project, selector: string, e: SourceElement): boolean => matcher(project.tree('index.html'), [selector])!(e)

/** The value that a property comes to: of a token, what the element or the nearest around it gives it (CSS Variables 1 §2.1). */
function decided(css: string, html: string, at: number): string | null {
  const said = declared(css, html, at, PROPERTY)
  if (said !== `var(${TOKEN})`) return said
  const all = elementsOf(open(css, html))
  for (let e: SourceElement | null = all[at]; e; e = e.parent) {
    const value = declared(css, html, all.indexOf(e), TOKEN)
    if (value !== null) return value
  }
  return null
}

/** What decides a property of an element itself, read by another parser and by a cascade of a few lines (CSS Cascade 5 §6). */
function declared(css: string, html: string, at: number, property: string): string | null {
  const project = open(css, html)
  const element = elementsOf(project)[at]
  const found: { key: number[]; value: string }[] = []
  const layers = ['one', 'two']
  let order = 0
  postcss.parse(css).walkDecls(property, (d) => {
    const rule = d.parent as postcss.Rule
    const above = rule.parent as postcss.AtRule
    const layer = above.type === 'atrule' ? layers.indexOf(above.params) : layers.length
    const sign = d.important ? -1 : 1
    order++
    for (const selector of rule.selectors) {
      if (!matches(project, selector, element)) continue
      const known = SELECTORS.find(([s]) => s === rule.selector || s === selector)
      const counted =
        known?.[0] === 'p, .c'
          ? selector === 'p'
            ? [0, 0, 1]
            : [0, 1, 0]
          : known
            ? (known.slice(1) as number[])
            : specificityOfOwn(selector)
      found.push({ key: [d.important ? 1 : 0, 0, sign * layer, ...counted, order], value: d.value })
    }
  })
  const inline = attribute(element, 'style')
  if (inline)
    postcss
      .parse(`x{${inline}}`)
      .walkDecls(property, (d) => void found.push({ key: [d.important ? 1 : 0, 1, 0, 0, 0, 0, ++order], value: d.value }))
  // Importance, then the style attribute, layers, specificity and order.
  found.sort((a, b) => a.key.map((k, i) => k - b.key[i]).find((n) => n !== 0) ?? 0)
  return found.at(-1)?.value ?? null
}

// New rules have selectors of ids, classes and tags only.
const specificityOfOwn = (selector: string): number[] => {
  const bare = selector.replace(/:nth-of-type\([^)]*\)|:nth-child\([^)]*\)/g, '.n')
  return [(bare.match(/#/g) ?? []).length, (bare.match(/\./g) ?? []).length, (bare.match(/(^|[\s>])[a-z]/g) ?? []).length]
}

const kin = (e: SourceElement, picked: SourceElement): boolean => {
  const own = classesOf(picked)
  if (e === picked) return true
  if (own.length) return own.some((c) => classesOf(e).includes(c))
  // In a document of this form, the place is the nearest classed element around, or the document.
  const around = (x: SourceElement): readonly string[] => {
    for (let a = x.parent; a; a = a.parent) if (classesOf(a).length) return classesOf(a)
    return ['the document']
  }
  return e.tag === picked.tag && around(picked).some((c) => around(e).includes(c))
}

/** What the page would say of an element, from the sources alone. */
function evidenceOf(project: Project, picked: SourceElement): Evidence {
  const all = elementsOf(project)
  const rules = [...project.sheet('a.css')!.sheet.rules()].filter((s) => s.rule.kind === 'style')
  const chain: SourceElement[] = []
  for (let e: SourceElement | null = picked; e; e = e.parent) chain.push(e)
  const matched = chain.map((e) =>
    rules.flatMap((site) => {
      const list = resolvedSelectors(site)
      const hit = list.flatMap((s, i) => (matches(project, s, e) ? [i] : []))
      return hit.length ? [{ sheet: 'a.css', order: 0, rule: site.rule.id, selectors: hit, proximity: null }] : []
    }),
  )
  const info = (e: SourceElement) => ({
    source: project.sourceOf('index.html', e.id),
    tag: e.tag,
    id: attribute(e, 'id') ?? '',
    classes: classesOf(e),
  })
  return {
    info: info(picked),
    ancestors: chain.map(info),
    matched,
    unmet: [],
    inline: chain.map((e) => attribute(e, 'style') ?? ''),
    computed: { display: 'block', position: 'relative' },
    parent: { display: 'block' },
    isSvg: false,
    unique: project.tree('index.html').uniqueSelector(picked),
    place: 'between',
    holds: { elements: false, wideText: false },
    sheets: ['a.css'],
    condition: ALWAYS,
    reach: matched[0].map((m) => {
      const hit = all.filter((e) => resolvedSelectors(project.sheet('a.css')!.sheet.site(m.rule)).some((s) => matches(project, s, e)))
      return { count: hit.length, kin: hit.every((e) => kin(e, picked)) }
    }),
  }
}

test('a default edit wins, reaches no other kind of element, and is what decides then; every other place keeps what it says of winning', () => {
  let edits = 0
  let tokens = 0
  fc.assert(
    fc.property(CASES, (drawn) => {
      const { css, html } = siteOf(drawn)
      const project = open(css, html)
      const body = elementsOf(project).filter((e) => !/^(html|head|title|link|body)$/.test(e.tag))
      const picked = body[drawn.pick % body.length]
      const at = elementsOf(project).indexOf(picked)
      const aim = new ElementAims(project, evidenceOf(project, picked)).aim(PROPERTY)
      expect(aim.written).toBe(declared(css, html, at, PROPERTY))
      for (const [i, c] of aim.candidates.entries()) {
        const now = open(css, html)
        const plan = planIntent(now, { kind: 'set', aim: c.ref, name: PROPERTY, value: '777px' })
        if (!plan.ok) continue
        for (const change of plan.changes) now.apply(change.path, change.splices)
        const after = decided(now.text('a.css'), now.text('index.html'), at)
        expect([c.label, after === '777px']).toEqual([c.label, c.wins])
        edits++
        if (i !== aim.chosen) continue
        if (c.ref.kind === 'token') tokens++
        expect(c.wins).toBe(true)
        // Nobody of another kind has another value than before.
        elementsOf(project).forEach((e, n) => {
          const others = decided(now.text('a.css'), now.text('index.html'), n)
          if (others !== decided(css, html, n)) expect([c.label, kin(e, picked)]).toEqual([c.label, true])
        })
      }
      // There is always the element alone, unless something is important.
      if (aim.chosen < 0) expect(css + html).toContain('!important')
    }),
    { numRuns: 250 },
  )
  expect(edits).toBeGreaterThan(1000)
  expect(tokens).toBeGreaterThan(0)
}, 60_000)

test('what is worked out once for all properties says of each what it would say if that were asked for alone', () => {
  const properties = fc.shuffledSubarray(['top', 'left', 'inset', 'padding-top', 'color', 'height', TOKEN], {
    minLength: 2,
  })
  const conditions = fc.constantFrom(ALWAYS, ALWAYS, { ...ALWAYS, state: ':hover' }, { ...ALWAYS, media: '(min-width: 500px)' })
  fc.assert(
    fc.property(CASES, properties, conditions, (drawn, asked, condition) => {
      const { css, html } = siteOf(drawn)
      // What is switched off says so of its own properties alone.
      const project = open(css.replaceAll(/top: (\d?[2468]px);/g, '/* left: $1; */'), html)
      const body = elementsOf(project).filter((e) => !/^(html|head|title|link|body)$/.test(e.tag))
      const evidence = { ...evidenceOf(project, body[drawn.pick % body.length]), condition }
      const together = new ElementAims(project, evidence)
      for (const property of asked) expect(together.aim(property)).toEqual(new ElementAims(project, evidence).aim(property))
    }),
    { numRuns: 150 },
  )
}, 60_000)
