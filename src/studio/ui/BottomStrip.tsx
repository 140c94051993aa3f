'use client'
import dynamic from 'next/dynamic'
import { useState, type KeyboardEvent, type PointerEvent } from 'react'
import { useStudio } from '../store'
import styles from './BottomStrip.module.css'
import { Ledger } from './Ledger'

const Source = dynamic(() => import('./Source').then((m) => m.Source), { ssr: false })

const LEAST = 34
const MOST = 600
const USUAL = 188

/** Ledger on the left, Source on the right; pulled to any height, down to one line. */
export function BottomStrip() {
  const count = useStudio((s) => s.ledger.rows.length)
  const source = useStudio((s) => s.source)
  // The same with and without edits: a page that changes its height with the first one would be another page.
  const [height, setHeight] = useState(USUAL)
  const [from, setFrom] = useState<{ y: number; height: number } | null>(null)
  const bounded = (h: number) => Math.min(MOST, Math.max(LEAST, h))
  const onPointerDown = (e: PointerEvent) => {
    e.currentTarget.setPointerCapture(e.pointerId)
    setFrom({ y: e.clientY, height })
  }
  const onKeyDown = (e: KeyboardEvent) => {
    const by = { ArrowUp: 20, ArrowDown: -20 }[e.key]
    if (!by) return
    e.preventDefault()
    e.stopPropagation()
    setHeight(bounded(height + by))
  }
  return (
    <section className={styles.strip} style={{ height }} aria-label="Ledger and Source">
      <div
        className={styles.grip} role="slider" aria-orientation="vertical" tabIndex={0} aria-label="Height of Ledger and Source" aria-valuenow={height} aria-valuemin={LEAST} aria-valuemax={MOST}
        onPointerDown={onPointerDown} onPointerMove={(e) => from && setHeight(bounded(from.height + from.y - e.clientY))} onPointerUp={() => setFrom(null)}
        onDoubleClick={() => setHeight(height > LEAST ? LEAST : USUAL)} onKeyDown={onKeyDown}
      />
      <div className={styles.part}>
        <h2>Ledger <span>{count === 0 ? 'no edits yet' : `${count} ${count === 1 ? 'edit' : 'edits'} not yet saved`}</span></h2>
        <Ledger />
      </div>
      <div className={styles.part}>
        <h2>Source {source && <code data-testid="source-path">{source.path}</code>}</h2>
        {/* The editor is a large script; nothing needs it before there is a line to show. */}
        {source ? <Source spot={source} /> : <p className={styles.empty}>The line that is written shows here, in its file.</p>}
      </div>
    </section>
  )
}
