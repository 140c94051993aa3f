import { compareSpecificity, sets, type Declaration, type RuleSite, type Specificity } from '../css'

/** A declaration that applies to an element, with all that decides its rank. Author origin throughout. */
export interface Applied {
  readonly declaration: Declaration
  readonly value: string
  /** Null in a `style` attribute, and for a presentation attribute. */
  readonly site: RuleSite | null
  /** A presentation attribute, which comes before all rules (CSS Cascade 5 §6.3, SVG 2 §6.6). */
  readonly isHint?: true
  /** Place of its sheet in the page; meaningless inline. */
  readonly sheet: number
  /** Offset in its sheet, which is its order of appearance there. */
  readonly offset: number
  readonly specificity: Specificity
  /** Higher is later; see `LayerOrder`. */
  readonly layer: number
  /** Generations to the scope root; Infinity outside `@scope` (CSS Cascade 6 §2.4). */
  readonly proximity: number
}

/** What decided between two declarations (CSS Cascade 5 §6.1, in that order). */
export type Reason = 'importance' | 'hint' | 'inline' | 'layer' | 'specificity' | 'proximity' | 'order'

/** Positive when `a` wins over `b`, with the step of CSS Cascade 5 §6.1 that decided. */
export function compareApplied(a: Applied, b: Applied): { readonly sign: number; readonly by: Reason } {
  const important = a.declaration.important !== null
  if (important !== (b.declaration.important !== null)) return { sign: important ? 1 : -1, by: 'importance' }
  if (a.isHint !== b.isHint) return { sign: b.isHint ? 1 : -1, by: 'hint' }
  if ((a.site === null) !== (b.site === null)) return { sign: a.site === null ? 1 : -1, by: 'inline' }
  if (a.site === null) return { sign: a.offset - b.offset, by: 'order' }
  // Important declarations of earlier layers win over those of later ones.
  if (a.layer !== b.layer) return { sign: important ? b.layer - a.layer : a.layer - b.layer, by: 'layer' }
  const specificity = compareSpecificity(a.specificity, b.specificity)
  if (specificity !== 0) return { sign: specificity, by: 'specificity' }
  if (a.proximity !== b.proximity) return { sign: b.proximity - a.proximity, by: 'proximity' }
  return { sign: a.sheet - b.sheet || a.offset - b.offset, by: 'order' }
}

export interface Contest {
  readonly winner: Applied
  /** Strongest first, each with what it lost by. */
  readonly losers: readonly { readonly applied: Applied; readonly by: Reason }[]
}

/** Who decides `longhand` on an element, among all declarations that apply to it; null when none sets it. */
export function decide(all: readonly Applied[], longhand: string): Contest | null {
  const rivals = all.filter((a) => sets(a.declaration.name, longhand))
  if (rivals.length === 0) return null
  rivals.sort((a, b) => compareApplied(b, a).sign)
  const [winner, ...rest] = rivals
  return { winner, losers: rest.map((applied) => ({ applied, by: compareApplied(winner, applied).by })) }
}
