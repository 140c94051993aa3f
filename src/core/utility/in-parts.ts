import { gradientClasses, isOfGradient } from './gradient-classes'
import type { Effect } from './class-index'
import type { Listed, ReadList, Solution } from './read-list'
import { partsOf, setsSlots } from './slots'
import type { UtilityClass } from './types'

/** A value of several layers or functions that classes set one by one: `shadow-md ring-2`, `blur-sm brightness-110`. */
export function inParts(list: ReadList, pool: readonly Listed[], property: string, value: string): Solution | null {
  if (property === 'background-image') return asGradient(list, pool, value)
  const wanted = partsOf(property, list.v.normal(property, value, property))
  if (!wanted) return null
  const read = (base: string) => list.read(base)
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
  const inherited = list.around.filter((l) => isComposed(l.c) && l.effect.has(property))
  const finished = (add: readonly string[]): Solution | null => {
    const taken = new Set([...keep.map((l) => l.c), ...add.flatMap((base) => read(base) ?? [])].flatMap(slotsOf))
    const open = inherited.filter((l) => slotsOf(l.c).some((s) => !taken.has(s)))
    const none = open.map((l) =>
      list.v.giving(new Map([[property, 'none']])).find((base) => slotsOf(l.c).every((s) => setsSlots(read(base)!).slots.has(s))),
    )
    return none.every((base) => base !== undefined) ? { among, keep, add: [...new Set([...add, ...none])] } : null
  }
  if (left.length === 0 && wanted.length > 0) return finished([])
  // Without its classes nothing is left of it; under a variant, or beside other rules, that has to be said.
  if (wanted.length === 0 && among.length > 0 && list.variant === '' && list.v.isCompiled) return { among, keep: [], add: [] }
  const isRight = (base: string, parts: string) => {
    const c = read(base)
    return c !== null && list.effectOf(c).get(property) === parts
  }
  const whole = wanted.length ? list.v.normal(property, value, property) : 'none'
  const alone = keep.length > 0 ? [] : list.v.giving(new Map([[property, whole]])).filter((base) => isRight(base, whole))
  // One that takes the place of all that is inherited is enough by itself.
  const enough =
    alone.find((base) => inherited.every((l) => slotsOf(l.c).every((s) => setsSlots(read(base)!).slots.has(s)))) ??
    (inherited.length ? undefined : alone[0])
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
    const found = [
      ...among.flatMap((l) => list.v.family(l.c)),
      ...list.v.giving(effect),
      ...list.v.made({ property, value: text, longhands: effect }),
      ...(text.includes('(') ? ofFunction(list, property, text, effect) : []),
    ].find((base) => {
      const c = read(base)
      return (
        c !== null &&
        isComposed(c) &&
        isRight(base, parts) &&
        !slotsOf(c).some((s) => slots.has(s)) &&
        (groups.length > 1 ||
          property !== 'box-shadow' ||
          inherited.every((l) => slotsOf(l.c).every((s) => slots.has(s) || setsSlots(c).slots.has(s))))
      )
    })
    if (!found) return null
    for (const s of slotsOf(read(found)!)) slots.add(s)
    add.push(found)
  }
  return finished(add)
}

// The line of a gradient and each of its stops are a class of their own.
function asGradient(list: ReadList, pool: readonly Listed[], value: string): Solution | null {
  const effect = new Map([['background-image', list.v.normal('background-image', value, 'background-image')]])
  const among = pool.filter((l) => isOfGradient(l.c.declared) || l.effect.has('background-image'))
  // Any other image leaves none of a gradient's classes behind.
  const whole = () =>
    among.some((l) => isOfGradient(l.c.declared))
      ? [...list.v.giving(effect), ...list.v.made({ property: 'background-image', value, longhands: effect })].slice(0, 1)
      : []
  // The older name of the same class stays where the list has it.
  const older = (base: string) => among.find((l) => l.c.base === base.replace(/^bg-linear-(to-\w+)$/, 'bg-gradient-$1'))?.c.base
  const bases = gradientClasses(list.v, effect.get('background-image')!)?.map((b) => older(b) ?? b) ?? whole()
  if (bases.length === 0) return null
  const keep = among.filter((l) => bases.includes(l.c.base))
  return { among, keep, add: bases.filter((b) => !keep.some((l) => l.c.base === b)) }
}

// `blur-[3px]` takes what stands in `blur(3px)`.
function ofFunction(list: ReadList, property: string, text: string, effect: Effect): readonly string[] {
  const inner = /^[\w-]+\(([^]*)\)$/.exec(text)?.[1]
  if (inner === undefined) return []
  return list.v.made({ property, value: inner, longhands: effect })
}
