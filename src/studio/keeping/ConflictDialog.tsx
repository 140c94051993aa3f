'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useState } from 'react'
import type { MergePart, Side } from '../../core/text'
import { theDesk } from '../../desk'
import { useReading } from '../session/useReading'
import { getStudio, setStudio, useStudio } from '../store'
import { useSession } from '../ui/SessionContext'
import styles from './Keeping.module.css'

/** Lines around a place that both sides changed. */
const AROUND = 2

const WORDS: readonly (readonly [Side, string])[] = [
  ['ours', 'Mine'],
  ['theirs', 'Theirs'],
  ['both', 'Both, mine first'],
]

const OF_DELETED: typeof WORDS = [
  ['ours', 'Mine: a save writes it again'],
  ['theirs', 'Theirs: it stays deleted, and no save writes it'],
]

/** The places that both sides changed, side by side, for a choice each. */
export function ConflictDialog() {
  const conflicts = useStudio((s) => s.ledger.conflicts)
  const [path] = conflicts
  if (path === undefined) return null
  return <OneFile key={path} path={path} rest={conflicts.length - 1} />
}

function OneFile({ path, rest }: { path: string; rest: number }) {
  const { session } = useSession()
  const conflict = useReading(path, () => theDesk().folder.conflict(path))
  const parts = conflict?.parts
  const [choices, setChoices] = useState<Readonly<Record<number, Side>>>({})
  const places = (parts ?? []).flatMap((p, i) => (p.kind === 'conflict' ? [{ ...p, at: i }] : []))
  const close = () => setStudio({ dialog: null })
  const settle = async () => {
    const done = await session.keeping.show(() =>
      theDesk().folder.settle(
        path,
        places.map((_, i) => choices[i]),
      ),
    )
    if (done && getStudio().ledger.conflicts.length === 0) close()
  }
  return (
    <Dialog open onClose={close} maxWidth="lg" fullWidth aria-labelledby="conflict-title">
      <DialogTitle id="conflict-title">
        <code>{path}</code> was changed here and{' '}
        {conflict?.isDeleted
          ? 'deleted in the folder'
          : `in the folder, in ${places.length === 1 ? 'the same place' : `${places.length} of the same places`}`}
      </DialogTitle>
      <DialogContent>
        <p className={styles.hint}>
          Nothing is written to this file until you have chosen.{' '}
          {rest > 0 && `${rest} more ${rest === 1 ? 'file follows' : 'files follow'}.`}
        </p>
        {places.map((place, i) => (
          <section key={place.at} className={styles.conflict} aria-label={`Place ${i + 1}`}>
            <pre className={styles.around}>{linesBefore(parts!, place.at)}</pre>
            <div className={styles.sides}>
              {(['ours', 'theirs'] as const).map((side) => (
                <div key={side} data-chosen={choices[i] === side || choices[i] === 'both' || undefined}>
                  <h4>{side === 'ours' ? 'Mine' : 'Theirs'}</h4>
                  <pre>{place[side].join('') || (conflict?.isDeleted ? '(no such file any more)' : '(these lines taken out)')}</pre>
                </div>
              ))}
            </div>
            <div className={styles.choice} role="radiogroup" aria-label={`What stands at place ${i + 1}`}>
              {(conflict?.isDeleted ? OF_DELETED : WORDS).map(([side, words]) => (
                <label key={side}>
                  <input
                    type="radio"
                    name={`place-${i}`}
                    checked={choices[i] === side}
                    onChange={() => setChoices({ ...choices, [i]: side })}
                  />{' '}
                  {words}
                </label>
              ))}
            </div>
            <pre className={styles.around}>{linesAfter(parts!, place.at)}</pre>
          </section>
        ))}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Later
        </Button>
        <Button variant="contained" disabled={places.length === 0 || places.some((_, i) => !choices[i])} onClick={() => void settle()}>
          Settle it
        </Button>
      </DialogActions>
    </Dialog>
  )
}

const linesBefore = (parts: readonly MergePart[], at: number): string => {
  const part = parts[at - 1]
  return part?.kind === 'same' ? part.lines.slice(-AROUND).join('').replace(/\s+$/, '') : ''
}

const linesAfter = (parts: readonly MergePart[], at: number): string => {
  const part = parts[at + 1]
  return part?.kind === 'same' ? part.lines.slice(0, AROUND).join('').replace(/\s+$/, '') : ''
}
