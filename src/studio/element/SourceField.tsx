'use client'
import { useState, type KeyboardEvent } from 'react'
import styles from './ElementSection.module.css'

interface Props {
  readonly label: string
  readonly value: string
  readonly onKeep: (text: string) => void
  readonly allows?: (text: string) => boolean
  /** Several lines: Enter makes one, Ctrl Enter keeps them. */
  readonly many?: boolean
  readonly list?: string
  readonly placeholder?: string
  /** Told as a label is, until it is in hand. */
  readonly quiet?: boolean
}

/** A text as the source has it, kept when it is left or entered; Escape leaves it as it was. */
export function SourceField({ label, value, onKeep, allows, many, list, placeholder, quiet }: Props) {
  const [typed, setTyped] = useState<string | null>(null)
  const bad = typed !== null && typed !== value && allows !== undefined && !allows(typed)
  const keep = () => {
    if (typed !== null && typed !== value && !bad) onKeep(typed)
    if (!bad) setTyped(null)
  }
  const shared = {
    className: styles.field, 'data-quiet': quiet || undefined, 'aria-label': label, 'aria-invalid': bad, spellCheck: many === true, value: typed ?? value, placeholder,
    onBlur: keep,
    onKeyDown: (e: KeyboardEvent) => {
      if (e.key === 'Escape') setTyped(null)
      else if (e.key === 'Enter' && (!many || e.ctrlKey)) {
        e.preventDefault()
        keep()
      }
    },
  }
  return many
    ? <textarea {...shared} rows={Math.min(5, Math.max(1, Math.ceil(value.length / 34)))} onChange={(e) => setTyped(e.target.value)} />
    : <input {...shared} type="text" list={list} onChange={(e) => setTyped(e.target.value)} />
}
