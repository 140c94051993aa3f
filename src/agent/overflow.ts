/** Elements that are named at most. */
const MOST = 50

/** How far an element may stand out without being said to; px. */
const NEAR = 1

const clips = (e: Element): boolean => getComputedStyle(e).overflowX !== 'visible'

/** The elements that make a page wider than its window: those that stand out to the right first, and not what is in them; none where it is not wider. */
export function overflowingIn(doc: Document): readonly Element[] {
  const root = doc.scrollingElement ?? doc.documentElement
  if (!doc.body || root.scrollWidth <= root.clientWidth + NEAR) return []
  const right = root.clientWidth - (doc.defaultView?.scrollX ?? 0)
  const out: Element[] = []
  const todo: Element[] = [doc.body]
  while (todo.length && out.length < MOST) {
    const e = todo.pop()!
    const box = e.getBoundingClientRect()
    if (e !== doc.body && box.width > 0 && box.right > right + NEAR) out.push(e)
    // What an element cuts or scrolls makes the page no wider.
    else if (e === doc.body || !clips(e)) todo.push(...[...e.children].reverse())
  }
  return out
}
