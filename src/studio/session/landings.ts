import type { PickReport } from '../../agent/protocol'
import type { AimRef, Candidate } from '../../core/aim'
import { STAMP_ATTRIBUTE } from '../../core/html'
import { getStudio, type Picked, type StudioState } from '../store'
import { keyOf, landingOf, preferredIndex } from './chosen-aim'
import { isReadingClasses } from './classes-read'

/** What edits are about: the elements chosen, in what condition, and the places chosen by hand. */
export type Selected = Pick<StudioState, 'picked' | 'others' | 'condition' | 'chosen' | 'heldAim'>

const nameOf = ({ report }: Picked): string => `${report.info.source ?? report.info.node} ${report.nth}`

/** Whether two are of the same elements in the same condition, however often these were read. */
export const isSameSelection = (a: Selected, b: Selected): boolean => {
  const names = ({ picked, others, condition }: Selected) => JSON.stringify([picked && nameOf(picked), others.map(nameOf), condition])
  return names(a) === names(b)
}

/** The sheet that rules at these places stand in; null where it is none, or several. What a token reaches may stand in any. */
export function sheetOf(refs: readonly AimRef[]): string | null {
  const sheets = new Set(refs.map((ref) => (ref.kind === 'rule' || ref.kind === 'new-rule' ? ref.sheet : null)))
  return sheets.size === 1 ? [...sheets][0] : null
}

/** What matches the elements of a page that the same tag made; none where the element is of no component. */
export const ofSameTag = ({ made }: PickReport): string[] =>
  made?.isOwn ? [`[${STAMP_ATTRIBUTE}^="${made.stamp.nth} "][${STAMP_ATTRIBUTE}$=${JSON.stringify(` ${made.stamp.path}`)}]`] : []

/** Where an edit of `property` lands: as held or chosen by hand, else the default. With many elements, of the first. */
export function currentAim(property: string, { picked, chosen, heldAim }: Selected = getStudio()): Candidate | null {
  if (heldAim) return heldAim
  const aim = picked?.aims.get(property)
  return aim ? landingOf(aim, chosen, getStudio().preferences).candidate : null
}

/** Whether the place of a property was chosen by hand. */
export function isByHand(property: string, { picked, chosen }: Selected = getStudio()): boolean {
  const aim = picked?.aims.get(property)
  return aim !== undefined && landingOf(aim, chosen, getStudio().preferences).isByHand
}

/** The declaration of `property` itself where an edit of it lands, or which a token behind it speaks for; null where there is none to take out, switch or mark. */
export function declarationOf(property: string, selected: Selected = getStudio()): Candidate | null {
  const aim = currentAim(property, selected)
  const candidates = selected.picked?.aims.get(property)?.candidates ?? []
  const own =
    aim?.ref.kind === 'token'
      ? candidates.find((c) => (c.ref.kind === 'rule' || c.ref.kind === 'inline') && c.wins && c.current !== null)
      : aim
  return own && (own.ref.kind === 'rule' || own.ref.kind === 'inline') ? own : null
}

/**
 * Where an edit of `property` lands for all that is chosen: one place where they share it, else one for each; none where
 * one of them has no place. A class or attribute of an element's own is nobody else's.
 */
export function landings(property: string, selected: Selected = getStudio()): readonly Candidate[] {
  const first = currentAim(property, selected)
  const { others, heldAim } = selected
  if (!first) return []
  if (others.length === 0 || heldAim) return [first]
  const key = keyOf(first.ref)
  const shared =
    first.ref.kind !== 'inline' &&
    first.ref.kind !== 'new-class' &&
    first.ref.kind !== 'new-sheet' &&
    others.every((o) => o.aims.get(property)?.candidates.some((c) => keyOf(c.ref) === key))
  if (shared) return [first]
  const all = new Map([[key, first]])
  for (const o of others) {
    const aim = o.aims.get(property)
    // With a class list for its aim, each element's own list, for the same variant.
    const list =
      first.ref.kind === 'class-list'
        ? aim?.candidates.find(
            (c) => c.ref.kind === 'class-list' && first.ref.kind === 'class-list' && c.ref.variant === first.ref.variant && !c.ref.alike,
          )
        : undefined
    const own = list ?? (aim && aim.candidates[preferredIndex(aim, getStudio().preferences)])
    // One of them would be left out unseen.
    if (!own) return []
    all.set(keyOf(own.ref), own)
  }
  return [...all.values()]
}

/** Whether an edit would land where it does only because the utility classes are not read yet. */
export function isAimedEarly(property: string, selected: Selected): boolean {
  const isThere = ({ kind }: AimRef) => kind === 'class-list' || kind === 'rule' || kind === 'token'
  return isReadingClasses() && !isByHand(property, selected) && landings(property, selected).some((c) => !isThere(c.ref))
}

/**
 * A place for the selected element alone: a rule that reaches no other, a class of its own, a rule for its place among its
 * siblings, or, where none of these wins, its style attribute. With a condition on widths, a rule under that.
 */
export function aloneFor(property: string, { picked }: Selected = getStudio(), under = ''): Candidate | null {
  const list = picked?.aims.get(property)?.candidates.filter((c) => c.wins && c.fits) ?? []
  const { fresh } = getStudio()
  const ofKind = (kind: AimRef['kind']) => list.find((c) => c.ref.kind === kind)
  const own =
    list.find((c) => c.ref.kind === 'rule' && c.reach === 1 && c.conditions.length === 0) ??
    list.find((c) => c.ref.kind === 'new-rule' && fresh.get(c.ref.selector) === 1)
  const home = ofKind('new-class') ?? ofKind('new-rule')
  const byPlace: Candidate | null =
    picked && home && 'sheet' in home.ref && 'after' in home.ref
      ? {
          ...home,
          ref: {
            kind: 'new-rule',
            sheet: home.ref.sheet,
            after: home.ref.after,
            selector: picked.report.unique,
            under,
          },
          label: picked.report.unique,
          reach: 1,
          conditions: under ? [`@media ${under}`] : [],
          reason: 'a rule for its place alone',
        }
      : null
  if (under) return byPlace
  return own ?? ofKind('new-class') ?? byPlace ?? ofKind('inline') ?? null
}
