import type { DeskState, Written } from './types'

/** What was found when the folder was looked at. */
export interface FolderCheck {
  readonly access: PermissionState
  /** What others changed and the project took in, to be shown. */
  readonly written: readonly Written[]
  /** Files that came or went, or whose bytes are others: the project is to be opened again. */
  readonly reopen: readonly string[]
  readonly conflicts: readonly string[]
  /** Files that could not be taken in, with why: the others are, and these are not written. */
  readonly unreadable: readonly { readonly path: string; readonly why: string }[]
}

/** What a save came to. */
export type Saved =
  | { readonly ok: true; readonly state: DeskState; readonly files: number; readonly held: FolderCheck['unreadable'] }
  | { readonly ok: false; readonly why: string; readonly check?: FolderCheck }
