import { readStamp, STAMP_ATTRIBUTE, USAGES, type Stamp } from '../core/html'
import type { Handles } from './handles'
import type { MadeBy } from './protocol'
import { elementsOfTag, stampOf } from './sources'

/** What React hangs on an element of a page in development, as much of it as is read; nothing of it is sure. */
interface Fiber {
  readonly _debugOwner?: Fiber | null
  readonly type?: unknown
  readonly name?: unknown
  readonly child?: Fiber | null
  readonly stateNode?: unknown
  readonly memoizedProps?: unknown
}

const MOST_OWNERS = 100

function fiberOf(element: Element): Fiber | null {
  for (const name in element) if (name.startsWith('__reactFiber$')) return (element as unknown as Record<string, Fiber>)[name]
  return null
}

function nameOf({ type, name }: Fiber): string | null {
  const given = (t: unknown) =>
    (t as { displayName?: unknown; name?: unknown } | null)?.displayName ?? (t as { name?: unknown } | null)?.name
  // What is wrapped, as by `memo` or `forwardRef`, has the name of what is inside.
  const inner = (type as { type?: unknown; render?: unknown } | null)?.type ?? (type as { render?: unknown } | null)?.render
  const found = given(type) ?? given(inner) ?? name
  return typeof found === 'string' && found !== '' ? found.slice(0, 200) : null
}

// Where it is used, as the page's own map says.
function usageOf({ memoizedProps }: Fiber): Stamp | null {
  const usages = (globalThis as Record<string, unknown>)[USAGES]
  const text = usages instanceof WeakMap && memoizedProps instanceof Object ? (usages.get(memoizedProps) as unknown) : null
  return typeof text === 'string' ? readStamp(text) : null
}

// The outermost element of the page that a component shows.
function rootOf(fiber: Fiber): Element | null {
  let at: Fiber | null | undefined = fiber.child
  for (let n = 0; at && n < MOST_OWNERS; n++, at = at.child) if (at.stateNode instanceof Element) return at.stateNode
  return null
}

/** Which tag made an element, or the nearest around it that a known tag made, and the components that led there. */
export function madeBy(element: Element, root: Document, handles: Handles): MadeBy | null {
  const own = element.closest(`[${STAMP_ATTRIBUTE}]`)
  const stamp = own && stampOf(own)
  if (!own || !stamp) return null
  const all = elementsOfTag(root, stamp)
  const owners: { name: string; node: number | null; usage: Stamp | null }[] = []
  let at = fiberOf(own)?._debugOwner
  for (let n = 0; at && n < MOST_OWNERS; n++, at = at._debugOwner) {
    const name = nameOf(at)
    const shown = rootOf(at)
    if (name !== null) owners.unshift({ name, node: shown?.isConnected ? handles.handle(shown) : null, usage: usageOf(at) })
  }
  return {
    stamp,
    node: handles.handle(own),
    tag: own.localName,
    isOwn: own === element,
    index: all.indexOf(own) + 1,
    count: all.length,
    owners,
  }
}
