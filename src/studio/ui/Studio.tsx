'use client'
import { Suspense, useCallback, useEffect, useMemo, useState } from 'react'
import { Button } from '@mui/material'
import { ImportError, servedFolder } from '../../folder'
import { addDemo, db, projectOfServed, type ImportProgress } from '../projects'
import { Session } from '../session/session'
import { setStudio, useStudio } from '../store'
import { BottomStrip } from './BottomStrip'
import { ImportDrop } from './ImportDrop'
import { PageArea } from './PageArea'
import { SessionContext } from './SessionContext'
import { later, loadBehind } from './later'
import { StatusBar } from './StatusBar'
import styles from './Studio.module.css'
import { TopBar } from './TopBar'
import { useAppearance } from './useAppearance'
import { lostProjects, useKnownProjects } from './useKnownProjects'
import { usePageShown } from './usePageShown'
import { useProofs } from './useProofs'
import { useShortcuts } from './useShortcuts'

/** The project to show: the one in the address, else the folder that the server was started with, else the one opened last, else the sample. */
async function projectToOpen(onProgress: (p: ImportProgress) => void): Promise<string> {
  const asked = new URLSearchParams(location.search).get('project')
  if (asked && (await db.projects.get(asked))) return asked
  const served = await servedFolder()
  // Two windows that open it at once make one project of it.
  if (served)
    return navigator.locks.request('steady-served', async () => {
      const known = await projectOfServed(served.path)
      if (known !== undefined) return known
      const { linkServed } = await import('../importing')
      return linkServed(served.path, { signal: new AbortController().signal, onProgress })
    })
  return lastProject()
}

async function lastProject(): Promise<string> {
  const last = await db.projects.orderBy('opened').last()
  return last ? last.id : navigator.locks.request('steady-demo', async () => (await db.projects.orderBy('opened').last())?.id ?? addDemo())
}

export function Studio({ liveOrigin }: { liveOrigin: string }) {
  const [opened, setOpened] = useState<{ id: string; time: number } | null>(null)
  // The same project is reopened too: another time.
  const setId = useCallback((id: string) => setOpened((o) => ({ id, time: (o?.time ?? 0) + 1 })), [])
  const [failure, setFailure] = useState<string | null>(null)
  const [progress, setProgress] = useState('')

  useKnownProjects(opened !== null)
  useEffect(() => {
    // Compared before a sample is added, which may have the name of one that is gone.
    lostProjects()
      .then(async (lost) => {
        setStudio({ lost, dialog: lost.length ? 'lost' : null })
        setId(await projectToOpen(({ text }) => setProgress(text)))
      })
      .catch((error: unknown) =>
        setFailure(error instanceof ImportError ? error.message : `Steady Brush could not open its storage. ${String(error)}`),
      )
  }, [setId])

  if (opened) return <Workspace key={opened.time} id={opened.id} liveOrigin={liveOrigin} onOpen={setId} />
  if (failure)
    return (
      <main className={styles.failure}>
        <p role="alert">{failure}</p>
        <Button variant="outlined" onClick={() => void lastProject().then(setId)}>
          Open another project
        </Button>
      </main>
    )
  return (
    <main className={styles.failure} role="status">
      {progress || 'Opening…'}
    </main>
  )
}

function Workspace({ id, liveOrigin, onOpen }: { id: string; liveOrigin: string; onOpen: (id: string) => void }) {
  const context = useMemo(() => ({ session: new Session(id, liveOrigin, () => onOpen(id)), openProject: onOpen }), [id, liveOrigin, onOpen])
  const { session } = context

  useEffect(() => {
    const query = new URLSearchParams(location.search)
    query.set('project', id)
    history.replaceState(null, '', `?${query}`)
    session.start().catch((error: unknown) =>
      setStudio({
        status: { kind: 'error', text: `The project could not be opened: ${error instanceof Error ? error.message : String(error)}` },
      }),
    )
    return () => session.close()
  }, [id, session])

  return (
    <SessionContext value={context}>
      <Window />
    </SessionContext>
  )
}

/** How long after the page shows the rest is loaded; ms. */
const LATER = 1000

const AimPanel = later(() => import('../aim/AimPanel').then((m) => m.AimPanel))
const TunePanel = later(() => import('../tune/TunePanel').then((m) => m.TunePanel))
const InsertDialog = later(() => import('../structure/InsertDialog').then((m) => m.InsertDialog))
const NamesDialog = later(() => import('../aim/NamesDialog').then((m) => m.NamesDialog))
const RuleDialog = later(() => import('../aim/RuleDialog').then((m) => m.RuleDialog))
const BlockOutPanel = later(() => import('../block-out/BlockOutPanel').then((m) => m.BlockOutPanel))
const HeadDialog = later(() => import('../head/HeadDialog').then((m) => m.HeadDialog))
const ProjectDialogs = later(() => import('../keeping/ProjectDialogs').then((m) => m.ProjectDialogs))
const KeySheet = later(() => import('./KeySheet').then((m) => m.KeySheet))

function Window() {
  const head = useStudio((s) => s.head)
  const drawing = useStudio((s) => s.drawing)
  const inserting = useStudio((s) => s.inserting && s.picked !== null)
  const naming = useStudio((s) => s.naming && s.picked !== null)
  const composing = useStudio((s) => s.composing && s.picked !== null)
  const keys = useStudio((s) => s.keys)
  const dialog = useStudio((s) => s.dialog)
  const shown = usePageShown()
  useShortcuts()
  useProofs()
  useAppearance()
  useEffect(() => {
    if (!shown) return
    const timer = setTimeout(() => void loadBehind(), LATER)
    return () => clearTimeout(timer)
  }, [shown])
  const name = useStudio((s) => s.project?.name)
  useEffect(() => {
    document.title = name ? `${name} · Steady Brush` : 'Steady Brush'
  }, [name])
  return (
    <ImportDrop>
      <div className={styles.window}>
        <TopBar />
        <PageArea shown={shown} />
        <aside className={styles.column} aria-label="Aim and Tune">
          {drawing ? (
            <Suspense>
              <BlockOutPanel drawing={drawing} />
            </Suspense>
          ) : (
            shown && (
              <Suspense>
                <AimPanel />
                <TunePanel />
              </Suspense>
            )
          )}
        </aside>
        <BottomStrip />
        <StatusBar />
        {head && (
          <Suspense>
            <HeadDialog />
          </Suspense>
        )}
        {inserting && (
          <Suspense>
            <InsertDialog />
          </Suspense>
        )}
        {naming && (
          <Suspense>
            <NamesDialog />
          </Suspense>
        )}
        {composing && (
          <Suspense>
            <RuleDialog />
          </Suspense>
        )}
        {dialog && (
          <Suspense>
            <ProjectDialogs dialog={dialog} />
          </Suspense>
        )}
        {keys && (
          <Suspense>
            <KeySheet />
          </Suspense>
        )}
      </div>
    </ImportDrop>
  )
}
