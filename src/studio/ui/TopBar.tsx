'use client'
import { Button } from '@mui/material'
import { useLiveQuery } from 'dexie-react-hooks'
import { Suspense, useMemo, useState } from 'react'
import { folderOf } from '../../folder'
import { db } from '../projects'
import { setStudio, useStudio } from '../store'
import { ElementButton } from '../structure/ElementButton'
import { later } from './later'
import { MANY_PATHS, PathSearch } from './PathSearch'
import { plural } from './plural'
import { useSession } from './SessionContext'
import styles from './TopBar.module.css'

const ProjectMenu = later(() => import('./ProjectMenu').then((m) => m.ProjectMenu))
const PagesMenu = later(() => import('./PagesMenu').then((m) => m.PagesMenu))
const ExportMenu = later(() => import('./ExportMenu').then((m) => m.ExportMenu))

export function TopBar() {
  const { session } = useSession()
  const mode = useStudio((s) => s.mode)
  const address = useStudio((s) => s.address)
  const outline = useStudio((s) => s.outline)
  const whole = useStudio((s) => s.whole)
  const beside = useStudio((s) => s.beside)
  const canUndo = useStudio((s) => s.ledger.canUndo)
  const canRedo = useStudio((s) => s.ledger.canRedo)
  return (
    <header className={styles.bar}>
      <img src="/mark.svg" alt="" width={22} height={22} />
      <ProjectName />
      <TakeName />
      <AddressField key={address} address={address} />
      <div className={styles.modes} role="radiogroup" aria-label="What the pointer does on the page">
        {(['pick', 'use'] as const).map((m) => (
          <button
            key={m}
            type="button"
            role="radio"
            aria-checked={mode === m}
            title={m === 'pick' ? 'Choose elements (P)' : 'Work the page as a visitor (U)'}
            onClick={() => session.setMode(m)}
          >
            {m === 'pick' ? 'Pick' : 'Use'}
          </button>
        ))}
      </div>
      <Button color="inherit" onClick={() => setStudio({ head: true })} title="Title, description and the rest of the page’s head">
        Head
      </Button>
      <Button
        color="inherit"
        aria-pressed={outline}
        onClick={() => setStudio({ outline: !outline, whole: null })}
        title="The element tree (O)"
      >
        Outline
      </Button>
      {/* Two pages side by side leave no room for it; the key does. */}
      {beside === null && (
        <Button
          color="inherit"
          aria-pressed={whole !== null}
          onClick={() => setStudio({ whole: whole ? null : 'findings', outline: false })}
          title="What the page lacks, and every face and colour in use on it (Q)"
        >
          Whole page
        </Button>
      )}
      <ElementButton />
      <span className={styles.room} />
      <Now />
      <Button color="inherit" disabled={!canUndo} onClick={() => void session.timeline.step('undo')} title="Ctrl Z">
        Undo
      </Button>
      <Button color="inherit" disabled={!canRedo} onClick={() => void session.timeline.step('redo')} title="Ctrl Shift Z">
        Redo
      </Button>
      <Button color="inherit" aria-label="Keys" onClick={() => setStudio({ keys: true })} title="Keys (?)">
        ?
      </Button>
      <TakeAway />
    </header>
  )
}

/** What the window is in the middle of, and the way out. */
function Now() {
  const { session } = useSession()
  const carrying = useStudio((s) => s.carrying)
  const comparing = useStudio((s) => s.comparing)
  const readOnly = useStudio((s) => s.ledger.readOnly)
  const conflicts = useStudio((s) => s.ledger.conflicts)
  const access = useStudio((s) => s.access)
  const folder = useStudio((s) => s.ledger.folder)
  const beside = useStudio((s) => s.beside)
  if (readOnly)
    return (
      <button type="button" className={styles.now} title={readOnly} data-testid="read-only" onClick={() => void session.takeOver()}>
        Read only: edit here
      </button>
    )
  if (folder !== null && access !== 'granted') return <ClosedFolder />
  if (conflicts.length > 0)
    return (
      <button type="button" className={styles.now} title={conflicts.join(', ')} onClick={() => setStudio({ dialog: 'conflicts' })}>
        Both changed {plural(conflicts.length, 'file')}: choose
      </button>
    )
  if (beside)
    return (
      <button type="button" className={styles.now} onClick={() => setStudio({ beside: null })} title={`Beside it: ${beside.name}`}>
        End side by side
      </button>
    )
  if (comparing)
    return (
      <span className={styles.now} role="status">
        As saved
      </span>
    )
  if (!carrying) return null
  return (
    <button type="button" className={styles.now} onClick={() => session.setCarrying(false)}>
      Carrying: click elements, Esc ends
    </button>
  )
}

/** The folder of the project, which cannot be reached. */
function ClosedFolder() {
  const { session } = useSession()
  const project = useStudio((s) => s.project?.id ?? '')
  const folder = useLiveQuery(async () => {
    const place = await db.folders.get(project)
    return place ? folderOf(place) : null
  }, [project])
  return folder ? (
    <button
      type="button"
      className={styles.now}
      onClick={() => void session.keeping.askAccess(folder)}
      title={folder.closed.title}
      data-testid="closed-folder"
    >
      {folder.closed.label}
    </button>
  ) : null
}

/** The current take, where the project has several. */
function TakeName() {
  const project = useStudio((s) => s.project?.id ?? '')
  const name = useLiveQuery(async () => {
    const [row, takes] = await Promise.all([
      db.projects.get(project),
      db.takes.where('[project+id]').between([project, ''], [project, '\uffff']).toArray(),
    ])
    return takes.length > 1 ? takes.find((t) => t.id === (row?.take ?? ''))?.name : undefined
  }, [project])
  return name === undefined ? null : (
    <button
      type="button"
      className={styles.take}
      title="Takes of this project; K switches to the next"
      data-testid="take-name"
      onClick={() => setStudio({ dialog: 'takes' })}
    >
      take: <b>{name}</b>
    </button>
  )
}

function ProjectName() {
  const name = useStudio((s) => s.project?.name ?? 'Opening…')
  const branch = useStudio((s) => s.git?.branch ?? null)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  return (
    <>
      <button type="button" className={styles.project} aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        {name} <span aria-hidden="true">▾</span>
      </button>
      {branch !== null && (
        <span className={styles.branch} title={`The branch that is checked out in the folder: ${branch}`} data-testid="branch">
          {branch}
        </span>
      )}
      {anchor && (
        <Suspense>
          <ProjectMenu anchor={anchor} onClose={() => setAnchor(null)} />
        </Suspense>
      )}
    </>
  )
}

function AddressField({ address }: { address: string }) {
  const { session } = useSession()
  const project = useStudio((s) => s.project)
  const [text, setText] = useState(address)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const addresses = useMemo(
    () => (project?.routes.length ? project.routes : (project?.pages ?? []).map((p) => (p === 'index.html' ? '/' : `/${p}`))),
    [project],
  )
  return (
    <form
      className={styles.address}
      onSubmit={(e) => {
        e.preventDefault()
        session.goTo(text.startsWith('/') ? text : `/${text}`)
      }}
    >
      <input aria-label="Address of the page" value={text} spellCheck={false} onChange={(e) => setText(e.target.value)} />
      {addresses.length > 0 && (
        <button type="button" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
          {plural(addresses.length, 'page')} <span aria-hidden="true">▾</span>
        </button>
      )}
      {anchor && addresses.length > MANY_PATHS && (
        <PathSearch
          label="Page"
          paths={addresses}
          current={address}
          anchor={anchor}
          onChoose={(a) => session.goTo(a)}
          onClose={() => setAnchor(null)}
        />
      )}
      {anchor && addresses.length <= MANY_PATHS && (
        <Suspense>
          <PagesMenu addresses={addresses} current={address} anchor={anchor} onClose={() => setAnchor(null)} />
        </Suspense>
      )}
    </form>
  )
}

function TakeAway() {
  const { session } = useSession()
  const { rows, changed, undone, folder } = useStudio((s) => s.ledger)
  const atOnce = useStudio((s) => s.preferences.save !== 'after looking over it')
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const words = changed.length ? `Save ${plural(rows.length || undone, 'edit')} in ${plural(changed.length, 'file')}` : 'Save'
  return (
    <>
      {folder !== null && (
        <Button
          variant="contained"
          color={changed.length ? 'error' : 'primary'}
          data-testid="save"
          title={`Look over what will be written to ${folder} (S)`}
          onClick={() => (atOnce && changed.length ? void session.keeping.save([]) : setStudio({ dialog: 'review' }))}
        >
          {words}
        </Button>
      )}
      <Button
        variant={folder === null ? 'contained' : 'text'}
        color={folder !== null ? 'inherit' : changed.length ? 'error' : 'primary'}
        aria-haspopup="menu"
        onClick={(e) => setAnchor(e.currentTarget)}
        data-testid={folder === null ? 'save' : 'take-away'}
      >
        {folder === null ? words : 'Export ▾'}
      </Button>
      {anchor && (
        <Suspense>
          <ExportMenu anchor={anchor} onClose={() => setAnchor(null)} />
        </Suspense>
      )}
    </>
  )
}
