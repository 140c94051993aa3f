'use client'
import { useEffect, useState } from 'react'
import type { Stacking } from '../../agent/protocol'
import { nameOf } from '../aim/names'
import type { Picked } from '../store'
import { OfThisOrAll } from './LayoutActions'
import { useSession } from '../ui/SessionContext'
import styles from './PlaceExtras.module.css'
import rows from './Rows.module.css'

/** What stands over and under the element and which stacking context decides; centring, and lifting over another. */
export function PlaceExtras({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const [stacking, setStacking] = useState<Stacking | null>(null)
  useEffect(() => {
    let current = true
    void session.selection.stacking(picked).then((s) => current && setStacking(s))
    return () => {
      current = false
    }
  }, [session, picked])
  const { computed, facts, info } = picked.report
  const out = /absolute|fixed/.test(computed.position ?? '')
  // The context that the element itself stands in: its own first one decides what is inside it, not where it stands.
  const decides = stacking?.contexts.find((c) => c.info.node !== info.node)
  return (
    <>
      {facts.stickyHindered && <p className={styles.note}>It does not stick: {facts.stickyHindered}.</p>}
      {out && (
        <div className={rows.actions}>
          <OfThisOrAll
            of="inset"
            words="Centre it in its container"
            alone={() => void session.layout.centre(true)}
            all={() => void session.layout.centre(false)}
          />
        </div>
      )}
      {stacking && stacking.sharing.length > 0 && (
        <div className={styles.stack} role="group" aria-label="What shares its room">
          {stacking.sharing
            .filter((s) => s.above)
            .map((s) => (
              <div key={s.info.node} className={styles.sheet}>
                <code>{nameOf(s.info)}</code> <span>z {s.z}</span>
                {s.context.node === decides?.info.node || s.context.node === s.info.node ? (
                  <button type="button" onClick={() => void session.layout.bringInFront(s)}>
                    Bring in front
                  </button>
                ) : (
                  <small title={`It stands in ${nameOf(s.context)}`}>in {nameOf(s.context)}</small>
                )}
              </div>
            ))}
          <div className={styles.sheet} data-own="true">
            <code>{nameOf(info)}</code> <span>z {computed['z-index']}</span>
          </div>
          {stacking.sharing
            .filter((s) => !s.above)
            .map((s) => (
              <div key={s.info.node} className={styles.sheet}>
                <code>{nameOf(s.info)}</code> <span>z {s.z}</span>
              </div>
            ))}
        </div>
      )}
      {decides && (
        <p className={styles.quiet}>
          Stacked within <code>{nameOf(decides.info)}</code>: {decides.why}.
        </p>
      )}
    </>
  )
}
