import type { ReactNode } from 'react'
import styles from './SidePanel.module.css'

/** A panel over the left edge of the page, which is shown beside it. */
export function SidePanel({
  title,
  said,
  testId,
  onClose,
  children,
}: {
  readonly title: string
  /** A few words beside the title. */
  readonly said: string
  readonly testId: string
  readonly onClose: () => void
  readonly children: ReactNode
}) {
  return (
    <section className={styles.panel} aria-label={title} data-testid={testId}>
      <header>
        <h2>{title}</h2>
        <span>{said}</span>
        <button type="button" aria-label={`Close the ${title.toLowerCase()}`} onClick={onClose}>
          ×
        </button>
      </header>
      {children}
    </section>
  )
}
