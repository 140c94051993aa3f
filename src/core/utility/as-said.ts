import { longhandsOf } from '../css'
import type { ReadList } from './read-list'
import type { ClassWish } from './types'

/** The values that transform as little as `none` does (CSS Transforms 2 §6). */
const NO_TRANSFORM: Readonly<Record<string, string>> = { translate: '0 0', rotate: '0deg', scale: '1' }

/** A wish as the classes of the list, and those of the vocabulary, would say it. */
export function asSaid(list: ReadList, wish: ClassWish): ClassWish {
  const { property, value } = wish
  if (value === null) return wish
  const gives = (w: ClassWish) =>
    list.v.giving(new Map(longhandsOf(w.property).map((l) => [l, list.v.normal(w.property, w.value!, l)]))).length > 0
  const others: ClassWish[] = []
  // Of a border that only some sides have, the colour is that of all.
  const side = /^border-(top|right|bottom|left)-color$/.exec(property)?.[1]
  const wide = new Set(
    list.listed.flatMap((l) => [...l.effect.keys()].flatMap((k) => /^border-(top|right|bottom|left)-width$/.exec(k)?.[1] ?? [])),
  )
  const all = { property: 'border-color', value }
  if (side && wide.size > 0 && [...wide].every((w) => w === side) && gives(all)) return all
  // Boxes are laid out from the start alike, whether of the container or of its flow, unless that is reversed.
  const isReversed = ['flex-direction', 'flex-wrap'].some((k) => list.given(list.listed, k)?.includes('reverse'))
  if (!isReversed && /^(align|justify)-(items|self|content)$/.test(property) && /^(start|end)$/.test(value.trim()))
    others.push({ property, value: `flex-${value.trim()}` })
  // Version 3 has no step that turns one off.
  if (value.trim() === 'none' && property in NO_TRANSFORM) others.push({ property, value: NO_TRANSFORM[property] })
  const span = /^span (\d+)$/.exec(value.trim())?.[1]
  const axis = /^grid-(column|row)(?:-end)?$/.exec(property)?.[1]
  if (span && axis) others.push({ property: `grid-${axis}`, value: `span ${span} / span ${span}` })
  // Where the tracks of the list may shrink to nothing, one more of them may too.
  if (/^grid-template-(columns|rows)$/.test(property)) {
    const tracks = tracksOf(value)
    const now = list.given(list.listed, property)
    if (tracks?.shrink && now && tracksOf(now)?.shrink) others.push({ property, value: `repeat(${tracks.count}, minmax(0, 1fr))` })
  }
  return gives(wish) ? wish : (others.find(gives) ?? wish)
}

// How many tracks of one share each a list has, and whether each may shrink to nothing; null where it has others.
function tracksOf(value: string): { readonly count: number; readonly shrink: boolean } | null {
  const flat = value.replace(/repeat\(\s*(\d+)\s*,\s*(minmax\(\s*0(?:px)?\s*,\s*1fr\s*\)|1fr)\s*\)/g, (_, n: string, track: string) =>
    Array.from({ length: Math.min(64, Number(n)) }, () => track).join(' '),
  )
  const tracks = flat.trim().split(/\s+(?![^(]*\))/)
  const shrinks = tracks.filter((t) => /^minmax\(\s*0(?:px)?\s*,\s*1fr\s*\)$/.test(t)).length
  return tracks.every((t) => t === '1fr' || /^minmax\(\s*0(?:px)?\s*,\s*1fr\s*\)$/.test(t))
    ? { count: tracks.length, shrink: shrinks > 0 }
    : null
}
