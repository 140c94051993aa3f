'use client'
import type { PropertyAim } from '../../core/aim'
import { formatLength, parseLength } from '../../core/value'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import { lengthIn, lengthWritten, notchesFor, pxOf, sourceUnit, stepNotches, unitContext, type Notch } from './row-value'
import { Tape } from './Tape'
import { ValueField } from './ValueField'
import { currentAim, isByHand } from '../session/landings'

/** A length, pulled or typed. */
export function LengthRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const scale = useStudio((s) => s.scale)
  useStudio((s) => s.chosen)
  const active = useStudio((s) => s.property === row.property)
  const pulling = useStudio((s) => (s.pulling?.property === row.property ? s.pulling.value : null))
  const units = useStudio((s) => s.preferences.units)
  const context = unitContext(picked.report, row.property)
  const px = pxOf(aim.computed)
  const unit = sourceUnit(aim, context, units)
  const text = (to: number, notch: Notch | null) => notch?.text ?? formatLength(lengthIn(to, unit, context))
  const computed = aim.computed.replace(/\b0px\b/g, '0')
  const written = pulling ?? aim.written ?? (px === null ? computed : formatLength({ number: px, unit: 'px' }))
  const can = aim.candidates.length > 0
  const landing = currentAim(row.property)
  const steps = landing?.steps && stepNotches(landing.steps)
  return (
    <RowFrame row={row} aim={aim} mixed={px === null}>
      {px !== null && (
        <Tape
          label={row.property}
          px={px}
          notches={steps?.length ? steps : notchesFor(scale, picked.report, row.property)}
          closed={landing?.closed ?? false}
          stepwise={(steps?.length ?? 0) > 0}
          negative={row.negative ?? false}
          active={active}
          describe={(v) => formatLength({ number: v, unit: 'px' })}
          onFocus={() => session.selection.touch(row.property)}
          onShow={(to, notch) => can && session.edits.preview(row.property, text(to, notch))}
          onCommit={(to, notch) => can && void session.edits.commit(row.property, text(to, notch))}
          onCancel={() => void session.edits.cancelPreview()}
        />
      )}
      <ValueField
        row={row}
        text={written}
        length={lengthWritten(aim) ?? parseLength(aim.computed)}
        pulling={pulling !== null}
        steps={steps}
        context={context}
        otherwise={isByHand(row.property) ? undefined : landing?.otherwise}
      />
    </RowFrame>
  )
}
