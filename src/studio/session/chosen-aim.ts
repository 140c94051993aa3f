import type { AimRef, Candidate, PropertyAim } from '../../core/aim'
import type { Preferences } from '../../storage/preferences'

/** Tells places apart, whatever else is listed beside them. */
export function keyOf(ref: AimRef): string {
  switch (ref.kind) {
    case 'rule':
      return `rule ${ref.sheet} ${ref.rule}`
    case 'token':
      return `token ${ref.sheet} ${ref.rule} ${ref.name}`
    case 'new-rule':
      return `new ${ref.sheet} ${ref.selector} ${ref.under}${ref.layer ? ` in ${ref.layer}` : ''}${ref.nested ? ` within ${ref.after}` : ''}`
    case 'inline':
      return `inline ${ref.source}`
    case 'attribute':
      return `attribute ${ref.source} ${ref.name}`
    case 'new-class':
      return `class ${ref.source}`
    case 'new-sheet':
      return `sheet ${ref.source} ${ref.selector} ${ref.under}`
    case 'class-list':
      return `list ${ref.source} ${ref.vocabulary} ${ref.variant}${ref.alike ? ' alike' : ''}`
  }
}

/** The same place can be there twice: plain, where it would lose, and marked important. */
export const candidateKey = (c: Candidate): string => `${keyOf(c.ref)}${c.asImportant ? ' important' : ''}`

/** Elements of the page that an edit there reaches, `fresh` being the counts for rules that are not there yet; null where it is not known. */
export const reachOf = ({ ref, reach }: Pick<Candidate, 'ref' | 'reach'>, fresh: ReadonlyMap<string, number>): number | null =>
  reach ?? (ref.kind === 'new-rule' ? (fresh.get(ref.selector) ?? null) : null)

/** What is said of a reach that is not known as a number. */
export const uncountedWords = (ref: AimRef): string => (ref.kind === 'new-rule' ? 'being counted' : 'all that use it')

/** Places chosen by hand for an element: by property, and the one chosen last, which is that of all other properties too. */
export interface ChosenPlaces {
  readonly of: Readonly<Record<string, Candidate>>
  readonly last: Candidate | null
}

export const NONE_CHOSEN: ChosenPlaces = { of: {}, last: null }

/** Whether a place is the one that was chosen, which may have been written since: a rule or a class that was not there yet is a rule then. */
export function isPlace(c: Candidate, { ref, asImportant }: Candidate): boolean {
  if (candidateKey(c) === candidateKey({ ...c, ref, asImportant })) return true
  if (c.ref.kind === 'rule' && ref.kind === 'new-sheet') return c.label === ref.selector
  if (c.ref.kind !== 'rule' || (ref.kind !== 'new-rule' && ref.kind !== 'new-class') || c.ref.sheet !== ref.sheet) return false
  return ref.kind === 'new-class'
    ? c.label === `.${ref.name}`
    : c.label === ref.selector && c.conditions.filter((x) => x.startsWith('@media')).join() === (ref.under ? `@media ${ref.under}` : '')
}

/** Where an edit of a property lands. */
export interface Landing {
  readonly candidate: Candidate | null
  /** Its place in the list; -1 where it is not there. */
  readonly index: number
  readonly isByHand: boolean
  /** The place that was chosen, where it cannot take this property. */
  readonly cannot: Candidate | null
}

/** Where an edit lands: the place chosen by hand where it can take the property, else the default as the person would have it. */
export function landingOf(aim: PropertyAim, chosen: ChosenPlaces, preferences: Preferences): Landing {
  const wanted = chosen.of[aim.property] ?? chosen.last
  const at = wanted === null ? -1 : aim.candidates.findIndex((c) => isPlace(c, wanted))
  if (at >= 0) return { candidate: aim.candidates[at], index: at, isByHand: true, cannot: null }
  // A rule that is not there yet can take any property.
  if (wanted?.ref.kind === 'new-rule') return { candidate: { ...wanted, current: null }, index: -1, isByHand: true, cannot: null }
  const index = preferredIndex(aim, preferences)
  return { candidate: aim.candidates[index] ?? null, index, isByHand: false, cannot: wanted }
}

const OWN_CLASS = /^\.-?[\w-]+$/

/** The default of a person's choice where it can be had and wins; else the one that is ranked first. */
export function preferredIndex({ candidates, chosen }: PropertyAim, { aim, important }: Preferences): number {
  const may = (c: Candidate) => c.wins && c.fits && !(important === 'never' && c.asImportant)
  const wanted =
    aim === 'the style attribute'
      ? candidates.findIndex((c) => c.ref.kind === 'inline' && may(c))
      : aim === 'the element’s own class'
        ? candidates.findIndex((c) => (c.ref.kind === 'new-class' || (c.ref.kind === 'rule' && OWN_CLASS.test(c.label))) && may(c))
        : -1
  if (wanted >= 0) return wanted
  return chosen >= 0 && important === 'never' && candidates[chosen].asImportant ? candidates.findIndex(may) : chosen
}
