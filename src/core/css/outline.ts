import { resolveNested, splitSelectors } from './selector'
import { textOf, type RuleSite, type Sheet } from './sheet'
import { isRule, type CssItem, type Rule } from './tree'

/**
 * A rule as the agent needs it to tie the engine's rule to the source: what kind it is, its selectors written out
 * without nesting, and what is inside.
 */
export interface OutlineRule {
  readonly id: number
  /** `style`, or the at-rule's name. */
  readonly kind: string
  /** Complex selectors of a style rule, or of the one around a nested at-rule with declarations; else empty. */
  readonly selectors: readonly string[]
  /** The selector list or prelude as written, which is what the engine was given. */
  readonly prelude: string
  readonly children: readonly OutlineRule[]
}

/** At-rules whose children the engine gives as rules of their own. */
const GROUPS = new Set(['media', 'supports', 'container', 'layer', 'scope', 'starting-style', '-moz-document'])

interface Todo { readonly items: readonly CssItem[]; readonly parents: readonly string[]; readonly out: OutlineRule[] }

export function outlineSheet(sheet: Sheet): OutlineRule[] {
  const top: OutlineRule[] = []
  for (const statement of sheet.statements) {
    const todo: Todo[] = [{ items: statement.items, parents: [], out: top }]
    while (todo.length) {
      const { items, parents, out } = todo.pop()!
      for (const item of items) {
        if (!isRule(item)) continue
        const { rule, inside } = outlineRule(statement.text, item, parents)
        out.push(rule)
        if (inside) todo.push({ items: item.children, parents: inside, out: rule.children as OutlineRule[] })
      }
    }
  }
  return top
}

function outlineRule(text: string, item: Rule, parents: readonly string[]): { rule: OutlineRule; inside: readonly string[] | null } {
  const prelude = text.slice(item.prelude.from, item.prelude.to)
  if (item.kind === 'style') {
    const selectors = splitSelectors(prelude).map((s) => (parents.length ? resolveNested(parents, s) : s.includes('&') ? s.replaceAll('&', ':scope') : s))
    return { rule: { id: item.id, kind: 'style', selectors, prelude, children: [] }, inside: item.children.some(isRule) ? selectors : null }
  }
  const scoped = item.name === 'scope' ? [] : parents
  // Declarations right inside a nested at-rule apply to what the style rule around it matches (CSS Nesting 1 §3.3).
  const direct = GROUPS.has(item.name) && item.children.some((c) => c.kind === 'declaration')
  return {
    rule: { id: item.id, kind: item.name, selectors: direct ? scoped : [], prelude, children: [] },
    inside: GROUPS.has(item.name) && item.block ? scoped : null,
  }
}

/** The selectors that a rule's own declarations apply to, without nesting; empty for an at-rule at the top level. */
export function resolvedSelectors(site: RuleSite): string[] {
  let parents: string[] = []
  for (const rule of [...site.parents, site.rule]) {
    if (rule.kind === 'at') {
      if (rule.name === 'scope') parents = []
      continue
    }
    const own = splitSelectors(textOf(site, rule.prelude))
    parents = own.map((s) => (parents.length ? resolveNested(parents, s) : s))
  }
  return parents
}
