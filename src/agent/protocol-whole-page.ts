import type { NodeHandle, NodeInfo, Rect } from './protocol-nodes'

export type PictureFormat = 'png' | 'webp'

/** A picture of an element, or why there is none. */
export type Picture =
  | {
      readonly ok: true
      readonly bytes: Uint8Array
      /** CSS px. */
      readonly width: number
      readonly height: number
      /** Pixels of the picture for each px: fewer than were asked for where it would have too many. */
      readonly scale: number
    }
  | { readonly ok: false; readonly why: string }

/** A small picture of what shows: boxes in their colours, the later over the earlier; px. */
export interface Sketch {
  readonly width: number
  readonly height: number
  readonly ground: string
  readonly boxes: readonly (Rect & { readonly fill: string; readonly round: number })[]
}

/** Elements that are listed of one rule of findings at most. */
export const MOST_OF_A_RULE = 200

/** What the page does not do that WCAG 2.2 asks for, at levels A and AA, of one element. */
export interface Finding {
  readonly info: NodeInfo
  /** The rule of axe-core, such as `color-contrast`. */
  readonly rule: string
  readonly impact: 'minor' | 'moderate' | 'serious' | 'critical'
  /** What is asked for, and why this element does not do it. */
  readonly help: string
  readonly why: string
  /** Of a contrast: what the text stands on, and the ratio it should have. */
  readonly contrast: { readonly ground: string; readonly wanted: number } | null
}

/** A face that text of the page is drawn in. */
export interface UsedFace {
  readonly family: string
  readonly weight: string
  readonly style: string
  readonly size: string
  /** Without white space. */
  readonly characters: number
  readonly count: number
  /** The first of the elements. */
  readonly nodes: readonly NodeHandle[]
}

/** A colour that the page shows, and how many elements have it as what. */
export interface UsedColor {
  readonly color: string
  readonly text: number
  readonly ground: number
  readonly edge: number
  readonly paint: number
  readonly count: number
  readonly nodes: readonly NodeHandle[]
}

/** A file that the page has loaded. */
export interface LoadedFile {
  readonly url: string
  /** What had it loaded, such as `img` (Resource Timing §4.3). */
  readonly by: string
  /** Bytes, and as they were sent; 0 where the server of another origin does not say. */
  readonly size: number
  readonly packed: number
}

/** A picture with far more pixels than are shown. */
export interface LargePicture {
  readonly info: NodeInfo
  readonly url: string
  /** Its pixels. */
  readonly width: number
  readonly height: number
  /** Pixels that would be enough, on a screen that has two for each px. */
  readonly enough: { readonly width: number; readonly height: number }
}

/** Requests about the page as a whole, with what the agent answers. */
export interface WholePageRequests {
  sketch: { ask: Record<string, never>; answer: Sketch }
  /** A picture of an element as it shows now, with what lies behind it left out; at the screen's own scale where none is asked for. */
  picture: { ask: { node: NodeHandle; format: PictureFormat; scale: number | null }; answer: Picture }
  /** What the page does not do that WCAG 2.2 asks for; frames are not looked into. */
  findings: { ask: Record<string, never>; answer: readonly Finding[] }
  /** The elements that make the page wider than its window, and how wide that is in CSS px. */
  overflow: { ask: Record<string, never>; answer: { readonly width: number; readonly elements: readonly NodeInfo[] } }
  /** What the page has loaded, and what of that it could do without. */
  loaded: {
    ask: Record<string, never>
    answer: {
      readonly files: readonly LoadedFile[]
      readonly pictures: readonly LargePicture[]
      /** Files of faces that no text is drawn in. */
      readonly faces: readonly { readonly url: string; readonly family: string }[]
    }
  }
  /** Every face and colour that the page shows, the most used first. */
  inUse: { ask: Record<string, never>; answer: { readonly faces: readonly UsedFace[]; readonly colors: readonly UsedColor[] } }
}
