'use client'
import { setStudio, useStudio } from '../store'
import styles from './StatusBar.module.css'
import { useSession } from './SessionContext'

/** One line for what went wrong or is under way; nothing when all is well. */
export function StatusBar() {
  const status = useStudio((s) => s.status)
  const again = useStudio((s) => s.again)
  const { session } = useSession()
  const reading = useStudio((s) => (s.vocabulary && s.vocabulary.share < 1 ? s.vocabulary : null))
  const sheet = useStudio((s) => s.reading)
  const unread = useStudio((s) => s.unread)
  return (
    <div className={styles.place} aria-live="polite">
      {unread && (
        <div className={styles.bar} data-testid="reading-folder">
          <span>
            Reading the folder: {unread.done.toLocaleString('en')} of {unread.of.toLocaleString('en')} files. What you choose waits for
            them.
          </span>
        </div>
      )}
      {!status && !unread && reading && (
        <div className={styles.bar} data-testid="vocabulary-progress">
          <span>
            Reading the classes of {reading.label}: {Math.round(reading.share * 100)}%
          </span>
        </div>
      )}
      {!status && !unread && !reading && sheet && (
        <div className={styles.bar} data-testid="reading">
          <span>
            Reading {sheet.path}: {Math.round(sheet.share * 100)}%. What you choose meanwhile takes longer.
          </span>
          <button type="button" className={styles.close} onClick={() => session.stopReading()}>
            Stop
          </button>
        </div>
      )}
      {status && !unread && (
        <div className={`${styles.bar} ${status.kind === 'error' ? styles.error : ''}`} data-testid="status">
          <span>{status.text}</span>
          {again && (
            <button
              type="button"
              className={styles.close}
              onClick={() => {
                setStudio({ status: null, again: null })
                void again()
              }}
            >
              Try again
            </button>
          )}
          <button type="button" className={styles.close} onClick={() => setStudio({ status: null, again: null })}>
            Dismiss
          </button>
        </div>
      )}
    </div>
  )
}
