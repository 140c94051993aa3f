import type { Effect } from './class-index'
import type { ListChange } from './class-list'

/** A declaration that a class gives, with what it is on when that is not the element itself. */
export interface Declared {
  /** `''` for the element; else the nested selectors and conditions, as the vocabulary writes them. */
  readonly on: string
  readonly name: string
  readonly value: string
}

/** A class as its vocabulary reads it. */
export interface UtilityClass {
  /** As it stands in the list: `md:hover:p-4!`. */
  readonly name: string
  /** The same without variants and importance: `p-4`. */
  readonly base: string
  /** What has to hold, as written: `md:hover`; `''` for always. */
  readonly variant: string
  readonly important: boolean
  readonly declared: readonly Declared[]
}

/** A step of a scale that a property's value can settle on, with the value as the class gives it, in normal form. */
export interface Step {
  readonly base: string
  readonly value: string
}

/** What longhands are to be: the value as typed, the property it was typed for, and what that makes of each longhand. */
export interface WantedValues {
  readonly property: string
  readonly value: string
  readonly longhands: Effect
}

/** When a class is to apply, as a selector and a media query say it; each `''` where nothing is asked for. */
export interface VariantCondition {
  readonly state: string
  readonly part: string
  readonly media: string
}

/**
 * The classes a project is styled with. Values are compared in a normal form: variables resolved, lengths in px of a
 * 16 px root, colours in one notation.
 */
export interface Vocabulary {
  /** What it is called on screen. */
  readonly label: string
  /** Whether its sheet is compiled from the classes in use, so that any class can be had; else it is what it is. */
  readonly isCompiled: boolean
  /** A class read; null when the vocabulary has none of that name. */
  read(name: string): UtilityClass | null
  /** The name as it is spelled here, for one that was typed or pasted without the prefix of the project. */
  meant(name: string): string
  /** Whether a class of this base can be written, as the project's own version has it. */
  offers(base: string): boolean
  /** The name of a class with this base, variant and importance. */
  spell(base: string, variant: string, important: boolean): string
  /** What a property's value makes of one of its longhands, in normal form. */
  normal(property: string, value: string, longhand: string): string
  /** What a class leaves the longhands it sets with, in normal form; beside classes that set these variables, where they are given. */
  effect(c: UtilityClass, beside?: ReadonlyMap<string, string>): Effect
  /** Bases that give these longhands just these values, and nothing else but what goes with them: the plainest first. */
  giving(wanted: Effect): readonly string[]
  /** Bases that give some of these longhands their value, and nothing against any. */
  within(whole: Effect): readonly string[]
  /** Bases made for a value that no step has, such as `p-[13px]`, the best first; none where the vocabulary is closed. */
  made(wanted: WantedValues): readonly string[]
  /** The steps that set just these longhands, in order. */
  steps(longhands: readonly string[]): readonly Step[]
  /** Bases that could stand in a class's place, in the order of their scale. */
  family(c: UtilityClass): readonly string[]
  /** All bases, for completion. */
  all(): readonly string[]
  /** For each class its place among the rules of its sheet: of two that set one property the later wins; -1 for unknown ones. */
  order(names: readonly string[]): ReadonlyMap<string, number>
  /** The media query that one part of a variant stands for; null where it is none. */
  mediaOf(part: string): string | null
  /** The state that one part of a variant waits for, as a condition has it: `.group:hover &` for `group-hover`; null where it is none that can be put on and taken off. */
  stateOf(part: string): string | null
  /** The variant for a condition; null where it has none. */
  variantFor(condition: VariantCondition): string | null
}

/** A property's new value; null takes the property out. */
export interface ClassWish {
  readonly property: string
  readonly value: string | null
}

export interface ClassPlan {
  readonly ok: true
  readonly change: ListChange
  readonly removed: readonly string[]
  readonly added: readonly string[]
  /** Longhands that were not asked for and are given another value, or none, by the classes that stay. */
  readonly moved: readonly string[]
  /** The properties by which the classes say it, where those are others than were asked for. */
  readonly meant?: readonly ClassWish[]
}
