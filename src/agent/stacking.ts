import type { Handles } from './handles'
import type { Stacking } from './protocol'

/** Why an element makes a stacking context of its own; null when it makes none (CSS Positioned Layout 3 §4, and the modules that add to it). */
function contextWhy(element: Element): string | null {
  if (element === element.ownerDocument.documentElement) return 'it is the root'
  const s = getComputedStyle(element)
  const inContainer = element.parentElement !== null && /flex|grid/.test(getComputedStyle(element.parentElement).display)
  if (/fixed|sticky/.test(s.position)) return `its position is ${s.position}`
  if (s.zIndex !== 'auto' && s.position !== 'static') return `it is placed, with z-index ${s.zIndex}`
  if (s.zIndex !== 'auto' && inContainer) return `it is an item with z-index ${s.zIndex}`
  if (Number(s.opacity) < 1) return `its opacity is ${s.opacity}`
  for (const name of ['transform', 'translate', 'rotate', 'scale', 'filter', 'backdrop-filter', 'perspective', 'clip-path', 'mask-image']) {
    const value = s.getPropertyValue(name)
    if (value && value !== 'none') return `it has a ${name}`
  }
  if (s.mixBlendMode !== 'normal') return 'it is blended'
  if (s.isolation === 'isolate') return 'it is isolated'
  if (/transform|opacity|filter|z-index/.test(s.willChange)) return 'its will-change says so'
  if (/paint|layout|strict|content/.test(s.contain)) return 'it is contained'
  return null
}

const contextOf = (element: Element): Element => {
  for (let e: Element | null = element; e; e = e.parentElement) if (contextWhy(e)) return e
  return element.ownerDocument.documentElement
}

const MOST = 12

/** What decides how an element is stacked. */
export function stackingOf(element: Element, handles: Handles): Stacking {
  const contexts: { info: ReturnType<Handles['info']>; z: string; why: string }[] = []
  for (let e: Element | null = element; e; e = e.parentElement) {
    const why = contextWhy(e)
    if (why) contexts.push({ info: handles.info(e), z: getComputedStyle(e).zIndex, why })
  }
  const box = element.getBoundingClientRect()
  const above = new Map<Element, boolean>()
  for (const [fx, fy] of [
    [0.5, 0.5],
    [0.05, 0.05],
    [0.95, 0.05],
    [0.05, 0.95],
    [0.95, 0.95],
  ]) {
    const list = element.ownerDocument.elementsFromPoint(box.left + box.width * fx, box.top + box.height * fy)
    const at = list.findIndex((e) => e === element || element.contains(e))
    list.forEach((e, i) => {
      if (e.contains(element) || element.contains(e) || above.has(e)) return
      above.set(e, at < 0 || i < at)
    })
  }
  // Of what is found, only the outermost of each branch tells something.
  const all = [...above].filter(([e]) => ![...above.keys()].some((o) => o !== e && o.contains(e)))
  return {
    contexts,
    sharing: all
      .slice(0, MOST)
      .map(([e, over]) => ({
        info: handles.info(e),
        z: getComputedStyle(e).zIndex,
        above: over,
        context: handles.info(contextOf(e)),
      }))
      .sort((a, b) => Number(b.above) - Number(a.above)),
  }
}
