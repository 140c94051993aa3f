import { beginPass, boxesOf, geometryOf } from './geometry'
import { documentsOf } from './documents'
import type { Handles } from './handles'
import type { PageSheets } from './page-sheets'
import type { Ask, Box, NodeHandle, PageEvent } from './protocol'
import { inAnyState } from './states'

/** Frames drawn for others within reach; more would tell nothing more. */
const MOST_REACH = 300

/** Frames without a change after which the page is left to rest. */
const REST_AFTER = 3

/** How often a resting page is looked at all the same; ms. Scripts can move things without any event. */
const REST = 150

/**
 * Tells the interface, once a frame and only when something moved, where the watched elements are. It asks for no
 * frames while nothing moves: a page that has none under way can paint a preview in the frame it arrives in.
 */
export class Frames {
  private watched: Ask<'watch'> = { hover: null, picked: null, others: [], reach: [], sheet: null, containers: false }
  private asked = false
  private still = 0
  private last = ''
  private reach: Element[] = []
  private containers: Element[] = []

  constructor(
    private readonly root: Document,
    private readonly handles: Handles,
    private readonly sheets: PageSheets,
    private readonly send: (event: PageEvent) => void,
  ) {}

  watch(what: Ask<'watch'>): void {
    const same =
      what.sheet === this.watched.sheet &&
      what.reach.length === this.watched.reach.length &&
      what.reach.every((s, i) => s === this.watched.reach[i])
    this.watched = what
    if (!same) this.findReach()
    this.containers = what.containers ? edgelessContainers(this.root) : []
    this.run()
  }

  hover(node: NodeHandle | null): void {
    this.watched = { ...this.watched, hover: node }
    this.run()
  }

  private run(): void {
    this.last = ''
    this.wake()
  }

  /** Looks at the next frames until nothing moves. */
  wake(): void {
    this.still = 0
    this.once()
  }

  /** Looks at the next frame, and at no more if nothing else asks for it. */
  once(): void {
    if (this.asked) return
    this.asked = true
    requestAnimationFrame(this.onFrame)
  }

  /** Wakes with what commonly moves things; called once. */
  listen(): void {
    const wake = () => this.wake()
    for (const type of ['scroll', 'resize', 'transitionrun', 'animationstart', 'load', 'input', 'toggle'])
      addEventListener(type, wake, { capture: true, passive: true })
    for (const doc of documentsOf(this.root))
      if (doc !== this.root) doc.defaultView?.addEventListener('scroll', wake, { capture: true, passive: true })
    setInterval(() => this.once(), REST)
  }

  /** Elements may match other selectors now. */
  findReach(): void {
    const found = new Set<Element>()
    for (const selector of this.watched.reach) {
      for (const doc of this.sheets.documentsUsing(this.watched.sheet)) {
        try {
          for (const e of doc.querySelectorAll(inAnyState(this.sheets.selector(selector, this.watched.sheet)))) {
            found.add(e)
            if (found.size >= MOST_REACH) break
          }
        } catch {
          // The engine does not know the selector, so nothing is in its reach.
        }
      }
    }
    this.reach = [...found]
  }

  private readonly onFrame = (): void => {
    this.asked = false
    this.still = this.tell() ? 0 : this.still + 1
    // A preview moves things too, but the next one will ask again.
    if (this.still < REST_AFTER && !this.previewing) this.once()
  }

  /** While a preview is on, each of its steps asks for its own frame. */
  previewing = false

  /** Sends the frames now if they differ from those sent last; whether they did. */
  private tell(): boolean {
    beginPass()
    const geometry = (node: number | null, inDetail = false) => {
      const element = node === null ? null : this.handles.element(node)
      return element && geometryOf(element, this.root, inDetail)
    }
    const view = this.root.defaultView!
    const picked = this.watched.picked === null ? null : this.handles.element(this.watched.picked)
    const others = this.watched.others.flatMap((node) => {
      const element = this.handles.element(node)
      return element ? boxesOf(element, this.root) : []
    })
    const reach: Box[] = []
    for (const e of this.reach) {
      if (e === picked || !e.isConnected || (e.ownerDocument === this.root && !isNear(e.getBoundingClientRect(), view))) continue
      reach.push(...boxesOf(e, this.root))
    }
    const event: PageEvent = {
      event: 'frames',
      hover: geometry(this.watched.hover),
      picked: geometry(this.watched.picked, true),
      others,
      reach,
      containers: this.containers.flatMap((e) => (e.isConnected ? boxesOf(e, this.root) : [])),
      page: { scrollX: view.scrollX, scrollY: view.scrollY, width: view.innerWidth, height: view.innerHeight },
    }
    const text = JSON.stringify(event)
    if (text === this.last) return false
    this.last = text
    this.send(event)
    return true
  }
}

const isNear = (rect: DOMRect, view: Window): boolean =>
  rect.bottom > -50 && rect.top < view.innerHeight + 50 && rect.right > -50 && rect.left < view.innerWidth + 50

const MOST_CONTAINERS = 400

/** Elements that hold others and show no edge of their own: neither a border nor a ground. */
function edgelessContainers(root: Document): Element[] {
  const out: Element[] = []
  for (const e of root.querySelectorAll('body *')) {
    if (e.childElementCount === 0 || e.namespaceURI !== root.documentElement.namespaceURI) continue
    const s = getComputedStyle(e)
    const seen =
      ['top', 'right', 'bottom', 'left'].some((side) => parseFloat(s.getPropertyValue(`border-${side}-width`)) > 0) ||
      s.backgroundImage !== 'none' ||
      !/^(rgba\(0, 0, 0, 0\)|transparent)$/.test(s.backgroundColor)
    if (!seen && !/^(inline|none|contents)$/.test(s.display)) out.push(e)
    if (out.length >= MOST_CONTAINERS) break
  }
  return out
}
