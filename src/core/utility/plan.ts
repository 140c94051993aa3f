import { isNarrower, longhandsOf, physicalName, refuse, widthRange, type Refused } from '../css'
import { goesWith, type Effect } from './class-index'
import { readClassList, type ListChange } from './class-list'
import { gradientClasses, isOfGradient } from './gradient-classes'
import { saidApart } from './said-apart'
import { partsOf, setsSlots } from './slots'
import { segments } from './segments'
import type { UtilityClass, Vocabulary } from './types'

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

// A class that says more than this is not taken apart to be rid of one of them.
const MOST_PARTS = 4

interface Listed {
  readonly index: number
  readonly c: UtilityClass
  readonly effect: Effect
}

// Longhands that classes set in several sizes of group: all sides, an axis, one side.
const BOXES: readonly (readonly string[])[] = [
  ['padding', 'padding-inline', 'padding-block'], ['margin', 'margin-inline', 'margin-block'], ['inset', 'inset-inline', 'inset-block'], ['gap'], ['overflow'], ['overscroll-behavior'],
  ['border-width', 'border-inline-width', 'border-block-width'], ['border-color', 'border-inline-color', 'border-block-color'], ['border-radius'], ['scroll-margin'], ['scroll-padding'],
]

const boxOf = (longhand: string): readonly string[] | null => BOXES.find(([all]) => longhandsOf(all).includes(longhand)) ?? null

/** Two variants that hold together hold in either order, but for what stands in a pseudo-element. */
export const sameVariant = (a: string, b: string): boolean => a === b || (segments(a).sort().join(':') === segments(b).sort().join(':') && !/before|after|\*/.test(a))

const isOfVariables = (c: UtilityClass): boolean => c.declared.every((d) => d.name.startsWith('--'))
const reads = (c: UtilityClass, name: string): boolean => c.declared.some((d) => d.name !== name && d.value.includes(`var(${name}`))

// Whether what `variant` asks for holds wherever `other` does, and that asks for more.
function isUnder(v: Vocabulary, variant: string, other: string): boolean {
  if (variant === other) return false
  const parts = (text: string) => {
    const all = text ? segments(text) : []
    const ranges = all.map((p) => widthRange(v.mediaOf(p) ?? 'none'))
    return { others: all.filter((_, i) => ranges[i] === null), widths: ranges.reduce((a, b) => (b ? { min: Math.max(a!.min, b.min), max: Math.min(a!.max, b.max) } : a), { min: 0, max: Infinity })! }
  }
  const [a, b] = [parts(variant), parts(other)]
  if (partOf(variant) !== partOf(other)) return false
  const isEqual = b.widths.min === a.widths.min && b.widths.max === a.widths.max
  return a.others.every((p) => b.others.includes(p)) && (isNarrower(b.widths, a.widths) || (isEqual && b.others.length > a.others.length))
}

const OF_PART = /^(?:before|after|file|placeholder|marker|selection|first-line|first-letter|backdrop|details-content|\*\*?)$|^\[.*(?:::|[>+~]|& )/

// What of a variant is about another box than the element's own.
const partOf = (variant: string): string => segments(variant).filter((s) => OF_PART.test(s)).join(':')

/** The change of a class list that gives properties these values under a variant, in the fewest classes and the least change. */
export function planClasses(vocabulary: Vocabulary, value: string, variant: string, important: boolean, wishes: readonly ClassWish[]): ClassPlan | Refused {
  const names = readClassList(value).map((c) => c.name)
  const list = new ListPlan(vocabulary, names, variant, important)
  const meant = wishes.flatMap((w) => saidApart(w, list.gives) ?? [w])
  if (meant.length > wishes.length || meant.some((m, i) => m.property !== wishes[i].property)) {
    const plan = list.plan(meant)
    const isInSteps = plan.ok && plan.added.every((name) => !segments(name).at(-1)!.startsWith('['))
    if (isInSteps) return { ...plan, meant }
  }
  return list.plan(wishes)
}

class ListPlan {
  private readonly listed: readonly Listed[]
  private readonly order: ReadonlyMap<string, number>
  /** Classes of other variants that hold wherever this one does. */
  private readonly around: readonly Listed[]
  /** What classes that only set variables set them to, such as the colour of a ring. */
  private readonly variables: ReadonlyMap<string, string>

  constructor(private readonly v: Vocabulary, private readonly names: readonly string[], private readonly variant: string, private readonly important: boolean) {
    const all = names.flatMap((name, index) => {
      const c = v.read(name)
      return c ? [{ index, c, isOwn: sameVariant(c.variant, variant) }] : []
    })
    const holding = all.filter(({ c, isOwn }) => isOwn || isUnder(v, c.variant, variant))
    // Those of the variant itself come last, and count.
    this.variables = new Map([...holding].sort((a, b) => Number(a.isOwn) - Number(b.isOwn)).flatMap(({ c }) => (isOfVariables(c) ? c.declared.map((d) => [d.name, d.value] as const) : [])))
    const [own, around] = [true, false].map((isOwn) => holding.filter((l) => l.isOwn === isOwn).map(({ index, c }) => ({ index, c, effect: this.effectOf(c) })))
    this.listed = own
    this.around = around
    this.order = v.order(this.listed.map((l) => l.c.name))
  }

  // What a class gives beside those of the list that set variables for it.
  private effectOf(c: UtilityClass): Effect {
    return [...this.variables.keys()].some((name) => reads(c, name)) ? this.v.effect(c, this.variables) : this.v.effect(c)
  }

  /** What the list gives now. */
  get gives(): ReadonlyMap<string, string> {
    return new Map(this.listed.flatMap((l) => [...l.effect.keys()]).map((k) => [k, this.given(this.listed, k)!]))
  }

  plan(asked: readonly ClassWish[]): ClassPlan | Refused {
    const wishes = asked.map((w) => this.asSaid(w))
    let { listed } = this
    const removed = new Set<number>()
    const added: { base: string; instead: number | null; important: boolean }[] = []
    for (const { wish, wanted } of this.joined(wishes)) {
      if (wish.value !== null && [...wanted].every(([k, v]) => this.given(listed, k) === v)) continue
      const repeats = wish.value !== null && !this.important && this.holdsWithout(wanted)
      const decider = this.winner(listed, [...wanted.keys()][0])
      const important = this.important || (decider?.c.important ?? false)
      const pool = listed.filter((l) => l.c.important === important)
      const solved = repeats ? this.solve(pool, { ...wish, value: null }, wanted) : (wish.value !== null && this.inParts(pool, wish.property, wish.value)) || this.solve(pool, wish, wanted)
      const dissolved = wish.value === null && solved ? this.listed.find((l) => solved.among.includes(l) && !solved.keep.includes(l) && l.effect.size > MOST_PARTS && solved.add.length > 1) : undefined
      if (dissolved) return refuse('bad-value', `${dissolved.c.name} says ${dissolved.effect.size} things at once. Give ${wish.property} another value instead, or take the class out of the list.`)
      if (!solved) return refuse('bad-value', `No class of ${this.v.label} gives ${wish.property} the value ${wish.value}. Choose another place for it.`)
      const kept = new Set(solved.keep)
      const gone = solved.among.filter((l) => !kept.has(l))
      for (const l of gone) if (l.index >= 0) removed.add(l.index)
      const at = gone.find((l) => l === decider)?.index ?? gone[0]?.index ?? null
      const spelled = (base: string) => this.v.spell(base, this.spelledVariant, important)
      const order = this.v.order(solved.add.map(spelled))
      solved.add.sort((a, b) => order.get(spelled(a))! - order.get(spelled(b))!)
      for (const base of solved.add) added.push({ base, instead: at, important })
      // What comes next is planned on what this leaves.
      listed = [...listed.filter((l) => !gone.includes(l)), ...solved.add.flatMap((base) => {
        const c = this.v.read(this.v.spell(base, this.spelledVariant, important))
        return c ? [{ index: -1, c, effect: this.v.effect(c) }] : []
      })]
    }
    const folded = this.folded(listed, added)
    if (folded) {
      for (const l of folded.gone) if (l.index >= 0) removed.add(l.index)
      listed = [...listed.filter((l) => !folded.gone.includes(l)), folded.size]
      added.push({ base: folded.size.c.base, instead: folded.gone.find((l) => l.index >= 0)?.index ?? null, important: this.important })
    }
    const meant = new Set([...asked, ...wishes].flatMap((w) => longhandsOf(w.property)))
    for (const l of this.saidByOthers(listed)) {
      removed.add(l.index)
      listed = listed.filter((x) => x !== l)
    }
    for (const i of [...this.repeated(listed, removed, meant), ...this.idle(listed, removed)]) removed.add(i)
    const moved = [...new Set(this.listed.flatMap((l) => [...l.effect.keys()]))].filter((k) => !meant.has(k) && !/^--|\|/.test(k) && this.given(this.listed, k) !== this.given(listed, k))
    return { ...this.placed([...removed], added.filter((a) => listed.some((l) => l.index === -1 && l.c.base === a.base))), moved }
  }

  // A wish as the classes of the list, and those of the vocabulary, would say it.
  private asSaid(wish: ClassWish): ClassWish {
    const { property, value } = wish
    if (value === null) return wish
    const gives = (w: ClassWish) => this.v.giving(new Map(longhandsOf(w.property).map((l) => [l, this.v.normal(w.property, w.value!, l)]))).length > 0
    const others: ClassWish[] = []
    // Of a border that only some sides have, the colour is that of all.
    const side = /^border-(top|right|bottom|left)-color$/.exec(property)?.[1]
    const wide = new Set(this.listed.flatMap((l) => [...l.effect.keys()].flatMap((k) => /^border-(top|right|bottom|left)-width$/.exec(k)?.[1] ?? [])))
    const all = { property: 'border-color', value }
    if (side && wide.size > 0 && [...wide].every((w) => w === side) && gives(all)) return all
    // Boxes are laid out from the start alike, whether of the container or of its flow, unless that is reversed.
    const isReversed = ['flex-direction', 'flex-wrap'].some((k) => this.given(this.listed, k)?.includes('reverse'))
    if (!isReversed && /^(align|justify)-(items|self|content)$/.test(property) && /^(start|end)$/.test(value.trim())) others.push({ property, value: `flex-${value.trim()}` })
    const span = /^span (\d+)$/.exec(value.trim())?.[1]
    const axis = /^grid-(column|row)(?:-end)?$/.exec(property)?.[1]
    if (span && axis) others.push({ property: `grid-${axis}`, value: `span ${span} / span ${span}` })
    // Where the tracks of the list may shrink to nothing, one more of them may too.
    if (/^grid-template-(columns|rows)$/.test(property)) {
      const tracks = tracksOf(value)
      const now = this.given(this.listed, property)
      if (tracks?.shrink && now && tracksOf(now)?.shrink) others.push({ property, value: `repeat(${tracks.count}, minmax(0, 1fr))` })
    }
    return gives(wish) ? wish : (others.find(gives) ?? wish)
  }

  // A width and a height of the same step are one class, once one of them is written.
  private folded(listed: readonly Listed[], added: readonly { base: string }[]): { readonly gone: readonly Listed[]; readonly size: Listed } | null {
    const of = (name: string) => listed.filter((l) => l.effect.size === 1 && l.effect.has(name) && l.c.important === this.important)
    const [[width, ...w], [height, ...h]] = [of('width'), of('height')]
    if (!width || !height || w.length || h.length || !added.some((a) => a.base === width.c.base || a.base === height.c.base)) return null
    const base = this.v.giving(new Map([['width', width.effect.get('width')!], ['height', height.effect.get('height')!]]))[0]
    const c = base === undefined || width.effect.get('width') !== height.effect.get('height') ? null : this.v.read(this.v.spell(base, this.spelledVariant, this.important))
    return c && { gone: [width, height], size: { index: -1, c, effect: this.v.effect(c) } }
  }

  // What new classes say too, and nothing else: a line height that comes with a size.
  private saidByOthers(listed: readonly Listed[]): Listed[] {
    const fresh = listed.filter((l) => l.index < 0)
    return listed.filter((l) => l.index >= 0 && [...l.effect.keys()].some((k) => fresh.some((f) => f.effect.has(k))) && [...l.effect].every(([k, v]) => !setsSlots(l.c).composed.has(k) && this.given(listed.filter((x) => x !== l), k) === v))
  }

  // Whether classes that hold wherever the variant does give these values by themselves, with none beside them to decide.
  private holdsWithout(wanted: Effect): boolean {
    if (this.variant === '') return false
    const around = this.names.flatMap((name, index) => {
      const c = this.v.read(name)
      return c && partOf(c.variant) === partOf(this.variant) && !sameVariant(c.variant, this.variant) && !isUnder(this.v, this.variant, c.variant) ? [{ index, c, effect: this.v.effect(c) }] : []
    })
    return [...wanted].every(([k, v]) => {
      const saying = around.filter((l) => l.effect.has(k))
      const deciding = saying.filter((l) => !setsSlots(l.c).yields.has(k))
      const setting = deciding.length ? deciding : saying
      const last = setting.find((l) => setting.every((o) => o === l || isUnder(this.v, o.c.variant, l.c.variant) || (o.c.variant === l.c.variant && this.v.order([o.c.name, l.c.name]).get(l.c.name)! > this.v.order([o.c.name, l.c.name]).get(o.c.name)!)))
      return last !== undefined && isUnder(this.v, last.c.variant, this.variant) && last.effect.get(k) === v
    })
  }

  // What says under a narrower variant just what now holds without it, with nothing between the two.
  private repeated(listed: readonly Listed[], removed: ReadonlySet<number>, meant: ReadonlySet<string>): number[] {
    const others = this.names.flatMap((name, index) => {
      const c = removed.has(index) ? null : this.v.read(name)
      return c && !sameVariant(c.variant, this.variant) ? [{ index, c, effect: this.v.effect(c) }] : []
    })
    return others.filter((o) => isUnder(this.v, this.variant, o.c.variant) && !o.c.important && [...o.effect.keys()].some((k) => meant.has(k)) && [...o.effect].every(([k, v]) => this.given(listed, k) === v)
      && !others.some((x) => x !== o && !isUnder(this.v, x.c.variant, this.variant) && !isUnder(this.v, o.c.variant, x.c.variant) && [...o.effect.keys()].some((k) => x.effect.has(k)))).map((o) => o.index)
  }

  // What only sets a variable that no class of the list reads any more.
  private idle(listed: readonly Listed[], removed: ReadonlySet<number>): number[] {
    const all = this.names.map((name) => this.v.read(name))
    const isRead = (name: string, list: readonly (UtilityClass | null)[]) => list.some((c) => c && reads(c, name))
    const stay = [...all.filter((_, i) => !removed.has(i)), ...listed.map((l) => l.c)]
    return all.flatMap((c, i) => (c && !removed.has(i) && isOfVariables(c) && c.declared.every((d) => isRead(d.name, all) && !isRead(d.name, stay)) ? [i] : []))
  }

  // What one class says is asked for at once: `size-4` and not a width and a height.
  private joined(wishes: readonly ClassWish[]): readonly { wish: ClassWish; wanted: Effect }[] {
    const each = wishes.map((wish) => ({ wish, wanted: new Map(longhandsOf(wish.property).map((l) => [l, wish.value === null ? '' : this.v.normal(wish.property, wish.value, l)])) }))
    if (each.length < 2 || wishes.some((w) => w.value === null)) return each
    const all = new Map(each.flatMap(({ wanted }) => [...wanted]))
    return this.v.giving(all).length ? [{ wish: { property: 'all', value: '' }, wanted: all }] : each
  }

  // The variant as the list itself stacks it, where it has the same one.
  private get spelledVariant(): string {
    return this.listed[0]?.c.variant ?? this.variant
  }

  // The value that the list gives a longhand now, what one class leaves to others included.
  private given(listed: readonly Listed[], longhand: string): string | null {
    const decider = this.winner(listed, longhand) ?? listed.find((l) => l.effect.has(longhand))
    return decider?.effect.get(longhand) ?? null
  }

  private winner(listed: readonly Listed[], longhand: string): Listed | null {
    const setting = listed.filter((l) => l.effect.has(longhand) && !setsSlots(l.c).yields.has(longhand))
    const rank = (l: Listed) => (l.c.important ? 1e6 : 0) + (this.order.get(l.c.name) ?? 1e5)
    return setting.reduce<Listed | null>((a, b) => (a && rank(a) > rank(b) ? a : b), null)
  }

  /** A value of several layers or functions that classes set one by one: `shadow-md ring-2`, `blur-sm brightness-110`. */
  private inParts(pool: readonly Listed[], property: string, value: string): Solution | null {
    if (property === 'background-image') return this.asGradient(pool, value)
    const wanted = partsOf(property, this.v.normal(property, value, property))
    if (!wanted) return null
    const read = (base: string) => this.v.read(this.v.spell(base, this.spelledVariant, false))
    const isComposed = (c: UtilityClass) => setsSlots(c).composed.has(property)
    const slotsOf = (c: UtilityClass) => [...setsSlots(c).slots]
    const among = pool.filter((l) => l.effect.has(property))
    const left = [...wanted]
    const keep = among.filter((l) => {
      const own = partsOf(property, l.effect.get(property)!)
      if (!own?.length || !isComposed(l.c) || !own.every((p) => left.includes(p))) return false
      for (const p of own) left.splice(left.indexOf(p), 1)
      return true
    })
    // Parts that classes of wider variants give go on showing, unless a class of this one takes their place.
    const inherited = this.around.filter((l) => isComposed(l.c) && l.effect.has(property))
    const finished = (add: readonly string[]): Solution | null => {
      const taken = new Set([...keep.map((l) => l.c), ...add.flatMap((base) => read(base) ?? [])].flatMap(slotsOf))
      const open = inherited.filter((l) => slotsOf(l.c).some((s) => !taken.has(s)))
      const none = open.map((l) => this.v.giving(new Map([[property, 'none']])).find((base) => slotsOf(l.c).every((s) => setsSlots(read(base)!).slots.has(s))))
      return none.every((base) => base !== undefined) ? { among, keep, add: [...new Set([...add, ...none])] } : null
    }
    if (left.length === 0 && wanted.length > 0) return finished([])
    // Without its classes nothing is left of it; under a variant, or beside other rules, that has to be said.
    if (wanted.length === 0 && among.length > 0 && this.variant === '' && this.v.isCompiled) return { among, keep: [], add: [] }
    const isRight = (base: string, parts: string) => {
      const c = read(base)
      return c !== null && this.effectOf(c).get(property) === parts
    }
    const whole = wanted.length ? this.v.normal(property, value, property) : 'none'
    const alone = keep.length > 0 ? [] : this.v.giving(new Map([[property, whole]])).filter((base) => isRight(base, whole))
    // One that takes the place of all that is inherited is enough by itself.
    const enough = alone.find((base) => inherited.every((l) => slotsOf(l.c).every((s) => setsSlots(read(base)!).slots.has(s)))) ?? (inherited.length ? undefined : alone[0])
    if (enough !== undefined) return { among, keep, add: [enough] }
    if (wanted.length === 0) return finished([])
    const separator = property === 'box-shadow' ? ',' : ' '
    const groups = property === 'box-shadow' ? [left] : left.map((p) => [p])
    const slots = new Set(keep.flatMap((l) => slotsOf(l.c)))
    const add: string[] = []
    for (const group of groups) {
      const parts = group.join(separator)
      const effect = new Map([[property, parts]])
      // As typed, where nothing of it is said by classes that stay.
      const text = keep.length === 0 && groups.length === 1 ? value : parts
      const found = [...among.flatMap((l) => this.v.family(l.c)), ...this.v.giving(effect), ...this.v.made({ property, value: text, longhands: effect }), ...(text.includes('(') ? this.ofFunction(property, text, effect) : [])].find((base) => {
        const c = read(base)
        return c !== null && isComposed(c) && isRight(base, parts) && !slotsOf(c).some((s) => slots.has(s)) && (groups.length > 1 || property !== 'box-shadow' || inherited.every((l) => slotsOf(l.c).every((s) => slots.has(s) || setsSlots(c).slots.has(s))))
      })
      if (!found) return null
      for (const s of slotsOf(read(found)!)) slots.add(s)
      add.push(found)
    }
    return finished(add)
  }

  // The line of a gradient and each of its stops are a class of their own.
  private asGradient(pool: readonly Listed[], value: string): Solution | null {
    const effect = new Map([['background-image', this.v.normal('background-image', value, 'background-image')]])
    const among = pool.filter((l) => isOfGradient(l.c.declared) || l.effect.has('background-image'))
    // Any other image leaves none of a gradient's classes behind.
    const whole = () => among.some((l) => isOfGradient(l.c.declared)) ? [...this.v.giving(effect), ...this.v.made({ property: 'background-image', value, longhands: effect })].slice(0, 1) : []
    // The older name of the same class stays where the list has it.
    const older = (base: string) => among.find((l) => l.c.base === base.replace(/^bg-linear-(to-\w+)$/, 'bg-gradient-$1'))?.c.base
    const bases = gradientClasses(this.v, effect.get('background-image')!)?.map((b) => older(b) ?? b) ?? whole()
    if (bases.length === 0) return null
    const keep = among.filter((l) => bases.includes(l.c.base))
    return { among, keep, add: bases.filter((b) => !keep.some((l) => l.c.base === b)) }
  }

  // `blur-[3px]` takes what stands in `blur(3px)`.
  private ofFunction(property: string, text: string, effect: Effect): readonly string[] {
    const inner = /^[\w-]+\(([^]*)\)$/.exec(text)?.[1]
    if (inner === undefined) return []
    return this.v.made({ property, value: inner, longhands: effect })
  }

  private solve(pool: readonly Listed[], wish: ClassWish, wanted: Effect): Solution | null {
    const keys = [...wanted.keys()]
    const takes = (l: Listed) => keys.some((k) => l.effect.has(k) && !setsSlots(l.c).yields.has(k))
    const box = boxOf(keys[0])
    const family = box ? new Set(longhandsOf(box[0])) : null
    const among = pool.filter((l) => takes(l) || (family && [...l.effect.keys()].every((k, _, all) => family.has(k) || all.some((w) => family.has(w) && goesWith(w, k)))))
    const target = new Map<string, string>()
    for (const l of among) {
      for (const k of l.effect.keys()) {
        const companion = !wanted.has(k) && keys.some((w) => l.effect.has(w) && goesWith(w, k))
        const by = this.winner(among, k)
        if (!companion && by) target.set(k, by.effect.get(k)!)
      }
    }
    for (const [k, v] of wanted) {
      if (wish.value === null) target.delete(k)
      else target.set(k, v)
    }
    if (target.size === 0) return { among, keep: [], add: [] }
    const options = this.options(among, wish, wanted, target)
    const solved = this.cheapest(among, options, target, this.inPlace(among, options, wanted, wish))
    return solved && (this.withCompanions(pool, wish, wanted, target, solved) ?? solved)
  }

  // What went along with the class that goes, as a line height with a size, is said by a step of its own, where one says it.
  private withCompanions(pool: readonly Listed[], wish: ClassWish, wanted: Effect, target: Effect, { among, keep, add }: Solution): Solution | null {
    const gives = (k: string) => keep.some((l) => l.effect.has(k)) || add.some((base) => this.v.effect(this.v.read(this.v.spell(base, this.spelledVariant, false))!).has(k))
    const lost = new Map<string, string>()
    for (const l of among) {
      if (keep.includes(l)) continue
      for (const [k, v] of l.effect) if (!wanted.has(k) && [...wanted.keys()].some((w) => goesWith(w, k)) && this.winner(pool, k) === null && !gives(k)) lost.set(k, v)
    }
    if (wish.value === null || wish.value === 'none' || lost.size === 0) return null
    const steps = [...lost].map(([k, v]) => this.v.giving(new Map([[k, v]]))[0])
    return steps.every((s) => s !== undefined) && target.size > 0 ? { among, keep, add: [...add, ...steps] } : null
  }

  private options(among: readonly Listed[], wish: ClassWish, wanted: Effect, target: Effect): Option[] {
    const out = new Map<string, Option>()
    const take = (base: string, listed: Listed | null) => {
      const c = listed?.c ?? this.v.read(this.v.spell(base, this.spelledVariant, false))
      if (!c || (out.has(base) && !listed)) return
      const effect = this.v.effect(c)
      const covers = [...effect].filter(([k, v]) => target.get(k) === v).map(([k]) => k)
      const against = [...effect].some(([k, v]) => target.has(k) ? target.get(k) !== v && !setsSlots(c).yields.has(k) : !covers.some((x) => goesWith(x, k)))
      if (covers.length && !against) out.set(base, { base, listed, covers: new Set(covers), logical: isLogical(c) })
    }
    for (const l of among) take(l.c.base, l)
    for (const base of this.v.within(target)) take(base, null)
    // `text-lg/7` is `text-lg` with another height after its stroke.
    for (const l of among) {
      const [stem, after] = l.c.base.split(/\/(?![^[(]*[\])])/)
      if (after === undefined) continue
      const bases = this.v.made({ property: wish.property, value: wish.value ?? '', longhands: wanted })
      for (const base of [...this.v.giving(wanted), ...bases]) take(`${stem}/${base.slice(base.indexOf('-') + 1)}`, null)
    }
    // Values that no step has: as typed, and as classes that go say them; for each side, axis or all that share them.
    const typed = new Map([...wanted.keys()].map((k) => [k, [...wanted.keys()].length > 1 && !sameFor(wanted) ? null : wish.value]))
    const written = new Map<string, string>()
    for (const l of among) for (const d of l.c.declared) for (const k of longhandsOf(d.name)) if (target.get(k) === l.effect.get(k) && this.v.normal(k, d.value, k) === target.get(k)) written.set(k, d.value)
    const textOf = (k: string): string => (wanted.has(k) ? typed.get(k) : written.get(k)) ?? target.get(k)!
    const groups = [...(boxOf([...wanted.keys()][0]) ?? []), ...target.keys(), wish.property]
    for (const property of new Set(groups)) {
      const longhands = longhandsOf(property)
      if (!longhands.every((k) => target.has(k))) continue
      const uniform = new Set(longhands.map((k) => target.get(k))).size === 1
      if (!uniform && property !== wish.property) continue
      const value = property === wish.property && wish.value !== null ? wish.value : textOf(longhands[0])
      const own = new Map(longhands.map((k) => [k, target.get(k)!]))
      // A step says it better than brackets, where there is one.
      if (this.v.giving(own).length && [...own.keys()].every((k) => [...out.values()].some((o) => o.covers.has(k)))) continue
      for (const base of this.v.made({ property, value, longhands: own }).slice(0, 2)) take(base, null)
    }
    return [...out.values()]
  }

  // Only what decides now is put in another's place, as the list had it: what overlaps in it stays.
  private inPlace(among: readonly Listed[], options: readonly Option[], wanted: Effect, wish: ClassWish): Solution | null {
    const decider = this.winner(among, [...wanted.keys()][0])
    if (!decider || wish.value === null || ![...decider.effect.keys()].every((k) => wanted.has(k) || [...wanted.keys()].some((w) => goesWith(w, k)))) return null
    const base = options.filter((o) => !o.listed && [...wanted.keys()].every((k) => o.covers.has(k)) && [...o.covers].every((k) => wanted.has(k))).sort((a, b) => costOf(a) - costOf(b))[0]?.base
    if (base === undefined) return null
    // One that sets nothing that counts is left behind no longer.
    const alive = among.filter((l) => l === decider || [...l.effect.keys()].some((k) => this.winner(among, k) === l))
    return { among, keep: alive.filter((l) => l !== decider), add: [base] }
  }

  private cheapest(among: readonly Listed[], options: readonly Option[], target: Effect, inPlace: Solution | null): Solution | null {
    const keys = [...target.keys()]
    const price = (keep: readonly Listed[], add: readonly Option[]) =>
      100 * (keep.length + add.length) + 60 * (among.length - keep.length + add.length) + add.reduce((n, o) => n + costOf(o), 0)
    let best: { cost: number; solution: Solution } | null = null
    const offer = (keep: readonly Listed[], add: readonly Option[]) => {
      const cost = price(keep, add)
      if (!best || cost < best.cost) best = { cost, solution: { among, keep, add: add.map((o) => o.base) } }
    }
    const overlaid = [this.overlaid(among, options, target), this.underlaid(among, options, target)].filter((s) => s !== null).sort((a, b) => a.keep.length + a.add.length - b.keep.length - b.add.length)[0]
    if (inPlace) offer(inPlace.keep, inPlace.add.map((base) => options.find((o) => o.base === base)!))
    let steps = 0
    const search = (covered: ReadonlySet<string>, chosen: readonly Option[]) => {
      if (++steps > 20_000) return
      const next = keys.find((k) => !covered.has(k))
      if (next === undefined) {
        offer(chosen.flatMap((o) => o.listed ?? []), chosen.filter((o) => !o.listed))
        return
      }
      if (best && chosen.length * 100 > best.cost) return
      for (const o of options) {
        if (!o.covers.has(next) || [...o.covers].some((k) => covered.has(k))) continue
        search(new Set([...covered, ...o.covers]), [...chosen, o])
      }
    }
    search(new Set(), [])
    const solution = (best as { solution: Solution } | null)?.solution ?? null
    const count = (s: Solution) => s.keep.length + s.add.length
    // What no class is named for reads better in the place of what it is over, unless that takes several.
    const isNamed = overlaid?.add.every((base) => !base.startsWith('['))
    return overlaid && (!solution || count(overlaid) + (isNamed ? 0 : 1) < count(solution)) ? overlaid : solution
  }

  // One class more over what stays, where it comes after that in the vocabulary's order: `p-4 pl-5`, `plate rounded-lg`.
  private overlaid(among: readonly Listed[], options: readonly Option[], target: Effect): Solution | null {
    const changed = [...target].filter(([k, v]) => this.winner(among, k)?.effect.get(k) !== v).map(([k]) => k)
    if (changed.length === 0) return null
    const option = options.filter((o) => !o.listed && changed.every((k) => o.covers.has(k))).sort((a, b) => a.covers.size - b.covers.size || costOf(a) - costOf(b))[0]
    const c = option && this.v.read(this.v.spell(option.base, this.spelledVariant, this.important))
    if (!c) return null
    const keep = among.filter((l) => [...l.effect.keys()].some((k) => !option.covers.has(k) && this.winner(among, k) === l))
    const order = this.v.order([c.name, ...keep.map((l) => l.c.name)])
    const isLast = keep.every((l) => ![...option.covers].some((k) => l.effect.has(k)) || (order.get(l.c.name) ?? -1) < (order.get(c.name) ?? -1))
    return isLast && keep.length > 0 ? { among, keep, add: [option.base] } : null
  }

  // One class for the whole box, and over it what differs: `border-0 border-b`.
  private underlaid(among: readonly Listed[], options: readonly Option[], target: Effect): Solution | null {
    const box = boxOf([...target.keys()][0])
    const longhands = box ? longhandsOf(box[0]) : []
    if (longhands.length < 4 || !longhands.every((k) => target.has(k))) return null
    for (const value of new Set(longhands.map((k) => target.get(k)!))) {
      const differing = [...target.keys()].filter((k) => target.get(k) !== value)
      const over = options.filter((o) => differing.length > 0 && !o.base.startsWith('[') && differing.every((k) => o.covers.has(k)) && o.covers.size === differing.length).sort((a, b) => Number(b.listed !== null) - Number(a.listed !== null) || costOf(a) - costOf(b))[0]
      const under = over && this.v.giving(new Map(longhands.map((k) => [k, value])))[0]
      if (under === undefined) continue
      const [first, second] = [under, over.base].map((base) => this.v.spell(base, this.spelledVariant, this.important))
      const order = this.v.order([first, second])
      if (order.get(first)! >= order.get(second)!) continue
      const listed = among.find((l) => l.c.base === under)
      // A list that says each side for itself goes on doing so.
      if (among.filter((l) => l !== listed && l !== over.listed).length > 3) continue
      return { among, keep: [listed, over.listed].filter((l) => l !== undefined && l !== null), add: [...(listed ? [] : [under]), ...(over.listed ? [] : [over.base])] }
    }
    return null
  }

  /** Where what comes is to stand: in the place of what goes; else in the list's own order; else after the last of its kind. */
  private placed(removed: readonly number[], added: readonly { base: string; instead: number | null; important: boolean }[]): Omit<ClassPlan, 'moved'> {
    const names = added.map((a) => ({ ...a, name: this.v.spell(a.base, this.spelledVariant, a.important) })).filter((a) => !this.names.includes(a.name) || removed.includes(this.names.indexOf(a.name)))
    const again = removed.filter((i) => added.some((a) => this.v.spell(a.base, this.spelledVariant, a.important) === this.names[i]))
    const gone = removed.filter((i) => !again.includes(i))
    const fresh = names.filter((a) => !again.some((i) => this.names[i] === a.name))
    const canonical = this.isCanonical(this.names)
    const add = fresh.map(({ name, instead }) => ({ name, after: canonical ? this.canonicalPlace(name, gone, instead) : instead ?? this.afterItsKind(name) }))
    return { ok: true, change: { remove: gone, add }, removed: gone.map((i) => this.names[i]), added: fresh.map((f) => f.name) }
  }

  // After the last class that has to do with the same, else after the last of the variant.
  private afterItsKind(name: string): number {
    const own = [...(this.v.read(name)?.declared ?? [])].flatMap((d) => longhandsOf(d.name))
    const kin = new Set(own.flatMap((l) => [l, ...(boxOf(l) ? longhandsOf(boxOf(l)![0]) : [])]))
    const last = (list: readonly Listed[]) => list.reduce((at, l) => Math.max(at, l.index), -1)
    const alike = last(this.listed.filter((l) => [...l.effect.keys()].some((k) => kin.has(k))))
    return alike >= 0 ? alike : this.listed.length ? last(this.listed) : this.names.length - 1
  }

  private isCanonical(names: readonly string[]): boolean {
    if (names.length < 3) return false
    const order = this.v.order(names)
    return names.every((n, i) => i === 0 || order.get(names[i - 1])! <= order.get(n)!)
  }

  private canonicalPlace(name: string, gone: readonly number[], instead: number | null): number {
    const order = this.v.order([...this.names, name])
    const before = this.names.findLastIndex((n, i) => order.get(n)! <= order.get(name)! && !gone.includes(i))
    // In the place of what goes, where that keeps the order: the least change.
    const next = this.names.findIndex((_, i) => i > before && !gone.includes(i))
    return instead !== null && instead >= before && (next < 0 || instead < next) && gone.includes(instead) ? instead : before
  }
}

interface Option {
  readonly base: string
  readonly listed: Listed | null
  readonly covers: ReadonlySet<string>
  /** Whether it names a side by the flow of text. */
  readonly logical: boolean
}

interface Solution {
  /** Classes that were looked at: those not kept go. */
  readonly among: readonly Listed[]
  readonly keep: readonly Listed[]
  readonly add: string[]
}

const costOf = (o: Option): number => (o.base.startsWith('[') ? 80 : /[[(]/.test(o.base) ? 30 : 0) + (o.logical ? 2 : 0) + (o.base.startsWith('-') ? 3 : 0) + o.base.length / 10

// How many tracks of one share each a list has, and whether each may shrink to nothing; null where it has others.
function tracksOf(value: string): { readonly count: number; readonly shrink: boolean } | null {
  const flat = value.replace(/repeat\(\s*(\d+)\s*,\s*(minmax\(\s*0(?:px)?\s*,\s*1fr\s*\)|1fr)\s*\)/g, (_, n: string, track: string) => Array.from({ length: Math.min(64, Number(n)) }, () => track).join(' '))
  const tracks = flat.trim().split(/\s+(?![^(]*\))/)
  const shrinks = tracks.filter((t) => /^minmax\(\s*0(?:px)?\s*,\s*1fr\s*\)$/.test(t)).length
  return tracks.every((t) => t === '1fr' || /^minmax\(\s*0(?:px)?\s*,\s*1fr\s*\)$/.test(t)) ? { count: tracks.length, shrink: shrinks > 0 } : null
}

const isLogical = (c: UtilityClass): boolean => c.declared.some((d) => physicalName(d.name) !== d.name)

const sameFor = (effect: Effect): boolean => new Set(effect.values()).size === 1
