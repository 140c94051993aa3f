'use client'
import type { PropertyAim } from '../../core/aim'
import type { NoEffect } from '../../core/cascade'
import { useSession } from '../ui/SessionContext'
import { OriginDot } from './OriginDot'
import type { Row } from './properties'
import styles from './Rows.module.css'

/** A row whose property does nothing for the chosen element: why, and the one change that would give it effect. */
export function NoEffectRow({ row, aim, noEffect }: { row: Row; aim: PropertyAim; noEffect: NoEffect }) {
  const { session } = useSession()
  const { remedy } = noEffect
  return (
    <div className={styles.row} data-side={/-(top|right|bottom|left)$/.test(row.property) || undefined} data-testid={`row-${row.property}`}>
      <span className={styles.label}>{row.label}</span>
      <span className={styles.noEffect} title={noEffect.spec}>
        no effect: {noEffect.why}.{' '}
        {remedy && <button type="button" className={styles.link} onClick={() => void session.edits.applyRemedy(remedy)}>{remedy.words}</button>}
      </span>
      <OriginDot aim={aim} />
    </div>
  )
}
