import type { FileSplices, PlannedEdit } from '../core/edit'

/** An edit of whole files, as the ledger is to name it. */
export const planOf = (changes: readonly FileSplices[], words: Pick<PlannedEdit, 'name' | 'before' | 'after' | 'label'>): PlannedEdit => ({
  ok: true,
  changes,
  path: changes[0].path,
  at: changes[0].splices[0]?.from ?? 0,
  selectors: [],
  preview: [],
  ...words,
})
