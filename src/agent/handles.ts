import { STAMP_ATTRIBUTE } from '../core/html'
import { componentPlaceOf } from './component-place'
import { frameOf } from './documents'
import { writtenClasses } from './module-names'
import type { NodeHandle, NodeInfo, NodeOrigin } from './protocol'
import { sourceOf } from './sources'

/** Elements that the HTML parser adds without a tag in the source. */
const IMPLIED = new Set(['html', 'head', 'body', 'tbody', 'colgroup', 'tr'])

/** Numbers for elements, both ways, without keeping removed elements alive. */
export class Handles {
  private last = 0
  private readonly of = new WeakMap<Element, NodeHandle>()
  private readonly back = new Map<NodeHandle, WeakRef<Element>>()

  handle(element: Element): NodeHandle {
    let handle = this.of.get(element)
    if (handle === undefined) {
      handle = ++this.last
      this.of.set(element, handle)
      this.back.set(handle, new WeakRef(element))
    }
    return handle
  }

  element(handle: NodeHandle): Element | null {
    const element = this.back.get(handle)?.deref()
    return element?.isConnected ? element : null
  }

  info(element: Element): NodeInfo {
    const source = sourceOf(element)
    return {
      node: this.handle(element),
      origin: originOf(element, source),
      source,
      tag: element.localName,
      id: element.id,
      classes: writtenClasses(element),
      twin: this.twinOf(element),
    }
  }

  /** Within one message the tree stays as it is, and a parent's children are distinguished once. */
  private twins: Map<Element, Map<Element, number | null>> | null = null

  private twinOf(element: Element): number | null {
    const parent = element.parentElement
    if (!parent) return null
    if (!this.twins) queueMicrotask(() => (this.twins = null))
    this.twins ??= new Map()
    let known = this.twins.get(parent)
    if (!known) this.twins.set(parent, (known = tellApart(parent)))
    return known.get(element) ?? null
  }
}

function tellApart(parent: Element): Map<Element, number | null> {
  const byName = new Map<string, Element[]>()
  for (const child of parent.children) {
    const name = `${child.localName}#${child.id}.${child.getAttribute('class') ?? ''}`
    const same = byName.get(name)
    if (same) same.push(child)
    else byName.set(name, [child])
  }
  return new Map([...byName.values()].flatMap((list) => list.map((e, i) => [e, list.length > 1 ? i + 1 : null] as const)))
}

function originOf(element: Element, source: string | null): NodeOrigin {
  if (element.hasAttribute(STAMP_ATTRIBUTE) || componentPlaceOf(element)) return 'component'
  if (source !== null) return 'source'
  return IMPLIED.has(element.localName) ? 'parser' : 'script'
}

/** The parent to walk to; from a frame's root to the frame itself. */
export function parentOf(element: Element, root: Document): Element | null {
  if (element.parentElement) return element.parentElement
  const rootNode = element.getRootNode()
  if (rootNode instanceof ShadowRoot) return rootNode.host
  return element.ownerDocument === root ? null : frameOf(element.ownerDocument)
}
