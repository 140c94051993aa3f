import { readAnswer, readFromPage } from '../agent/read'
import type { Answer, Ask, PageEvent, RequestType } from '../agent/protocol'

/** The page did not answer in time: a script in it may be keeping it busy. */
export class PageBusyError extends Error {
  override readonly name = 'PageBusyError'
}

/** How long an answer is waited for; ms. A picture is drawn with its images and faces, and a page is looked through element by element. */
const ANSWER_TIMEOUT = 4000
const LONG: ReadonlySet<RequestType> = new Set(['picture', 'findings', 'inUse'])
const LONG_TIMEOUT = 30_000

interface Waiting {
  readonly type: RequestType
  readonly done: (answer: never) => void
  readonly fail: (error: Error) => void
  readonly timer: ReturnType<typeof setTimeout>
}

/** Asks the agent of one loaded page. Whatever the page sends is read through the protocol's checks. */
export class PageClient {
  private last = 0
  private readonly waiting = new Map<number, Waiting>()
  private overdue = false

  /** `onLate` is called when something comes after all from a page that did not answer in time. */
  constructor(
    private readonly port: MessagePort,
    private readonly onEvent: (event: PageEvent) => void,
    private readonly onGarbage: (why: string) => void,
    private readonly onLate: () => void = () => {},
  ) {
    port.onmessage = ({ data }: MessageEvent<unknown>) => this.read(data)
  }

  private read(data: unknown): void {
    if (this.overdue) {
      this.overdue = false
      this.onLate()
    }
    try {
      const message = readFromPage(data)
      if ('event' in message) {
        this.onEvent(message)
        return
      }
      const waiter = this.waiting.get(message.id)
      if (!waiter) return
      this.waiting.delete(message.id)
      clearTimeout(waiter.timer)
      if ('error' in message) waiter.fail(new Error(message.error))
      else {
        try {
          waiter.done(readAnswer(waiter.type, message.answer) as never)
        } catch (error) {
          waiter.fail(error as Error)
          throw error
        }
      }
    } catch (error) {
      this.onGarbage(String(error))
    }
  }

  /** @throws PageBusyError when no answer comes; ProtocolError when what comes is none. */
  ask<T extends RequestType>(type: T, ask: Ask<T>): Promise<Answer<T>> {
    const id = ++this.last
    return new Promise<Answer<T>>((done, fail) => {
      const timer = setTimeout(
        () => {
          this.waiting.delete(id)
          this.overdue = true
          fail(new PageBusyError('The page does not answer'))
        },
        LONG.has(type) ? LONG_TIMEOUT : ANSWER_TIMEOUT,
      )
      this.waiting.set(id, { type, done: done as (a: never) => void, fail, timer })
      this.port.postMessage({ id, type, ask })
    })
  }

  close(): void {
    this.port.close()
    for (const { fail, timer } of this.waiting.values()) {
      clearTimeout(timer)
      fail(new PageBusyError('The page was left'))
    }
    this.waiting.clear()
  }
}
