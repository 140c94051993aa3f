/** Work of which each piece begins with what the one before it left, in the order in which it was asked for. */
export class Turns {
  private last: Promise<unknown> = Promise.resolve()

  take<T>(work: () => Promise<T>): Promise<T> {
    const next = this.last.then(work)
    this.last = next.catch(() => {})
    return next
  }
}
