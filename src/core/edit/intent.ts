import type { AimRef, ClassListRef } from '../aim'
import type { Wanted } from '../css'
import type { ComponentProperty } from '../language'
import type { Splices } from '../text'

/** A property, its value, and where it is to land. */
export interface SetIntent {
  readonly kind: 'set'
  readonly aim: AimRef
  readonly name: string
  readonly value: string
  readonly important?: boolean
  /** Where it goes when no class of a closed vocabulary gives the value. */
  readonly otherwise?: AimRef
  /** Whether the value says what comments stand around it too: items of a list are switched off so. */
  readonly comments?: boolean
}

export type RuleAim = Extract<AimRef, { kind: 'rule' }>

/** Something done to the declaration that decides `name` in a rule; switching on takes the one that was switched off. */
export interface DeclarationIntent {
  readonly kind: 'remove' | 'switch-off' | 'switch-on' | 'make-important' | 'make-normal'
  readonly aim: RuleAim | Extract<AimRef, { kind: 'inline' }>
  readonly name: string
}

/** What of an element's tag an edit changed: its style attribute, its class list, or another attribute. */
export type TagPart = 'style' | 'classes' | 'attribute'

/** A property put back to what an edit's `before` says: a value, a shorthand with its value, or null for nothing. */
export interface RestoreIntent {
  readonly kind: 'restore'
  readonly aim: RuleAim | Extract<AimRef, { kind: 'inline' }>
  readonly name: string
  readonly before: string | null
}

/** Properties taken out of a class list: the classes that set them go, what else those set stays. */
export interface UnsetIntent {
  readonly kind: 'unset'
  readonly aim: ClassListRef
  readonly name: string
}

/** Classes of elements by name: those that go, and those that come, each in the place of one that goes, after the last of `after` that is there (at the front where that is empty), or at the end. */
export interface ClassesIntent {
  readonly kind: 'change-classes'
  readonly sources: readonly string[]
  readonly remove: readonly string[]
  readonly add: readonly { readonly name: string; readonly instead?: string; readonly after?: readonly string[] }[]
}

/** A class list given a name: one class says it all, and stands in its place wherever the project has just that list. */
export interface MakeClassIntent {
  readonly kind: 'make-class'
  readonly source: string
  readonly name: string
}

/** A value given a name: the custom property is defined beside the project's other tokens and used in its place. */
export interface MakeTokenIntent {
  readonly kind: 'make-token'
  readonly aim: RuleAim
  readonly name: string
  readonly token: string
}

/** A rule that is not there yet, with what it declares: at the end of a sheet, or by a media condition beside the rule it is to win over. */
export interface AddRuleIntent {
  readonly kind: 'add-rule'
  readonly sheet: string
  readonly selector: string
  readonly declarations: readonly Wanted[]
  /** The condition; `''` for none. */
  readonly under: string
}

/** Rules taken out of their sheets. */
export interface RemoveRulesIntent {
  readonly kind: 'remove-rules'
  readonly rules: readonly { readonly sheet: string; readonly rule: number }[]
}

/** A class under another name, in every selector and class list of the project, or wherever one of a style module is used. */
export interface RenameClassIntent {
  readonly kind: 'rename-class'
  readonly from: string
  readonly to: string
  /** The path of the style module that it is of; left out for a class of plain sheets (CSS Modules). */
  readonly module?: string
}

/** A custom property under another name, wherever the project says it. */
export interface RenameTokenIntent {
  readonly kind: 'rename-token'
  readonly from: string
  readonly to: string
  /** Whether what uses it takes another token in its place, that is there already: where it is defined stays. */
  readonly usesOnly?: boolean
}

/** Another selector list for a rule. */
export interface SelectorIntent {
  readonly kind: 'set-selector'
  readonly aim: RuleAim
  readonly selector: string
}

/** An attribute of an element set, added, or, with null, removed. */
export interface AttributeIntent {
  readonly kind: 'set-attribute'
  readonly source: string
  readonly name: string
  readonly value: string | null
  /** What a component takes there, where the tag is that of one: how it is written. */
  readonly as?: ComponentProperty['kind']
}

/** An attribute of an element under another name, in its place. */
export interface RenameAttributeIntent {
  readonly kind: 'rename-attribute'
  readonly source: string
  readonly name: string
  readonly to: string
}

/** Other text for the `index`-th text node of an element. */
export interface TextIntent {
  readonly kind: 'set-text'
  readonly source: string
  readonly index: number
  readonly text: string
  /** What the page shows there, to find the text by where a component may show others between. */
  readonly was?: string
}

/** An item of the list that elements are made of changes places with a neighbour. */
export interface ListOrderIntent {
  readonly kind: 'list-order'
  readonly source: string
  /** Which of the elements that the tag made, from 0, of how many. */
  readonly index: number
  readonly count: number
  readonly by: 1 | -1
}

/** Another tag name for an element, in both tags. */
export interface TagIntent {
  readonly kind: 'set-tag'
  readonly source: string
  readonly tag: string
}

/** A place among the elements of a page, identified by one of them. */
export interface SourcePlace {
  readonly source: string
  readonly where: 'before' | 'after' | 'first' | 'last'
}

/** HTML put at a place; ids in it that the page has already are made others. */
export interface InsertIntent {
  readonly kind: 'insert-html'
  readonly place: SourcePlace
  readonly html: string
  /** What it is called in the ledger. */
  readonly what: string
  /** Files that it needs. */
  readonly adds?: readonly NewFile[]
}

/** Elements put at another place, of their own page or of another. */
export interface MoveIntent {
  readonly kind: 'move'
  readonly sources: readonly string[]
  readonly place: SourcePlace
}

/** Elements deleted, duplicated, or unwrapped. */
export interface ElementsIntent {
  readonly kind: 'delete' | 'duplicate' | 'unwrap'
  readonly sources: readonly string[]
}

/** Neighbouring elements put into a new one. */
export interface WrapIntent {
  readonly kind: 'wrap'
  readonly sources: readonly string[]
  readonly tag: string
  readonly className?: string
}

/** Text typed into a file, in its offsets. */
export interface TypedIntent {
  readonly kind: 'typed'
  readonly path: string
  readonly splices: Splices
  /** Files that it needs. */
  readonly adds?: readonly NewFile[]
}

/** A file that an edit brings into the project. */
export interface NewFile {
  /** From the project's root, `/` between folders. */
  readonly path: string
  readonly bytes: Uint8Array
}

/** A font file with the descriptors of its `@font-face` rule (CSS Fonts 4 §4). */
export interface FaceFile extends NewFile {
  readonly weight: string
  readonly style: string
}

/** Font files brought into the project, with an `@font-face` rule for each in `sheet`. */
export interface AddFaceIntent {
  readonly kind: 'add-face'
  readonly family: string
  readonly faces: readonly FaceFile[]
  /** Files that go with them and no rule names, such as their licence. */
  readonly besides: readonly NewFile[]
  readonly sheet: string
}

/** Several intents that are one edit, each made after the one before it. */
export interface TogetherIntent {
  readonly kind: 'together'
  readonly intents: readonly Intent[]
  readonly label: string
  /** What the ledger calls it, where its parts do not say it themselves. */
  readonly told?: { readonly name: string; readonly after: string }
}

/** What a gesture asks for. */
export type Intent =
  | SetIntent
  | DeclarationIntent
  | UnsetIntent
  | ClassesIntent
  | MakeClassIntent
  | RestoreIntent
  | MakeTokenIntent
  | AddRuleIntent
  | RemoveRulesIntent
  | RenameClassIntent
  | RenameTokenIntent
  | SelectorIntent
  | AttributeIntent
  | RenameAttributeIntent
  | ListOrderIntent
  | TextIntent
  | TagIntent
  | InsertIntent
  | MoveIntent
  | ElementsIntent
  | WrapIntent
  | TypedIntent
  | AddFaceIntent
  | TogetherIntent

/** Splices to one file, in its offsets. */
export interface FileSplices {
  readonly path: string
  readonly splices: Splices
}

/** How the page can show an edit before it is written. */
export type PreviewPlan =
  | {
      readonly op: 'rule'
      readonly sheet: string
      readonly rule: number
      readonly runs: readonly string[]
      readonly was: readonly string[] | null
      readonly set: { readonly name: string; readonly value: string } | null
    }
  | { readonly op: 'insert'; readonly sheet: string; readonly after: number | null; readonly text: string }
  | { readonly op: 'attribute'; readonly source: string; readonly name: string; readonly value: string | null }
  /** A class list; `held` is what its new classes give the element, for steps of a pull. */
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

/** An intent as splices to files, with what it does in words for the ledger. */
export interface PlannedEdit {
  readonly ok: true
  readonly changes: readonly FileSplices[]
  /** Files that are not there yet. */
  readonly adds?: readonly NewFile[]
  /** The file that the ledger names; `at` is an offset in it. */
  readonly path: string
  readonly name: string
  /** The value written for the property before; null when there was none. */
  readonly before: string | null
  readonly after: string
  /** Offset in the file after the edit of what was written, for its line. */
  readonly at: number
  /** The rule's selectors, for what it reaches; empty for a `style` attribute. */
  readonly selectors: readonly string[]
  readonly label: string
  /** The element whose own tag was changed; left out for rules. */
  readonly element?: string
  /** What of its tag that was; left out for rules and where the tag itself came, went or moved. */
  readonly part?: TagPart
  /** What was done to a whole declaration; left out where a value was set. */
  readonly did?: DeclarationIntent['kind']
  readonly preview: readonly PreviewPlan[]
  /** Properties that were not asked for and have another value with it. */
  readonly moves?: readonly string[]
  /** Whether it lands where a value goes that no class of a closed vocabulary gives. */
  readonly isOtherwise?: boolean
  /** Whether what was written is an element that is selected afterwards. */
  readonly isElement?: boolean
  /** Properties that are to be read back, where the intent itself does not name them. */
  readonly props?: readonly string[]
  /** What is to be looked for in place of what was asked for, where classes say it by other properties. */
  readonly meant?: readonly { readonly name: string; readonly value: string }[]
}
