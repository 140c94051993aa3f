import { components, longhandsOf } from '../css'
import { commaList } from '../value'
import type { UtilityClass } from './types'

export interface Slots {
  /** What no second class may set: a longhand, or the variable of one that several classes make up together. */
  readonly slots: ReadonlySet<string>
  /** Longhands that it only gives what other classes say in variables. */
  readonly yields: ReadonlySet<string>
  /** Longhands that it gives a part of, beside the parts of other classes. */
  readonly composed: ReadonlySet<string>
}

const known = new WeakMap<UtilityClass['declared'], Slots>()

/** What a class takes up in the list that it stands in. */
export function setsSlots(c: UtilityClass): Slots {
  let found = known.get(c.declared)
  if (found) return found
  const own = new Set(c.declared.filter((d) => d.name.startsWith('--')).map((d) => d.name))
  const slots = new Set<string>()
  const yields = new Set<string>()
  const composed = new Set<string>()
  for (const d of c.declared) {
    const on = d.on ? `${d.on}|` : ''
    if (d.name.startsWith('--')) {
      if (own.size === c.declared.length) slots.add(on + d.name)
      continue
    }
    const used = [...d.value.matchAll(/var\((--tw-[\w-]+)/g)].map((m) => m[1])
    const mine = used.filter((name) => own.has(name))
    for (const longhand of longhandsOf(d.name)) {
      if (used.length > mine.length && mine.length === 0) yields.add(on + longhand)
      else if (used.length > mine.length) {
        composed.add(on + longhand)
        for (const name of mine) slots.add(`${on}${longhand}#${name}`)
      } else slots.add(on + longhand)
    }
  }
  known.set(c.declared, (found = { slots, yields, composed }))
  return found
}

/** The parts of a value that classes set one by one; null where the property has none. */
export function partsOf(property: string, normal: string): string[] | null {
  if (normal === 'none') return /^(box-shadow|filter|backdrop-filter)$/.test(property) ? [] : null
  switch (property) {
    case 'box-shadow':
      return commaList(normal)
    case 'filter':
    case 'backdrop-filter':
      return components(normal).map((p) => normal.slice(p.from, p.to))
    case 'transform': {
      // Of several the order counts, and classes have one of their own.
      const list = components(normal)
      return list.length === 1 && normal !== 'none' ? [normal] : null
    }
    case 'translate': {
      const [x, y = '0', z] = components(normal).map((p) => normal.slice(p.from, p.to))
      return z === undefined && x !== undefined ? [...(x === '0' ? [] : [`${x} 0`]), ...(y === '0' ? [] : [`0 ${y}`])] : null
    }
    default:
      return null
  }
}
