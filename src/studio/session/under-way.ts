/** Work that others may have to wait for, such as an edit from what was asked for to what was read back. */
export class UnderWay {
  private readonly works = new Set<Promise<unknown>>()

  get isOver(): boolean {
    return this.works.size === 0
  }

  /** Counts work as under way until it is over, and gives what it gives. */
  async during<T>(work: () => Promise<T>): Promise<T> {
    const running = work()
    this.works.add(running)
    try {
      return await running
    } finally {
      this.works.delete(running)
    }
  }

  /** Ends once nothing is under way, of what was begun meanwhile neither. */
  async over(): Promise<void> {
    while (this.works.size > 0) await Promise.allSettled(this.works)
  }
}
