import type { Rect } from '../../agent/protocol'
import type { SourcePlace } from '../../core/edit'
import type { Change } from '../session/intents'

/** How far a handle was pulled, in px of the page, and what it needs to say that in the source's terms. */
export interface PullBy {
  readonly dx: number
  readonly dy: number
  /** A size in px in the unit that a value is written in. */
  readonly inUnit: (px: number, unit: string) => string
  /** What the source says now. */
  readonly written: (property: string) => string | null
}

/** What a pull comes to: the values, how they are told, and the place they stand for, in the element's border box. */
export interface Outcome {
  readonly changes: readonly Change[]
  readonly words: string
  readonly target: Rect | null
  /** Where the order of the elements says it: beside which of its siblings the element is moved. */
  readonly move?: SourcePlace
}

/** A place on the chosen element's box where one of its lengths, tracks or places can be pulled. */
export interface Handle {
  readonly id: string
  readonly property: string
  /** In the box's own px, from its centre. */
  readonly x: number
  readonly y: number
  readonly axis: 'x' | 'y' | 'both'
  /** Which way along the axis makes it longer. */
  readonly sign: 1 | -1
  readonly kind: 'padding' | 'margin' | 'size' | 'radius' | 'gap' | 'offset' | 'type' | 'track' | 'cell' | 'span'
  /** The length now, in px. */
  readonly px: number
  /** The property on the other side, pulled along with Alt; and the one of all sides, with Shift. */
  readonly opposite: string | null
  readonly all: string | null
  /** Edges and middles of the element that move with the pull, from its corner; they settle on those of its neighbours. */
  readonly edges: readonly number[]
  /** Values that are no length of the property alone; null where the source cannot say them, `length` where they are one after all. */
  readonly outcomeOf?: (by: PullBy) => Outcome | 'length' | null
}
