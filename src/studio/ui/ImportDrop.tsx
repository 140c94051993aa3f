'use client'
import { Suspense, useEffect, useMemo, useRef, useState, type DragEvent, type ReactNode } from 'react'
import { ImportError } from '../../folder'
import type { FoundFolder } from '../importing'
import type { ImportRun } from '../projects'
import { ImportContext } from './ImportContext'
import type { ImportState } from './ImportDialog'
import styles from './ImportDrop.module.css'
import { later } from './later'
import { useSession } from './SessionContext'

const ImportDialog = later(() => import('./ImportDialog').then((m) => m.ImportDialog))

/** What brings files in; loaded when some are. */
const importing = () => import('../importing')

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
  const [state, setState] = useState<ImportState | null>(null)
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
      setState(null)
      openProject(done)
    } catch (error) {
      if (abort.signal.aborted) setState(null)
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
    if (entries.length === 1 && entries[0].isFile && file && isZip(file)) void run(async (r) => (await importing()).importZip(file, r))
    else if (entries.length)
      void run(async (r) => {
        const { filesOfDrop, importFiles } = await importing()
        return importFiles(entries[0].name, await filesOfDrop(entries, r.signal), r)
      })
  }

  const link = async () => {
    const handle = await picker()!({ mode: 'readwrite' }).catch(() => null)
    if (handle) await run(async (r) => (await importing()).findFolder({ handle }, new Set(), r))
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
          if (files.length) void run(async (r) => (await importing()).importFiles(files[0].path.split('/')[0], files, r))
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
          if (file) void run(async (r) => (await importing()).importZip(file, r))
        }}
      />
      {state && (
        <Suspense>
          <ImportDialog state={state} onRun={run} onEnd={() => setState(null)} />
        </Suspense>
      )}
    </ImportContext>
  )
}
