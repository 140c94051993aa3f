'use client'
import { useRef, useState } from 'react'
import { evaluateLength, parseLength } from '../../core/value'
import { useSession } from '../ui/SessionContext'
import type { Row } from './properties'
import styles from './Rows.module.css'

/** What people type: lengths with arithmetic, `--token` names, keywords; refused with a word why. */
function readTyped(row: Row, typed: string, current: string): { ok: true; value: string } | { ok: false; why: string } {
  const text = typed.trim()
  if (text === '') return { ok: false, why: 'Type a value' }
  const length = row.kind === 'length' ? evaluateLength(text, parseLength(current), parseLength(current)?.unit || 'px') : null
  const value = /^--[\w-]+$/.test(text) ? `var(${text})` : length ?? text
  return CSS.supports(row.property, value) ? { ok: true, value } : { ok: false, why: `“${text}” is not a value of ${row.property}` }
}

/** The value as it is written, to be typed over. */
export function ValueField({ row, text, pulling }: { row: Row; text: string; pulling: boolean }) {
  const { session } = useSession()
  const [typed, setTyped] = useState<string | null>(null)
  const [why, setWhy] = useState<string | null>(null)
  const field = useRef<HTMLInputElement>(null)

  const enter = () => {
    if (typed === null || typed === text) return
    const read = readTyped(row, typed, text)
    if (!read.ok) {
      setWhy(read.why)
      return
    }
    setWhy(null)
    void session.edits.commit(row.property, read.value).then(() => setTyped(null))
  }

  return (
    <>
      <input
        ref={field} type="text" className={styles.value} data-pulling={pulling || undefined} aria-label={`${row.property} value`} aria-invalid={why !== null}
        spellCheck={false} value={typed ?? text} title={text}
        onFocus={(e) => {
          session.selection.touch(row.property)
          e.target.select()
        }}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') enter()
          else if (e.key === 'Escape') {
            setTyped(null)
            setWhy(null)
            field.current?.blur()
          }
        }}
        onBlur={enter}
      />
      {why && <span className={styles.why} role="alert">{why}</span>}
    </>
  )
}
