import type { NoEffect } from '../cascade'
import type { Specificity } from '../css'
import type { Step } from '../utility'

/** Where an edit can land. */
export type AimRef =
  | { readonly kind: 'rule'; readonly sheet: string; readonly rule: number }
  | { readonly kind: 'inline'; readonly source: string }
  /** The presentation attribute `name` of an SVG element. */
  | { readonly kind: 'attribute'; readonly source: string; readonly name: string }
  /** The custom property `name` at its definition, in place of the property itself. */
  | { readonly kind: 'token'; readonly sheet: string; readonly rule: number; readonly name: string }
  | NewRuleRef
  | ClassListRef
  /** A class that is not there yet: added to the element's class list, with a rule of its own. */
  | {
      readonly kind: 'new-class'
      readonly source: string
      readonly name: string
      readonly sheet: string
      readonly after: number | null
      /** What the element's file calls the style module that `sheet` is (CSS Modules); left out where it is none. */
      readonly styles?: string
      readonly taking?: TakingRef
    }
  | NewSheetRef

/** A class that is not there yet, with its rule in a `<style>` element that is not there yet: in the head of the page, after the sheets that it has. */
export interface NewSheetRef {
  readonly kind: 'new-sheet'
  readonly source: string
  /** The name of the class. */
  readonly name: string
  /** The class with the state and part that are asked for. */
  readonly selector: string
  /** A media condition; `''` for none. */
  readonly under: string
  /** The last sheet of the page, which the page is shown by until the new one is there. */
  readonly last: string
}

/** The class list of an element, or, with `alike`, of all elements of the project that have just the same one. */
export interface ClassListRef {
  readonly kind: 'class-list'
  readonly source: string
  /** Which of the project's vocabularies. */
  readonly vocabulary: number
  /** What has to hold, as the vocabulary spells it: `md:hover`; `''` for always. */
  readonly variant: string
  readonly alike: boolean
  readonly taking?: TakingRef
}

/** The root of a component that takes no class list yet, and the name that it is used by: it is made to take one with the edit. */
export interface TakingRef {
  readonly root: string
  readonly component: string
}

/** A rule that is not there yet, after another one or at the end of the sheet; under a media condition where `under` names one. */
export interface NewRuleRef {
  readonly kind: 'new-rule'
  readonly sheet: string
  readonly after: number | null
  readonly selector: string
  readonly under: string
  /** The name of the layer that it stands in, at the top level of its sheet; that of its neighbour where it is left out. */
  readonly layer?: string
  /** Whether it is nested in the rule `after`, its selector relative to that (CSS Nesting 1 §3). */
  readonly nested?: boolean
}

/** A place an edit of one property could land, with what choosing it would mean. */
export interface Candidate {
  readonly ref: AimRef
  readonly path: string
  /** 1-based line of the declaration, or of the rule where none is there yet. */
  readonly line: number
  /** Of a sheet whose lines tell nothing, being minified, the rule that it stands behind; left out elsewhere. */
  readonly near?: string
  /** The rule's selector list, or `style attribute`. */
  readonly label: string
  /** Of a token that is not the whole document's, the rule that defines it. */
  readonly of?: string
  /** Conditions around the rule, outermost first, as written. */
  readonly conditions: readonly string[]
  readonly specificity: Specificity | null
  /** Elements on this page; null when the page has not counted them. */
  readonly reach: number | null
  /** The value written there now; null where the property is not set. */
  readonly current: string | null
  readonly important: boolean
  /** Whether what is written here is to be marked `!important`, without which it would lose. */
  readonly asImportant: boolean
  /** Whether a value written here would be the one the element gets. */
  readonly wins: boolean
  /** What wins instead when it would not: where, and by which step of the cascade. */
  readonly losesTo: string | null
  /** Whether a value written here loses only to rules under conditions of size, and is the one the element gets at other sizes. */
  readonly elsewhere: boolean
  /** The rules under conditions of size that set the property over this place where they hold. */
  readonly overridden: readonly Overriding[]
  /** Whether it holds in just the state, part and widths asked for. */
  readonly fits: boolean
  /** Whether a declaration of the property stands there as a comment, switched off. */
  readonly off: boolean
  /** Of a class list, the steps of its vocabulary for the property: all there is, where `closed`. */
  readonly steps?: readonly Step[]
  readonly closed?: boolean
  /** Of a class list, whether the class that is changed stands in a file that the element's own imports it from. */
  readonly isImported?: boolean
  /** Of a closed one: where a value that no class gives goes instead, unless this place was chosen by hand. */
  readonly otherwise?: Pick<Candidate, 'ref' | 'label' | 'reach'>
  readonly reason: string
}

/** A rule under a condition of size that has its own value for a property. */
export interface Overriding {
  /** The conditions around it, as written. */
  readonly condition: string
  readonly label: string
  readonly path: string
  /** 1-based. */
  readonly line: number
  readonly value: string
  /** Whether it holds at the size the page has now. */
  readonly holds: boolean
}

/** Where the value of a property comes from now. */
export interface ValueOrigin {
  readonly kind: 'rule' | 'inline' | 'attribute' | 'inherited' | 'initial'
  readonly label: string
  readonly path: string | null
  readonly line: number | null
  /** As written in the source. */
  readonly text: string | null
}

/** A declaration of a rule that matches, or would under another condition, without a say in the value. */
export interface Ineffective {
  readonly label: string
  readonly path: string
  readonly line: number
  readonly text: string
  readonly reason: NoEffect
}

export interface PropertyAim {
  readonly property: string
  readonly computed: string
  readonly origin: ValueOrigin
  /** The text that the source gives the property now, the part of a shorthand included; null where it gives none. */
  readonly written: string | null
  /** The same with the comments that stand around it, where a rule gives it in a declaration of its own. */
  readonly writtenWhole: string | null
  /** Whether the deciding declaration is `!important`. */
  readonly important: boolean
  readonly candidates: readonly Candidate[]
  /** Index of the default in `candidates`; -1 when nothing can take the edit. */
  readonly chosen: number
  /** Why that one is the default, in words. */
  readonly because: string
  /** The rule, in Sass or the like, that an author would change instead: there is no default then. Null where there is none. */
  readonly preprocessed: { readonly label: string; readonly path: string; readonly line: number } | null
  /** Declarations without effect: those that lost, strongest first, then those that do not count at all. */
  readonly without: readonly Ineffective[]
  /** Why the value does nothing for the element, by the rules of layout; null when nothing is known against it. */
  readonly noEffect: NoEffect | null
  /** Of a gap, classes of the element that put margins between its children besides, such as `space-x-4`. */
  readonly besides: readonly string[]
}

/** Where an edit of a property could land, and which of that is the default. */
export type RankedPlaces = Pick<PropertyAim, 'candidates' | 'chosen' | 'because' | 'preprocessed'>
