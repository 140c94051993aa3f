'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import { useReading } from '../session/useReading'
import { theDesk } from '../../desk'
import { setStudio } from '../store'
import styles from './Keeping.module.css'
import { Wishes } from './Wishes'

/** What is wished for: handed to a colleague in a note, or seen by an assistant that the server of the folder speaks with. */
export function WishesDialog() {
  const isShared = useReading('assistants', () => theDesk().handing.hasAssistants())
  const close = () => setStudio({ dialog: null })
  return (
    <Dialog open onClose={close} maxWidth="sm" fullWidth aria-labelledby="wishes-title">
      <DialogTitle id="wishes-title">Wishes</DialogTitle>
      <DialogContent>
        <Wishes />
        <p className={styles.hint}>
          {isShared
            ? 'An assistant that was given the address printed at the start sees them, with the elements that are chosen, and reports here. What it writes comes in as a change of the folder.'
            : 'They go into the hand-off note. Where Steady Brush was started with the folder, assistants see them too.'}
        </p>
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={() => setStudio({ dialog: 'note' })}>
          A hand-off note…
        </Button>
        <Button color="inherit" onClick={close}>
          Close
        </Button>
      </DialogActions>
    </Dialog>
  )
}
