import { boxesOf, geometryOf } from './geometry'
import { documentsOf, type Handles } from './handles'
import type { Ask, Box, PageEvent } from './protocol'

/** Frames drawn for others within reach; more would tell nothing more. */
const MOST_REACH = 300

/** Tells the interface, once a frame and only when something moved, where the watched elements are. */
export class Frames {
  private watched: Ask<'watch'> = { hover: null, picked: null, reach: [] }
  private running = false
  private last = ''
  private reach: Element[] = []

  constructor(private readonly root: Document, private readonly handles: Handles, private readonly send: (event: PageEvent) => void) {}

  watch(what: Ask<'watch'>): void {
    this.watched = what
    this.findReach()
    this.last = ''
    this.tell()
    if (!this.running) {
      this.running = true
      requestAnimationFrame(this.onFrame)
    }
  }

  /** Elements may match other selectors now. */
  findReach(): void {
    const found = new Set<Element>()
    for (const selector of this.watched.reach) {
      for (const doc of documentsOf(this.root)) {
        try {
          for (const e of doc.querySelectorAll(selector)) {
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
    this.tell()
    requestAnimationFrame(this.onFrame)
  }

  /** Sends the frames now if they differ from those sent last. */
  tell(): void {
    const geometry = (node: number | null) => {
      const element = node === null ? null : this.handles.element(node)
      return element && geometryOf(element, this.root)
    }
    const view = this.root.defaultView!
    const picked = this.watched.picked === null ? null : this.handles.element(this.watched.picked)
    const reach: Box[] = []
    for (const e of this.reach) {
      if (e !== picked && e.isConnected) for (const box of boxesOf(e, this.root)) if (isNear(box, view)) reach.push(box)
    }
    const event: PageEvent = {
      event: 'frames',
      hover: geometry(this.watched.hover),
      picked: geometry(this.watched.picked),
      reach,
      page: { scrollX: view.scrollX, scrollY: view.scrollY, width: view.innerWidth, height: view.innerHeight },
    }
    const text = JSON.stringify(event)
    if (text === this.last) return
    this.last = text
    this.send(event)
  }
}

const isNear = (box: Box, view: Window): boolean =>
  Math.abs(box.cy - view.innerHeight / 2) < view.innerHeight + box.h && Math.abs(box.cx - view.innerWidth / 2) < view.innerWidth + box.w
