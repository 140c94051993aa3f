'use client'
import type { PropertyAim } from '../../../core/aim'
import { tracks } from '../../../core/value'
import { useSession } from '../../ui/SessionContext'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import styles from './Editors.module.css'
import { PartField } from './PartField'

const isCell = (text: string) => /^(\.+|-?[a-z_][\w-]*)$/i.test(text)

/** Named areas as the table they are: each cell holds the name of its area, or a dot. */
export function AreasRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  const { session } = useSession()
  const text = aim.written ?? aim.computed
  const rows = tracks.parseAreas(text)
  const quote = text.includes("'") ? "'" : '"'
  const keep = (next: readonly (readonly string[])[]) => {
    const value = tracks.formatAreas(next, quote)
    if (CSS.supports(row.property, value)) void session.edits.commit(row.property, value)
    else void session.edits.cancelPreview()
  }
  const columns = rows?.[0]?.length ?? 0
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.stack}>
        {rows === null ? (
          <code className={styles.text}>{text}</code>
        ) : (
          <>
            <div className={styles.areas} style={{ gridTemplateColumns: `repeat(${Math.max(1, columns)}, minmax(0, 1fr))` }}>
              {rows.flatMap((cells, y) =>
                cells.map((name, x) => (
                  <PartField
                    key={`${y} ${x}`}
                    label={`Area in row ${y + 1}, column ${x + 1}`}
                    value={name}
                    allows={isCell}
                    onKeep={(to) => keep(rows.map((r, j) => r.map((c, i) => (i === x && j === y ? to : c))))}
                  />
                )),
              )}
            </div>
            <div className={styles.parts}>
              <button
                type="button"
                className={styles.add}
                onClick={() => keep([...rows, Array.from({ length: Math.max(1, columns) }, () => '.')])}
              >
                + row
              </button>
              {columns > 0 && (
                <button type="button" className={styles.add} onClick={() => keep(rows.map((r) => [...r, '.']))}>
                  + column
                </button>
              )}
            </div>
          </>
        )}
      </div>
    </RowFrame>
  )
}
