import type { OutlineRule } from '../core/css'

/** How the page spells what a sheet's source says, where a compiler has given its selectors other names. */
export interface PageNames {
  /** A selector of the source as the page has it. */
  selector(text: string): string
  /** Rules of the source as the page has them. */
  rules(text: string): string
}

export const isKind = (rule: CSSRule, name: string): boolean => rule.constructor.name === name

/** The rules in a rule, without runs of its own declarations. */
export const rulesIn = (rule: CSSRule): CSSRule[] =>
  [...((rule as Partial<CSSGroupingRule>).cssRules ?? [])].filter((r) => !isKind(r, 'CSSNestedDeclarations'))

/** An outline of the source with the selectors that the page has. */
export const outlineOnPage = (rules: readonly OutlineRule[], names: PageNames): OutlineRule[] =>
  rules.map((r) => ({
    ...r,
    selectors: r.selectors.map((s) => names.selector(s)),
    prelude: r.kind === 'style' ? names.selector(r.prelude) : r.prelude,
    children: outlineOnPage(r.children, names),
  }))
