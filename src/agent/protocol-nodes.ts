/** Elements of the live page and where they are, as the agent tells it. */

/** A number the agent gives an element for as long as the page lives. */
export type NodeHandle = number

/**
 * One box of an element in CSS px of the live page's viewport: a `w` by `h` rectangle around the point (`cx`, `cy`),
 * under the linear map [a c; b d].
 */
export interface Box {
  readonly cx: number
  readonly cy: number
  readonly a: number
  readonly b: number
  readonly c: number
  readonly d: number
  readonly w: number
  readonly h: number
}

/** Top, right, bottom, left, in CSS px before transforms. */
export type Sides = readonly [top: number, right: number, bottom: number, left: number]

/** A rectangle in px, from the corner of an element's border box. */
export interface Rect {
  readonly x: number
  readonly y: number
  readonly w: number
  readonly h: number
}

/** A grid track: where it starts from the corner of a border box, and its size; px. */
export interface Track {
  readonly at: number
  readonly size: number
}

/** How a container lays its children out, in its own border box. */
export interface ContainerLayout {
  readonly kind: 'flex' | 'grid'
  /** Of a grid, implicit tracks included. */
  readonly columns: readonly Track[]
  readonly rows: readonly Track[]
  /** Whether columns follow one another from right to left. */
  readonly mirrored: boolean
  readonly areas: readonly (Rect & { readonly name: string })[]
  /** Of a flex container that has more than one. */
  readonly lines: readonly Rect[]
  /** Room that neither children nor gaps take. */
  readonly free: readonly Rect[]
  readonly content: Rect
}

/** A child of a grid whose place is by its order alone, in one cell. 0-based. */
export interface GridItem {
  readonly source: string | null
  readonly column: number
  readonly row: number
  readonly own: boolean
}

/**
 * What an element's parent places it in, from the corner of the element's own border box. `items`: the children of a grid in order, where all of them
 * stand where their order puts them; else null.
 */
export type Place =
  | {
      readonly kind: 'grid'
      readonly columns: readonly Track[]
      readonly rows: readonly Track[]
      readonly mirrored: boolean
      readonly items: readonly GridItem[] | null
    }
  /** Its line runs along `axis`, between `from` and `to` across; `free` px are left to the right of it or below, `freeBefore` to the left or above. */
  | {
      readonly kind: 'flex'
      readonly axis: 'x' | 'y'
      readonly from: number
      readonly to: number
      readonly free: number
      readonly freeBefore: number
    }

export interface Geometry {
  readonly boxes: readonly Box[]
  readonly padding: Sides
  readonly border: Sides
  readonly margin: Sides
  /** Gaps between the children, in the element's border box; px. */
  readonly gaps: readonly Rect[]
  /** Of the chosen element alone, where it stands straight. */
  readonly layout: ContainerLayout | null
  readonly place: Place | null
  readonly edges: { readonly x: readonly number[]; readonly y: readonly number[] } | null
}

/** `source`: has its own tag in the file. `component`: a known tag of a component made it. `script`: made while the page ran. `parser`: implied by the HTML parser. */
export type NodeOrigin = 'source' | 'component' | 'script' | 'parser'

export interface NodeInfo {
  readonly node: NodeHandle
  readonly origin: NodeOrigin
  /** `<file key>.<element id>`, or null when the element is not in the source. */
  readonly source: string | null
  readonly tag: string
  readonly id: string
  readonly classes: readonly string[]
  /** Which of its siblings with the same tag, id and classes it is, the first being 1; null where it is the only one. */
  readonly twin: number | null
}

/** In the root viewport; px. */
export interface Point {
  readonly x: number
  readonly y: number
}
