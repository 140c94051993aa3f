'use client'
import type { PropertyAim } from '../../core/aim'
import { trimNumber } from '../../core/value'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import { Tape } from './Tape'
import { ValueField } from './ValueField'

// A line height in px is told as the number that gives it, which is what authors write.
function numberOf(row: Row, aim: PropertyAim, picked: Picked): number | null {
  const written = Number(aim.written ?? NaN)
  if (Number.isFinite(written)) return written
  const computed = parseFloat(aim.computed)
  if (row.property === 'line-height')
    return Number.isFinite(computed) ? computed / (parseFloat(picked.report.computed['font-size']) || 16) : 1.2
  return Number.isFinite(computed) ? computed : 0
}

/** A number without a unit, pulled in steps or typed. */
export function NumberRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const active = useStudio((s) => s.property === row.property)
  const pulling = useStudio((s) => (s.pulling?.property === row.property ? s.pulling.value : null))
  const step = row.step ?? 1
  const now = numberOf(row, aim, picked)
  const text = (steps: number) => trimNumber(steps * step, 3)
  const written = pulling ?? aim.written ?? aim.computed
  return (
    <RowFrame row={row} aim={aim} mixed={now === null}>
      {now !== null && (
        <Tape
          label={row.property}
          px={now / step}
          step={step}
          most={(row.most ?? Infinity) / step}
          notches={[]}
          negative={row.negative ?? false}
          active={active}
          describe={text}
          onFocus={() => session.selection.touch(row.property)}
          onShow={(to) => session.edits.preview(row.property, text(to))}
          onCommit={(to) => void session.edits.commit(row.property, text(to))}
          onCancel={() => void session.edits.cancelPreview()}
        />
      )}
      <ValueField row={row} text={written} pulling={pulling !== null} />
    </RowFrame>
  )
}
