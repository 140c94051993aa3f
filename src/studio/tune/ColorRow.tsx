'use client'
import { useState } from 'react'
import type { PropertyAim } from '../../core/aim'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import { ColorChooser } from './ColorChooser'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import { RowPopover } from './RowPopover'
import styles from './Rows.module.css'

export function ColorRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const pulling = useStudio((s) => (s.pulling?.property === row.property ? s.pulling.value : null))
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const shown = pulling ?? aim.written ?? (aim.computed === 'rgba(0, 0, 0, 0)' ? 'transparent' : aim.computed)
  const swatch = picked.report.computed[row.property]
  const close = () => {
    setAnchor(null)
    void session.edits.cancelPreview()
  }
  return (
    <RowFrame row={row} aim={aim} color>
      <button
        type="button"
        className={styles.color}
        aria-haspopup="dialog"
        aria-label={`${row.property}: ${shown}`}
        // With the pointer the click does it: Aim may change its height, and the press would end on another row.
        onFocus={(e) => e.target.matches(':focus-visible') && session.selection.touch(row.property)}
        onClick={(e) => {
          session.selection.touch(row.property)
          setAnchor(e.currentTarget)
        }}
      >
        <span className={styles.swatch}>
          <i style={{ background: pulling && !pulling.startsWith('var(') ? pulling : swatch }} />
        </span>
        <span className={styles.colorText} data-pulling={pulling !== null || undefined}>
          {shown}
        </span>
      </button>
      <RowPopover label={`Colour for ${row.property}`} anchor={anchor} onClose={close} side="left">
        {() => (
          <ColorChooser
            property={row.property}
            current={swatch}
            written={aim.written}
            computed={picked.report.computed}
            // While it closes, what slides under the pointer is not pointed at.
            onShow={(v) => anchor && session.edits.preview(row.property, v)}
            onChoose={(v) => {
              setAnchor(null)
              void session.edits.commit(row.property, v)
            }}
            onRest={() => void session.edits.cancelPreview()}
            onCancel={close}
          />
        )}
      </RowPopover>
    </RowFrame>
  )
}
