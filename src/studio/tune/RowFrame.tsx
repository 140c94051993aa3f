'use client'
import { createContext, useContext, type ReactNode } from 'react'
import type { PropertyAim } from '../../core/aim'
import { useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import { OriginDot } from './OriginDot'
import { rowId, type Row } from './properties'
import styles from './Rows.module.css'

interface Props {
  readonly row: Row
  readonly aim: PropertyAim
  readonly children: ReactNode
  /** Takes the whole width, under its label. */
  readonly wide?: boolean
  /** Its control has parts that differ. */
  readonly mixed?: boolean
  readonly color?: boolean
}

/** Whether the row above has said already why this one has no effect. */
export const SaidAbove = createContext(false)

/** What every row has: its name, its control, where its value comes from, and why it has no effect when it has none. */
export function RowFrame({ row, aim, children, wide, mixed, color }: Props) {
  const saidAbove = useContext(SaidAbove)
  const active = useStudio((s) => !row.with && s.property === row.property)
  // What nothing sets, or what the row above says already, is marked and told in full once the row is used.
  const idle =
    aim.noEffect && !active && (row.with || aim.origin.kind === 'initial' || aim.origin.kind === 'inherited' || saidAbove)
      ? aim.noEffect
      : null
  const apart = useStudio((s) => s.others.some((o) => o.aims.get(row.property)?.computed !== aim.computed))
  return (
    <div
      className={styles.row}
      data-active={active || undefined}
      data-part={row.part || undefined}
      data-wide={wide || undefined}
      data-mixed={mixed || undefined}
      data-color={color || undefined}
      data-testid={`row-${rowId(row)}`}
    >
      <span
        className={styles.label}
        data-idle={idle !== null || undefined}
        title={idle ? `${rowId(row)}: no effect: ${idle.why}` : rowId(row)}
      >
        {row.label}
        {apart && (
          <i className={styles.apart} title="The chosen elements differ">
            {' '}
            mixed
          </i>
        )}
      </span>
      {children}
      <OriginDot row={row} aim={aim} />
      {aim.noEffect && idle === null && <NoEffectLine aim={aim} />}
      {aim.besides.length > 0 && !row.part && (
        <span className={styles.noEffect}>
          {aim.besides.join(', ')} {aim.besides.length === 1 ? 'adds its margins' : 'add their margins'} to it.
        </span>
      )}
    </div>
  )
}

function NoEffectLine({ aim }: { aim: PropertyAim }) {
  const { session } = useSession()
  const { why, spec, remedy } = aim.noEffect!
  return (
    <span className={styles.noEffect} title={spec}>
      No effect: {why}.{' '}
      {remedy && (
        <button type="button" className={styles.link} onClick={() => void session.edits.applyRemedy(remedy)}>
          {remedy.words}
        </button>
      )}
    </span>
  )
}
