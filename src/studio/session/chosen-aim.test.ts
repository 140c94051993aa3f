import { expect, test } from 'vitest'
import type { Candidate, PropertyAim } from '../../core/aim'
import { DEFAULTS, type Preferences } from '../../storage/preferences'
import { landingOf, NONE_CHOSEN } from './chosen-aim'

const place = (ref: Candidate['ref'], more: Partial<Candidate> = {}) =>
  ({ ref, label: '.card p', wins: true, fits: true, asImportant: false, ...more }) as Candidate
const RULE = place({ kind: 'rule', sheet: 'a.css', rule: 1 })
const LOUD = place({ kind: 'rule', sheet: 'a.css', rule: 2 }, { asImportant: true })
const OWN = place({ kind: 'rule', sheet: 'a.css', rule: 3 }, { label: '.lead' })
const INLINE = place({ kind: 'inline', source: '1.2' }, { label: 'style attribute' })

const at = (candidates: Candidate[], chosen: number, preferences: Partial<Preferences>, byHand?: Candidate) =>
  landingOf(
    { property: 'top', candidates, chosen } as unknown as PropertyAim,
    byHand ? { of: { top: byHand }, last: byHand } : NONE_CHOSEN,
    { ...DEFAULTS, ...preferences },
  ).candidate

test('the default is the person’s where it can be had and wins, and one chosen by hand before all', () => {
  const all = [RULE, OWN, INLINE]
  expect(at(all, 0, {})).toBe(RULE)
  expect(at(all, 0, { aim: 'the element’s own class' })).toBe(OWN)
  expect(at(all, 0, { aim: 'the style attribute' })).toBe(INLINE)
  expect(at(all, 0, { aim: 'the style attribute' }, OWN)).toBe(OWN)
  expect(at([RULE, { ...OWN, wins: false }, INLINE], 0, { aim: 'the element’s own class' })).toBe(RULE)
  expect(at([RULE, OWN, { ...INLINE, fits: false }], 0, { aim: 'the style attribute' })).toBe(RULE)
  // Nothing is marked important against the person's will.
  expect(at([LOUD, OWN], 0, {})).toBe(LOUD)
  expect(at([LOUD, OWN], 0, { important: 'never' })).toBe(OWN)
  expect(at([LOUD], 0, { important: 'never' })).toBe(null)
})

test('a place chosen for one property is that of the others too, once it is written as well; where it cannot be, that is told', () => {
  const fresh = place({ kind: 'new-rule', sheet: 'a.css', after: null, selector: '#photo', under: '' }, { label: '#photo', conditions: [] })
  const written = place({ kind: 'rule', sheet: 'a.css', rule: 9 }, { label: '#photo', conditions: [] })
  const token = place({ kind: 'token', sheet: 'a.css', rule: 1, name: '--gap' }, { label: '--gap' })
  const land = (candidates: Candidate[], last: Candidate) =>
    landingOf({ property: 'height', candidates, chosen: 0 } as unknown as PropertyAim, { of: { width: last }, last }, DEFAULTS)
  expect(land([RULE, INLINE], INLINE)).toMatchObject({ candidate: INLINE, isByHand: true, cannot: null })
  expect(land([RULE, written], fresh)).toMatchObject({ candidate: written, isByHand: true })
  expect(land([RULE], fresh)).toMatchObject({ candidate: { ref: fresh.ref }, isByHand: true })
  expect(land([RULE, { ...written, conditions: ['@media (width < 9em)'] } as Candidate], fresh)).toMatchObject({
    candidate: { ref: fresh.ref },
  })
  expect(land([RULE], token)).toMatchObject({ candidate: RULE, isByHand: false, cannot: token })
})
