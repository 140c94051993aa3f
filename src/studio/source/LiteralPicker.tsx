'use client'
import { Popover } from '@mui/material'
import { useState } from 'react'
import { convert, formatLength, parseLength, toPx } from '../../core/value'
import { useStudio } from '../store'
import { ColorChooser } from '../tune/ColorChooser'
import { notchesFor, unitContext, type Notch } from '../tune/row-value'
import { Tape } from '../tune/Tape'
import { colorOf, type Literal } from './literals'
import styles from './Source.module.css'

interface Props {
  readonly literal: Literal
  /** Where the literal stands in the window. */
  readonly at: { readonly left: number; readonly top: number }
  readonly onShow: (text: string) => void
  readonly onKeep: (text: string) => void
  readonly onCancel: () => void
}

// Where nothing that the rule is about is selected: what units refer to at the root.
const rootContext = (width: number, height: number) => ({
  fontSize: 16,
  rootFontSize: 16,
  viewportWidth: width,
  viewportHeight: height,
  percent: null,
  ch: null,
  lineHeight: 24,
  rootLineHeight: 24,
  container: null,
})

/** The chooser of colours or the tape of Tune, for a value in the text. */
export function LiteralPicker({ literal, at, onShow, onKeep, onCancel }: Props) {
  const picked = useStudio((s) => s.picked)
  const computed = picked?.report.computed ?? {}
  return (
    <Popover
      open
      onClose={onCancel}
      anchorReference="anchorPosition"
      anchorPosition={at}
      transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      slotProps={{ paper: { 'aria-label': `${literal.text} of ${literal.property}`, role: 'dialog' } as object }}
    >
      {literal.kind === 'color' ? (
        <ColorChooser
          property="color"
          current={colorOf(literal.text)!}
          written={literal.text}
          computed={computed}
          onShow={onShow}
          onChoose={onKeep}
          onRest={() => onShow(literal.text)}
          onCancel={onCancel}
        />
      ) : (
        <LengthTape literal={literal} onShow={onShow} onKeep={onKeep} onCancel={onCancel} />
      )}
    </Popover>
  )
}

function LengthTape({ literal, onShow, onKeep, onCancel }: Omit<Props, 'at'>) {
  const picked = useStudio((s) => s.picked)
  const scale = useStudio((s) => s.scale)
  const [typed, setTyped] = useState(literal.text)
  const start = parseLength(literal.text)!
  const page = useStudio((s) => s.frames.page)
  const context = picked ? unitContext(picked.report, literal.property) : rootContext(page?.width ?? 0, page?.height ?? 0)
  const px = toPx(start, context)
  const text = (to: number, notch: Notch | null) =>
    notch && notch.text !== ''
      ? notch.text
      : formatLength(convert({ number: to, unit: 'px' }, start.unit, context) ?? { number: to, unit: 'px' })
  const show = (value: string) => {
    setTyped(value)
    onShow(value)
  }
  return (
    <div className={styles.tape}>
      {px === null ? (
        <span>{start.unit} has no size here</span>
      ) : (
        <Tape
          label={`${literal.property} in Source`}
          px={px}
          notches={picked ? notchesFor(scale, picked.report, literal.property) : []}
          negative
          active
          describe={(v) => formatLength({ number: v, unit: 'px' })}
          onFocus={() => {}}
          onShow={(to, notch) => show(text(to, notch))}
          onCommit={(to, notch) => onKeep(text(to, notch))}
          onCancel={() => show(literal.text)}
        />
      )}
      <input
        type="text"
        aria-label="Length"
        value={typed}
        spellCheck={false}
        autoFocus
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return
          e.preventDefault()
          if (parseLength(typed) || /^(var|calc)\(.*\)$/.test(typed)) onKeep(typed)
          else onCancel()
        }}
      />
    </div>
  )
}
