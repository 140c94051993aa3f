import { longhandsOf } from './longhands'
import type { RuleSite, Statement } from './sheet'
import { declarationsOf, rulesIn } from './tree'

/**
 * The rule's own declarations as the engine groups them: those before the first nested rule, then each run between
 * nested rules (CSS Nesting 1 §4.3). An at-rule has no group before its first run.
 */
export function declarationRuns({ rule, statement }: RuleSite): string[] {
  const runs: string[] = rule.kind === 'style' ? [''] : []
  let fresh = rule.kind !== 'style'
  for (const item of rule.children) {
    if (item.kind === 'style' || item.kind === 'at') fresh = true
    else if (item.kind === 'declaration') {
      if (fresh) runs.push('')
      fresh = false
      runs[runs.length - 1] += `${statement.text.slice(item.span.from, item.span.to)};`
    }
  }
  return runs
}

/**
 * Whether the engine's text of a rule leaves a part of it out: a shorthand whose value has `var()`, where one of its
 * longhands is set again behind it, can be said neither as it is nor by longhands (CSS Variables 1 §3.2, CSSOM §6.7.2).
 */
export function isCutInText({ rule, statement }: RuleSite): boolean {
  const all = declarationsOf(rule)
  return all.some((d, i) => {
    if (!/var\(/i.test(statement.text.slice(d.value.from, d.value.to))) return false
    const longhands = longhandsOf(d.name)
    return (
      longhands.length > 1 &&
      all.slice(i + 1).some((later) => later.name !== d.name && longhandsOf(later.name).some((l) => longhands.includes(l)))
    )
  })
}

/** The declarations of a rule, for where the engine's text of it will not do. */
export interface RuleBody {
  readonly id: number
  readonly runs: readonly string[]
}

/** Those of the rules of some statements that {@link isCutInText}. */
export const cutBodies = (statements: readonly Statement[]): RuleBody[] =>
  statements.flatMap((statement) =>
    /var\(/i.test(statement.text)
      ? [...rulesIn(statement.items)].flatMap(({ rule, parents }) => {
          const site = { rule, parents, statement }
          return isCutInText(site) ? [{ id: rule.id, runs: declarationRuns(site) }] : []
        })
      : [],
  )
