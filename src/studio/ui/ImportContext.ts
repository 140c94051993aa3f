import { createContext, useContext } from 'react'

export interface ImportValue {
  readonly chooseFolder: () => void
  readonly chooseZip: () => void
}

export const ImportContext = createContext<ImportValue | null>(null)

export function useImport(): ImportValue {
  const value = useContext(ImportContext)
  if (!value) throw new Error('useImport must be used inside <ImportDrop>')
  return value
}
