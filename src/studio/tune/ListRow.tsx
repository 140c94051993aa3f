'use client'
import type { PropertyAim } from '../../core/aim'
import { useSession } from '../ui/SessionContext'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import styles from './Rows.module.css'

/** One of many words, from a list. */
export function ListRow({ row, aim, options }: { row: Row; aim: PropertyAim; options: readonly string[] }) {
  const { session } = useSession()
  const now = aim.written ?? aim.computed
  return (
    <RowFrame row={row} aim={aim} wide>
      <select
        className={styles.list}
        aria-label={row.property}
        value={now}
        onFocus={() => session.selection.touch(row.property)}
        onChange={(e) => void session.edits.commit(row.property, e.target.value)}
      >
        {!options.includes(now) && <option value={now}>{now}</option>}
        {options.map((o) => (
          <option key={o} value={o}>
            {o}
          </option>
        ))}
      </select>
    </RowFrame>
  )
}
