'use client'
import { setStudio, useStudio } from '../store'
import styles from './StatusBar.module.css'

/** One line for what went wrong or is under way; nothing when all is well. */
export function StatusBar() {
  const status = useStudio((s) => s.status)
  const again = useStudio((s) => s.again)
  const reading = useStudio((s) => (s.vocabulary && s.vocabulary.share < 1 ? s.vocabulary : null))
  return (
    <div className={styles.place} aria-live="polite">
      {!status && reading && (
        <div className={styles.bar} data-testid="vocabulary-progress">
          <span>Reading the classes of {reading.label}: {Math.round(reading.share * 100)}%</span>
        </div>
      )}
      {status && (
        <div className={`${styles.bar} ${status.kind === 'error' ? styles.error : ''}`} data-testid="status">
          <span>{status.text}</span>
          {again && <button type="button" className={styles.close} onClick={() => { setStudio({ status: null, again: null }); void again() }}>Try again</button>}
          <button type="button" className={styles.close} onClick={() => setStudio({ status: null, again: null })}>Dismiss</button>
        </div>
      )}
    </div>
  )
}
