'use client'
import { useState, type ReactNode } from 'react'
import { kilobytes } from './kilobytes'
import styles from './Weight.module.css'

/** Rows that are shown before all are asked for. */
const FEW = 8

export interface SizeRow {
  readonly key: string
  readonly title: string
  readonly name: ReactNode
  /** Bytes, and as they are sent; 0 where that is not known. */
  readonly size: number
  readonly packed: number
}

/** How large things are, the largest first. */
export function SizeTable({ of, rows, testId }: { readonly of: string; readonly rows: readonly SizeRow[]; readonly testId: string }) {
  const [all, setAll] = useState(false)
  const sorted = [...rows].sort((a, b) => b.packed - a.packed)
  return (
    <>
      <table className={styles.sizes} data-testid={testId}>
        <thead>
          <tr>
            <th scope="col">{of}</th>
            <th scope="col">Size</th>
            <th scope="col">As sent</th>
          </tr>
        </thead>
        <tbody>
          {(all ? sorted : sorted.slice(0, FEW)).map((r) => (
            <tr key={r.key}>
              <th scope="row" title={r.title}>
                {r.name}
              </th>
              <td>{r.size ? kilobytes(r.size) : 'not known'}</td>
              <td>{r.size ? kilobytes(r.packed) : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > FEW && (
        <button type="button" className={styles.more} onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `All ${rows.length}`}
        </button>
      )}
    </>
  )
}
