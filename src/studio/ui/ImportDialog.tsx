'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material'
import { useState } from 'react'
import { folderOf, ImportError, inWords } from '../../folder'
import { findFolder, linkFolder, type FoundFolder } from '../importing'
import type { ImportProgress, ImportRun } from '../projects'
import styles from './ImportDrop.module.css'

export type ImportState =
  | { readonly kind: 'running'; readonly progress: ImportProgress; readonly abort: AbortController }
  | { readonly kind: 'found'; readonly found: FoundFolder }
  | { readonly kind: 'refused'; readonly why: string }

interface Props {
  readonly state: ImportState
  readonly onRun: (work: (run: ImportRun) => Promise<string | FoundFolder>) => void
  readonly onEnd: () => void
}

/** How far files are brought in, what a folder holds, or why it could not be brought in. */
export function ImportDialog({ state, onRun, onEnd }: Props) {
  return (
    <Dialog open fullWidth maxWidth="xs" aria-labelledby="import-title">
      {state.kind === 'running' && (
        <>
          <DialogTitle id="import-title">Bringing in your site</DialogTitle>
          <DialogContent>
            <p>{state.progress.text}</p>
            <LinearProgress variant="determinate" value={state.progress.share * 100} aria-label="Progress" />
          </DialogContent>
          <DialogActions>
            <Button onClick={() => state.abort.abort(new ImportError('Cancelled. Nothing was imported.'))}>Cancel</Button>
          </DialogActions>
        </>
      )}
      {state.kind === 'found' && <Found found={state.found} onRun={onRun} onEnd={onEnd} />}
      {state.kind === 'refused' && (
        <>
          <DialogTitle id="import-title">This could not be brought in</DialogTitle>
          <DialogContent data-testid="import-refused">{state.why}</DialogContent>
          <DialogActions>
            <Button onClick={onEnd}>Close</Button>
          </DialogActions>
        </>
      )}
    </Dialog>
  )
}

/** What a folder holds, and what of it is left out unless it is wanted. */
function Found({ found, onRun, onEnd }: Omit<Props, 'state'> & { readonly found: FoundFolder }) {
  const [wanted, setWanted] = useState<readonly string[]>([])
  const [bringsBack, setBringsBack] = useState(true)
  const { place, listing, include, kept, damaged } = found
  const size = listing.files.reduce((n, f) => n + f.size, 0)
  return (
    <>
      <DialogTitle id="import-title">
        Open <code>{folderOf(place).name}</code>
      </DialogTitle>
      <DialogContent>
        <p>
          {listing.files.length} files, {inWords(size)}. What you save is written to this folder. Edits that are not saved yet are kept in{' '}
          <code>.steady-brush</code> in it, which git ignores; Preferences can change that.
        </p>
        {kept && (
          <label className={styles.kept} data-testid="kept-edits">
            <input type="checkbox" checked={bringsBack} onChange={() => setBringsBack(!bringsBack)} /> Bring back {kept.unsaved} unsaved{' '}
            {kept.unsaved === 1 ? 'edit' : 'edits'}
            {kept.takes.length > 1 && ` and ${kept.takes.length} takes`}, kept in it on {new Date(kept.made).toLocaleString()}
          </label>
        )}
        {damaged !== null && (
          <p role="alert">
            It keeps unsaved edits that cannot be read ({damaged}). The folder is opened without them, and they are set aside as
            .steady-brush/damaged.json.
          </p>
        )}
        {listing.leftOut.length > 0 && (
          <fieldset className={styles.leftOut}>
            <legend>Left out; take in</legend>
            {listing.leftOut.map(({ path, why }) => (
              <label key={path}>
                <input
                  type="checkbox"
                  checked={wanted.includes(path)}
                  onChange={() => setWanted(wanted.includes(path) ? wanted.filter((p) => p !== path) : [...wanted, path])}
                />{' '}
                <code>{path}</code> <small>{why}</small>
              </label>
            ))}
          </fieldset>
        )}
      </DialogContent>
      <DialogActions>
        <Button color="inherit" onClick={onEnd}>
          Cancel
        </Button>
        {wanted.length > 0 ? (
          <Button variant="outlined" onClick={() => onRun((r) => findFolder(place, new Set([...include, ...wanted]), r))}>
            Look through {wanted.length === 1 ? 'it' : 'them'} too
          </Button>
        ) : (
          <Button variant="contained" onClick={() => onRun((r) => linkFolder(bringsBack ? found : { ...found, kept: null }, r))}>
            Open the folder
          </Button>
        )}
      </DialogActions>
    </>
  )
}
