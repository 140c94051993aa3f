import { expect, test } from 'vitest'
import { tailwindOf } from '../../proof/tailwind-files'
import { ALWAYS, asksForState, ElementAims, type Candidate, type Condition, type Evidence } from '../../src/core/aim'
import { classesNamed, resolvedSelectors, textOf } from '../../src/core/css'
import { planIntent } from '../../src/core/edit'
import { attribute } from '../../src/core/language'
import { Project } from '../../src/core/project'
import { applySplices } from '../../src/core/text'
import { readClassList, setVocabularies } from '../../src/core/utility'

const tailwind = await tailwindOf('@import "tailwindcss";')
const TARGET = 'out.css'

/** A page of one element with this class list, its project's own sheet behind the compiled one, and a page wide enough for what is under a size in `holds`. */
function aimOf(list: string, property: string, { css = '', state = '', media = '', holds = '', others = '' } = {}) {
  const html = `<!DOCTYPE html><link rel="stylesheet" href="${TARGET}"><link rel="stylesheet" href="own.css"><p class="${list}">x</p>${others}`
  const project = new Project(
    Object.entries({ 'index.html': html, 'own.css': css }).map(([path, text], i) => ({
      key: i + 1,
      path,
      bytes: new TextEncoder().encode(text),
    })),
  )
  setVocabularies(project, [tailwind])
  const names = readClassList(list).map((c) => c.name)
  project.setGenerated(TARGET, tailwind.compile(names), 'the classes in use', [])
  const condition: Condition = { ...ALWAYS, state, media }
  const found = project.tree('index.html').elements.find((e) => e.tag === 'p')!
  const info = { source: project.sourceOf('index.html', found.id), tag: 'p', id: '', classes: names }
  const sheets = [TARGET, 'own.css']
  const rules = sheets.flatMap((sheet, order) =>
    [...project.sheet(sheet)!.sheet.rules()].flatMap((site) => {
      if (site.rule.kind !== 'style') return []
      const selectors = resolvedSelectors(site)
      const hits = selectors.flatMap((s, i) => {
        const own = classesNamed(s)
        return own.length && own.every((c) => names.includes(c)) ? [i] : []
      })
      const waits = selectors.some((s) => /(?<!\\):(hover|focus)/.test(s) && !(state && asksForState(s, state)))
      const under = site.parents
        .flatMap((r) => (r.kind === 'at' && r.name === 'media' ? [textOf(site, r.prelude)] : []))
        .filter((c) => c.includes('width'))
      const met = !waits && under.every((c) => (media !== '' && c.includes(media)) || (holds !== '' && c.includes(holds)))
      return hits.length ? [{ met, rule: { sheet, order, rule: site.rule.id, selectors: hits, proximity: null } }] : []
    }),
  )
  const matched = rules.flatMap((r) => (r.met ? [r.rule] : []))
  const evidence: Evidence = {
    info,
    ancestors: [info],
    matched: [matched],
    unmet: rules.flatMap((r) => (r.met ? [] : [r.rule])),
    reach: matched.map(() => ({ count: 1, kin: true })),
    inline: [''],
    computed: { display: 'block', position: 'static', 'font-size': '16px' },
    parent: { display: 'block' },
    isSvg: false,
    unique: 'p',
    place: 'only',
    holds: { elements: false, wideText: false },
    sheets,
    condition,
  }
  const aim = new ElementAims(project, evidence).aim(property)
  const of = (candidate: Candidate | undefined, value: string): string => {
    const plan = candidate
      ? planIntent(project, { kind: 'set', aim: candidate.ref, name: property, value, important: candidate.asImportant })
      : null
    if (!plan) return 'nowhere'
    if (!plan.ok) return plan.why
    const change = plan.changes[0]
    const after = applySplices(project.text(change.path), change.splices)
    return change.path === 'index.html' ? (/<p class="([^"]*)"/.exec(after)?.[1] ?? after) : after
  }
  return { aim, chosen: aim.candidates[aim.chosen] as Candidate | undefined, of, source: attribute(found, 'class') }
}

const HOVER = { state: ':hover' }
const SMALL = { holds: '40rem' }

test.each<readonly [string, string, string, string, string, Parameters<typeof aimOf>[2]]>([
  // What decides now is changed where it stands.
  ['flex p-4', 'padding-top', '20px', 'class list', 'flex p-4 pt-5', {}],
  ['p-4 text-sm', 'font-size', '1rem', 'class list', 'p-4 text-base', {}],
  // Nothing decides: the list takes a class of its own.
  ['flex p-4', 'color', '#fff', 'class list', 'flex p-4 text-white', {}],
  // What decides waits for a size that the page has: that one is changed, and the other stays.
  ['p-4 sm:p-2', 'padding', '12px', 'class list, sm:', 'p-4 sm:p-3', SMALL],
  // The page is narrower: the one without a condition is.
  ['p-4 sm:p-2', 'padding', '12px', 'class list', 'p-3 sm:p-2', {}],
  // A state that was asked for has its own class, a new one where there is none.
  ['p-4 hover:p-6', 'padding', '12px', 'class list, hover:', 'p-4 hover:p-3', HOVER],
  ['p-4', 'padding', '12px', 'class list, hover:', 'p-4 hover:p-3', HOVER],
  // What decides waits for a size too, so what is asked for has to come after that.
  ['p-4 sm:p-2', 'padding', '12px', 'class list, sm:hover:', 'p-4 sm:p-2 sm:hover:p-3', { ...HOVER, ...SMALL }],
  // A size that no class has yet is spelled by the vocabulary.
  ['p-4', 'padding', '12px', 'class list, sm:', 'p-4 sm:p-3', { media: '(width >= 40rem)' }],
  ['p-4', 'padding', '12px', 'class list, max-md:', 'p-4 max-md:p-3', { media: '(width < 48rem)' }],
])('%s with %s: %s lands in %s and reads %s', (list, property, value, label, wanted, how) => {
  const { aim, chosen, of } = aimOf(list, property, how)
  expect([chosen?.label, of(chosen, value), aim.candidates[aim.chosen]?.wins]).toEqual([label, wanted, true])
})

test('a class that loses to a rule of the project says to which; marked important, it wins', () => {
  const { aim, chosen, of } = aimOf('card p-4', 'padding-top', { css: '.card { padding-top: 1px }' })
  const lists = aim.candidates.filter((c) => c.ref.kind === 'class-list')
  expect(lists.map((c) => [c.label, c.wins, c.asImportant, c.losesTo])).toEqual([
    ['class list', false, false, '.card (own.css:1)'],
    ['class list', true, true, null],
  ])
  // The rule decides, so it is the place.
  expect([chosen?.label, of(chosen, '2px')]).toEqual(['.card', '.card { padding-top: 2px }'])
  expect(of(lists[1], '8px')).toBe('card p-4 pt-2!')
})

test('a class that is important decides over what comes later, and stays important', () => {
  const { chosen, of } = aimOf('p-4! sm:p-2', 'padding', SMALL)
  expect([chosen?.label, chosen?.current, chosen?.important, of(chosen, '12px')]).toEqual(['class list', 'p-4!', true, 'p-3! sm:p-2'])
})

test('elements that have just the same list are a place of their own, never the default', () => {
  const others = '<p class="flex p-4 m-1">y</p><p class="p-4">z</p><p class="flex p-4">w</p>'
  const { aim, chosen } = aimOf('flex p-4', 'padding', { others })
  const alike = aim.candidates.find((c) => c.ref.kind === 'class-list' && c.ref.alike)
  expect([alike?.label, alike?.reach, alike?.fits]).toEqual(['class list on all that have just it', 2, false])
  expect(chosen?.ref).toMatchObject({ alike: false })
  expect(
    aimOf('flex p-4', 'padding', { others: '<p class="p-4">z</p>' }).aim.candidates.some((c) => c.ref.kind === 'class-list' && c.ref.alike),
  ).toBe(false)
})

test('a longer class is not taken for one that it begins with', () => {
  const { chosen, of } = aimOf('p-40 p-4', 'padding-left')
  // Both say it; the later rule of the sheet decides, whatever the order of the list.
  expect([chosen?.current, of(chosen, '20px')]).toEqual(['p-40', 'p-40 pl-5'])
})
