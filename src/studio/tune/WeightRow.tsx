'use client'
import type { PropertyAim } from '../../core/aim'
import type { Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import styles from './Rows.module.css'

const NAMED: Readonly<Record<string, number>> = { normal: 400, bold: 700 }

/** The steps of weight that a face is there for, out of weights and ranges of them (CSS Fonts 4 §2.2, §4.4). */
function withFaces(weights: readonly string[], steps: readonly string[]): Set<string> {
  const ranges = weights.map((w) => w.split(/\s+/).map((x) => NAMED[x] ?? Number(x)))
  return new Set(steps.filter((s) => ranges.some(([from, to = from]) => Number(s) >= from && Number(s) <= to)))
}

/** The weight: first those the drawn family really has, then those the browser makes up or rounds. */
export function WeightRow({ row, aim, picked }: { row: Row; aim: PropertyAim; picked: Picked }) {
  const { session } = useSession()
  const { weights, renderedFamily } = picked.report.facts
  const steps = row.options ?? []
  const real = weights && withFaces(weights, steps)
  const now = aim.written ?? aim.computed
  const others = real ? steps.filter((s) => !real.has(s)) : []
  const option = (w: string) => (
    <option key={w} value={w}>
      {w}
    </option>
  )
  return (
    <RowFrame row={row} aim={aim} wide>
      <select
        className={styles.list}
        aria-label={row.property}
        value={now}
        onFocus={() => session.selection.touch(row.property)}
        onChange={(e) => void session.edits.commit(row.property, e.target.value)}
      >
        {!steps.includes(now) && option(now)}
        {real?.size ? (
          <optgroup label={`Weights of ${renderedFamily}`}>{steps.filter((s) => real.has(s)).map(option)}</optgroup>
        ) : (
          steps.filter((s) => !others.includes(s)).map(option)
        )}
        {others.length > 0 && <optgroup label="No face of its own: drawn from the nearest">{others.map(option)}</optgroup>}
      </select>
    </RowFrame>
  )
}
