import { beforeEach, expect, test } from 'vitest'
import type { AimRef, Candidate, PropertyAim } from '../../core/aim'
import { getStudio, INITIAL, setStudio, type Picked } from '../store'
import { aloneFor, currentAim, declarationOf, isByHand, isSameSelection, landings, ofSameTag, sheetOf, type Selected } from './landings'

beforeEach(() => setStudio(INITIAL))

const place = (ref: AimRef, more: Partial<Candidate> = {}): Candidate =>
  ({ ref, label: '', wins: true, fits: true, current: null, reach: null, conditions: [], asImportant: false, ...more }) as Candidate
const rule = (id: number, more: Partial<Candidate> = {}) => place({ kind: 'rule', sheet: 'a.css', rule: id }, more)
const inline = (source: string) => place({ kind: 'inline', source })
const list = (source: string, variant: string, alike = false) => place({ kind: 'class-list', source, vocabulary: 0, variant, alike })
const token = (name: string) => place({ kind: 'token', sheet: 'a.css', rule: 1, name })

function element(source: string, candidates: readonly Candidate[], chosen = 0): Picked {
  const aim = { property: 'top', candidates, chosen, because: '' } as unknown as PropertyAim
  return {
    report: { info: { source, node: 1 }, nth: 0, unique: `#${source}`, made: null },
    aims: new Map([['top', aim]]),
  } as unknown as Picked
}
const selected = (picked: Picked, others: readonly Picked[] = [], more: Partial<Selected> = {}): Selected => ({
  ...getStudio(),
  picked,
  others,
  ...more,
})

test('an edit lands at the default, at the place chosen by hand, or at the one that is held', () => {
  const [a, b] = [rule(1), rule(2)]
  const one = element('1.1', [a, b], 1)
  expect([currentAim('top', selected(one)), isByHand('top', selected(one))]).toEqual([b, false])
  const byHand = selected(one, [], { chosen: { of: { top: a }, last: null } })
  expect([currentAim('top', byHand), isByHand('top', byHand)]).toEqual([a, true])
  expect(currentAim('top', selected(one, [], { heldAim: inline('9.9') }))?.ref.kind).toBe('inline')
  expect([currentAim('left', selected(one)), currentAim('top', selected(element('1.1', [a], -1)))]).toEqual([null, null])
})

test('several elements have one place where they share it, else one each, and none where one of them has none', () => {
  const [shared, own] = [rule(1), rule(2)]
  const of = (picked: Picked, ...others: Picked[]) => landings('top', selected(picked, others)).map((c) => JSON.stringify(c.ref))
  expect(of(element('1.1', [shared]), element('1.2', [own, shared]))).toEqual([JSON.stringify(shared.ref)])
  expect(of(element('1.1', [shared]), element('1.2', [own]))).toEqual([shared, own].map((c) => JSON.stringify(c.ref)))
  // A style attribute is of one element, whoever else has one there.
  const [mine, yours] = [inline('1.1'), inline('1.2')]
  expect(of(element('1.1', [mine]), element('1.2', [yours]))).toEqual([mine, yours].map((c) => JSON.stringify(c.ref)))
  // Lists are each element's own, for the same variant.
  const lists = element('1.2', [rule(5), list('1.2', 'md'), list('1.2', '', true), list('1.2', '')])
  expect(of(element('1.1', [list('1.1', '')]), lists)).toEqual([list('1.1', ''), list('1.2', '')].map((c) => JSON.stringify(c.ref)))
  expect(of(element('1.1', [shared]), element('1.2', [own], -1))).toEqual([])
})

test('what is taken out or switched is the declaration that a token speaks for, and never the token', () => {
  const deciding = rule(3, { current: 'var(--gap)' })
  expect(declarationOf('top', selected(element('1.1', [token('--gap'), rule(2), deciding])))).toBe(deciding)
  expect(declarationOf('top', selected(element('1.1', [token('--gap'), rule(2)])))).toBeNull()
  expect(declarationOf('top', selected(element('1.1', [list('1.1', '')])))).toBeNull()
})

test('a place for one element alone is a rule of its own, a new class, a rule for its place, or its style attribute, in that order', () => {
  const fresh = place({ kind: 'new-rule', sheet: 'a.css', after: 4, selector: '.b', under: '' })
  const made = place({ kind: 'new-class', source: '1.1', name: 'b-alt', sheet: 'a.css', after: 4 })
  const of = (...candidates: Candidate[]) => aloneFor('top', selected(element('1.1', candidates)))
  expect(of(rule(1, { reach: 2 }), rule(2, { reach: 1 }), made)?.ref).toMatchObject({ kind: 'rule', rule: 2 })
  expect(of(rule(1, { reach: 1, conditions: ['@media print'] }), made)).toBe(made)
  expect(of(rule(1, { reach: 1, wins: false }), fresh, inline('1.1'))?.ref).toMatchObject({ kind: 'new-rule', selector: '#1.1', after: 4 })
  expect(of(rule(1, { reach: 3 }), inline('1.1'))?.ref.kind).toBe('inline')
  expect(of(rule(1, { reach: 3 }))).toBeNull()
  setStudio({ fresh: new Map([['.b', 1]]) })
  expect(of(rule(1, { reach: 3 }), fresh, made)).toBe(fresh)
  // Under widths it is a rule there.
  expect(aloneFor('top', selected(element('1.1', [made])), '(width < 40em)')).toMatchObject({
    ref: { kind: 'new-rule', under: '(width < 40em)', selector: '#1.1' },
    conditions: ['@media (width < 40em)'],
  })
})

test('selections are the same by their elements and their condition, and rules share a sheet or have none', () => {
  const [a, b] = [element('1.1', []), element('1.2', [])]
  expect(isSameSelection(selected(a, [b]), selected(element('1.1', [rule(1)]), [b]))).toBe(true)
  expect(isSameSelection(selected(a), selected(b))).toBe(false)
  expect(isSameSelection(selected(a), selected(a, [], { condition: { state: ':hover', part: '', media: '' } }))).toBe(false)
  expect(sheetOf([rule(1).ref, rule(2).ref])).toBe('a.css')
  expect([sheetOf([]), sheetOf([rule(1).ref, inline('1.1').ref]), sheetOf([token('--a').ref])]).toEqual([null, null, null])
  expect(ofSameTag({ made: null } as never)).toEqual([])
  expect(ofSameTag({ made: { isOwn: true, stamp: { nth: 3, path: 'src/A "b".tsx' } } } as never)[0]).toContain(
    '[data-steady-tag$=" src/A \\"b\\".tsx"]',
  )
})
