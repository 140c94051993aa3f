'use client'
import dynamic from 'next/dynamic'
import { useState, type KeyboardEvent, type PointerEvent } from 'react'
import { FileChooser } from '../source/FileChooser'
import { FOLDED_STRIP, setStudio, USUAL_STRIP, useStudio } from '../store'
import styles from './BottomStrip.module.css'
import { Ledger } from './Ledger'

const Source = dynamic(() => import('../source/Source').then((m) => m.Source), { ssr: false })

/** What is left of the window above it when Source has all; px. */
const ABOVE = 86

const most = (): number => Math.max(USUAL_STRIP, (typeof innerHeight === 'number' ? innerHeight : 800) - ABOVE)

const SHARES: readonly (readonly [string, () => number])[] = [
  ['Page', () => FOLDED_STRIP],
  ['Both', () => USUAL_STRIP],
  ['Half', () => Math.round(most() / 2)],
  ['Source', most],
]

/** Ledger on the left, Source on the right; pulled to any height, down to one line. */
export function BottomStrip() {
  const count = useStudio((s) => s.ledger.rows.length)
  const source = useStudio((s) => s.source)
  // The same with and without edits: a page that changes its height with the first one would be another page.
  const height = useStudio((s) => s.strip)
  const setHeight = (strip: number) => setStudio({ strip })
  const [from, setFrom] = useState<{ y: number; height: number } | null>(null)
  const bounded = (h: number) => Math.min(most(), Math.max(FOLDED_STRIP, h))
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
        className={styles.grip}
        role="slider"
        aria-orientation="vertical"
        tabIndex={0}
        aria-label="Height of Ledger and Source"
        aria-valuenow={height}
        aria-valuemin={FOLDED_STRIP}
        aria-valuemax={most()}
        onPointerDown={onPointerDown}
        onPointerMove={(e) => from && setHeight(bounded(from.height + from.y - e.clientY))}
        onPointerUp={() => setFrom(null)}
        onDoubleClick={() => setHeight(height > FOLDED_STRIP ? FOLDED_STRIP : USUAL_STRIP)}
        onKeyDown={onKeyDown}
      />
      <div className={styles.part}>
        <h2 className={styles.title}>
          Ledger <span>{count === 0 ? 'no edits yet' : `${count} ${count === 1 ? 'edit' : 'edits'} not yet saved`}</span>
        </h2>
        <Ledger />
      </div>
      <div className={styles.part}>
        <div className={styles.head}>
          <h2>Source</h2>
          <FileChooser />
          <span className={styles.room} />
          <div className={styles.shares} role="group" aria-label="Page and Source">
            {SHARES.map(([label, of]) => (
              <button key={label} type="button" aria-pressed={Math.abs(height - of()) < 2} onClick={() => setHeight(of())}>
                {label}
              </button>
            ))}
          </div>
        </div>
        {/* The editor is a large script; nothing needs it before there is a line to show. */}
        {source ? <Source spot={source} /> : <p className={styles.empty}>The line that is written shows here, in its file.</p>}
      </div>
    </section>
  )
}
