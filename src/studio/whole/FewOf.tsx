'use client'
import { useState, type ReactNode } from 'react'
import styles from './WholePanel.module.css'

/** The first few of a list, and all of it when that is asked for. */
export function FewOf<T>({
  items,
  few,
  children,
}: {
  readonly items: readonly T[]
  readonly few: number
  readonly children: (item: T, index: number) => ReactNode
}) {
  const [all, setAll] = useState(false)
  return (
    <>
      <ul>{(all ? items : items.slice(0, few)).map(children)}</ul>
      {items.length > few && (
        <button type="button" className={styles.more} onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `All ${items.length}`}
        </button>
      )}
    </>
  )
}
