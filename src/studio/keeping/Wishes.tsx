import { Button } from '@mui/material'
import { useState } from 'react'
import { nameOf } from '../aim/names'
import { theDesk, type KeptWish } from '../../desk'
import { useReading } from '../session/useReading'
import { getStudio, setStudio, useStudio } from '../store'
import { plural } from '../ui/plural'
import styles from './Keeping.module.css'

const STATES = { open: 'open', taken: 'taken up', done: 'done' } as const

/** Wishes about what is chosen: typed, and seen to be open, taken up or done. */
export function Wishes() {
  const revision = useStudio((s) => s.wishRevision)
  const [words, setWords] = useState('')
  const picked = useStudio((s) => s.picked)
  const others = useStudio((s) => s.others)
  const wishes = useReading(`wishes ${revision}`, () => theDesk().handing.wishes(), true) ?? []
  const chosen = picked ? [picked, ...others].flatMap((p) => p.report.info.source ?? []) : []
  const keep = (next: readonly KeptWish[]) =>
    void theDesk()
      .handing.setWishes(next)
      .then(() => setStudio({ wishRevision: getStudio().wishRevision + 1 }))
  const add = () => {
    keep([...wishes, { id: crypto.randomUUID(), words: words.trim(), sources: chosen }])
    setWords('')
  }
  return (
    <>
      <textarea
        className={styles.wishes}
        aria-label="A wish"
        placeholder={
          picked
            ? `what should be done with ${nameOf(picked.report.info)}${others.length ? ` and ${others.length} more` : ''}, in your words`
            : 'what should be done, in your words; choose elements first to name them'
        }
        value={words}
        onChange={(e) => setWords(e.target.value)}
      />
      <Button variant="outlined" disabled={words.trim() === ''} onClick={add}>
        Add the wish
      </Button>
      <ul className={styles.edits} aria-label="Wishes">
        {wishes.map((w) => (
          <li key={w.id} className={styles.wish} data-state={w.state ?? 'open'} data-testid="wish">
            <span>
              {w.words}
              <small>
                {plural(w.sources.length, 'element')}
                {w.files?.length ? ` · ${w.files.join(', ')}` : ''}
                {w.told ? ` · ${w.told}` : ''}
              </small>
            </span>
            <em>{STATES[w.state ?? 'open']}</em>
            <button type="button" onClick={() => keep(wishes.filter((x) => x !== w))}>
              Remove
            </button>
          </li>
        ))}
      </ul>
    </>
  )
}
