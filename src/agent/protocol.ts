import type { Stamp } from '../core/html'
import type { ChangedRun, PackedOutline, RuleBody } from '../core/css'
import type { Box, Geometry, NodeHandle, NodeInfo, Point, Rect } from './protocol-nodes'
import type { WholePageRequests } from './protocol-whole-page'

export type * from './protocol-nodes'
export * from './protocol-whole-page'

/**
 * What the interface and the agent in the live page say to each other over one `MessagePort`. The page is not
 * trusted: the interface reads everything that comes from it through the checks in `read.ts`.
 */

/** A rule that applies to an element; `selectors` are the indexes of those in its list that match. */
export interface MatchedRule {
  readonly sheet: string
  /** Place of the sheet in its document. */
  readonly order: number
  readonly rule: number
  readonly selectors: readonly number[]
  /** Generations to the scope root; null outside `@scope`. */
  readonly proximity: number | null
}

/** How many elements of the page's documents a list of selectors matches. */
export interface Reach {
  readonly count: number
  /** Whether each of them is the picked element, or shares a class with it, or plays its part in a like place. */
  readonly kin: boolean
}

export interface Size {
  readonly width: number
  readonly height: number
}

/** What Tune shows and measures with, beside computed values. Lengths are CSS px. */
export interface NodeFacts {
  /** States the element can be in, as selectors write them. */
  readonly states: readonly string[]
  readonly partsPossible: readonly string[]
  /** Boxes of its children in flow, the first of them, from the corner of its own border box. */
  readonly children: readonly Rect[]
  /** What its text stands on; null where that is no one colour. */
  readonly backdrop: string | null
  /** The family that is really drawn. */
  readonly renderedFamily: string
  /** The weights that family has a face for, or ranges of them such as `100 900`; null where that cannot be determined. */
  readonly weights: readonly string[] | null
  readonly ch: number | null
  readonly lineHeight: number
  readonly rootLineHeight: number
  /** Of the nearest query container. */
  readonly container: Size | null
  /** The content box of the element around it, which percentages mostly refer to. */
  readonly around: Size | null
  readonly viewport: Size
  /** Lines that its own text takes; 0 without text. */
  readonly textLines: number
  /** How wide its text would be on one line; px. */
  readonly naturalWidth: number
  /** Why a sticky element does not stick, in words; null when nothing hinders it. */
  readonly stickyHindered: string | null
}

/** What is shown of an element that is pointed at. Lengths are as the browser computes them. */
export interface HoverFacts {
  /** The family that is really drawn; '' where it has no text of its own. */
  readonly family: string
  readonly size: string
  readonly weight: string
  readonly color: string
  /** What its text stands on; null where that is no one colour. */
  readonly backdrop: string | null
  readonly padding: string
  readonly margin: string
  /** Its own display, and that of its parent. */
  readonly display: string
  readonly around: string
}

/** An element of the page's tree, in document order. */
export interface TreeRow {
  readonly info: NodeInfo
  /** The components that it is the outermost element of; `''` where it is that of none. */
  readonly component: string
  /** Elements around it; the root has 0. */
  readonly depth: number
  /** The beginning of its own text. */
  readonly text: string
  readonly layout: 'flex' | 'grid' | ''
  /** Whether it has no box, or one that does not show. */
  readonly hidden: boolean
}

/** CSS 2 §E and CSS Positioned Layout 3 §4. */
export interface Stacking {
  /** The element itself first where it makes a stacking context; up to the root's. */
  readonly contexts: readonly { readonly info: NodeInfo; readonly z: string; readonly why: string }[]
  /** Elements that share room with it, the topmost first. */
  readonly sharing: readonly {
    readonly info: NodeInfo
    readonly z: string
    readonly above: boolean
    readonly context: NodeInfo
  }[]
}

/** Which tag of a component made an element, as the page says it; it is looked up before anything is made of it. */
export interface MadeBy {
  readonly stamp: Stamp
  /** The element that the tag made: the one asked about, where `isOwn`, else the nearest around it. */
  readonly node: NodeHandle
  readonly tag: string
  readonly isOwn: boolean
  /** Which of the page's elements that this tag made it is, from 1, and how many there are. */
  readonly index: number
  readonly count: number
  /** How many of them the same usage of its component led to. */
  readonly sameUsage: number
  /** The components that led there, the outermost first, each with the first element that it shows and the tag that used it. */
  readonly owners: readonly { readonly name: string; readonly node: NodeHandle | null; readonly usage: Stamp | null }[]
}

/** What an element is found by again once its page was loaded again: its source, or the tag of a component that made it, and which of those it is, from 0. */
export type ElementName = { readonly source: string; readonly nth: number } | { readonly stamp: Stamp; readonly nth: number }

export interface PickReport {
  readonly info: NodeInfo
  readonly geometry: Geometry
  /** From the element up to its root, the element first. */
  readonly ancestors: readonly NodeInfo[]
  /** For each of `ancestors` in the element's document, the rules that match it; before them, those of the pseudo-element asked for. */
  readonly matched: readonly (readonly MatchedRule[])[]
  /** Rules whose selector matches the element, or its pseudo-element, while a condition around them does not hold. */
  readonly unmet: readonly MatchedRule[]
  /** For each rule that matches the element itself, in the same order. */
  readonly reach: readonly Reach[]
  readonly computed: Readonly<Record<string, string>>
  /** Some computed values of the parent element, and whether the element is SVG: they decide what has an effect. */
  readonly parent: Readonly<Record<string, string>>
  readonly isSvg: boolean
  /** Of the nearest ancestor in the source, when the element is not; else null. */
  readonly nearestSource: NodeInfo | null
  /** Null on pages without components, and where no known tag is around it. */
  readonly made: MadeBy | null
  readonly facts: NodeFacts
  /** A selector that matches it alone in its document, short where an id or class allows. */
  readonly unique: string
  /** Which of its parent's children in flow it is. */
  readonly place: 'first' | 'last' | 'only' | 'between'
  /** Whether elements stand in it, and whether its text is wider than its box. */
  readonly holds: { readonly elements: boolean; readonly wideText: boolean }
  /** How many elements its open shadow tree has (DOM §4.8); 0 where it has none. */
  readonly shadow: number
  /** The pseudo-elements that have a box or rules of their own. */
  readonly parts: readonly string[]
  /** The `style` attribute at each level of `matched`, as the page has it now. */
  readonly inline: readonly string[]
  /** Font sizes that units refer to, in px: `rem`, and `em` of the element's own font size. */
  readonly rootFontSize: number
  readonly parentFontSize: number
  readonly writingMode: string
  readonly direction: string
  /** Which of all elements with the same source this is, in document order. */
  readonly nth: number
  /** The sheets of the element's document, in order, for ids of layers. */
  readonly sheets: readonly string[]
}

/** A text of an element of the source, by its place among the element's own texts, as it was typed. */
export interface ChangedText {
  readonly source: string
  readonly index: number
  readonly was: string
  readonly text: string
}

/** A place where something dragged would land, identified by an element of the source, with what marks it on the page; px of the root viewport. */
export interface DropPlace {
  /** Null where only the stamp of its tag is known. */
  readonly source: string | null
  readonly stamp: Stamp | null
  readonly tag: string
  readonly where: 'before' | 'after' | 'first' | 'last'
  readonly mark: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
  /** Whether the mark is the element it lands in, and not a line between two. */
  readonly within: boolean
}

/** A change that the agent can show and take back without the source being touched. */
export type PreviewOp =
  /** `runs`: the rule's own declarations before its first nested rule, and those after each. */
  | {
      readonly op: 'rule'
      readonly sheet: string
      readonly rule: number
      readonly runs: readonly string[]
      /** The same as they are in the source, where the engine's own text of the rule leaves a part out; else null. */
      readonly was: readonly string[] | null
      /** The declaration that differs, when it is one of normal importance. */
      readonly set: { readonly name: string; readonly value: string } | null
    }
  | { readonly op: 'insert'; readonly sheet: string; readonly after: number | null; readonly text: string }
  | { readonly op: 'attribute'; readonly source: string; readonly name: string; readonly value: string | null }
  /** A class list; a step of a pull may show only what its new classes give, `held`. */
  | {
      readonly op: 'classes'
      readonly source: string
      readonly value: string | null
      readonly held: readonly (readonly [longhand: string, value: string])[]
      /** The names that go and come: the page may have worked out more beside them. */
      readonly gone: readonly string[]
      readonly come: readonly string[]
      /** The names that an element of the tag has where the change is about it; null where it is about all of them. */
      readonly having: readonly string[] | null
    }

/** A declaration whose value elements are to show. */
export interface Asked {
  readonly name: string
  readonly value: string
}

/**
 * Why an element does not show a value. `stronger`: another declaration decides. `undefined-variable`: `by` has no value there.
 * `held`: the property `by` keeps its size from it, or, without one, its layout. `clamped`: the engine takes the value as
 * another. `no-line`: there is no width while the property `by` is `none`.
 */
export interface Missed {
  readonly reason: 'stronger' | 'undefined-variable' | 'held' | 'clamped' | 'no-line'
  /** The longhand in which it differs. */
  readonly property: string
  readonly shown: string
  readonly meant: string
  readonly by: string | null
}

/** How many of the elements asked about show a declaration, and of those that do not, the first. `chosen` tells those that were named from those that selectors found. */
export interface Judged {
  readonly of: number
  readonly shows: number
  readonly misses: readonly (Missed & { readonly node: NodeHandle; readonly chosen: boolean })[]
}

/** What was written, for the page to take in. */
export type SyncOp =
  | {
      readonly op: 'sheet'
      readonly sheet: string
      readonly text: string
      readonly outline: PackedOutline
      /** Those of its rules that the engine's text leaves a part of out. */
      readonly bodies: readonly RuleBody[]
    }
  /** What changed of a sheet. */
  | { readonly op: 'rules'; readonly sheet: string; readonly run: ChangedRun }
  | { readonly op: 'attribute'; readonly source: string; readonly name: string; readonly value: string | null }
  /** The `index`-th text of an element, where the page still has what it was; else the page has to be loaded again. */
  | {
      readonly op: 'text'
      readonly source: string
      readonly index: number
      readonly before: string
      readonly after: string
    }
  /** A page's element tree: the page of that file as it was published before, and as it is now. */
  | { readonly op: 'tree'; readonly file: number; readonly before: string; readonly after: string }
  | { readonly op: 'reload' }

export interface SheetInfo {
  /** The address it was loaded from, or `#` and the source of its `<style>` element. */
  readonly name: string
  readonly order: number
  /** What a compiler of utility classes wrote, where a script gave the page that; else null. */
  readonly compiled: string | null
}

/** What a sheet of the page comes from. */
export interface SheetTie {
  readonly key: string
  readonly outline: PackedOutline
  /**
   * How many rules the sheet has at its top where the page has it as it was saved; one that has another count was made of
   * more than that, and is not tied. Null where the page has just what the source says.
   */
  readonly saved: number | null
}

/** What a sheet of the page is named by whose text a script has put there: this, and the file that the script says it is from. */
export const SCRIPT_SHEET = '@'

export interface PageState {
  readonly scrollX: number
  readonly scrollY: number
  readonly width: number
  readonly height: number
}

/** Requests of the interface, with what the agent answers. */
export interface Requests extends WholePageRequests {
  /** With `hover`, what is found is framed from now on as hovered. */
  hit: {
    ask: { x: number; y: number; hover: boolean }
    answer: { info: NodeInfo; geometry: Geometry; facts: HoverFacts | null } | null
  }
  /** `part` is a pseudo-element such as `::before`, or `''`. */
  pick: { ask: { of: NodeHandle | Point; props: readonly string[]; part: string }; answer: PickReport | null }
  walk: { ask: { node: NodeHandle; to: 'parent' | 'child' | 'next' | 'previous' }; answer: NodeInfo | null }
  locate: { ask: ElementName; answer: NodeInfo | null }
  /** The tree of the page, and from now on, while `watch`, an event whenever it has changed; empty when it is not to be watched any more. */
  tree: { ask: { watch: boolean }; answer: readonly TreeRow[] }
  /** Elements by selector, or by what their own text or an attribute holds. */
  find: { ask: { query: string }; answer: readonly NodeHandle[] }
  /** Scrolls the page so that the element is seen. */
  bringIntoView: { ask: { node: NodeHandle }; answer: null }
  /** The elements that stand wholly in a rectangle of the root viewport, the outermost of each branch. */
  within: { ask: { x: number; y: number; width: number; height: number }; answer: readonly NodeInfo[] }
  /** Elements like one: with the same class list, with its tag in a like place, or matching the selectors. */
  like: {
    ask: { node: NodeHandle; how: 'classes' | 'place' | 'selector' | 'usage'; selectors: readonly string[] }
    answer: readonly NodeInfo[]
  }
  sheets: { ask: Record<string, never>; answer: readonly SheetInfo[] }
  tie: { ask: { sheets: Readonly<Record<string, SheetTie>> }; answer: { tied: number; dropped: number } }
  /** How many elements each of the selectors matches, in the documents that use `sheet` where that is given. */
  reach: { ask: { selectors: readonly string[]; sheets: readonly (string | null)[] }; answer: readonly number[] }
  watch: {
    ask: {
      hover: NodeHandle | null
      picked: NodeHandle | null
      others: readonly NodeHandle[]
      reach: readonly string[]
      sheet: string | null
      containers: boolean
    }
    answer: null
  }
  /** Takes note of the source of the elements that a tag of a component made; with `usage`, of those alone that this use of the component led to. */
  adopt: { ask: { source: string; stamp: Stamp; usage: Stamp | null }; answer: null }
  /** Ends once the page has elements made of a text with that mark of a file; false where it has none in time. */
  made: { ask: { path: string; mark: string }; answer: boolean }
  /** Of each element that a tag made, which tags of the same text made its children, by their place in order; none for others. */
  childTags: { ask: { stamp: Stamp }; answer: readonly (readonly number[])[] }
  /** What each element of a source says, in order; its text, cut where it is long. */
  listed: { ask: { source: string }; answer: readonly string[] }
  /** What the components that made the elements of a source were given under a name, as text; null for nothing, and what is no literal. */
  given: { ask: { source: string; name: string }; answer: readonly (string | null)[] }
  /** With `exact`, the rules themselves show it; without, a step of a pull may be shown in a quicker way. Answers what is to be read with it. */
  preview: {
    ask: { ops: readonly PreviewOp[]; clear: boolean; exact: boolean; read: Ask<'read'> | null }
    answer: Answer<'read'> | null
  }
  /** Shows elements as though in these states (`hover`, `focus-visible`), and things that only show at times as open; all others as they are. */
  hold: {
    ask: { held: readonly { readonly node: NodeHandle; readonly states: readonly string[]; readonly open: boolean }[] }
    answer: null
  }
  /** How often the page has a sheet, and the first rule in which one of them is not what `text` gives; null where all are. */
  sheetHolds: {
    ask: { sheet: string; text: string }
    answer: { readonly count: number; readonly differs: string | null }
  }
  /** Lets the text of an element be typed on the page; answers why not, or null. */
  beginText: { ask: { node: NodeHandle }; answer: string | null }
  /** Ends that, with the page as it was before; answers what was typed. */
  endText: { ask: Record<string, never>; answer: readonly ChangedText[] }
  /** Where elements dropped at a point could land, the innermost place first. */
  drop: { ask: { x: number; y: number; moving: readonly NodeHandle[] }; answer: readonly DropPlace[] }
  /** Takes these elements off the page, and brings back all others that were. */
  hide: { ask: { nodes: readonly NodeHandle[] }; answer: null }
  /** Things of the page that do not show now and can be held open: dialogs, popovers, `details`. */
  closed: { ask: Record<string, never>; answer: readonly NodeInfo[] }
  /** Families that the page's `@font-face` rules give, and the colours its elements have, by frequency. */
  /** What decides how an element is stacked: its stacking contexts, the nearest first, and what stands over and under it. */
  stacking: { ask: { node: NodeHandle }; answer: Stacking | null }
  palette: {
    ask: Record<string, never>
    answer: {
      readonly faces: readonly { readonly family: string; readonly weights: readonly string[] }[]
      readonly colors: readonly { readonly color: string; readonly count: number }[]
    }
  }
  /** Lets the page draw in a face that its own sheets do not give, until it is loaded again. */
  lend: {
    ask: {
      family: string
      faces: readonly { readonly weight: string; readonly style: string; readonly bytes: Uint8Array }[]
    }
    answer: null
  }
  /** An element of a source as the page has it: its tag, attributes and own texts, the sources of its children, and how often it is there. */
  element: {
    ask: { source: string }
    answer: {
      readonly tag: string
      readonly attributes: readonly { readonly name: string; readonly value: string }[]
      readonly texts: readonly string[]
      readonly children: readonly string[]
      readonly count: number
    } | null
  }
  read: {
    ask: {
      nodes: readonly NodeHandle[]
      selectors: readonly string[]
      sheet: string | null
      props: readonly string[]
      part: string
    }
    answer: readonly (readonly string[])[]
  }
  /** Whether these elements, and those that the selectors match, show what was asked for, each declaration by itself. */
  judge: {
    ask: {
      nodes: readonly NodeHandle[]
      selectors: readonly string[]
      sheet: string | null
      asked: readonly Asked[]
      part: string
    }
    answer: readonly Judged[]
  }
  /** `whole`: sheets of which a part could not be taken in. */
  sync: { ask: { ops: readonly SyncOp[] }; answer: { reload: boolean; whole: readonly string[] } }
  /** Brings the `index`-th element that the selectors match into view, counting round. */
  reveal: { ask: { selectors: readonly string[]; index: number }; answer: null }
  wheel: { ask: { x: number; y: number; dx: number; dy: number }; answer: null }
  scrollTo: { ask: { x: number; y: number }; answer: null }
}

export type RequestType = keyof Requests
export type Ask<T extends RequestType> = Requests[T]['ask']
export type Answer<T extends RequestType> = Requests[T]['answer']

export interface RequestMessage<T extends RequestType = RequestType> {
  readonly id: number
  readonly type: T
  readonly ask: Ask<T>
}

/** What the agent says unasked. */
export type PageEvent =
  | {
      readonly event: 'frames'
      readonly hover: Geometry | null
      readonly picked: Geometry | null
      readonly others: readonly Box[]
      readonly reach: readonly Box[]
      readonly containers: readonly Box[]
      readonly page: PageState
    }
  | { readonly event: 'sheets' }
  | { readonly event: 'tree' }
  /** Typing on the page is over: to be kept, or not. */
  | { readonly event: 'typed'; readonly keep: boolean }
  /** Its first content is on the screen (Paint Timing 1 §4.1.2). */
  | { readonly event: 'painted' }
  /** It has another address now, as path, query and fragment. */
  | { readonly event: 'moved'; readonly address: string }
  | { readonly event: 'leaving' }

export type FromPage = { readonly id: number; readonly answer: unknown } | { readonly id: number; readonly error: string } | PageEvent

/** What a page posts to its parent when it starts; answered with a port. */
export interface Hello {
  readonly steady: 'hello'
  /** Path, query and fragment of the page. */
  readonly address: string
  readonly title: string
}
