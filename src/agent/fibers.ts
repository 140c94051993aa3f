import { readStamp, STAMP_ATTRIBUTE, USAGES, type Stamp } from '../core/html'

/** What React hangs on an element of a page in development, as much of it as is read; nothing of it is sure. */
export interface Fiber {
  readonly _debugOwner?: Fiber | null
  /** Of a component that a server rendered: what used it, and its properties. */
  readonly owner?: Fiber | null
  readonly props?: unknown
  readonly type?: unknown
  readonly name?: unknown
  readonly child?: Fiber | null
  readonly stateNode?: unknown
  readonly return?: Fiber | null
  readonly alternate?: Fiber | null
  readonly memoizedProps?: unknown
}

/** How far owners are followed. */
export const MOST_OWNERS = 100

export function fiberOf(element: Element): Fiber | null {
  // Its own properties alone: those of every element are some hundred, and the outline asks for each element.
  const name = Object.keys(element).find((n) => n.startsWith('__reactFiber$'))
  return name === undefined ? null : (element as unknown as Record<string, Fiber>)[name]
}

export function nameOf({ type, name }: Fiber): string | null {
  const given = (t: unknown) =>
    (t as { displayName?: unknown; name?: unknown } | null)?.displayName ?? (t as { name?: unknown } | null)?.name
  // What is wrapped, as by `memo` or `forwardRef`, has the name of what is inside.
  const inner = (type as { type?: unknown; render?: unknown } | null)?.type ?? (type as { render?: unknown } | null)?.render
  const found = given(type) ?? given(inner) ?? name
  return typeof found === 'string' && found !== '' ? found.slice(0, 200) : null
}

/** What used the component that a fiber stands for; null at the top. */
export const ownerOf = (fiber: Fiber): Fiber | null => fiber._debugOwner ?? fiber.owner ?? null

/** Where it is used: as the page's own map says, or the property that it was given. */
export function usageOf({ memoizedProps, props }: Fiber): Stamp | null {
  const given = memoizedProps ?? props
  if (!(given instanceof Object)) return null
  const usages = (globalThis as Record<string, unknown>)[USAGES]
  const text = (usages instanceof WeakMap ? (usages.get(given) as unknown) : null) ?? (given as Record<string, unknown>)[STAMP_ATTRIBUTE]
  return typeof text === 'string' ? readStamp(text) : null
}

/** The tag that used the component which an element's own tag stands in; null where that is not known. */
export function usageOfElement(element: Element): Stamp | null {
  const fiber = fiberOf(element)
  const owner = fiber && ownerOf(fiber)
  return owner ? usageOf(owner) : null
}

/** The outermost element of the page that a component shows. */
export function rootOf(fiber: Fiber): Element | null {
  let at: Fiber | null | undefined = fiber.child
  for (let n = 0; at && n < MOST_OWNERS; n++, at = at.child) if (at.stateNode instanceof Element) return at.stateNode
  return null
}

/** The components that an element is the outermost of, as they led to it: `Today › Card`; empty where it is that of none. */
export function componentsFrom(element: Element): string {
  const names: string[] = []
  const fiber = fiberOf(element)
  for (let at = fiber && ownerOf(fiber), n = 0; at && n < MOST_OWNERS && rootOf(at) === element; at = ownerOf(at), n++) {
    const name = nameOf(at)
    if (name !== null) names.unshift(name)
  }
  return names.join(' › ')
}

/** What React gave an element when it drew it last. */
function drawnWith(element: Element): unknown {
  const name = Object.keys(element).find((n) => n.startsWith('__reactProps$'))
  return name === undefined ? null : (element as unknown as Record<string, unknown>)[name]
}

/** What the component whose tag made an element was given under a name, as it was drawn last: a text, a number, or yes or no. */
export function givenToOwner(element: Element, name: string): string | null {
  const found = fiberOf(element)
  const owner = found && ownerOf(found)
  if (!found || !owner) return null
  // Of a fiber and the one that takes turns with it, the one that shows has what the element was drawn with.
  let at: Fiber | null | undefined = found.alternate?.memoizedProps === drawnWith(element) ? found.alternate : found
  for (let n = 0; at && at.type !== owner.type && n < MOST_OWNERS; n++) at = at.return
  const given = (at ?? owner).memoizedProps ?? (at ?? owner).props
  const value = given instanceof Object ? (given as Record<string, unknown>)[name] : null
  return typeof value === 'string' || typeof value === 'number' || typeof value === 'boolean' ? String(value) : null
}
