import type { AimRef, Candidate, PropertyAim } from '../../core/aim'
import type { Preferences } from '../../storage/preferences'

/** Tells places apart, whatever else is listed beside them. */
export function keyOf(ref: AimRef): string {
  switch (ref.kind) {
    case 'rule': return `rule ${ref.sheet} ${ref.rule}`
    case 'token': return `token ${ref.sheet} ${ref.rule} ${ref.name}`
    case 'new-rule': return `new ${ref.sheet} ${ref.selector} ${ref.under}`
    case 'inline': return `inline ${ref.source}`
    case 'new-class': return `class ${ref.source}`
    case 'class-list': return `list ${ref.source} ${ref.vocabulary} ${ref.variant}${ref.alike ? ' alike' : ''}`
  }
}

/** The same place can be there twice: plain, where it would lose, and marked important. */
export const candidateKey = (c: Candidate): string => `${keyOf(c.ref)}${c.asImportant ? ' important' : ''}`

/** Elements of the page that an edit there reaches, `fresh` being the counts for rules that are not there yet; null where it is not known. */
export const reachOf = ({ ref, reach }: Pick<Candidate, 'ref' | 'reach'>, fresh: ReadonlyMap<string, number>): number | null => reach ?? (ref.kind === 'new-rule' ? fresh.get(ref.selector) ?? null : null)

/** What is said of a reach that is not known as a number. */
export const uncountedWords = (ref: AimRef): string => (ref.kind === 'new-rule' ? 'being counted' : 'all that use it')

/** Keys of aims chosen by hand, by property. */
export type ChosenAims = Readonly<Record<string, string>>

/** The candidate chosen by hand while it is there, else the default as the person would have it; -1 for neither. The list is another after each edit. */
export function chosenIndex(aim: PropertyAim, chosen: ChosenAims, preferences: Preferences): number {
  const key = chosen[aim.property]
  const at = key === undefined ? -1 : aim.candidates.findIndex((c) => candidateKey(c) === key)
  return at >= 0 ? at : preferredIndex(aim, preferences)
}

const OWN_CLASS = /^\.-?[\w-]+$/

/** The default of a person's choice where it can be had and wins; else the one that is ranked first. */
export function preferredIndex({ candidates, chosen }: PropertyAim, { aim, important }: Preferences): number {
  const may = (c: Candidate) => c.wins && c.fits && !(important === 'never' && c.asImportant)
  const wanted =
    aim === 'the style attribute' ? candidates.findIndex((c) => c.ref.kind === 'inline' && may(c))
    : aim === 'the element’s own class' ? candidates.findIndex((c) => (c.ref.kind === 'new-class' || (c.ref.kind === 'rule' && OWN_CLASS.test(c.label))) && may(c)) : -1
  if (wanted >= 0) return wanted
  return chosen >= 0 && important === 'never' && candidates[chosen].asImportant ? candidates.findIndex(may) : chosen
}
