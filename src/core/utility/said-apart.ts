import { functions, transition } from '../value'
import type { ClassWish } from './types'

/** The properties that a transform is made of before `transform` itself, in the order in which they apply (CSS Transforms 2 §6). */
export const OF_TRANSFORM = ['translate', 'rotate', 'scale'] as const

type OfTransform = (typeof OF_TRANSFORM)[number]

function ofFunction({ name, args }: functions.FunctionCall): { readonly property: OfTransform; readonly value: string } | null {
  const [x, y, ...more] = args.split(',').map((a) => a.trim())
  if (more.length) return null
  switch (name.toLowerCase()) {
    case 'translate':
      return { property: 'translate', value: `${x} ${y ?? '0'}` }
    case 'translatex':
      return { property: 'translate', value: `${x} 0` }
    case 'translatey':
      return { property: 'translate', value: `0 ${x}` }
    case 'rotate':
    case 'rotatez':
      return { property: 'rotate', value: x }
    case 'scale':
      return { property: 'scale', value: y === undefined || y === x ? x : `${x} ${y}` }
    case 'scalex':
      return { property: 'scale', value: `${x} 1` }
    case 'scaley':
      return { property: 'scale', value: `1 ${x}` }
    default:
      return null
  }
}

// Moved along one axis and then the other is moved along both.
function alongBoth(first: string, second: string): (ClassWish & { readonly property: 'translate'; readonly value: string }) | null {
  const [[ax, ay = '0'], [bx, by]] = [first.split(' '), second.split(' ')]
  const isNothing = (text: string) => /^0(px|%)?$/.test(text)
  if (!(isNothing(ax) || isNothing(bx)) || !(isNothing(ay) || isNothing(by))) return null
  return { property: 'translate', value: `${isNothing(ax) ? bx : ax} ${isNothing(ay) ? by : ay}` }
}

/**
 * A `transform` as the properties that classes give one by one. `there` are those that the list gives now: a function is
 * not said by a property that is there, nor by one that would come to apply before what it came after.
 */
function transformApart(value: string, there: ReadonlyMap<string, string>): ClassWish[] | null {
  const parts = functions
    .parse(value)
    ?.map(ofFunction)
    .map((p) => (p?.property === 'translate' && there.has('translate') ? alongBoth(there.get('translate')!, p.value) : p))
  if (!parts?.length || there.has('transform') || !parts.every((p) => p !== null)) return null
  let last = -1
  for (const { property } of parts) {
    const at = OF_TRANSFORM.indexOf(property)
    const scale = property === 'rotate' ? there.get('scale') : undefined
    // A turn and an even scale give the same in either order.
    const isLast = OF_TRANSFORM.slice(at + 1).every((p) => !there.has(p) || (p === 'scale' && scale !== undefined && !scale.includes(' ')))
    if (at <= last || (there.has(property) && property !== 'translate') || !isLast) return null
    last = at
  }
  return parts
}

/** One transition as its longhands: those parts that are written, the others stay what a class gives with them. */
function transitionApart(value: string): ClassWish[] | null {
  const [item, ...more] = transition.parse(value) ?? []
  if (!item || more.length || item.behavior !== null) return null
  if (item.property === 'none') return [{ property: 'transition-property', value: 'none' }]
  return [
    { property: 'transition-property', value: item.property ?? 'all' },
    { property: 'transition-duration', value: item.duration },
    { property: 'transition-timing-function', value: item.easing },
    { property: 'transition-delay', value: item.delay },
  ].filter((w) => w.value !== null)
}

/** A value as several properties, for which a vocabulary may have steps where it has none for the whole; null where it is no such value. */
export function saidApart({ property, value }: ClassWish, there: ReadonlyMap<string, string>): ClassWish[] | null {
  if (value === null) return null
  return property === 'transform' ? transformApart(value, there) : property === 'transition' ? transitionApart(value) : null
}
