'use client'
import { contrast, formatColor, nearestPassing, notationOf, parseColor, PLAIN_NOTATION } from '../../core/value'
import type { Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './ContrastLine.module.css'

/** The text's contrast on what it really stands on, its level by WCAG 2.2 §1.4.3, and the nearest colour that passes. */
export function ContrastLine({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const { computed, facts } = picked.report
  const text = parseColor(computed.color ?? '')
  const ground = facts.backdrop ? parseColor(facts.backdrop) : null
  if (!text || facts.textLines === 0) return null
  if (!ground) return <p className={styles.line}>It stands on a picture or a see-through ground, so its contrast is not one number.</p>
  const size = parseFloat(computed['font-size'] ?? '16')
  const large = size >= 24 || (size >= 18.66 && Number(computed['font-weight']) >= 700)
  const least = large ? 3 : 4.5
  const ratio = contrast(text, ground)
  const passes = ratio >= least
  const better = passes ? null : nearestPassing(text, ground, least)
  const written = picked.aims.get('color')?.written ?? ''
  const value = better && formatColor(better, parseColor(written) ? notationOf(written) : PLAIN_NOTATION)
  return (
    <p className={styles.line} data-passes={passes} data-testid="contrast">
      <span className={styles.sample} style={{ color: computed.color, background: facts.backdrop! }} aria-hidden="true">
        Aa
      </span>
      contrast {ratio.toFixed(2)}
      {ratio >= (large ? 4.5 : 7) ? ', AAA' : passes ? ', AA' : ` is under ${least}`}
      {large ? ' (large text)' : ''}
      {value && (
        <button type="button" onClick={() => void session.edits.commit('color', value)}>
          <i style={{ background: value }} />
          {value} passes
        </button>
      )}
    </p>
  )
}
