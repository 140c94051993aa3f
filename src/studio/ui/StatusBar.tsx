'use client'
import { setStudio, useStudio } from '../store'
import styles from './StatusBar.module.css'

/** One line for what went wrong or is under way; nothing when all is well. */
export function StatusBar() {
  const status = useStudio((s) => s.status)
  return (
    <div className={styles.place} aria-live="polite">
      {status && (
        <div className={`${styles.bar} ${status.kind === 'error' ? styles.error : ''}`} data-testid="status">
          <span>{status.text}</span>
          <button type="button" className={styles.close} onClick={() => setStudio({ status: null })}>Dismiss</button>
        </div>
      )}
    </div>
  )
}
