import { longhandsOf } from '../css'
import { boxOf, type Listed, type ReadList } from './read-list'
import type { ClassPlan } from './types'

/** Where what comes is to stand: in the place of what goes; else in the list's own order; else after the last of its kind. */
export function placed(
  list: ReadList,
  removed: readonly number[],
  added: readonly { base: string; instead: number | null; important: boolean }[],
): Omit<ClassPlan, 'moved'> {
  const names = added
    .map((a) => ({ ...a, name: list.spell(a.base, a.important) }))
    .filter((a) => !list.names.includes(a.name) || removed.includes(list.names.indexOf(a.name)))
  const again = removed.filter((i) => added.some((a) => list.spell(a.base, a.important) === list.names[i]))
  const gone = removed.filter((i) => !again.includes(i))
  const fresh = names.filter((a) => !again.some((i) => list.names[i] === a.name))
  const canonical = isCanonical(list, list.names)
  const add = fresh.map(({ name, instead }) => ({
    name,
    after: canonical ? canonicalPlace(list, name, gone, instead) : (instead ?? afterItsKind(list, name)),
  }))
  return {
    ok: true,
    change: { remove: gone, add },
    removed: gone.map((i) => list.names[i]),
    added: fresh.map((f) => f.name),
  }
}

// After the last class that has to do with the same, else after the last of the variant.
function afterItsKind(list: ReadList, name: string): number {
  const own = [...(list.v.read(name)?.declared ?? [])].flatMap((d) => longhandsOf(d.name))
  const kin = new Set(own.flatMap((l) => [l, ...(boxOf(l) ? longhandsOf(boxOf(l)![0]) : [])]))
  const last = (list: readonly Listed[]) => list.reduce((at, l) => Math.max(at, l.index), -1)
  const alike = last(list.listed.filter((l) => [...l.effect.keys()].some((k) => kin.has(k))))
  return alike >= 0 ? alike : list.listed.length ? last(list.listed) : list.names.length - 1
}

function isCanonical(list: ReadList, names: readonly string[]): boolean {
  if (names.length < 3) return false
  const order = list.v.order(names)
  return names.every((n, i) => i === 0 || order.get(names[i - 1])! <= order.get(n)!)
}

function canonicalPlace(list: ReadList, name: string, gone: readonly number[], instead: number | null): number {
  const order = list.v.order([...list.names, name])
  const before = list.names.findLastIndex((n, i) => order.get(n)! <= order.get(name)! && !gone.includes(i))
  // In the place of what goes, where that keeps the order: the least change.
  const next = list.names.findIndex((_, i) => i > before && !gone.includes(i))
  return instead !== null && instead >= before && (next < 0 || instead < next) && gone.includes(instead) ? instead : before
}
