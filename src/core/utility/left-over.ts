import type { Effect } from './class-index'
import { isOfVariables, ReadList, reads, type Listed } from './read-list'
import { setsSlots } from './slots'
import type { UtilityClass } from './types'
import { isUnder, partOf, sameVariant } from './variants'

/** What new classes say too, and nothing else: a line height that comes with a size. */
export function saidByOthers(list: ReadList, listed: readonly Listed[]): Listed[] {
  const fresh = listed.filter((l) => l.index < 0)
  return listed.filter(
    (l) =>
      l.index >= 0 &&
      [...l.effect.keys()].some((k) => fresh.some((f) => f.effect.has(k))) &&
      [...l.effect].every(
        ([k, v]) =>
          !setsSlots(l.c).composed.has(k) &&
          list.given(
            listed.filter((x) => x !== l),
            k,
          ) === v,
      ),
  )
}

/** Whether classes that hold wherever the variant does give these values by themselves, with none beside them to decide. */
export function holdsWithout(list: ReadList, wanted: Effect): boolean {
  if (list.variant === '') return false
  const around = list.names.flatMap((name, index) => {
    const c = list.v.read(name)
    return c &&
      partOf(c.variant) === partOf(list.variant) &&
      !sameVariant(c.variant, list.variant) &&
      !isUnder(list.v, list.variant, c.variant)
      ? [{ index, c, effect: list.v.effect(c) }]
      : []
  })
  return [...wanted].every(([k, v]) => {
    const saying = around.filter((l) => l.effect.has(k))
    const deciding = saying.filter((l) => !setsSlots(l.c).yields.has(k))
    const setting = deciding.length ? deciding : saying
    const last = setting.find((l) =>
      setting.every(
        (o) =>
          o === l ||
          isUnder(list.v, o.c.variant, l.c.variant) ||
          (o.c.variant === l.c.variant &&
            list.v.order([o.c.name, l.c.name]).get(l.c.name)! > list.v.order([o.c.name, l.c.name]).get(o.c.name)!),
      ),
    )
    return last !== undefined && isUnder(list.v, last.c.variant, list.variant) && last.effect.get(k) === v
  })
}

/** What says under a narrower variant just what now holds without it, with nothing between the two. */
export function repeated(list: ReadList, listed: readonly Listed[], removed: ReadonlySet<number>, meant: ReadonlySet<string>): number[] {
  const others = list.names.flatMap((name, index) => {
    const c = removed.has(index) ? null : list.v.read(name)
    return c && !sameVariant(c.variant, list.variant) ? [{ index, c, effect: list.v.effect(c) }] : []
  })
  const isSaidHere = (o: Listed) =>
    [...o.effect].every(([k, v]) => list.given(listed, k) === v) &&
    !others.some(
      (x) =>
        x !== o &&
        !isUnder(list.v, x.c.variant, list.variant) &&
        !isUnder(list.v, o.c.variant, x.c.variant) &&
        [...o.effect.keys()].some((k) => x.effect.has(k)),
    )
  // What went let through what a class of another variant says there.
  const isSaidBeside = (o: Listed) => {
    const rest = [
      ...list.names.filter((_, i) => !removed.has(i) && i !== o.index),
      ...listed.filter((l) => l.index < 0).map((l) => l.c.name),
    ]
    return holdsWithout(new ReadList(list.v, rest, o.c.variant, false), o.effect)
  }
  return others
    .filter(
      (o) =>
        isUnder(list.v, list.variant, o.c.variant) &&
        !o.c.important &&
        [...o.effect.keys()].some((k) => meant.has(k)) &&
        (isSaidHere(o) || isSaidBeside(o)),
    )
    .map((o) => o.index)
}

/** What only sets a variable that no class of the list reads any more. */
export function idle(list: ReadList, listed: readonly Listed[], removed: ReadonlySet<number>): number[] {
  const all = list.names.map((name) => list.v.read(name))
  const isRead = (name: string, list: readonly (UtilityClass | null)[]) => list.some((c) => c && reads(c, name))
  const stay = [...all.filter((_, i) => !removed.has(i)), ...listed.map((l) => l.c)]
  return all.flatMap((c, i) =>
    c && !removed.has(i) && isOfVariables(c) && c.declared.every((d) => isRead(d.name, all) && !isRead(d.name, stay)) ? [i] : [],
  )
}
