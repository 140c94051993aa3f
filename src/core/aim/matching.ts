import type { Applied, Reason } from '../cascade'
import { resolvedSelectors, sameCondition, textOf, type Declaration, type RuleSite, type Specificity } from '../css'
import type { RulePlace, SheetRef } from '../project'
import type { Condition } from './condition'
import type { MatchedEvidence } from './evidence'
import type { Overriding } from './types'

/** A rule that matches, read. */
export interface Matching {
  readonly evidence: MatchedEvidence
  readonly ref: SheetRef
  readonly site: RuleSite
  /** Where it is written: the rule itself, or the one it was compiled from; null where there is no editing it. */
  readonly source: RulePlace | null
  readonly specificity: Specificity
  /** Written out without nesting. */
  readonly selectors: readonly string[]
  readonly label: string
  readonly conditions: readonly string[]
  readonly applied: readonly Applied[]
  /** Whether its selector names a class of the selected element, and not only of what stands around it. */
  readonly isOwn: boolean
  /** Names of declarations that stand in it as comments, switched off. */
  readonly off: readonly string[]
}

/** Nothing overrides it: the same list, so that two such places say the same. */
export const NOTHING: readonly Overriding[] = []

export const NEW_DECLARATION: Declaration = {
  kind: 'declaration',
  name: '',
  nameSpan: { from: 0, to: 0 },
  value: { from: 0, to: 0 },
  important: null,
  span: { from: 0, to: 0 },
  semicolon: null,
}

/** Whether a condition around a rule is the one that an edit is to hold under. */
export const isAsked = (condition: string, { media }: Condition): boolean => media !== '' && sameCondition(condition, `@media ${media}`)

/** How a step of the cascade is told of the one that won by it. */
export const STEP_WORDS: Readonly<Record<Reason, string>> = {
  importance: 'it is !important',
  hint: 'any rule comes before an attribute of SVG',
  inline: 'it is a style attribute',
  layer: 'its layer comes later',
  specificity: 'its specificity is higher',
  proximity: 'its scope is nearer',
  order: 'it stands later',
}

export const lastCompound = (selector: string): string => selector.split(/[\s>+~]+/).at(-1) ?? ''

export const labelOf = (site: RuleSite): string => {
  const style = site.rule.kind === 'style' ? site.rule : site.parents.findLast((p) => p.kind === 'style')
  // What is nested is shown without its nesting.
  if (style && site.parents.some((p) => p.kind === 'style')) return resolvedSelectors(site).join(', ')
  return style ? textOf(site, style.prelude).replace(/\s+/g, ' ') : `@${(site.rule as { name: string }).name}`
}

/** Conditions around a rule, outermost first, as written. */
export const conditionsOf = (site: RuleSite): string[] =>
  [...site.parents, site.rule].flatMap((p) =>
    p.kind === 'at' && p.name !== 'layer' && p.name !== 'scope' ? [`@${p.name} ${textOf(site, p.prelude)}`] : [],
  )
