import { BETWEEN, unpackOutline, type FlatRun, type OutlineRule, type PackedOutline } from './packed-outline'
import { resolveNested } from './selector'
import { splitSelectors } from './selector-list'
import { textOf, type RuleSite, type Sheet, type Statement } from './sheet'
import { isRule, type CssItem, type Rule } from './tree'

/** At-rules whose children the engine gives as rules of their own. */
const GROUPS = new Set(['media', 'supports', 'container', 'layer', 'scope', 'starting-style', '-moz-document'])

interface Todo {
  readonly items: readonly CssItem[]
  readonly parents: readonly string[]
  readonly out: OutlineRule[]
}

export const outlineSheet = (sheet: Sheet): OutlineRule[] => unpackOutline(packedOutline(sheet))

export const packedOutline = (sheet: Sheet): PackedOutline => outlineStatements(sheet.statements)

export function outlineStatements(statements: readonly Statement[]): PackedOutline {
  const top: (OutlineRule | FlatRun)[] = []
  let ids: number[] = []
  let preludes: string[] = []
  const endRun = () => {
    if (ids.length) top.push({ ids: Uint32Array.from(ids), preludes: preludes.join(BETWEEN) })
    ids = []
    preludes = []
  }
  for (const statement of statements) {
    const prelude = flatPrelude(statement)
    if (prelude !== null) {
      ids.push(statement.isRead ? statement.items.find(isRule)!.id : statement.id)
      preludes.push(prelude)
      continue
    }
    endRun()
    top.push(...outlineStatement(statement))
  }
  endRun()
  return top
}

function outlineStatement(statement: Statement): OutlineRule[] {
  const top: OutlineRule[] = []
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
  return top
}

// A style rule with nothing in it that could be a rule, a comment or a string needs no reading.
function flatPrelude({ text }: Statement): string | null {
  const brace = text.indexOf('{')
  if (brace < 0 || text.includes('{', brace + 1) || /[@"'\\&\0]|\/\*|<!--|-->/.test(text) || !text.endsWith('}')) return null
  const prelude = text.slice(0, brace).trim()
  return /^$|[;}]/.test(prelude) ? null : prelude
}

function outlineRule(text: string, item: Rule, parents: readonly string[]): { rule: OutlineRule; inside: readonly string[] | null } {
  const prelude = text.slice(item.prelude.from, item.prelude.to)
  if (item.kind === 'style') {
    const selectors = splitSelectors(prelude).map((s) =>
      parents.length ? resolveNested(parents, s) : s.includes('&') ? s.replaceAll('&', ':scope') : s,
    )
    return {
      rule: { id: item.id, kind: 'style', selectors, prelude, children: [] },
      inside: item.children.some(isRule) ? selectors : null,
    }
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
