import Dexie, { type EntityTable, type Table } from 'dexie'
import type { JournalEdit } from '../core/edit'
import type { TailwindIndex } from '../core/utility'

export interface ProjectRow {
  /** Also the name of its live origin: lower-case letters, digits and dashes. */
  readonly id: string
  readonly name: string
  readonly created: number
  opened: number
  /** Edits in force; later ones in the journal were undone. */
  done: number
}

export interface FileRow {
  readonly project: string
  readonly key: number
  readonly path: string
  /** As brought in; edits are replayed on it. */
  readonly bytes: Uint8Array
}

export type EditRow = JournalEdit & { readonly project: string }

/** What comes back when a project is opened again. */
export interface ViewRow {
  readonly project: string
  readonly page: string
  /** CSS px; null for as wide as there is room. */
  readonly width: number | null
  readonly scrollX: number
  readonly scrollY: number
  readonly picked: { readonly source: string; readonly nth: number } | null
  readonly mode: 'pick' | 'use'
}

/** The inverse index of a vocabulary, by what it was worked out from. */
export interface VocabularyRow {
  readonly key: string
  readonly made: number
  readonly index: TailwindIndex
}

export class Database extends Dexie {
  declare projects: EntityTable<ProjectRow, 'id'>
  declare files: Table<FileRow, [string, number]>
  declare edits: Table<EditRow, [string, number]>
  declare views: EntityTable<ViewRow, 'project'>
  declare vocabularies: EntityTable<VocabularyRow, 'key'>

  constructor(name = 'steady-brush') {
    // An edit shown as done has to survive a crash, so a write is on the disk before it counts.
    super(name, { chromeTransactionDurability: 'strict' })
    this.version(1).stores({
      projects: 'id, opened',
      files: '[project+key], [project+path]',
      edits: '[project+seq]',
      views: 'project',
    })
    this.version(2).stores({ vocabularies: 'key, made' })
  }
}
