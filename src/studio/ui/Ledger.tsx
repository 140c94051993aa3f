'use client'
import type { Verdict } from '../../core/edit'
import type { LedgerRow } from '../../desk'
import { setStudio, useStudio } from '../store'
import styles from './Ledger.module.css'

/** The edits made since the last save, the newest first. */
export function Ledger() {
  const rows = useStudio((s) => s.ledger.rows)
  if (rows.length === 0)
    return (
      <p className={styles.empty}>
        Each edit is listed here with its line in the source, how many elements it reaches, and whether the page shows what was asked for.
      </p>
    )
  return (
    <ol className={styles.ledger} data-testid="ledger">
      {[...rows].reverse().map((row) => (
        <Entry key={row.seq} row={row} />
      ))}
    </ol>
  )
}

function Entry({ row }: { row: LedgerRow }) {
  return (
    <li data-testid="ledger-row">
      <button
        type="button"
        title={`${row.path}:${row.line} ${row.label}`}
        onClick={() => setStudio({ source: { path: row.path, line: row.line } })}
      >
        <span className={styles.place}>
          <span>{row.path.split('/').at(-1)}</span>:{row.line}
        </span>
        <span className={styles.change}>
          {row.name} {row.before !== null && <s>{row.before}</s>} <b>{row.after}</b>
        </span>
        <span className={styles.reach}>{row.reach > 0 && `reach ${row.reach}`}</span>
        <Mark verdict={row.verdict} />
        {row.verdict.state === 'differs' && (
          <span className={styles.why} data-testid="ledger-why">
            {row.verdict.example}
          </span>
        )}
        {row.verdict.state === 'holds' && row.verdict.except && (
          <span className={styles.except}>
            {row.verdict.elements} of {row.verdict.of} show it. {row.verdict.except}
          </span>
        )}
      </button>
    </li>
  )
}

function Mark({ verdict }: { verdict: Verdict }) {
  switch (verdict.state) {
    case 'holds':
      return (
        <span
          className={styles.holds}
          role="img"
          aria-label="holds"
          title={`The page, read again, shows it on ${verdict.elements} of ${verdict.of ?? verdict.elements} in reach`}
        >
          ✓
        </span>
      )
    case 'differs':
      return (
        <span
          className={styles.differs}
          role="img"
          aria-label="differs"
          title={`${verdict.elements} of ${verdict.of} differ. ${verdict.example}`}
        >
          ≠
        </span>
      )
    case 'unread':
      return (
        <span className={styles.unread} role="img" aria-label="not read" title={`Not read again: ${verdict.why}`}>
          ?
        </span>
      )
    default:
      return (
        <span className={styles.pending} role="img" aria-label="being read">
          ·
        </span>
      )
  }
}
