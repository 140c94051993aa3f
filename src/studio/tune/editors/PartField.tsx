'use client'
import { useState } from 'react'
import { evaluateLength, parseLength } from '../../../core/value'
import styles from './Editors.module.css'

interface Props {
  readonly label: string
  readonly value: string
  /** Whether a text is such a part; null stands for arithmetic on lengths. */
  readonly allows?: (text: string) => boolean
  readonly onKeep: (text: string) => void
  readonly width?: number
}

/** One part of a value, typed; arithmetic on lengths is worked out, and what is no such part is not taken. */
export function PartField({ label, value, allows, onKeep, width }: Props) {
  const [typed, setTyped] = useState<string | null>(null)
  const [bad, setBad] = useState(false)
  const enter = () => {
    if (typed === null || typed.trim() === value) {
      setTyped(null)
      return
    }
    const text = (allows ? null : evaluateLength(typed, parseLength(value), parseLength(value)?.unit || 'px')) ?? typed.trim()
    if (text === '' || (allows ? !allows(text) : !CSS.supports('width', text.replace(/^-/, '')))) {
      setBad(true)
      return
    }
    setBad(false)
    setTyped(null)
    onKeep(text)
  }
  return (
    <input
      type="text"
      className={styles.part}
      style={width ? { width } : undefined}
      aria-label={label}
      title={label}
      aria-invalid={bad}
      spellCheck={false}
      value={typed ?? value}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={enter}
      onKeyDown={(e) => {
        if (e.key === 'Enter') enter()
        else if (e.key === 'Escape') {
          setTyped(null)
          setBad(false)
        }
      }}
    />
  )
}
