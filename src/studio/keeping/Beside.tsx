'use client'
import { useEffect, useRef, useState } from 'react'
import { readHello } from '../../agent/read'
import { PageClient, type PageServer } from '../../page'
import { getStudio, say, useStudio, type StudioState } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Beside.module.css'

interface Props {
  readonly beside: NonNullable<StudioState['beside']>
  readonly width: number
  readonly height: number
  readonly scale: number
  readonly left: number
  readonly colorScheme: string
  readonly sandbox: string
}

/** Another state of the project, live beside the page and in step with it: the same page, width, scroll and held state. */
export function Beside({ beside, width, height, scale, left, colorScheme, sandbox }: Props) {
  const { session } = useSession()
  const frame = useRef<HTMLIFrameElement>(null)
  const client = useRef<PageClient | null>(null)
  const [here, setHere] = useState(0)
  const address = useStudio((s) => s.address)
  const page = useStudio((s) => s.frames.page)
  const picked = useStudio((s) => s.picked)
  const condition = useStudio((s) => s.condition)
  const [server, setServer] = useState<PageServer | null>(null)

  useEffect(() => {
    const own = session.serverBeside(beside.point)
    let over = false
    own
      .open('', () => {})
      .then(
        (isOpen) => {
          if (isOpen && !over) setServer(own)
        },
        (error: unknown) => say('error', `It could not be shown beside: ${error instanceof Error ? error.message : String(error)}`),
      )
    const hear = (e: MessageEvent) => {
      if (e.source !== frame.current?.contentWindow || e.origin !== own.origin || !readHello(e.data)) return
      client.current?.close()
      const [asked, spare] = [new MessageChannel(), new MessageChannel()]
      client.current = new PageClient(
        asked.port1,
        () => {},
        () => {},
      )
      frame.current.contentWindow!.postMessage({ steady: 'port' }, own.origin, [asked.port2, spare.port2])
      setHere((n) => n + 1)
    }
    addEventListener('message', hear)
    return () => {
      over = true
      removeEventListener('message', hear)
      client.current?.close()
      client.current = null
      own.close()
      setServer(null)
    }
  }, [beside, session])

  // The page that leads may have been loaded at the same time: it is followed as soon as this one is there.
  useEffect(() => {
    if (here && page) void client.current?.ask('scrollTo', { x: page.scrollX, y: page.scrollY }).catch(() => {})
  }, [page, here])

  const source = picked?.report.info.source ?? null
  useEffect(() => {
    const other = client.current
    if (!here || !other) return
    const hold = async () => {
      const info = source && condition.state ? await other.ask('locate', { source, nth: getStudio().picked?.report.nth ?? 0 }) : null
      await other.ask('hold', {
        held: info ? [{ node: info.node, states: [condition.state.slice(1)], open: false }] : [],
      })
    }
    hold().catch(() => {})
  }, [source, condition.state, here])

  return (
    <div className={styles.sheet} style={{ left, width: width * scale, height: height * scale }} data-testid="beside">
      <p className={styles.name}>{beside.name}</p>
      {server && (
        <iframe
          ref={frame}
          title={`Beside: ${beside.name}`}
          sandbox={sandbox}
          data-testid="beside-page"
          src={server.urlOf(address)}
          style={{ width, height, transform: `scale(${scale})`, colorScheme }}
        />
      )}
      {!server && (
        <p className={styles.wait} role="status">
          Publishing it…
        </p>
      )}
    </div>
  )
}
