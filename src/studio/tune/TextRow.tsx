'use client'
import type { PropertyAim } from '../../core/aim'
import type { Row } from './properties'
import { RowFrame } from './RowFrame'
import { ValueField } from './ValueField'

/** A value that is typed. */
export function TextRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  return (
    <RowFrame row={row} aim={aim} mixed>
      <ValueField row={row} text={aim.written ?? aim.computed} pulling={false} />
    </RowFrame>
  )
}
