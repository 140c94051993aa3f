import { createContext, useContext } from 'react'
import type { Session } from '../session/session'

export interface SessionValue {
  readonly session: Session
  readonly openProject: (id: string) => void
}

export const SessionContext = createContext<SessionValue | null>(null)

export function useSession(): SessionValue {
  const value = useContext(SessionContext)
  if (!value) throw new Error('useSession must be used inside <SessionContext>')
  return value
}
