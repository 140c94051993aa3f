import { createContext, useContext } from 'react'

export interface ImportValue {
  readonly chooseFolder: () => void
  readonly chooseZip: () => void
  /** Opens a folder to save to; null where the browser has no such thing. */
  readonly linkFolder: (() => void) | null
}

export const ImportContext = createContext<ImportValue | null>(null)

export function useImport(): ImportValue {
  const value = useContext(ImportContext)
  if (!value) throw new Error('useImport must be used inside <ImportDrop>')
  return value
}
