import { OWN_PATH, type FromHost, type HostHello, type PublishedFile, type ToHost } from '../live/protocol'
import { LiveFaultError, type LiveFault } from './live-fault'

const HOST_TIMEOUT = 8000
const CLOSED = 'The live page was closed'

// Left out of a union's members one by one, so that each keeps its own fields.
type WithoutId<T> = T extends unknown ? Omit<T, 'id'> : never

/** The hidden frame on a project's live origin, through which its files are published. */
export class HostClient {
  private last = 0
  private closed = false
  private readonly waiting = new Map<number, { done: () => void; fail: (e: Error) => void }>()

  private constructor(
    private readonly frame: HTMLIFrameElement,
    private readonly port: MessagePort,
  ) {
    port.onmessage = ({ data }: MessageEvent<FromHost>) => {
      const waiter = this.waiting.get(data?.id)
      if (!waiter) return
      this.waiting.delete(data.id)
      if (data.ok) waiter.done()
      else waiter.fail(new Error(data.error))
    }
  }

  /** @throws LiveFaultError when the origin does not answer or has no service worker. */
  static open(origin: string): Promise<HostClient> {
    const frame = document.createElement('iframe')
    frame.hidden = true
    frame.title = 'Steady Brush host'
    frame.src = `${origin}${OWN_PATH}host?studio=${encodeURIComponent(location.origin)}`
    return new Promise((done, fail) => {
      const refuse = (fault: LiveFault) => {
        removeEventListener('message', onMessage)
        clearTimeout(timer)
        frame.remove()
        fail(new LiveFaultError(fault))
      }
      const timer = setTimeout(
        () =>
          refuse({
            title: 'The live page’s own address does not answer.',
            detail: `${origin} could not be loaded within ${HOST_TIMEOUT / 1000} seconds.`,
            remedy:
              'Browsers resolve *.localhost to this machine, but a proxy or an older browser may not. Start Steady Brush with STEADY_LIVE_ORIGIN set to an address of this machine, for example http://127.0.0.1:{port}, and open the interface at http://localhost.',
          }),
        HOST_TIMEOUT,
      )
      const onMessage = (e: MessageEvent<HostHello>) => {
        if (e.source !== frame.contentWindow || e.origin !== origin || !e.data) return
        if (e.data.steadyHost === 'failed') {
          refuse({
            title: 'The live page cannot be served: there is no service worker.',
            detail:
              e.data.reason === 'no-service-worker'
                ? `The browser offers none at ${origin} (${String(e.data.detail).slice(0, 200)}).`
                : `The browser refused it: ${String(e.data.detail).slice(0, 300)}`,
            remedy:
              'Leave private browsing, allow this site to store data in frames, or use a current Chromium, Firefox or Safari, then load again.',
          })
        } else if (e.data.steadyHost === 'ready') {
          removeEventListener('message', onMessage)
          clearTimeout(timer)
          const channel = new MessageChannel()
          frame.contentWindow!.postMessage({ steady: 'port' }, origin, [channel.port2])
          done(new HostClient(frame, channel.port1))
        }
      }
      addEventListener('message', onMessage)
      document.body.append(frame)
    })
  }

  private ask(message: WithoutId<ToHost>): Promise<void> {
    const id = ++this.last
    if (this.closed) return Promise.reject(new Error(CLOSED))
    return new Promise((done, fail) => {
      this.waiting.set(id, { done, fail })
      this.port.postMessage({ ...message, id })
    })
  }

  reset(project: string): Promise<void> {
    return this.ask({ type: 'reset', project })
  }

  put(files: readonly PublishedFile[]): Promise<void> {
    return this.ask({ type: 'put', files })
  }

  close(): void {
    this.closed = true
    this.port.close()
    this.frame.remove()
    for (const { fail } of this.waiting.values()) fail(new Error(CLOSED))
    this.waiting.clear()
  }
}
