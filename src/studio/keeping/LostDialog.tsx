'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material'
import type { KnownProject } from '../../storage/known-projects'
import { setStudio, useStudio } from '../store'
import { useImport } from '../ui/ImportContext'
import styles from './Keeping.module.css'

const remedy = ({ folder, unsaved }: KnownProject): string => {
  if (folder === null) return 'It was in the browser alone. A backup that you made brings it back.'
  const edits =
    unsaved === 0
      ? 'All of its edits were saved.'
      : `It had ${unsaved} unsaved ${unsaved === 1 ? 'edit' : 'edits'}: opening the folder offers those that are kept in it.`
  return `Its files are in the folder ${folder}. ${edits}`
}

/** Projects that the browser has cleared, with what brings each of them back. */
export function LostDialog() {
  const lost = useStudio((s) => s.lost)
  const { linkFolder } = useImport()
  const close = (next: 'projects' | null) => setStudio({ dialog: next })
  return (
    <Dialog open onClose={() => close(null)} maxWidth="sm" fullWidth aria-labelledby="lost-title">
      <DialogTitle id="lost-title">The browser has cleared what was stored here</DialogTitle>
      <DialogContent data-testid="lost">
        <p className={styles.hint}>
          {lost.length === 1 ? 'A project is' : `${lost.length} projects are`} gone from its storage. Browsers do that when the disk is
          full, or when site data is deleted.
        </p>
        <ul className={styles.takes} aria-label="Projects that are gone">
          {lost.map((p) => (
            <li key={p.id}>
              <b>{p.name}</b>
              <br />
              <small>{remedy(p)}</small>
            </li>
          ))}
        </ul>
      </DialogContent>
      <DialogActions>
        <Button
          color="inherit"
          onClick={() => {
            setStudio({ lost: [] })
            close(null)
          }}
        >
          Do not show this again
        </Button>
        <Button variant="outlined" onClick={() => close('projects')}>
          Bring a backup back…
        </Button>
        {linkFolder && (
          <Button
            variant="contained"
            onClick={() => {
              close(null)
              linkFolder()
            }}
          >
            Open a folder…
          </Button>
        )}
      </DialogActions>
    </Dialog>
  )
}
