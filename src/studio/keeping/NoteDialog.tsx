'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useState } from 'react'
import { nameOf } from '../aim/names'
import { theDesk } from '../desk/desk'
import { useReading } from '../desk/useReading'
import { download } from '../projects'
import { setStudio, useStudio } from '../store'
import { copy } from './copy'
import styles from './Keeping.module.css'

/** A note for whoever goes on: each edit with its place and reason, and wishes about what is chosen. */
export function NoteDialog() {
  const [round, setRound] = useState(0)
  const [words, setWords] = useState('')
  const picked = useStudio((s) => s.picked)
  const others = useStudio((s) => s.others)
  const project = useStudio((s) => s.project?.id ?? 'project')
  const note = useReading(`note ${round}`, () => theDesk().handOff())
  const wishes = useReading(`wishes ${round}`, () => theDesk().wishes()) ?? []
  const chosen = picked ? [picked, ...others].flatMap((p) => p.report.info.source ?? []) : []
  const close = () => setStudio({ dialog: null })
  const keep = (next: typeof wishes) => void theDesk().setWishes(next).then(() => setRound((n) => n + 1))
  const add = () => {
    keep([...wishes, { words: words.trim(), sources: chosen }])
    setWords('')
  }
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="note-title">
      <DialogTitle id="note-title">A hand-off note</DialogTitle>
      <DialogContent>
        <textarea className={styles.wishes} aria-label="A wish" placeholder={picked ? `what should be done with ${nameOf(picked.report.info)}${others.length ? ` and ${others.length} more` : ''}, in your words` : 'what should be done, in your words; choose elements first to name them'} value={words} onChange={(e) => setWords(e.target.value)} />
        <Button variant="outlined" disabled={words.trim() === ''} onClick={add}>Add the wish</Button>
        <ul className={styles.edits} aria-label="Wishes">
          {wishes.map((w, i) => <li key={i} className={styles.hint}>{w.words} ({w.sources.length} {w.sources.length === 1 ? 'element' : 'elements'}) <button type="button" onClick={() => keep(wishes.filter((_, k) => k !== i))}>Remove</button></li>)}
        </ul>
        <pre className={styles.note} tabIndex={0} aria-label="The note" data-testid="note">{note?.text}</pre>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>Close</Button>
        <Button color="inherit" disabled={!note} onClick={() => void copy(note!.text, 'The note')}>Copy</Button>
        <Button color="inherit" disabled={!note} onClick={() => download(`${project}-hand-off.md`, note!.text, 'text/markdown')}>As Markdown</Button>
        <Button color="inherit" disabled={!note} onClick={() => download(`${project}-hand-off.json`, note!.json, 'application/json')}>As JSON</Button>
      </DialogActions>
    </Dialog>
  )
}
