import { useLiveQuery } from 'dexie-react-hooks'
import { useEffect } from 'react'
import { projectsNow, rememberedProjects, rememberProjects, type KnownProject } from '../../storage/known-projects'
import { db } from '../projects'
import { useStudio } from '../store'

/** Projects that were here when this was used last, and are not stored any more. */
export async function lostProjects(): Promise<readonly KnownProject[]> {
  const now = await projectsNow(db)
  return rememberedProjects().filter((known) => !now.some((p) => p.id === known.id))
}

/** Remembers which projects there are, and which are lost, until the next start; from when those lost are known. */
export function useKnownProjects(isReady: boolean): void {
  const now = useLiveQuery(() => projectsNow(db), [])
  const lost = useStudio((s) => s.lost)
  useEffect(() => {
    if (isReady && now) rememberProjects([...now, ...lost.filter((l) => !now.some((p) => p.id === l.id))])
  }, [now, lost, isReady])
}
