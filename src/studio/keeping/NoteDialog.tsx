'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { theDesk } from '../../desk'
import { useReading } from '../session/useReading'
import { download } from '../projects'
import { setStudio, useStudio } from '../store'
import { copy } from './copy'
import styles from './Keeping.module.css'
import { Wishes } from './Wishes'

/** A note for whoever goes on: each edit with its place and reason, and wishes about what is chosen. */
export function NoteDialog() {
  const revision = useStudio((s) => s.wishRevision)
  const project = useStudio((s) => s.project?.id ?? 'project')
  const note = useReading(`note ${revision}`, () => theDesk().handing.handOff())
  const close = () => setStudio({ dialog: null })
  return (
    <Dialog open onClose={close} maxWidth="md" fullWidth aria-labelledby="note-title">
      <DialogTitle id="note-title">A hand-off note</DialogTitle>
      <DialogContent>
        <Wishes />
        <pre className={styles.note} tabIndex={0} aria-label="The note" data-testid="note">
          {note?.text}
        </pre>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={close}>
          Close
        </Button>
        <Button color="inherit" disabled={!note} onClick={() => void copy(note!.text, 'The note')}>
          Copy
        </Button>
        <Button color="inherit" disabled={!note} onClick={() => download(`${project}-hand-off.md`, note!.text, 'text/markdown')}>
          As Markdown
        </Button>
        <Button color="inherit" disabled={!note} onClick={() => download(`${project}-hand-off.json`, note!.json, 'application/json')}>
          As JSON
        </Button>
      </DialogActions>
    </Dialog>
  )
}
