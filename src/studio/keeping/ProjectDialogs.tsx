'use client'
import type { StudioState } from '../store'
import { ConflictDialog } from './ConflictDialog'
import { HistoryDialog } from './HistoryDialog'
import { LostDialog } from './LostDialog'
import { NoteDialog } from './NoteDialog'
import { PreferencesDialog } from './PreferencesDialog'
import { ProjectsDialog } from './ProjectsDialog'
import { ReviewDialog } from './ReviewDialog'
import { ServerDialog } from './ServerDialog'
import { TakesDialog } from './TakesDialog'
import { WishesDialog } from './WishesDialog'

const DIALOGS = {
  review: ReviewDialog,
  conflicts: ConflictDialog,
  history: HistoryDialog,
  takes: TakesDialog,
  preferences: PreferencesDialog,
  projects: ProjectsDialog,
  note: NoteDialog,
  wishes: WishesDialog,
  lost: LostDialog,
  server: ServerDialog,
} as const

/** The dialogs about the project as a whole: a script that is fetched when one is asked for. */
export function ProjectDialogs({ dialog }: { dialog: NonNullable<StudioState['dialog']> }) {
  const Shown = DIALOGS[dialog]
  return <Shown />
}
