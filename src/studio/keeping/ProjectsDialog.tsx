'use client'
import { Button, Dialog, DialogContent, DialogTitle } from '@mui/material'
import { useLiveQuery } from 'dexie-react-hooks'
import { useEffect, useRef, useState } from 'react'
import { folderOf, ImportError, inWords, servedFolder } from '../../folder'
import { backUp, restore, takenBy } from '../../storage/backup'
import { unsavedIn } from '../../storage/known-projects'
import { removeProject } from '../../storage/projects'
import type { ProjectRow } from '../../storage/db'
import { addDemo, addEmpty, db, download } from '../projects'
import { SourceField } from '../element/SourceField'
import { say, setStudio, useStudio } from '../store'
import { useImport } from '../ui/ImportContext'
import { useSession } from '../ui/SessionContext'
import styles from './Keeping.module.css'

interface Card {
  readonly row: ProjectRow
  readonly unsaved: number
  readonly files: number
  readonly folder: string | null
  readonly branch: string | null
  /** Its path, where the server of this machine opened it. */
  readonly served: string | null
}

async function folderCard(project: string): Promise<Pick<Card, 'folder' | 'branch' | 'served'>> {
  const place = await db.folders.get(project)
  return { folder: place ? folderOf(place).name : null, branch: place?.branch ?? null, served: place?.served ?? null }
}

const cards = async (): Promise<Card[]> => {
  const rows = await db.projects.orderBy('opened').reverse().toArray()
  return Promise.all(
    rows.map(async (row) => ({
      row,
      unsaved: unsavedIn(row),
      files: await db.files.where('[project+key]').between([row.id, -Infinity], [row.id, Infinity]).count(),
      ...(await folderCard(row.id)),
    })),
  )
}

const ago = (then: number): string => {
  const days = Math.floor((Date.now() - then) / 86_400_000)
  return days === 0
    ? `today, ${new Date(then).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' })}`
    : days === 1
      ? 'yesterday'
      : `${days} days ago`
}

/** All projects: opened, begun, named, taken away; and how much room they have. */
export function ProjectsDialog() {
  const { openProject } = useSession()
  const { chooseFolder, chooseZip, linkFolder } = useImport()
  const current = useStudio((s) => s.project?.id)
  const all = useLiveQuery(cards) ?? []
  const [served, setServed] = useState<string | null>()
  useEffect(() => {
    let current = true
    void servedFolder().then((info) => current && setServed(info?.path ?? null))
    return () => {
      current = false
    }
  }, [])
  const close = () => setStudio({ dialog: null })
  const open = (id: string) => {
    close()
    openProject(id)
  }
  const begin = (work: () => Promise<string>) =>
    void work().then(open, (error: unknown) => say('error', error instanceof Error ? error.message : String(error)))
  const away = (work: () => void) => () => {
    close()
    work()
  }
  return (
    <Dialog open onClose={close} fullScreen aria-labelledby="projects-title">
      <DialogTitle id="projects-title" className={styles.heading}>
        Projects{' '}
        <Button color="inherit" onClick={close}>
          Close
        </Button>
      </DialogTitle>
      <DialogContent className={styles.projects}>
        <div className={styles.begin}>
          <span>Begin with</span>
          {linkFolder && (
            <Button variant="contained" onClick={away(linkFolder)}>
              Open a folder…
            </Button>
          )}
          <Button variant="outlined" onClick={away(chooseFolder)}>
            Bring in a copy of a folder…
          </Button>
          <Button variant="outlined" onClick={away(chooseZip)}>
            Bring in a zip…
          </Button>
          <Button variant="outlined" onClick={() => begin(addEmpty)}>
            An empty page
          </Button>
          <span>or a sample</span>
          <Button variant="outlined" onClick={() => begin(() => addDemo('brinewick'))}>
            Brinewick Ferry
          </Button>
          <Button variant="outlined" onClick={() => begin(() => addDemo('brinewick-crew'))}>
            Brinewick crew
          </Button>
        </div>
        <ul className={styles.cards} aria-label="Projects">
          {all.map((card) => (
            <ProjectCard
              key={card.row.id}
              card={card}
              open={served}
              isOpen={card.row.id === current}
              onOpen={open}
              onGone={() => {
                const next = all.find((c) => c.row.id !== card.row.id)
                if (card.row.id === current && next) open(next.row.id)
              }}
              isLast={all.length === 1}
            />
          ))}
        </ul>
        <Room onRestored={open} />
      </DialogContent>
    </Dialog>
  )
}

interface CardProps {
  readonly card: Card
  /** The folder that the server has open; null for none, undefined while it is not known. */
  readonly open: string | null | undefined
  readonly isOpen: boolean
  readonly isLast: boolean
  readonly onOpen: (id: string) => void
  readonly onGone: () => void
}

function ProjectCard({ card: { row, unsaved, files, folder, branch, served }, open, isOpen, isLast, onOpen, onGone }: CardProps) {
  const [sure, setSure] = useState(false)
  const lost = folder !== null ? `The files in ${folder} stay.` : `Its ${files} ${files === 1 ? 'file goes' : 'files go'} with it.`
  return (
    <li data-here={isOpen || undefined} data-testid="project-card">
      <button
        type="button"
        className={styles.picture}
        aria-label={`Open ${row.name}`}
        onClick={() => onOpen(row.id)}
        style={row.picture ? { backgroundImage: `url("data:image/svg+xml,${encodeURIComponent(row.picture)}")` } : undefined}
      >
        {row.picture ? '' : 'not looked at yet'}
      </button>
      <div className={styles.about}>
        <b>
          <SourceField
            label={`Name of ${row.name}`}
            value={row.name}
            quiet
            allows={(n) => n.trim() !== ''}
            onKeep={(n) => void db.projects.update(row.id, { name: n.trim() })}
          />
        </b>
        <small>
          {files} {files === 1 ? 'file' : 'files'}
          {folder !== null && `, saved to ${folder}`}
          {branch !== null && (
            <>
              , on branch <b>{branch}</b>
            </>
          )}
        </small>
        {served !== null && open !== undefined && served !== open && (
          <small data-testid="how-to-start">{folderOf({ served }).closed.title}</small>
        )}
        <small>opened {ago(row.opened)}</small>
        {unsaved > 0 && (
          <em>
            {unsaved} {unsaved === 1 ? 'edit' : 'edits'} not saved
          </em>
        )}
        <span className={styles.acts}>
          <button type="button" onClick={() => onOpen(row.id)}>
            {isOpen ? 'Reopen' : 'Open'}
          </button>
          <button type="button" disabled={isLast} onClick={() => setSure(true)}>
            Remove…
          </button>
        </span>
      </div>
      {sure && (
        <div className={styles.sure} role="alertdialog" aria-label={`Remove ${row.name}`}>
          {unsaved > 0
            ? `${unsaved} ${unsaved === 1 ? 'edit' : 'edits'} and all of its history would be lost.`
            : 'Its history would be lost.'}{' '}
          {lost}
          <div className={styles.acts}>
            <button type="button" onClick={() => setSure(false)}>
              Keep it
            </button>
            <button type="button" onClick={() => void removeProject(db, row.id).then(onGone)}>
              Remove it
            </button>
          </div>
        </div>
      )}
    </li>
  )
}

/** How much is stored, whether the browser may clear it, and all of it as one file. */
function Room({ onRestored }: { onRestored: (id: string) => void }) {
  const [room, setRoom] = useState<{ usage: number; quota: number; kept: boolean } | null>(null)
  const file = useRef<HTMLInputElement>(null)
  useEffect(() => {
    let current = true
    void Promise.all([navigator.storage.estimate(), navigator.storage.persisted()]).then(
      ([e, kept]) => current && setRoom({ usage: e.usage ?? 0, quota: e.quota ?? 0, kept }),
    )
    return () => {
      current = false
    }
  }, [])
  const keep = async () => {
    const kept = await navigator.storage.persist()
    setRoom(room && { ...room, kept })
    if (!kept) say('info', 'The browser does not promise to keep it yet. Saving to a folder or a backup does.')
  }
  const [asked, setAsked] = useState<{ file: File; taken: Awaited<ReturnType<typeof takenBy>> } | null>(null)
  const bringIn = async (chosen: File, replace: ReadonlySet<string>) => {
    setAsked(null)
    try {
      const done = await restore(db, chosen, replace)
      const beside = done.filter((r) => r.beside !== null)
      const lost = done.reduce((n, r) => n + r.lost, 0)
      say(
        lost ? 'error' : 'info',
        `${chosen.name}: ${done.length} ${done.length === 1 ? 'project' : 'projects'} brought back${beside.length ? `, ${beside.map((r) => r.name).join(' and ')} beside what was there` : ''}.${lost ? ` ${lost} edits were not made on their files and were left out.` : ''}`,
      )
      const last = done.at(-1)
      if (last) onRestored(last.id)
    } catch (error) {
      say('error', error instanceof ImportError ? error.message : `${chosen.name} could not be brought back: ${String(error)}`)
    }
  }
  const bringBack = async (chosen: File) => {
    try {
      const taken = await takenBy(db, chosen)
      if (taken.length) setAsked({ file: chosen, taken })
      else await bringIn(chosen, new Set())
    } catch (error) {
      say('error', error instanceof ImportError ? error.message : `${chosen.name} could not be brought back: ${String(error)}`)
    }
  }
  return (
    <div className={styles.room}>
      {room && (
        <>
          {inWords(room.usage)} used of {inWords(room.quota)}.{' '}
          {room.kept ? (
            'The browser keeps it until you remove it.'
          ) : (
            <>
              The browser may clear it when the disk is full.{' '}
              <Button size="small" onClick={() => void keep()}>
                Ask it to keep it
              </Button>
            </>
          )}
        </>
      )}
      <Button
        size="small"
        onClick={() =>
          void backUp(db).then(
            (b) => download('steady-brush-backup.json', b, 'application/json'),
            (error: unknown) => say('error', error instanceof Error ? error.message : String(error)),
          )
        }
      >
        All of it as one file
      </Button>
      <Button size="small" onClick={() => file.current?.click()}>
        Bring a backup back…
      </Button>
      <input
        ref={file}
        type="file"
        hidden
        accept="application/json,.json"
        data-testid="backup-input"
        onChange={(e) => {
          const chosen = e.target.files?.[0]
          e.target.value = ''
          if (chosen) void bringBack(chosen)
        }}
      />
      {asked && (
        <div role="alertdialog" aria-label="Projects that are there already" className={styles.asked} data-testid="restore-asked">
          <p>
            There {asked.taken.length === 1 ? 'is a project' : 'are projects'} of {asked.taken.length === 1 ? 'that name' : 'those names'}{' '}
            already: {asked.taken.map((t) => `${t.here} (${t.edits} ${t.edits === 1 ? 'edit' : 'edits'})`).join(', ')}.
          </p>
          <Button size="small" variant="contained" onClick={() => void bringIn(asked.file, new Set())}>
            Bring back beside {asked.taken.length === 1 ? 'it' : 'them'}
          </Button>
          <Button size="small" color="error" onClick={() => void bringIn(asked.file, new Set(asked.taken.map((t) => t.id)))}>
            Replace {asked.taken.map((t) => t.here).join(', ')}: {asked.taken.length === 1 ? 'its' : 'their'} files and edits go
          </Button>
          <Button size="small" color="inherit" onClick={() => setAsked(null)}>
            Leave it
          </Button>
        </div>
      )}
    </div>
  )
}
