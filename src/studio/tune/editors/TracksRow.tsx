'use client'
import type { PropertyAim } from '../../../core/aim'
import { tracks } from '../../../core/value'
import type { Row } from '../properties'
import { RowFrame } from '../RowFrame'
import { ValueField } from '../ValueField'
import styles from './Editors.module.css'
import { PartField } from './PartField'
import { useListValue } from './useListValue'

const allows = (property: string) => (text: string) => CSS.supports(property, text)
const isTrack = { kind: 'size' } as const
const on = (track: tracks.Track) => ({ ...track, off: false })

/** The tracks of a grid, each a field: lengths, `fr`, `minmax()`, `repeat()`; names of lines stay where they are. */
export function TracksRow({ row, aim }: { row: Row; aim: PropertyAim }) {
  const list = useListValue<tracks.Track>(row, aim, tracks, null, 'none')
  return (
    <RowFrame row={row} aim={aim} wide>
      <div className={styles.stack}>
        {list.items === null ? (
          <ValueField row={row} text={aim.written ?? aim.computed} pulling={false} />
        ) : (
          <div className={styles.parts}>
            {list.items.map((t, i) =>
              t.kind === 'names' ? (
                <code key={i} className={styles.names}>
                  [{t.names.join(' ')}]
                </code>
              ) : (
                <span key={i} className={styles.track}>
                  <PartField
                    label={`Track ${i + 1}`}
                    value={t.text}
                    width={Math.min(190, Math.max(38, t.text.length * 7.5 + 8))}
                    allows={allows(row.property)}
                    onKeep={(text) => list.keep(list.with(i, { ...isTrack, text }))}
                  />
                  <button
                    type="button"
                    aria-label={`Remove track ${i + 1}`}
                    onClick={() => list.keep(tracks.withOneLess(list.items!, i).map(on))}
                  >
                    ×
                  </button>
                </span>
              ),
            )}
            <button
              type="button"
              className={styles.add}
              aria-label={`Add a track to ${row.property}`}
              onClick={() => list.keep(tracks.withOneMore(list.items!).map(on))}
            >
              + track
            </button>
          </div>
        )}
      </div>
    </RowFrame>
  )
}
