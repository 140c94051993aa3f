import { expect, test } from 'vitest'
import type { Candidate, PropertyAim } from '../../core/aim'
import { DEFAULTS, type Preferences } from '../../storage/preferences'
import { chosenIndex, candidateKey } from './chosen-aim'

const place = (ref: Candidate['ref'], more: Partial<Candidate> = {}) => ({ ref, label: '.card p', wins: true, fits: true, asImportant: false, ...more }) as Candidate
const RULE = place({ kind: 'rule', sheet: 'a.css', rule: 1 })
const LOUD = place({ kind: 'rule', sheet: 'a.css', rule: 2 }, { asImportant: true })
const OWN = place({ kind: 'rule', sheet: 'a.css', rule: 3 }, { label: '.lead' })
const INLINE = place({ kind: 'inline', source: '1.2' }, { label: 'style attribute' })

const at = (candidates: Candidate[], chosen: number, preferences: Partial<Preferences>, byHand?: Candidate) =>
  candidates[chosenIndex({ property: 'top', candidates, chosen } as unknown as PropertyAim, byHand ? { top: candidateKey(byHand) } : {}, { ...DEFAULTS, ...preferences })]

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
  expect(at([LOUD], 0, { important: 'never' })).toBe(undefined)
})
