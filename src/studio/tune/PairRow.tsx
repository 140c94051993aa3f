'use client'
import type { PropertyAim } from '../../core/aim'
import { formatLength, parseLength, readTyped } from '../../core/value'
import { useState } from 'react'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import { lengthIn, lengthWritten, notchesFor, pxOf, sourceUnit, unitContext, type Notch } from './row-value'
import styles from './Rows.module.css'
import { Tape } from './Tape'

/** Two opposite sides as one length, written as one edit. */
export function PairRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const scale = useStudio((s) => s.scale)
  const pulling = useStudio((s) => (s.pulling?.property === row.property ? s.pulling.value : null))
  const [typed, setTyped] = useState<string | null>(null)
  const [why, setWhy] = useState<string | null>(null)
  const other = row.with!
  const second = picked.aims.get(other)
  const context = unitContext(picked.report, row.property)
  const unit = sourceUnit(
    aim,
    context,
    useStudio((s) => s.preferences.units),
  )
  const px = aim.computed === second?.computed ? pxOf(aim.computed) : null
  const said = aim.written ?? aim.computed
  const both = px === null ? `${said} · ${second?.written ?? second?.computed ?? ''}` : said
  const text = (to: number, notch: Notch | null) => notch?.text ?? formatLength(lengthIn(to, unit, context))
  const changes = (value: string) =>
    [
      [row.property, value],
      [other, value],
    ] as const
  const type = (text: string | null) => {
    setTyped(text)
    setWhy(null)
  }
  const enter = () => {
    if (typed === null || typed === both) return type(null)
    const current = lengthWritten(aim) ?? parseLength(aim.computed) ?? { number: 0, unit }
    const value = readTyped(typed, {
      property: row.property,
      lengths: true,
      current,
      supports: (v) => CSS.supports(row.property, v),
    })
    if (!value.ok) return setWhy(value.why)
    type(null)
    void session.edits.commitAll(changes(value.value))
  }
  return (
    <RowFrame row={row} aim={aim} mixed={px === null}>
      {px !== null && (
        <Tape
          label={`${row.property} and ${other}`}
          px={px}
          notches={notchesFor(scale, picked.report, row.property)}
          negative={row.negative ?? false}
          active={false}
          describe={(v) => formatLength({ number: v, unit: 'px' })}
          onFocus={() => session.selection.touch(row.property)}
          onShow={(to, notch) => session.edits.previewAll(changes(text(to, notch)))}
          onCommit={(to, notch) => void session.edits.commitAll(changes(text(to, notch)))}
          onCancel={() => void session.edits.cancelPreview()}
        />
      )}
      <input
        type="text"
        className={styles.value}
        aria-label={`${row.property} and ${other} value`}
        aria-invalid={why !== null}
        spellCheck={false}
        value={typed ?? pulling ?? both}
        onFocus={(e) => {
          session.selection.touch(row.property)
          e.target.select()
        }}
        onChange={(e) => type(e.target.value)}
        onBlur={enter}
        onKeyDown={(e) => {
          if (e.key === 'Enter') enter()
          else if (e.key === 'Escape') type(null)
        }}
      />
      {why && (
        <span className={styles.why} role="alert">
          {why}
        </span>
      )}
    </RowFrame>
  )
}
