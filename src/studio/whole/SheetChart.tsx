'use client'
import type { SheetUse } from '../../core/project'
import { kilobytes } from './kilobytes'
import { StackedBars } from './StackedBars'
import styles from './WholePanel.module.css'

/** Sheets that are drawn at most, the largest. */
const MOST = 8

/** How much of each sheet is used: bars of their rules, those that match something and those that do not. */
export function SheetChart({ sheets }: { readonly sheets: readonly SheetUse[] }) {
  const rows = [...sheets]
    .sort((a, b) => b.size - a.size)
    .slice(0, MOST)
    .map((s) => ({ path: s.path, used: s.size - s.unused, unused: s.unused }))
  if (rows.length === 0) return null
  return (
    <figure className={styles.chart} aria-label="How much of each sheet is used" data-testid="sheet-chart">
      <StackedBars
        rows={rows}
        parts={[
          { of: 'used', words: 'matches something', fill: 'var(--primary)' },
          { of: 'unused', words: 'matches nothing', fill: 'var(--warning)' },
        ]}
      />
      <table className={styles.hidden}>
        <caption>How much of each sheet is used</caption>
        <thead>
          <tr>
            <th>Sheet</th>
            <th>Matches something</th>
            <th>Matches nothing</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.path}>
              <th>{r.path}</th>
              <td>{kilobytes(r.used)}</td>
              <td>{kilobytes(r.unused)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <figcaption>
        <i data-of="used" /> matches something <i data-of="unused" /> matches nothing
      </figcaption>
    </figure>
  )
}
