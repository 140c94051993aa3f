import type { Condition } from './condition'

/** An element in the words of the page. */
export interface ElementEvidence {
  readonly source: string | null
  readonly tag: string
  readonly id: string
  readonly classes: readonly string[]
}

/** What the page says of a picked element, as far as an aim needs it. The agent's report has this shape. */
export interface Evidence {
  readonly info: ElementEvidence
  readonly ancestors: readonly ElementEvidence[]
  /**
   * For each of `ancestors`, the element first: the rules that match it. With a pseudo-element selected, its own rules
   * come before the element's, since it inherits from the element.
   */
  readonly matched: readonly (readonly MatchedEvidence[])[]
  /** Rules whose selector matches the element and whose conditions do not hold now. */
  readonly unmet: readonly MatchedEvidence[]
  /** For each rule that matches the element itself. */
  readonly reach: readonly ReachEvidence[]
  /** The `style` attribute at each level of `matched`. */
  readonly inline: readonly string[]
  readonly computed: Readonly<Record<string, string>>
  /** Computed values of the parent element. */
  readonly parent: Readonly<Record<string, string>>
  readonly isSvg: boolean
  /** A selector that matches the element alone on its page. */
  readonly unique: string
  /** Which of the parent's children in flow it is, as far as margins are concerned. */
  readonly place: 'first' | 'last' | 'only' | 'between'
  /** Whether elements stand in it, which inherit from it, and whether its text is wider than its box. */
  readonly holds: { readonly elements: boolean; readonly wideText: boolean }
  /** Keys of the document's sheets in order. */
  readonly sheets: readonly string[]
  /** How many elements of the page have its source, where a tag of a component made several; else one. */
  readonly copies?: number
  /** The tag that used the component which the element is of, by its source, and how many elements of the page with the same source it led to. */
  readonly usage?: { readonly source: string; readonly name: string; readonly count: number } | null
  /** The file of the component of one file that has its tag: rules of its style blocks are for what stands in it. */
  readonly madeIn?: string | null
  /** What the page was asked to show, and an edit is to hold in. */
  readonly condition: Condition
}

export interface MatchedEvidence {
  readonly sheet: string
  readonly order: number
  readonly rule: number
  /** Indexes of the matching selectors of the rule's list. */
  readonly selectors: readonly number[]
  readonly proximity: number | null
}

export interface ReachEvidence {
  readonly count: number
  readonly kin: boolean
}
