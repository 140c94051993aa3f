import { boxesOf, elementAt } from './geometry'
import type { DropPlace } from './protocol'
import { sourceOf, stampOf } from './sources'

/** Places for one point, the innermost first. */
const MOST = 12
/** How near its edge the pointer has to be to mean beside an element and not in it: px, and a share of its size. */
const EDGE = 8
const EDGE_SHARE = 0.2

interface Rect {
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}

function rectOf(e: Element, root: Document): Rect | null {
  const boxes = boxesOf(e, root)
  if (boxes.length === 0) return null
  const at = (f: (b: (typeof boxes)[number]) => number) => boxes.map(f)
  return {
    left: Math.min(...at((b) => b.cx - b.w / 2)),
    right: Math.max(...at((b) => b.cx + b.w / 2)),
    top: Math.min(...at((b) => b.cy - b.h / 2)),
    bottom: Math.max(...at((b) => b.cy + b.h / 2)),
  }
}

const named = (e: Element): Pick<DropPlace, 'source' | 'stamp' | 'tag'> => ({ source: sourceOf(e), stamp: stampOf(e), tag: e.localName })

const isKnown = (e: Element): boolean => sourceOf(e) !== null || stampOf(e) !== null

const distance = (r: Rect, x: number, y: number): number =>
  Math.hypot(Math.max(r.left - x, 0, x - r.right), Math.max(r.top - y, 0, y - r.bottom))

const beside = (a: Rect, b: Rect): boolean =>
  Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > Math.min(a.bottom - a.top, b.bottom - b.top) / 2

/** Where elements dropped at a point of the root page's viewport could land, with a mark of each. */
export function dropPlaces(root: Document, x: number, y: number, moving: readonly Element[]): DropPlace[] {
  const out: DropPlace[] = []
  const isMoving = (e: Element) => moving.some((m) => m.contains(e))
  let e = elementAt(root, x, y)
  while (e && isMoving(e)) e = e.parentElement
  for (; e && out.length < MOST; e = e.parentElement) {
    if (e.localName === 'html' || !isKnown(e)) continue
    const own = rectOf(e, root)
    if (!own) continue
    const inside = placeIn(e, own, root, x, y, isMoving)
    const next = e.localName === 'body' ? null : placeBeside(e, own, root, x, y, isMoving)
    const band = (size: number) => Math.min(EDGE, size * EDGE_SHARE)
    const atEdge =
      Math.min(x - own.left, own.right - x) < band(own.right - own.left) ||
      Math.min(y - own.top, own.bottom - y) < band(own.bottom - own.top)
    const leaf = e.children.length === 0 && e.textContent!.trim() !== ''
    for (const p of atEdge || leaf ? [next, inside] : [inside, next]) if (p) out.push(p)
  }
  return out
}

function placeIn(e: Element, own: Rect, root: Document, x: number, y: number, isMoving: (e: Element) => boolean): DropPlace | null {
  const children = [...e.children].flatMap((c) => {
    const rect = isKnown(c) && !isMoving(c) ? rectOf(c, root) : null
    return rect && (rect.right > rect.left || rect.bottom > rect.top) ? [{ c, rect }] : []
  })
  const nearest = children.reduce<(typeof children)[number] | null>(
    (a, b) => (a && distance(a.rect, x, y) <= distance(b.rect, x, y) ? a : b),
    null,
  )
  if (nearest) return placeBeside(nearest.c, nearest.rect, root, x, y, isMoving)
  return {
    ...named(e),
    where: 'last',
    mark: { x: own.left, y: own.top, width: own.right - own.left, height: own.bottom - own.top },
    within: true,
  }
}

function placeBeside(e: Element, own: Rect, root: Document, x: number, y: number, isMoving: (e: Element) => boolean): DropPlace | null {
  const parent = e.parentElement
  if (!parent || !isKnown(e)) return null
  const style = getComputedStyle(parent)
  const others = [...parent.children].filter((c) => c !== e && !isMoving(c)).flatMap((c) => rectOf(c, root) ?? [])
  const flex = /flex/.test(style.display)
  // Boxes alone in their line tell nothing: the container's own flow does.
  const across = flex
    ? style.flexDirection.startsWith('row')
    : others.some((r) => beside(own, r)) || /^inline/.test(getComputedStyle(e).display)
  const back = (flex && style.flexDirection.endsWith('reverse')) !== (across && style.direction === 'rtl')
  const first = across ? x < (own.left + own.right) / 2 : y < (own.top + own.bottom) / 2
  const line = across
    ? { x: (first ? own.left : own.right) - 1, y: own.top, width: 2, height: own.bottom - own.top }
    : { x: own.left, y: (first ? own.top : own.bottom) - 1, width: own.right - own.left, height: 2 }
  return { ...named(e), where: first !== back ? 'before' : 'after', mark: line, within: false }
}
