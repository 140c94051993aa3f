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
  /** Called as something is typed, and when what was typed is dropped. */
  readonly onType?: () => void
  /** Told as a label is, until it has the focus. */
  readonly quiet?: boolean
}

/** A text as the source has it, kept when it is left or entered; Escape leaves it as it was. */
export function SourceField({ label, value, onKeep, allows, many, list, placeholder, onType, quiet }: Props) {
  const [typed, setTyped] = useState<string | null>(null)
  const bad = typed !== null && typed !== value && allows !== undefined && !allows(typed)
  const keep = () => {
    if (typed !== null && typed !== value && !bad) onKeep(typed)
    if (!bad) setTyped(null)
  }
  const type = (text: string) => {
    setTyped(text)
    onType?.()
  }
  const drop = () => {
    setTyped(null)
    onType?.()
  }
  const shared = {
    className: styles.field,
    'data-quiet': quiet || undefined,
    'aria-label': label,
    'aria-invalid': bad,
    spellCheck: many === true,
    value: typed ?? value,
    placeholder,
    onBlur: () => {
      keep()
      // What cannot be kept is not left standing where it is no value.
      if (bad) drop()
    },
    onKeyDown: (e: KeyboardEvent) => {
      if (e.key === 'Escape') drop()
      else if (e.key === 'Enter' && (!many || e.ctrlKey)) {
        e.preventDefault()
        keep()
      }
    },
  }
  return many ? (
    <textarea {...shared} rows={Math.min(5, Math.max(1, Math.ceil(value.length / 34)))} onChange={(e) => type(e.target.value)} />
  ) : (
    <input {...shared} type="text" list={list} onChange={(e) => type(e.target.value)} />
  )
}
