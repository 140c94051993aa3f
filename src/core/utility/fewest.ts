import { longhandsOf, physicalName } from '../css'
import { goesWith, type Effect } from './class-index'
import { boxOf, type Listed, type ReadList, type Solution } from './read-list'
import { setsSlots } from './slots'
import type { ClassWish, UtilityClass } from './types'

interface Option {
  readonly base: string
  readonly listed: Listed | null
  readonly covers: ReadonlySet<string>
  /** Whether it names a side by the flow of text. */
  readonly logical: boolean
}

/** The fewest classes, and the least change, that give longhands these values; null where no class does. */
export function solve(list: ReadList, pool: readonly Listed[], wish: ClassWish, wanted: Effect): Solution | null {
  const keys = [...wanted.keys()]
  const takes = (l: Listed) => keys.some((k) => l.effect.has(k) && !setsSlots(l.c).yields.has(k))
  const box = boxOf(keys[0])
  const family = box ? new Set(longhandsOf(box[0])) : null
  const among = pool.filter(
    (l) =>
      takes(l) || (family && [...l.effect.keys()].every((k, _, all) => family.has(k) || all.some((w) => family.has(w) && goesWith(w, k)))),
  )
  const target = new Map<string, string>()
  for (const l of among) {
    for (const k of l.effect.keys()) {
      const companion = !wanted.has(k) && keys.some((w) => l.effect.has(w) && goesWith(w, k))
      const by = list.winner(among, k)
      if (!companion && by) target.set(k, by.effect.get(k)!)
    }
  }
  for (const [k, v] of wanted) {
    if (wish.value === null) target.delete(k)
    else target.set(k, v)
  }
  if (target.size === 0) return { among, keep: [], add: [] }
  const found = options(list, among, wish, wanted, target)
  const solved = cheapest(list, among, found, target, inPlace(list, among, found, wanted, wish))
  return solved && (withCompanions(list, pool, wish, wanted, target, solved) ?? solved)
}

// What went along with the class that goes, as a line height with a size, is said by a step of its own, where one says it.
function withCompanions(
  list: ReadList,
  pool: readonly Listed[],
  wish: ClassWish,
  wanted: Effect,
  target: Effect,
  { among, keep, add }: Solution,
): Solution | null {
  const gives = (k: string) => keep.some((l) => l.effect.has(k)) || add.some((base) => list.v.effect(list.read(base)!).has(k))
  const lost = new Map<string, string>()
  for (const l of among) {
    if (keep.includes(l)) continue
    for (const [k, v] of l.effect)
      if (!wanted.has(k) && [...wanted.keys()].some((w) => goesWith(w, k)) && list.winner(pool, k) === null && !gives(k)) lost.set(k, v)
  }
  if (wish.value === null || wish.value === 'none' || lost.size === 0) return null
  const steps = [...lost].map(([k, v]) => list.v.giving(new Map([[k, v]]))[0])
  return steps.every((s) => s !== undefined) && target.size > 0 ? { among, keep, add: [...add, ...steps] } : null
}

function options(list: ReadList, among: readonly Listed[], wish: ClassWish, wanted: Effect, target: Effect): Option[] {
  const out = new Map<string, Option>()
  const take = (base: string, listed: Listed | null) => {
    const c = listed?.c ?? list.read(base)
    if (!c || (out.has(base) && !listed)) return
    const effect = list.v.effect(c)
    const covers = [...effect].filter(([k, v]) => target.get(k) === v).map(([k]) => k)
    const against = [...effect].some(([k, v]) =>
      target.has(k) ? target.get(k) !== v && !setsSlots(c).yields.has(k) : !covers.some((x) => goesWith(x, k)),
    )
    if (covers.length && !against) out.set(base, { base, listed, covers: new Set(covers), logical: isLogical(c) })
  }
  for (const l of among) take(l.c.base, l)
  for (const base of list.v.within(target)) take(base, null)
  // `text-lg/7` is `text-lg` with another height after its stroke.
  for (const l of among) {
    const [stem, after] = l.c.base.split(/\/(?![^[(]*[\])])/)
    if (after === undefined) continue
    const bases = list.v.made({ property: wish.property, value: wish.value ?? '', longhands: wanted })
    for (const base of [...list.v.giving(wanted), ...bases]) take(`${stem}/${base.slice(base.indexOf('-') + 1)}`, null)
  }
  // Values that no step has: as typed, and as classes that go say them; for each side, axis or all that share them.
  const typed = new Map([...wanted.keys()].map((k) => [k, [...wanted.keys()].length > 1 && !sameFor(wanted) ? null : wish.value]))
  const written = new Map<string, string>()
  for (const l of among)
    for (const d of l.c.declared)
      for (const k of longhandsOf(d.name))
        if (target.get(k) === l.effect.get(k) && list.v.normal(k, d.value, k) === target.get(k)) written.set(k, d.value)
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
    if (list.v.giving(own).length && [...own.keys()].every((k) => [...out.values()].some((o) => o.covers.has(k)))) continue
    for (const base of list.v.made({ property, value, longhands: own }).slice(0, 2)) take(base, null)
  }
  return [...out.values()]
}

// Only what decides now is put in another's place, as the list had it: what overlaps in it stays.
function inPlace(list: ReadList, among: readonly Listed[], options: readonly Option[], wanted: Effect, wish: ClassWish): Solution | null {
  const decider = list.winner(among, [...wanted.keys()][0])
  if (
    !decider ||
    wish.value === null ||
    ![...decider.effect.keys()].every((k) => wanted.has(k) || [...wanted.keys()].some((w) => goesWith(w, k)))
  )
    return null
  const base = options
    .filter((o) => !o.listed && [...wanted.keys()].every((k) => o.covers.has(k)) && [...o.covers].every((k) => wanted.has(k)))
    .sort((a, b) => costOf(a) - costOf(b))[0]?.base
  if (base === undefined) return null
  // One that sets nothing that counts is left behind no longer.
  const alive = among.filter((l) => l === decider || [...l.effect.keys()].some((k) => list.winner(among, k) === l))
  return { among, keep: alive.filter((l) => l !== decider), add: [base] }
}

function cheapest(
  list: ReadList,
  among: readonly Listed[],
  options: readonly Option[],
  target: Effect,
  inPlace: Solution | null,
): Solution | null {
  const keys = [...target.keys()]
  const price = (keep: readonly Listed[], add: readonly Option[]) =>
    100 * (keep.length + add.length) + 60 * (among.length - keep.length + add.length) + add.reduce((n, o) => n + costOf(o), 0)
  let best: { cost: number; solution: Solution } | null = null
  const offer = (keep: readonly Listed[], add: readonly Option[]) => {
    const cost = price(keep, add)
    if (!best || cost < best.cost) best = { cost, solution: { among, keep, add: add.map((o) => o.base) } }
  }
  const oneOver = [overlaid(list, among, options, target), underlaid(list, among, options, target)]
    .filter((s) => s !== null)
    .sort((a, b) => a.keep.length + a.add.length - b.keep.length - b.add.length)[0]
  if (inPlace)
    offer(
      inPlace.keep,
      inPlace.add.map((base) => options.find((o) => o.base === base)!),
    )
  let steps = 0
  const search = (covered: ReadonlySet<string>, chosen: readonly Option[]) => {
    if (++steps > 20_000) return
    const next = keys.find((k) => !covered.has(k))
    if (next === undefined) {
      offer(
        chosen.flatMap((o) => o.listed ?? []),
        chosen.filter((o) => !o.listed),
      )
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
  const isNamed = oneOver?.add.every((base) => !base.startsWith('['))
  return oneOver && (!solution || count(oneOver) + (isNamed ? 0 : 1) < count(solution)) ? oneOver : solution
}

// One class more over what stays, where it comes after that in the vocabulary's order: `p-4 pl-5`, `plate rounded-lg`.
function overlaid(list: ReadList, among: readonly Listed[], options: readonly Option[], target: Effect): Solution | null {
  const changed = [...target].filter(([k, v]) => list.winner(among, k)?.effect.get(k) !== v).map(([k]) => k)
  if (changed.length === 0) return null
  const option = options
    .filter((o) => !o.listed && changed.every((k) => o.covers.has(k)))
    .sort((a, b) => a.covers.size - b.covers.size || costOf(a) - costOf(b))[0]
  const c = option && list.v.read(list.spell(option.base, list.important))
  if (!c) return null
  const keep = among.filter((l) => [...l.effect.keys()].some((k) => !option.covers.has(k) && list.winner(among, k) === l))
  const order = list.v.order([c.name, ...keep.map((l) => l.c.name)])
  const isLast = keep.every(
    (l) => ![...option.covers].some((k) => l.effect.has(k)) || (order.get(l.c.name) ?? -1) < (order.get(c.name) ?? -1),
  )
  return isLast && keep.length > 0 ? { among, keep, add: [option.base] } : null
}

// One class for the whole box, and over it what differs: `border-0 border-b`.
function underlaid(list: ReadList, among: readonly Listed[], options: readonly Option[], target: Effect): Solution | null {
  const box = boxOf([...target.keys()][0])
  const longhands = box ? longhandsOf(box[0]) : []
  if (longhands.length < 4 || !longhands.every((k) => target.has(k))) return null
  for (const value of new Set(longhands.map((k) => target.get(k)!))) {
    const differing = [...target.keys()].filter((k) => target.get(k) !== value)
    const over = options
      .filter(
        (o) =>
          differing.length > 0 && !o.base.startsWith('[') && differing.every((k) => o.covers.has(k)) && o.covers.size === differing.length,
      )
      .sort((a, b) => Number(b.listed !== null) - Number(a.listed !== null) || costOf(a) - costOf(b))[0]
    const under = over && list.v.giving(new Map(longhands.map((k) => [k, value])))[0]
    if (under === undefined) continue
    const [first, second] = [under, over.base].map((base) => list.spell(base, list.important))
    const order = list.v.order([first, second])
    if (order.get(first)! >= order.get(second)!) continue
    const listed = among.find((l) => l.c.base === under)
    // A list that says each side for itself goes on doing so.
    if (among.filter((l) => l !== listed && l !== over.listed).length > 3) continue
    return {
      among,
      keep: [listed, over.listed].filter((l) => l !== undefined && l !== null),
      add: [...(listed ? [] : [under]), ...(over.listed ? [] : [over.base])],
    }
  }
  return null
}

const costOf = (o: Option): number =>
  (o.base.startsWith('[') ? 80 : /[[(]/.test(o.base) ? 30 : 0) + (o.logical ? 2 : 0) + (o.base.startsWith('-') ? 3 : 0) + o.base.length / 10

const isLogical = (c: UtilityClass): boolean => c.declared.some((d) => physicalName(d.name) !== d.name)

const sameFor = (effect: Effect): boolean => new Set(effect.values()).size === 1
