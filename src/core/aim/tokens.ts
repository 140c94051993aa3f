import type { Contest } from '../cascade'
import { isPreprocessed, isRootRule, resolvedSelectors, textOf, type RuleSite } from '../css'
import { asksForAnyState, type Condition } from './condition'
import type { Definition, ElementCascade } from './element-cascade'
import { conditionsOf, isAsked, labelOf, NOTHING, type Matching } from './matching'
import type { AimRef, Candidate } from './types'

/** The definitions behind a value that is one `var()` (CSS Variables 1 §3). */
export interface TokenPlaces {
  /** The one that gives it its value here, where that is not the whole document's; then the document's. */
  readonly candidates: readonly Candidate[]
  /** The first, where it and all that uses it are the element's own affair; with the other rules that use it. */
  readonly own: { readonly ref: AimRef; readonly others: readonly string[] } | null
}

const NONE: TokenPlaces = { candidates: [], own: null }

export function tokenPlaces(cascade: ElementCascade, contests: readonly (Contest | null)[]): TokenPlaces {
  const value = contests[0]?.winner.value ?? ''
  const name = /^var\(\s*(--[^\s,)]+)\s*\)$/i.exec(value)?.[1]
  if (!name || contests.some((c) => c?.winner.value !== value)) return NONE
  const { project, evidence } = cascade
  const users = project.tokenUsers(name)
  const reason = `the token behind the value; ${users.length} ${users.length === 1 ? 'declaration uses' : 'declarations use'} it`
  const deciding = cascade.definitionOf(name)
  const here = deciding?.matching ?? null
  const losesTo = deciding ? `${placeOf(cascade, deciding)}, which gives it here` : 'its conditions, which do not hold here'
  const common = {
    label: name,
    specificity: null,
    asImportant: false,
    off: false,
    elsewhere: false,
    overridden: NOTHING,
  }

  const document = project
    .tokenDefinitions(name)
    .filter(({ ref }) => project.isEditable(ref))
    .map(({ ref, site, declaration }): Candidate => {
      const wins = here !== null && isWrittenAt(here, ref.key, site.rule.id)
      return {
        ...common,
        reason,
        reach: null,
        wins,
        losesTo: wins ? null : losesTo,
        fits: tokenFits(evidence.condition, site, users),
        ref: { kind: 'token', sheet: ref.key, rule: site.rule.id, name },
        path: ref.path,
        line: project.lineIn(ref, site.statement.start + declaration.span.from),
        conditions: conditionsOf(site),
        current: textOf(site, declaration.value),
        important: declaration.important !== null,
      }
    })
  if (!deciding || !here?.source || isRootRule(here.site)) return { candidates: document, own: null }

  const ref: AimRef = { kind: 'token', sheet: here.source.ref.key, rule: here.source.site.rule.id, name }
  const reach = deciding.level === 0 ? evidence.reach[evidence.matched[0].indexOf(here.evidence)] : undefined
  const isOwn =
    reach?.kin === true &&
    here.isOwn &&
    here.conditions.every((c) => isAsked(c, evidence.condition)) &&
    users.every((u) => cascade.isOwnRule(u)) &&
    cascade.isKinInProject(here)
  const local: Candidate = {
    ...common,
    reason: `${reason}, ${here.label} gives it here`,
    reach: reach?.count ?? null,
    wins: true,
    losesTo: null,
    fits: tokenFits(evidence.condition, here.site, users),
    ref,
    of: here.label,
    path: here.source.ref.path,
    line: cascade.lineOf(here, deciding.winner.declaration),
    conditions: here.conditions,
    current: deciding.winner.value,
    important: deciding.winner.declaration.important !== null,
  }
  return {
    candidates: [local, ...document],
    own: isOwn ? { ref, others: othersOf(users, contests[0]?.winner.site?.rule) } : null,
  }
}

function placeOf(cascade: ElementCascade, { winner, level }: Definition): string {
  const { label, path, line } = cascade.where(winner, level)
  return `${label} (${path}:${line})`
}

// A compiler writes the rule that the page has from all themes there are.
const isWrittenAt = (m: Matching, sheet: string, rule: number): boolean =>
  m.source ? m.source.ref.key === sheet && m.source.site.rule.id === rule : m.ref.generated !== null && !isPreprocessed(m.ref.path)

const othersOf = (users: readonly RuleSite[], deciding: RuleSite['rule'] | undefined): string[] => [
  ...new Set(users.filter((u) => u.rule !== deciding).map(labelOf)),
]

// A token holds in just what was asked for where its definition does, or all that uses it; one of states, in none but states.
function tokenFits(condition: Condition, definition: RuleSite, users: readonly RuleSite[]): boolean {
  const { state, part, media } = condition
  const all = (says: (selector: string) => boolean) => users.every((u) => resolvedSelectors(u).every(says))
  if (state !== '' && !all(asksForAnyState)) return false
  if (part !== '' && !all((s) => s.includes(part))) return false
  const under = (site: RuleSite) => conditionsOf(site).some((c) => isAsked(c, condition))
  return media === '' || under(definition) || users.every(under)
}
