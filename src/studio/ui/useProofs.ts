import { useEffect } from 'react'
import { theDesk } from '../../desk'
import { getStudio, setStudio } from '../store'
import { db } from '../projects'
import { currentAim } from '../session/landings'
import { useSession } from './SessionContext'

/**
 * With `proof` in the address, the session is put where the proofs in `proof/` reach it, so that thousands of edits can
 * go through the same intents as the controls. A live page has another origin and cannot see it.
 */
export function useProofs(): void {
  const { session } = useSession()
  useEffect(() => {
    if (!new URLSearchParams(location.search).has('proof')) return
    const backUpAndRestore = async () => {
      const { backUp, restore } = await import('../../storage/backup')
      return restore(db, await backUp(db))
    }
    Object.assign(window, {
      steadyProof: {
        session,
        desk: theDesk(),
        state: getStudio,
        currentAim,
        backUpAndRestore,
        show: (path: string, line: number) => setStudio({ source: { path, line } }),
      },
    })
  }, [session])
}
