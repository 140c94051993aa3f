import { declarationsOf, resolvedSelectors, Sheet, textOf, type RuleSite } from '../css'
import type { SheetRef } from '../project'

/** A rule with just its changed declarations, written out without nesting. */
export interface ChangedRule {
  readonly selectors: readonly string[]
  readonly text: string
}

const atRulesOf = (site: RuleSite): string[] =>
  [...site.parents, site.rule].flatMap((r) => (r.kind === 'at' ? [`@${r.name} ${textOf(site, r.prelude).trim()}`.trim()] : []))

const hasSelector = (site: RuleSite): boolean => [...site.parents, site.rule].some((r) => r.kind === 'style')

/** The rule with its conditions, as what of an older sheet is the same rule is known by. */
const keyOf = (site: RuleSite): string =>
  [...atRulesOf(site), ...(hasSelector(site) ? resolvedSelectors(site) : [])].join(' { ').replace(/\s+/g, ' ')

const written = (site: RuleSite): string[] => declarationsOf(site.rule).map((d) => textOf(site, d.span).replace(/;\s*$/, ''))

/**
 * The rules of a sheet that say something which its older text did not, each with just those declarations, in the
 * sheet's own indentation and under its conditions; what is nested there stands by itself here.
 */
export function changedRules(before: string, ref: Pick<SheetRef, 'sheet' | 'style'>): ChangedRule[] {
  const old = new Map<string, string[]>()
  for (const site of new Sheet(before).rules()) old.set(keyOf(site), [...(old.get(keyOf(site)) ?? []), ...written(site)])
  const { indent, lineEnd, beforeBrace } = ref.style
  const step = indent || '  '
  const out: ChangedRule[] = []
  for (const site of ref.sheet.rules()) {
    const known = old.get(keyOf(site)) ?? []
    const fresh = written(site).filter((d) => !known.includes(d))
    if (fresh.length === 0) continue
    const selectors = hasSelector(site) ? resolvedSelectors(site) : []
    const around = [...atRulesOf(site), ...(selectors.length ? [selectors.join(', ')] : [])]
    const lines = around.map((prelude, depth) => `${step.repeat(depth)}${prelude}${beforeBrace || ' '}{`)
    for (const d of fresh) lines.push(`${step.repeat(around.length)}${d};`)
    for (let depth = around.length - 1; depth >= 0; depth--) lines.push(`${step.repeat(depth)}}`)
    out.push({ selectors, text: lines.join(lineEnd) })
  }
  return out
}
