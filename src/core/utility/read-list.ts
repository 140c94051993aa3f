import { longhandsOf } from '../css'
import type { Effect } from './class-index'
import { setsSlots } from './slots'
import type { UtilityClass, Vocabulary } from './types'
import { isUnder, sameVariant } from './variants'

/** A class of the list, with its place in it; -1 for one that is to come. */
export interface Listed {
  readonly index: number
  readonly c: UtilityClass
  readonly effect: Effect
}

/** Classes that are looked at together, and what becomes of them. */
export interface Solution {
  /** Classes that were looked at: those not kept go. */
  readonly among: readonly Listed[]
  readonly keep: readonly Listed[]
  readonly add: string[]
}

// Longhands that classes set in several sizes of group: all sides, an axis, one side.
const BOXES: readonly (readonly string[])[] = [
  ['padding', 'padding-inline', 'padding-block'],
  ['margin', 'margin-inline', 'margin-block'],
  ['inset', 'inset-inline', 'inset-block'],
  ['gap'],
  ['overflow'],
  ['overscroll-behavior'],
  ['border-width', 'border-inline-width', 'border-block-width'],
  ['border-color', 'border-inline-color', 'border-block-color'],
  ['border-radius'],
  ['scroll-margin'],
  ['scroll-padding'],
]

/** The shorthands that a longhand is one part of with others like it, the widest first; null where there are none. */
export const boxOf = (longhand: string): readonly string[] | null => BOXES.find(([all]) => longhandsOf(all).includes(longhand)) ?? null

/** Whether a class only sets variables for others. */
export const isOfVariables = (c: UtilityClass): boolean => c.declared.every((d) => d.name.startsWith('--'))
/** Whether a class takes what another sets in a variable. */
export const reads = (c: UtilityClass, name: string): boolean => c.declared.some((d) => d.name !== name && d.value.includes(`var(${name}`))

/** A class list as it counts for one variant. */
export class ReadList {
  /** Classes of the variant itself. */
  readonly listed: readonly Listed[]
  private readonly order: ReadonlyMap<string, number>
  /** Classes of other variants that hold wherever this one does. */
  readonly around: readonly Listed[]
  /** What classes that only set variables set them to, such as the colour of a ring. */
  private readonly variables: ReadonlyMap<string, string>

  constructor(
    readonly v: Vocabulary,
    readonly names: readonly string[],
    readonly variant: string,
    readonly important: boolean,
  ) {
    const all = names.flatMap((name, index) => {
      const c = v.read(name)
      return c ? [{ index, c, isOwn: sameVariant(c.variant, variant) }] : []
    })
    const holding = all.filter(({ c, isOwn }) => isOwn || isUnder(v, c.variant, variant))
    // Those of the variant itself come last, and count.
    this.variables = new Map(
      [...holding]
        .sort((a, b) => Number(a.isOwn) - Number(b.isOwn))
        .flatMap(({ c }) => (isOfVariables(c) ? c.declared.map((d) => [d.name, d.value] as const) : [])),
    )
    const [own, around] = [true, false].map((isOwn) =>
      holding.filter((l) => l.isOwn === isOwn).map(({ index, c }) => ({ index, c, effect: this.effectOf(c) })),
    )
    this.listed = own
    this.around = around
    this.order = v.order(this.listed.map((l) => l.c.name))
  }

  /** What a class gives beside those of the list that set variables for it. */
  effectOf(c: UtilityClass): Effect {
    return [...this.variables.keys()].some((name) => reads(c, name)) ? this.v.effect(c, this.variables) : this.v.effect(c)
  }

  /** What the list gives now. */
  get gives(): ReadonlyMap<string, string> {
    return new Map(this.listed.flatMap((l) => [...l.effect.keys()]).map((k) => [k, this.given(this.listed, k)!]))
  }

  /** The variant as the list itself stacks it, where it has the same one. */
  get spelledVariant(): string {
    return this.listed[0]?.c.variant ?? this.variant
  }

  /** The value that classes give a longhand, what one class leaves to others included. */
  given(listed: readonly Listed[], longhand: string): string | null {
    const decider = this.winner(listed, longhand) ?? listed.find((l) => l.effect.has(longhand))
    return decider?.effect.get(longhand) ?? null
  }

  /** The class that decides a longhand. */
  winner(listed: readonly Listed[], longhand: string): Listed | null {
    const setting = listed.filter((l) => l.effect.has(longhand) && !setsSlots(l.c).yields.has(longhand))
    const rank = (l: Listed) => (l.c.important ? 1e6 : 0) + (this.order.get(l.c.name) ?? 1e5)
    return setting.reduce<Listed | null>((a, b) => (a && rank(a) > rank(b) ? a : b), null)
  }

  /** The name of a class with this base under the variant. */
  spell(base: string, important: boolean): string {
    return this.v.spell(base, this.spelledVariant, important)
  }

  /** A class with this base under the variant, read. */
  read(base: string): UtilityClass | null {
    return this.v.read(this.spell(base, false))
  }
}
