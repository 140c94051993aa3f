import type { Asked } from '../../agent/protocol'
import type { AimRef, Candidate } from '../../core/aim'
import type { Intent } from '../../core/edit'
import { getStudio, type Picked } from '../store'

/** A property with the value it is to have; with `comments`, the value says what comments stand around it too. */
export type Change = readonly [property: string, value: string, comments?: boolean]

// Where the person has new rules at the end, they follow no other.
const placed = (ref: AimRef): AimRef =>
  ref.kind === 'new-rule' && getStudio().preferences.newRules === 'at the end of the sheet' ? { ...ref, after: null } : ref

/** What gives a property a value at a place. */
export const setAt = ({ ref, asImportant, otherwise }: Candidate, [name, value, comments]: Change, byHand = false): Intent => ({
  kind: 'set',
  aim: placed(ref),
  name,
  value,
  ...(otherwise && !byHand && { otherwise: otherwise.ref }),
  ...(asImportant && { important: true }),
  ...(comments && ref.kind === 'rule' && { comments }),
})

/** What elements are to show after changes: all that is set, without the items that are switched off. */
export const askedBy = (changes: readonly Change[]): Asked[] =>
  changes.map(([name, value]) => ({ name, value: value.replace(/\/\*[^]*?\*\//g, ' ').trim() })).filter(({ value }) => value !== '')

/** Where the parts of an intent land. */
export const aimsOf = (intent: Intent): AimRef[] =>
  intent.kind === 'together' ? intent.intents.flatMap(aimsOf) : 'aim' in intent ? [intent.aim] : []

/** Whether an intent is about the one use of a component that led to an element. */
export const isOfUsage = (intent: Intent, { report }: Picked): boolean =>
  (intent.kind === 'set-attribute' && intent.as !== undefined) ||
  (report.usage != null && aimsOf(intent).some((aim) => 'source' in aim && aim.source === report.usage!.source))

/** Whether an intent sets a token: what that reaches has it as the value of other properties too. */
export const isToken = (intent: Intent): boolean =>
  intent.kind === 'together' ? intent.intents.some(isToken) : intent.kind === 'set' && intent.aim.kind === 'token'

/** The values that an intent sets, each once. */
export const setsOf = (intent: Intent): Change[] =>
  intent.kind === 'set'
    ? [[intent.name, intent.value]]
    : intent.kind === 'together'
      ? [...new Map(intent.intents.flatMap(setsOf).map(([name, value]) => [name, value] as const))]
      : []
