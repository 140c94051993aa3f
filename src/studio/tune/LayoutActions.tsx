'use client'
import { reachOf } from '../session/chosen-aim'
import { useStudio, type Picked } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Rows.module.css'
import { currentAim } from '../session/landings'

/** Things people want of a layout that take several declarations, each one edit: of this element alone, or of all of its kind. */
export function LayoutActions({ picked }: { picked: Picked }) {
  const { session } = useSession()
  const { parent, computed, info } = picked.report
  const { edits } = session
  const inRow = /flex/.test(parent.display ?? '')
  return (
    <div className={styles.actions} role="group" aria-label="Layout in one step">
      {inRow && computed['flex-grow'] === '0' && (
        <OfThisOrAll
          of="flex-grow"
          words="Let it take the free room"
          alone={() => void edits.commitAlone([['flex-grow', '1']], 'free room')}
          all={() => void edits.commitAll([['flex-grow', '1']])}
        />
      )}
      {info.tag !== 'body' && info.source !== null && (
        <button type="button" onClick={() => void session.layout.rowWithThisAtTheEnd()}>
          Its row: this one at the far end
        </button>
      )}
      {info.tag !== 'body' && !/^inline$/.test(computed.display ?? '') && (
        <OfThisOrAll
          of="margin"
          words="Centre it in its container"
          alone={() => void session.layout.centre(true)}
          all={() => void session.layout.centre(false)}
        />
      )}
      {/^block$/.test(computed.display ?? '') && (
        <button
          type="button"
          onClick={() =>
            void edits.commitAll(
              [
                ['display', 'flex'],
                ['flex-wrap', 'wrap'],
              ],
              'children on a row',
            )
          }
        >
          Its children on a row
        </button>
      )}
    </div>
  )
}

/** An action on this element, with the same on all that its default place reaches beside it. */
export function OfThisOrAll({ of, words, alone, all }: { of: string; words: string; alone: () => void; all: () => void }) {
  const fresh = useStudio((s) => s.fresh)
  const place = currentAim(of)
  const count = place ? reachOf(place, fresh) : null
  return (
    <span className={styles.ofThis}>
      <button type="button" onClick={alone}>
        {words}
      </button>
      {count !== null && count > 1 && (
        <button type="button" title={`${words}: all of its kind`} aria-label={`${words}: all ${count} of its kind`} onClick={all}>
          all {count}
        </button>
      )}
    </span>
  )
}
