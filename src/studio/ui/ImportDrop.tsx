'use client'
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material'
import { useMemo, useRef, useState, type DragEvent, type ReactNode } from 'react'
import { ImportError } from '../../storage/archive'
import { filesOfDrop, importFiles, importZip, type ImportProgress, type ImportRun } from '../projects'
import { ImportContext } from './ImportContext'
import styles from './ImportDrop.module.css'
import { useSession } from './SessionContext'

type State =
  | { readonly kind: 'idle' }
  | { readonly kind: 'running'; readonly progress: ImportProgress; readonly abort: AbortController }
  | { readonly kind: 'refused'; readonly why: string }

const isZip = (file: File): boolean => /\.zip$/i.test(file.name)

/** Brings in a folder or a zip, chosen or dropped anywhere on the window. */
export function ImportDrop({ children }: { children: ReactNode }) {
  const { openProject } = useSession()
  const folder = useRef<HTMLInputElement>(null)
  const zip = useRef<HTMLInputElement>(null)
  const [state, setState] = useState<State>({ kind: 'idle' })
  const [over, setOver] = useState(false)

  const run = async (work: (run: ImportRun) => Promise<string>) => {
    const abort = new AbortController()
    setState({ kind: 'running', progress: { text: 'Looking at the files', share: 0 }, abort })
    try {
      const id = await work({ signal: abort.signal, onProgress: (progress) => setState({ kind: 'running', progress, abort }) })
      setState({ kind: 'idle' })
      openProject(id)
    } catch (error) {
      if (abort.signal.aborted) setState({ kind: 'idle' })
      else setState({ kind: 'refused', why: error instanceof ImportError ? error.message : `The files could not be stored (${String(error)}). Nothing was imported.` })
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

  const value = useMemo(() => ({ chooseFolder: () => folder.current?.click(), chooseZip: () => zip.current?.click() }), [])

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
        ref={folder} type="file" hidden multiple data-testid="folder-input"
        {...{ webkitdirectory: '' }}
        onChange={(e) => {
          const files = [...(e.target.files ?? [])].map((file) => ({ file, path: file.webkitRelativePath || file.name }))
          e.target.value = ''
          if (files.length) void run((r) => importFiles(files[0].path.split('/')[0], files, r))
        }}
      />
      <input
        ref={zip} type="file" hidden accept=".zip,application/zip" data-testid="zip-input"
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
