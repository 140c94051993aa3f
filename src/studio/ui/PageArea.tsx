'use client'
import { Button } from '@mui/material'
import { lazy, Suspense, useCallback, useLayoutEffect, useRef, useState } from 'react'
import { schemeOf } from '../../core/css'
import { useStudio } from '../store'
import styles from './PageArea.module.css'
import { ServerAddress } from './ServerAddress'
import { useSession } from './SessionContext'
import { WidthRuler } from './WidthRuler'

const Overlay = lazy(() => import('../overlay/Overlay').then((m) => ({ default: m.Overlay })))
const Beside = lazy(() => import('../keeping/Beside').then((m) => ({ default: m.Beside })))
const WholePanel = lazy(() => import('../whole/WholePanel').then((m) => ({ default: m.WholePanel })))
const OutlinePanel = lazy(() => import('../outline/OutlinePanel').then((m) => ({ default: m.OutlinePanel })))

/** What the page may do: all a visitor's page can, save lead the interface itself elsewhere. */
const SANDBOX =
  'allow-scripts allow-same-origin allow-forms allow-modals allow-popups allow-downloads allow-pointer-lock allow-orientation-lock allow-presentation'

/** The width of a panel at the left, as its style sheet has it; px. */
const SIDE = 330

/** Room left of the page, so that frames and handles at its edge can be seen. */
const MARGIN = 20

export function PageArea({ shown }: { readonly shown: boolean }) {
  const { session } = useSession()
  const room = useRef<HTMLDivElement>(null)
  const [size, setSize] = useState({ width: 0, height: 0 })
  const asked = useStudio((s) => s.width)
  const fault = useStudio((s) => s.fault)
  const progress = useStudio((s) => s.progress)
  const busy = useStudio((s) => s.busy)
  const empty = useStudio((s) => s.empty)
  const project = useStudio((s) => s.project)
  const outline = useStudio((s) => s.outline)
  const whole = useStudio((s) => s.whole)
  const connected = useStudio((s) => s.connected)
  const scheme = useStudio((s) => schemeOf(s.condition.media))
  const attach = useCallback((frame: HTMLIFrameElement | null) => session.page.attach(frame), [session])

  useLayoutEffect(() => {
    const observer = new ResizeObserver(([entry]) => setSize({ width: entry.contentRect.width, height: entry.contentRect.height }))
    if (room.current) observer.observe(room.current)
    return () => observer.disconnect()
  }, [])

  const beside = useStudio((s) => s.beside)
  // The page keeps its own width and is shown smaller: nothing of it is under a panel.
  const left = MARGIN + (outline || whole ? SIDE : 0)
  const most = Math.max(0, size.width - 2 * MARGIN)
  const visible = Math.max(0, size.width - left - MARGIN)
  const free = beside ? Math.max(0, (visible - MARGIN) / 2) : visible
  // Two pages side by side are as wide as the one was, and smaller.
  const width = asked ?? most
  // Before the window has been measured there is no room to fit it into.
  const scale = free > 0 && width > free ? free / width : 1
  const height = Math.max(0, size.height - 10) / scale

  return (
    <main className={styles.area} data-connected={connected || undefined}>
      {outline && (
        <Suspense>
          <OutlinePanel />
        </Suspense>
      )}
      {whole && (
        <Suspense>
          <WholePanel of={whole} />
        </Suspense>
      )}
      <WidthRuler width={width} scale={scale} free={free} margin={left} />
      <div className={styles.room} ref={room}>
        {fault ? (
          <section className={styles.fault} role="alert" data-testid="live-fault">
            <h2>{fault.title}</h2>
            <p className={styles.detail}>{fault.detail}</p>
            <p>{fault.remedy}</p>
            {fault.addresses && <ServerAddress found={fault.addresses} />}
            <Button variant="outlined" onClick={() => void session.page.restart()}>
              Try again
            </Button>
          </section>
        ) : (
          project &&
          size.width > 0 && (
            <>
              {beside && (
                <Suspense>
                  <Beside
                    key={JSON.stringify(beside.point)}
                    beside={beside}
                    width={width}
                    height={height}
                    scale={scale}
                    left={left + MARGIN + free}
                    colorScheme={scheme ?? 'normal'}
                    sandbox={SANDBOX}
                  />
                </Suspense>
              )}
              <div className={styles.sheet} style={{ left, width: width * scale, height: height * scale }}>
                <iframe
                  ref={attach}
                  title="Live page"
                  sandbox={SANDBOX}
                  data-testid="live-page"
                  style={{ width, height, transform: `scale(${scale})`, colorScheme: scheme ?? 'normal' }}
                />
                {shown && (
                  <Suspense>
                    <Overlay width={width} height={height} scale={scale} />
                  </Suspense>
                )}
              </div>
            </>
          )
        )}
        {progress && (
          <div className={styles.notice} role="status">
            {progress.text}
            <progress value={progress.share} aria-label="Progress" />
            <Button size="small" onClick={() => session.page.cancelPublishing()}>
              Cancel
            </Button>
          </div>
        )}
        {empty !== null && !fault && (
          <div className={styles.notice} role="status" data-testid="page-empty">
            <strong>This page shows nothing.</strong> {empty}
          </div>
        )}
        {busy && !fault && (
          <div className={styles.notice} role="alert" data-testid="page-busy">
            <strong>The page does not answer.</strong> A script in it may be running without end, or it waits for a file from elsewhere.
            Your edits are safe; if it is started again, what the page itself keeps in the browser will be empty.
            <Button variant="outlined" onClick={() => void session.page.restart()}>
              Start the page again
            </Button>
          </div>
        )}
      </div>
    </main>
  )
}
