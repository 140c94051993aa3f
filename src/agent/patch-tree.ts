import { isOurs } from './own-script'
import { ID_ATTRIBUTE } from '../core/html'

/** Elements that do something when they come or go, which only loading the page again does as the source says. */
const ACTING = 'script, link[rel~="stylesheet" i], style, base, meta[http-equiv], template'

const idOf = (n: Node): string | null =>
  n instanceof Element || n.nodeType === Node.ELEMENT_NODE ? (n as Element).getAttribute(ID_ATTRIBUTE) : null

function byId(root: ParentNode): Map<string, Element> | null {
  const out = new Map<string, Element>()
  for (const e of root.querySelectorAll(`[${ID_ATTRIBUTE}]`)) {
    const id = e.getAttribute(ID_ATTRIBUTE)!
    if (out.has(id)) return null
    out.set(id, e)
  }
  return out
}

const acting = (root: ParentNode): string => [...root.querySelectorAll(ACTING)].map((e) => e.outerHTML).join('\n')

/**
 * Makes a live document that came from `before` what it would be from `after`, both as published, and leaves what its
 * scripts did. False where that is ambiguous, or where something would run: the page has to be loaded again.
 */
export function patchTree(live: Document, before: string, after: string): boolean {
  const parser = new DOMParser()
  const [old, now] = [before, after].map((text) => parser.parseFromString(text, 'text/html'))
  if (acting(old) !== acting(now)) return false
  const maps = [byId(old), byId(now), byId(live)]
  const [wasById, isById, liveById] = maps
  // A script made copies of elements of the source: which one is meant cannot be known.
  if (!wasById || !isById || !liveById) return false
  return new Patch(live, wasById, isById, liveById).apply(old, now)
}

class Patch {
  constructor(
    private readonly doc: Document,
    private readonly was: ReadonlyMap<string, Element>,
    private readonly is: ReadonlyMap<string, Element>,
    private readonly live: ReadonlyMap<string, Element>,
  ) {}

  apply(old: Document, now: Document): boolean {
    const pairs: [Element, Element, Element][] = []
    const visit = (a: Element, b: Element, c: Element | undefined): boolean => {
      if (a.localName !== b.localName) return false
      if (!c) return same(a, b)
      pairs.push([a, b, c])
      return true
    }
    for (const root of ['documentElement', 'head', 'body'] as const) {
      const [a, b, c] = [old[root], now[root], this.doc[root]]
      if (!a || !b || !c) return false
      if (!a.hasAttribute(ID_ATTRIBUTE) && !visit(a, b, c)) return false
    }
    for (const [id, b] of this.is) {
      const a = this.was.get(id)
      if (a && !visit(a, b, this.live.get(id))) return false
    }
    // An element that the parser adds has no name to find it by.
    const nameless = [...now.querySelectorAll(`:not([${ID_ATTRIBUTE}]):not(html, head, body)`)].filter((e) => !isOurs(e))
    if (nameless.some((e) => e.children.length > 0) && !nameless.every((e) => this.isUntouched(e))) return false
    const changed = pairs.filter(([a, b]) => !sameChildren(a, b))
    const lists = changed.map(([a, b, c]) => [c, this.listFor(a, b, c)] as const)
    if (lists.some(([, list]) => list === null)) return false
    for (const [a, b, c] of pairs) takeAttributes(a, b, c)
    for (const [parent, list] of lists) place(parent, list!)
    for (const [id, e] of this.live) if (this.was.has(id) && !this.is.has(id)) e.remove()
    return true
  }

  // Whether the element and what is in it stands in the same parent as before, with the same in it.
  private isUntouched(e: Element): boolean {
    const parent = e.parentElement?.getAttribute(ID_ATTRIBUTE)
    const was = parent ? this.was.get(parent) : undefined
    return was !== undefined && same(was, e.parentElement!)
  }

  /** What a live element is to hold, in order; null where what it holds now is not what the source said. */
  private listFor(was: Element, is: Element, live: Element): Node[] | null {
    const found = this.match(was, live)
    if (!found) return null
    const { nodes, extras, leading } = found
    const free = new Set([...was.childNodes].filter((n) => n.nodeType !== Node.ELEMENT_NODE && nodes.has(n)))
    const out: Node[] = [...leading]
    for (const n of is.childNodes) {
      const made = n.nodeType === Node.ELEMENT_NODE ? this.elementFor(n as Element, was, nodes) : this.textFor(n, free, nodes)
      if (made === null) return null
      if (made === undefined) continue
      out.push(made, ...(extras.get(made) ?? []))
      extras.delete(made)
    }
    for (const rest of extras.values()) out.push(...rest)
    return out
  }

  private elementFor(e: Element, was: Element, nodes: ReadonlyMap<Node, Node>): Node | null | undefined {
    const id = e.getAttribute(ID_ATTRIBUTE)
    if (isOurs(e)) return [...nodes].find(([n]) => n.nodeType === Node.ELEMENT_NODE && isOurs(n as Element))?.[1]
    if (id === null) {
      const twin = [...was.children].find((x) => !x.hasAttribute(ID_ATTRIBUTE) && !isOurs(x) && x.localName === e.localName)
      return (twin && nodes.get(twin)) ?? null
    }
    // A script took it away.
    if (this.was.has(id)) return this.live.get(id)
    const made = this.doc.importNode(e, false)
    for (const c of e.childNodes) {
      const inner = c.nodeType === Node.ELEMENT_NODE ? this.elementFor(c as Element, e, new Map()) : this.doc.importNode(c)
      if (inner === null) return null
      if (inner) made.append(inner)
    }
    return made
  }

  private textFor(n: Node, free: Set<Node>, nodes: ReadonlyMap<Node, Node>): Node {
    for (const old of free) {
      if (old.nodeType !== n.nodeType || old.nodeValue !== n.nodeValue) continue
      free.delete(old)
      return nodes.get(old)!
    }
    return this.doc.importNode(n)
  }

  // Which live node stands for which of the source, and what scripts put after which.
  private match(was: Element, live: Element): { nodes: Map<Node, Node>; extras: Map<Node, Node[]>; leading: Node[] } | null {
    const nodes = new Map<Node, Node>()
    const extras = new Map<Node, Node[]>()
    const leading: Node[] = []
    const wanted = [...was.childNodes]
    let at = 0
    let last: Node | null = null
    for (const n of live.childNodes) {
      const next = wanted.findIndex((w, i) => i >= at && standsFor(w, n))
      // An element of the source that comes from elsewhere is where a script put it.
      if (
        next < 0 ||
        (n.nodeType !== Node.ELEMENT_NODE && wanted.slice(at, next).some((w) => w.nodeType === Node.ELEMENT_NODE && this.isIn(w, live)))
      ) {
        if (last) extras.set(last, [...(extras.get(last) ?? []), n])
        else leading.push(n)
        continue
      }
      if (wanted.slice(at, next).some((w) => isTold(w) && !this.isGone(w))) return null
      nodes.set(wanted[next], n)
      last = n
      at = next + 1
    }
    return wanted.slice(at).some((w) => isTold(w) && !this.isGone(w)) ? null : { nodes, extras, leading }
  }

  private isIn(w: Node, live: Element): boolean {
    const id = idOf(w)
    return id !== null && this.live.get(id)?.parentElement === live
  }

  private isGone(w: Node): boolean {
    const id = idOf(w)
    return id !== null && !this.live.has(id)
  }
}

// Something whose absence says that a script changed it.
const isTold = (n: Node): boolean =>
  (n.nodeType === Node.ELEMENT_NODE && !isOurs(n as Element)) || (n.nodeType === Node.TEXT_NODE && n.nodeValue!.trim() !== '')

function standsFor(source: Node, live: Node): boolean {
  if (source.nodeType !== live.nodeType) return false
  if (source.nodeType !== Node.ELEMENT_NODE) return source.nodeValue === live.nodeValue
  const [a, b] = [source as Element, live as Element]
  return isOurs(a) ? isOurs(b) : a.localName === b.localName && a.getAttribute(ID_ATTRIBUTE) === b.getAttribute(ID_ATTRIBUTE)
}

const same = (a: Element, b: Element): boolean => a.outerHTML === b.outerHTML

const signOf = (n: Node): string =>
  n.nodeType === Node.ELEMENT_NODE
    ? `<${(n as Element).localName} ${(n as Element).getAttribute(ID_ATTRIBUTE) ?? ''}`
    : `${n.nodeType} ${n.nodeValue}`

const sameChildren = (a: Element, b: Element): boolean =>
  a.childNodes.length === b.childNodes.length && [...a.childNodes].every((n, i) => signOf(n) === signOf(b.childNodes[i]))

function takeAttributes(was: Element, is: Element, live: Element): void {
  for (const { name } of was.attributes) if (!is.hasAttribute(name)) live.removeAttribute(name)
  for (const { name, value } of is.attributes) if (was.getAttribute(name) !== value) live.setAttribute(name, value)
}

/** Makes the children of an element these, without taking out and putting back those that stand right. */
function place(parent: Element, list: readonly Node[]): void {
  const keep = new Set(list)
  for (const n of Array.from(parent.childNodes)) if (!keep.has(n) && n.nodeType !== Node.ELEMENT_NODE) n.remove()
  let cursor: ChildNode | null = parent.firstChild
  for (const n of list) {
    if (n === cursor) cursor = cursor.nextSibling
    else parent.insertBefore(n, cursor)
  }
}
