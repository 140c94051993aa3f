'use client'
import { formatLength } from '../../core/value'
import { getStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import { lengthIn, sourceUnit, unitContext } from './row-value'
import styles from './Rows.module.css'

/** A heading that wraps by a word can be made to fit. */
export function TypeActions({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const { facts, computed, geometry } = picked.report
  const aim = picked.aims.get('font-size')
  const [box] = geometry.boxes
  if (!aim || !box || facts.textLines < 2 || facts.naturalWidth === 0) return null
  const room = box.w - geometry.padding[1] - geometry.padding[3] - geometry.border[1] - geometry.border[3]
  const share = room / facts.naturalWidth
  // Below this the text is no line that could be meant to fit.
  if (share < 0.5 || share >= 1) return null
  const context = unitContext(picked.report, 'font-size')
  const to = Math.floor((parseFloat(computed['font-size']) || 16) * share * 10) / 10
  const value = formatLength(lengthIn(to, sourceUnit(aim, context, getStudio().preferences.units), context))
  return (
    <div className={styles.actions}>
      <button type="button" onClick={() => void session.edits.commit('font-size', value)}>
        Make it fit one line ({value})
      </button>
    </div>
  )
}
