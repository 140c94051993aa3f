'use client'
import { lazy, Suspense, useState } from 'react'
import type { PropertyAim } from '../../core/aim'
import { useSession } from '../ui/SessionContext'
import { originText } from './origin-text'
import type { Row } from './properties'
import styles from './Rows.module.css'

const RowMenu = lazy(() => import('./RowMenu').then((m) => ({ default: m.RowMenu })))

/** Full when the element's own rules set the value, half when it is inherited, hollow when nothing does; pressed, it tells the rest. */
export function OriginDot({ row, aim }: { row: Row; aim: PropertyAim }) {
  const { session } = useSession()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  return (
    <>
      <button
        type="button"
        className={styles.dot}
        data-kind={aim.origin.kind}
        aria-label={`${row.property}: ${originText(aim)}`}
        title={originText(aim)}
        aria-haspopup="dialog"
        onClick={(e) => {
          session.selection.touch(row.property)
          setAnchor(e.currentTarget)
        }}
      />
      {anchor && (
        <Suspense>
          <RowMenu row={row} aim={aim} anchor={anchor} onClose={() => setAnchor(null)} />
        </Suspense>
      )}
    </>
  )
}
