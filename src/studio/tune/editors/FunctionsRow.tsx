'use client'
import type { PropertyAim } from '../../../core/aim'
import { functions } from '../../../core/value'
import { useSession } from '../../ui/SessionContext'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import styles from './Editors.module.css'
import { OnOff } from './OnOff'
import { PartField } from './PartField'
import { useListValue } from './useListValue'

/** The functions of a filter or transform in order, each with its arguments. */
export function FunctionsRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  const { session } = useSession()
  const list = useListValue(row, aim, functions, ' ')
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.stack}>
        {list.items === null && <code className={styles.text}>{aim.written}</code>}
        {list.items?.map((f, i) => (
          <div key={i} className={styles.parts} data-off={f.off || undefined} role="group" aria-label={`${f.name} of ${row.property}`}>
            <code className={styles.names}>{f.name}</code>
            <PartField
              label={`Arguments of ${f.name}`}
              value={f.args}
              width={110}
              allows={(args) => CSS.supports(row.property, functions.format([{ ...f, args }]))}
              onKeep={(args) => list.keep(list.with(i, { args }))}
            />
            <OnOff what={`${f.name} of ${row.property}`} off={f.off} onToggle={list.toggle && (() => list.toggle!(i))} />
            <button type="button" aria-label={`Remove ${f.name}`} onClick={() => list.keep(list.without(i))}>
              ×
            </button>
          </div>
        ))}
        {list.items && (
          <select
            className={styles.choose}
            aria-label={`Add to ${row.property}`}
            value=""
            onFocus={() => session.selection.touch(row.property)}
            onChange={(e) => list.add(...(functions.parse(e.target.value) ?? []))}
          >
            <option value="" disabled>
              Add…
            </option>
            {row.options?.map((o) => (
              <option key={o} value={o}>
                {o}
              </option>
            ))}
          </select>
        )}
      </div>
    </RowFrame>
  )
}
