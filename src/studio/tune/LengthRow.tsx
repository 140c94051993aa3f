'use client'
import { useRef, useState } from 'react'
import type { PropertyAim } from '../../core/aim'
import { evaluateLength, formatLength, parseLength } from '../../core/value'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import { OriginDot } from './OriginDot'
import type { Row } from './properties'
import { lengthIn, notchesFor, pxOf, sourceUnit, unitContext, type Notch } from './row-value'
import styles from './Rows.module.css'
import { Tape } from './Tape'

export function LengthRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const tokens = useStudio((s) => s.tokens)
  const active = useStudio((s) => s.property === row.property)
  const pulling = useStudio((s) => (s.pulling?.property === row.property ? s.pulling.value : null))
  const context = unitContext(picked.report, row.property)
  const px = pxOf(aim.computed)
  const unit = sourceUnit(aim)
  const text = (to: number, notch: Notch | null) => notch?.text ?? formatLength(lengthIn(to, unit, context))
  const computed = aim.computed.replace(/\b0px\b/g, '0')
  const written = pulling ?? aim.written ?? (px === null ? computed : formatLength({ number: px, unit: 'px' }))
  const can = aim.candidates.length > 0

  return (
    <div className={styles.row} data-active={active || undefined} data-mixed={px === null || undefined} data-side={/-(top|right|bottom|left)$/.test(row.property) || undefined} data-testid={`row-${row.property}`}>
      <span className={styles.label}>{row.label}</span>
      {px !== null && (
        <Tape
          label={row.property} px={px} notches={notchesFor(tokens, picked.report, row.property)} negative={row.negative ?? false} active={active}
          describe={(v) => formatLength({ number: v, unit: 'px' })}
          onFocus={() => session.selection.touch(row.property)}
          onShow={(to, notch) => can && session.edits.preview(row.property, text(to, notch))}
          onCommit={(to, notch) => can && void session.edits.commit(row.property, text(to, notch))}
          onCancel={() => void session.edits.cancelPreview()}
        />
      )}
      <ValueField key={written} row={row} text={written} pulling={pulling !== null} />
      <OriginDot aim={aim} />
    </div>
  )
}

/** What people type: lengths with arithmetic, `--token` names, keywords; refused with a word why. */
function readTyped(property: string, typed: string, current: string): { ok: true; value: string } | { ok: false; why: string } {
  const text = typed.trim()
  if (text === '') return { ok: false, why: 'Type a value' }
  const value = /^--[\w-]+$/.test(text) ? `var(${text})` : evaluateLength(text, parseLength(current), parseLength(current)?.unit || 'px') ?? text
  return CSS.supports(property, value) ? { ok: true, value } : { ok: false, why: `“${text}” is not a value of ${property}` }
}

function ValueField({ row, text, pulling }: { row: Row; text: string; pulling: boolean }) {
  const { session } = useSession()
  const [typed, setTyped] = useState<string | null>(null)
  const [why, setWhy] = useState<string | null>(null)
  const field = useRef<HTMLInputElement>(null)

  const enter = () => {
    if (typed === null || typed === text) return
    const read = readTyped(row.property, typed, text)
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
