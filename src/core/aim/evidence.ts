/** What the page says of a picked element, as far as an aim needs it. The agent's report has this shape. */
export interface Evidence {
  readonly info: { readonly source: string | null; readonly tag: string; readonly id: string; readonly classes: readonly string[] }
  readonly ancestors: readonly { readonly source: string | null; readonly tag: string; readonly id: string; readonly classes: readonly string[] }[]
  /** For each of `ancestors`, the element first: the rules that match it. */
  readonly matched: readonly (readonly MatchedEvidence[])[]
  /** For each rule that matches the element itself. */
  readonly reach: readonly ReachEvidence[]
  readonly inline: readonly string[]
  readonly computed: Readonly<Record<string, string>>
  /** Keys of the document's sheets in order. */
  readonly sheets: readonly string[]
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
