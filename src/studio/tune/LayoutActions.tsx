'use client'
import type { Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Rows.module.css'

/** Things people want of a layout that take several declarations, each one edit. */
export function LayoutActions({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const { parent, computed, info } = picked.report
  const inRow = /flex/.test(parent.display ?? '')
  if (info.source === null) return null
  return (
    <div className={styles.actions} role="group" aria-label="Layout in one step">
      {inRow && <button type="button" disabled={computed['flex-grow'] !== '0'} onClick={() => void session.edits.commitAll([['flex-grow', '1']])}>Let it take the free room</button>}
      {info.tag !== 'body' && <button type="button" onClick={() => void session.edits.rowWithThisAtTheEnd()}>Its row: this one at the far end</button>}
      {/^block$/.test(computed.display ?? '') && <button type="button" onClick={() => void session.edits.commitAll([['display', 'flex'], ['flex-wrap', 'wrap']], 'children on a row')}>Its children on a row</button>}
    </div>
  )
}
