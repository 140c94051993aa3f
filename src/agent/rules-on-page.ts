import type { OutlineRule } from '../core/css'

/** How the page spells what a sheet's source says, where a compiler has given its selectors other names. */
export interface PageNames {
  /** A selector of the source as the page has it. */
  selector(text: string): string
  /** Rules of the source as the page has them. */
  rules(text: string): string
  /** Declarations of the source as the page has them. */
  declarations(text: string): string
  /** The name of a `@keyframes` rule of the source as the page has it. */
  animation(name: string): string
}

export const isKeyframes = (kind: string): boolean => /^(-\w+-)?keyframes$/.test(kind)

// What names animations: a declaration of them, to its end.
const ANIMATION = /(?<![\w-])((?:-webkit-)?animation(?:-name)?\s*:)([^;{}]*)/gi

/** A text of CSS in which the animations that declarations name have other names (CSS Animations 1 §3.1). */
export const withAnimations = (text: string, names: ReadonlyMap<string, string>): string =>
  names.size === 0
    ? text
    : text.replace(ANIMATION, (_, lead: string, value: string) => lead + value.replace(/[\w-]+/g, (word) => names.get(word) ?? word))

export const isKind = (rule: CSSRule, name: string): boolean => rule.constructor.name === name

/** The rules in a rule, without runs of its own declarations. */
export const rulesIn = (rule: CSSRule): CSSRule[] =>
  [...((rule as Partial<CSSGroupingRule>).cssRules ?? [])].filter((r) => !isKind(r, 'CSSNestedDeclarations'))

/** An outline of the source with the selectors that the page has. */
export const outlineOnPage = (rules: readonly OutlineRule[], names: PageNames): OutlineRule[] =>
  rules.map((r) => ({
    ...r,
    selectors: r.selectors.map((s) => names.selector(s)),
    prelude: r.kind === 'style' ? names.selector(r.prelude) : isKeyframes(r.kind) ? names.animation(r.prelude.trim()) : r.prelude,
    children: outlineOnPage(r.children, names),
  }))
