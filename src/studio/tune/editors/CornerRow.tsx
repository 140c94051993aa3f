'use client'
import type { PropertyAim } from '../../../core/aim'
import { useSession } from '../../ui/SessionContext'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import styles from './Editors.module.css'
import { PartField } from './PartField'

/** The radius of one corner, across and down: one length where both are the same (CSS Backgrounds 3 §4.1). */
export function CornerRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  const { session } = useSession()
  const words = (aim.written ?? aim.computed).split(/\s+(?![^(]*\))/)
  const [across, down] = [words[0], words[1] ?? words[0]]
  const keep = (x: string, y: string) => {
    session.selection.touch(row.property)
    void session.edits.commit(row.property, x === y ? x : `${x} ${y}`)
  }
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.parts}>
        <PartField label={`${row.label} across`} value={across} width={92} onKeep={(x) => keep(x, words.length === 1 ? x : down)} />
        <span aria-hidden="true" className={styles.names}>
          by
        </span>
        <PartField label={`${row.label} down`} value={down} width={92} onKeep={(y) => keep(across, y)} />
      </div>
    </RowFrame>
  )
}
