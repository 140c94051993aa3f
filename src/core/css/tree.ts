import type { Span } from '../text'

/**
 * The tree of one top-level statement. All spans are offsets in the statement's own text (UTF-16 units), so that
 * a statement moves in its file without being touched; `Sheet` converts to file offsets.
 */
export type CssItem = StyleRule | AtRule | Declaration | Comment | RawCss

/** A declaration, valid or not: whether the engine takes its value is not decided here. */
export interface Declaration {
  readonly kind: 'declaration'
  /** Lower case, except for custom properties, whose case matters. */
  readonly name: string
  readonly nameSpan: Span
  /** No outer space or comments, no `!important`. Empty for `--x:;`. */
  readonly value: Span
  /** From `!` to the end of `important`; null without it. */
  readonly important: Span | null
  /** From the name to the end of the value or of `!important`; the semicolon is not in it. */
  readonly span: Span
  /** The `;`; null on an unterminated last declaration. */
  readonly semicolon: Span | null
}

export interface StyleRule {
  readonly kind: 'style'
  /** Stays the same while edits leave the rule in place; unique in its sheet. */
  id: number
  /** The selector list without outer space and comments. */
  readonly prelude: Span
  /** Between the braces. */
  readonly block: Span
  readonly span: Span
  /** False when the text ended before `}`. */
  readonly closed: boolean
  readonly children: readonly CssItem[]
}

export interface AtRule {
  readonly kind: 'at'
  id: number
  /** Lower case, without `@`. */
  readonly name: string
  readonly prelude: Span
  /** Null for a statement such as `@import …;`. */
  readonly block: Span | null
  readonly span: Span
  readonly closed: boolean
  readonly children: readonly CssItem[]
}

export interface Comment {
  readonly kind: 'comment'
  readonly span: Span
}

/** Source that is no rule and no declaration. It is shown and never rewritten. */
export interface RawCss {
  readonly kind: 'raw'
  readonly span: Span
}

export type Rule = StyleRule | AtRule

export const isRule = (item: CssItem): item is Rule => item.kind === 'style' || item.kind === 'at'

/** All rules below `items`, parents first. Iterative: depth is no limit. */
export function* rulesIn(items: readonly CssItem[]): Generator<{ rule: Rule; parents: readonly Rule[] }> {
  const stack: { items: readonly CssItem[]; at: number; parents: readonly Rule[] }[] = [{ items, at: 0, parents: [] }]
  while (stack.length) {
    const top = stack[stack.length - 1]
    const item = top.items[top.at++]
    if (!item) stack.pop()
    else if (isRule(item)) {
      yield { rule: item, parents: top.parents }
      if (item.children.length) stack.push({ items: item.children, at: 0, parents: [...top.parents, item] })
    }
  }
}

export const declarationsOf = (rule: Rule): Declaration[] =>
  rule.children.filter((item): item is Declaration => item.kind === 'declaration')
