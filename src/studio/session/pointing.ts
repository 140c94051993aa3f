import type { NodeInfo, Point } from '../../agent/protocol'
import { setStudio } from '../store'
import type { LivePage } from './live-page'
import type { Reach } from './reach'

/** The element that the pointer is over. */
export class Pointing {
  private isAsking = false
  private next: Point | null = null

  constructor(
    private readonly page: LivePage,
    private readonly reach: Reach,
  ) {}

  /** The element under a point of the page's viewport; one question at a time, the latest point next. */
  async at(x: number, y: number): Promise<void> {
    this.next = { x, y }
    if (this.isAsking) return
    this.isAsking = true
    while (this.next && this.page.here) {
      const at = this.next
      this.next = null
      const hit = await this.page.guard(() => this.page.ask('hit', { ...at, hover: true }))
      setStudio({ hover: hit?.info ?? null, hoverFacts: hit?.facts ?? null })
    }
    this.isAsking = false
  }

  nothing(): void {
    this.next = null
    setStudio({ hover: null, hoverFacts: null })
    void this.reach.watch()
  }

  /** Frames an element as pointed at. */
  node(info: NodeInfo): void {
    this.next = null
    setStudio({ hover: info, hoverFacts: null })
    void this.reach.watch()
  }
}
