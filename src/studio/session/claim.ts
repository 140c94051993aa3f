const OPEN_ELSEWHERE = 'This project is being edited in another window. Here it can be looked at only.'

/**
 * Holds a project for one window (Web Locks): the others show it read-only and follow what is done there. A window may
 * take it over; the one that had it then shows it read-only.
 */
export class Claim {
  private release: (() => void) | null = null
  private readonly channel: BroadcastChannel
  private timer: ReturnType<typeof setTimeout> | undefined
  private closed = false

  constructor(
    private readonly project: string,
    private readonly onReadOnly: (why: string) => void,
    private readonly onChanged: () => void,
  ) {
    this.channel = new BroadcastChannel(`steady-project ${project}`)
    this.channel.onmessage = () => {
      if (this.release) return
      clearTimeout(this.timer)
      this.timer = setTimeout(() => this.onChanged(), 400)
    }
  }

  /** Takes the project, from another window where `over`. Why it may not be edited here; null when it may. */
  take(over = false): Promise<string | null> {
    return new Promise((done) => {
      const held = (lock: Lock | null): Promise<void> | undefined => {
        done(lock ? null : OPEN_ELSEWHERE)
        if (!lock || this.closed) return undefined
        return new Promise((release) => {
          this.release = release
        })
      }
      navigator.locks.request(`steady-project ${this.project}`, over ? { steal: true } : { ifAvailable: true }, held).catch(() => {
        // Another window took it over.
        this.release = null
        if (!this.closed) this.onReadOnly(OPEN_ELSEWHERE)
      })
    })
  }

  /** Tells the other windows that something was changed here. */
  tell(): void {
    if (this.release) this.channel.postMessage('changed')
  }

  close(): void {
    this.closed = true
    clearTimeout(this.timer)
    this.channel.close()
    this.release?.()
    this.release = null
  }
}
