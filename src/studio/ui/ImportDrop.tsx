'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material'
import { useEffect, useMemo, useRef, useState, type DragEvent, type ReactNode } from 'react'
import { folderOf, ImportError, inWords } from '../../folder'
import {
  filesOfDrop,
  findFolder,
  importFiles,
  importZip,
  linkFolder,
  type FoundFolder,
  type ImportProgress,
  type ImportRun,
} from '../projects'
import { ImportContext } from './ImportContext'
import styles from './ImportDrop.module.css'
import { useSession } from './SessionContext'

type State =
  | { readonly kind: 'idle' }
  | { readonly kind: 'running'; readonly progress: ImportProgress; readonly abort: AbortController }
  | { readonly kind: 'found'; readonly found: FoundFolder }
  | { readonly kind: 'refused'; readonly why: string }

type Picker = (options: { mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>

/** Not every browser has it (File System Access). */
const picker = (): Picker | null => {
  const { showDirectoryPicker } = globalThis as unknown as { showDirectoryPicker?: Picker }
  return showDirectoryPicker ? (options) => showDirectoryPicker(options) : null
}

const isZip = (file: File): boolean => /\.zip$/i.test(file.name)

/** Brings in a folder or a zip, chosen or dropped anywhere on the window. */
export function ImportDrop({ children }: { children: ReactNode }) {
  const { openProject } = useSession()
  const folder = useRef<HTMLInputElement>(null)
  const zip = useRef<HTMLInputElement>(null)
  const [state, setState] = useState<State>({ kind: 'idle' })
  const [over, setOver] = useState(false)

  const run = async (work: (run: ImportRun) => Promise<string | FoundFolder>) => {
    const abort = new AbortController()
    setState({ kind: 'running', progress: { text: 'Looking at the files', share: 0 }, abort })
    try {
      const done = await work({
        signal: abort.signal,
        onProgress: (progress) => setState({ kind: 'running', progress, abort }),
      })
      if (typeof done !== 'string') {
        setState({ kind: 'found', found: done })
        return
      }
      setState({ kind: 'idle' })
      openProject(done)
    } catch (error) {
      if (abort.signal.aborted) setState({ kind: 'idle' })
      else
        setState({
          kind: 'refused',
          why: error instanceof ImportError ? error.message : `The files could not be stored (${String(error)}). Nothing was imported.`,
        })
    }
  }

  const onDrop = (e: DragEvent) => {
    e.preventDefault()
    setOver(false)
    const entries = [...e.dataTransfer.items].map((i) => i.webkitGetAsEntry()).filter((x) => x !== null)
    const file = e.dataTransfer.files[0]
    if (entries.length === 1 && entries[0].isFile && file && isZip(file)) void run((r) => importZip(file, r))
    else if (entries.length) void run(async (r) => importFiles(entries[0].name, await filesOfDrop(entries, r.signal), r))
  }

  const link = async () => {
    const handle = await picker()!({ mode: 'readwrite' }).catch(() => null)
    if (handle) await run((r) => findFolder({ handle }, new Set(), r))
  }
  const linking = useRef(link)
  useEffect(() => {
    linking.current = link
  })
  const value = useMemo(
    () => ({
      chooseFolder: () => folder.current?.click(),
      chooseZip: () => zip.current?.click(),
      linkFolder: picker() ? () => void linking.current() : null,
    }),
    [],
  )

  return (
    <ImportContext value={value}>
      <div
        onDragOver={(e) => {
          if (!e.dataTransfer.types.includes('Files')) return
          e.preventDefault()
          setOver(true)
        }}
        onDragLeave={(e) => {
          if (!e.currentTarget.contains(e.relatedTarget as Node | null)) setOver(false)
        }}
        onDrop={onDrop}
      >
        {children}
        {over && <div className={styles.drop}>Drop a site’s folder or a zip to open it</div>}
      </div>
      <input
        ref={folder}
        type="file"
        hidden
        multiple
        data-testid="folder-input"
        {...{ webkitdirectory: '' }}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])].map((file) => ({
            file,
            path: file.webkitRelativePath || file.name,
          }))
          e.target.value = ''
          if (files.length) void run((r) => importFiles(files[0].path.split('/')[0], files, r))
        }}
      />
      <input
        ref={zip}
        type="file"
        hidden
        accept=".zip,application/zip"
        data-testid="zip-input"
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file) void run((r) => importZip(file, r))
        }}
      />
      <Dialog open={state.kind !== 'idle'} fullWidth maxWidth="xs" aria-labelledby="import-title">
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
        {state.kind === 'found' && <Found found={state.found} onRun={run} onEnd={() => setState({ kind: 'idle' })} />}
        {state.kind === 'refused' && (
          <>
            <DialogTitle id="import-title">This could not be brought in</DialogTitle>
            <DialogContent data-testid="import-refused">{state.why}</DialogContent>
            <DialogActions>
              <Button onClick={() => setState({ kind: 'idle' })}>Close</Button>
            </DialogActions>
          </>
        )}
      </Dialog>
    </ImportContext>
  )
}

/** What a folder holds, and what of it is left out unless it is wanted. */
function Found({
  found,
  onRun,
  onEnd,
}: {
  found: FoundFolder
  onRun: (work: (run: ImportRun) => Promise<string | FoundFolder>) => void
  onEnd: () => void
}) {
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
