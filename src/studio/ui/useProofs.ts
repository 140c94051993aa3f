import { useEffect } from 'react'
import { theDesk } from '../desk/desk'
import { getStudio } from '../store'
import { TUNE_PROPERTIES } from '../tune/properties'
import { useSession } from './SessionContext'

/**
 * With `proof` in the address, the session is put where the proofs in `proof/` reach it, so that thousands of edits can
 * go through the same intents as the controls. A live page has another origin and cannot see it.
 */
export function useProofs(): void {
  const { session, openProject } = useSession()
  useEffect(() => {
    if (!new URLSearchParams(location.search).has('proof')) return
    Object.assign(window, { steadyProof: { session, openProject, desk: theDesk(), state: getStudio, properties: TUNE_PROPERTIES } })
  }, [session, openProject])
}
