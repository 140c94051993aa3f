'use client'
import { useEffect, useState } from 'react'
import type { NodeInfo } from '../../agent/protocol'
import { useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './AimPanel.module.css'
import { nameOf } from './names'

/** Things kept open or in a state whatever is chosen, and the way to keep the chosen state. */
export function HeldThings() {
  const { session } = useSession()
  const held = useStudio((s) => s.held)
  const picked = useStudio((s) => s.picked)
  const state = useStudio((s) => s.condition.state)
  const canHold = picked && state.startsWith(':') && !held.some((h) => h.info.node === picked.report.info.node && h.state === state)
  const hidden = useStudio((s) => s.hidden)
  if (held.length === 0 && hidden.length === 0 && !canHold) return null
  return (
    <div className={styles.held} data-testid="held">
      {canHold && (
        <button
          type="button"
          className={styles.more}
          onClick={() => void session.selection.toggleHold({ info: picked.report.info, state })}
        >
          Keep {nameOf(picked.report.info)} in {state} while choosing others
        </button>
      )}
      {hidden.length > 0 && (
        <button
          type="button"
          className={styles.chip}
          title={`${hidden.map(nameOf).join(', ')}: the source has them`}
          onClick={() => void session.structure.hideForNow(false)}
        >
          {hidden.length === 1 ? nameOf(hidden[0]) : `${hidden.length} elements`} off the page for now <span aria-hidden="true">×</span>
        </button>
      )}
      {held.map((h) => (
        <button
          key={`${h.info.node}${h.state}`}
          type="button"
          className={styles.chip}
          title="Let go"
          onClick={() => void session.selection.toggleHold(h)}
        >
          {nameOf(h.info)} {h.state || 'open'} <span aria-hidden="true">×</span>
        </button>
      ))}
    </div>
  )
}

/** Dialogs, popovers and folded parts of the page, which nobody can point at until they show. */
export function ShownAtTimes() {
  const { session } = useSession()
  const connected = useStudio((s) => s.connected)
  const [closed, setClosed] = useState<readonly NodeInfo[]>([])
  useEffect(() => {
    if (!connected) return
    let current = true
    void session.selection.findClosed().then((list) => current && setClosed(list))
    return () => {
      current = false
    }
  }, [session, connected])
  if (closed.length === 0) return null
  return (
    <div className={styles.closed}>
      <p className={styles.hint}>Not showing now. Hold one open to tune it:</p>
      {closed.slice(0, 8).map((info) => (
        <button
          key={info.node}
          type="button"
          className={styles.chip}
          onClick={() => void session.selection.toggleHold({ info, state: '' })}
        >
          {nameOf(info)}
        </button>
      ))}
    </div>
  )
}
