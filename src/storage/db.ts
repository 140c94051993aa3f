import Dexie, { type EntityTable, type Table } from 'dexie'
import type { JournalEdit } from '../core/edit'
import type { FolderPlace, WishState } from '../folder'
import type { TailwindIndex } from '../core/utility'

export interface ProjectRow {
  /** Also the name of its live origin: lower-case letters, digits and dashes. */
  readonly id: string
  readonly name: string
  readonly created: number
  opened: number
  /** Edits in force; later ones in the journal were undone. */
  done: number
  /** Edits up to this one were in the last save, but for those it left out. */
  saved?: number
  leftOut?: readonly number[]
  /** The current take; the one that a project begins with where none is named. */
  take?: string
  /** Words about elements that are no edits, for a colleague or an assistant. */
  wishes?: readonly WishRow[]
  /** Files that someone else deleted in the folder, and that no save is to write again. */
  deleted?: readonly string[]
  /** A small picture of the page that was looked at last, as SVG. */
  picture?: string
}

export interface WishRow {
  /** Earlier versions had none. */
  readonly id?: string
  readonly words: string
  /** The elements that it is about. */
  readonly sources: readonly string[]
  /** Open where it is left out. */
  readonly state?: WishState
  /** What was said when it was done, and the files that were changed. */
  readonly told?: string
  readonly files?: readonly string[]
}

/** The folder that a project is saved to. */
export type FolderRow = FolderPlace & {
  readonly project: string
  /** The branch that was checked out when it was looked at last; left out where it is in no git repository that can be reached. */
  readonly branch?: string
  /** Part of the name of its live pages' host, where a server has them: nobody can guess it. */
  readonly token?: string
  /** Folders that are taken in although they would be left out. */
  readonly include: readonly string[]
  /** What it had when it was listed first: what `onDisk` says of a file was found later. */
  readonly listed?: readonly ListedRow[]
  /** Whether some of those that have a key are still to be read, and are not in `files`. */
  readonly isPartial?: boolean
}

export interface ListedRow {
  /** The file's; null of what is only shown from the disk. */
  readonly key: number | null
  readonly path: string
  readonly size: number
  /** ms since 1970. */
  readonly modified: number
}

/** A file as its folder had it when it was read or written last. */
export interface OnDiskRow {
  readonly project: string
  readonly path: string
  /** Null for the bytes that the project was begun with. */
  readonly bytes: Uint8Array | null
  /** ms since 1970; 0 where it is not known. */
  readonly modified: number
  readonly size: number
  /** What it really had last, where an earlier state is taken for that, so that a take is asked about what came since. */
  readonly since?: Pick<OnDiskRow, 'bytes' | 'modified' | 'size'>
}

/** A save, or something taken away, for the history. */
export interface SaveRow {
  readonly project: string
  readonly made: number
  /** Edits in force then. */
  readonly done: number
  readonly leftOut: readonly number[]
  readonly files: readonly string[]
}

/** What a save that has begun writes: when it is cut off, the files are one or the other. */
export interface SavingRow {
  readonly project: string
  readonly done: number
  readonly leftOut: readonly number[]
  readonly files: readonly { readonly path: string; readonly after: Uint8Array }[]
}

/** A named alternative set of edits on the same files; the current one stands in `edits`, and here as it was last left. */
export interface TakeRow {
  readonly project: string
  readonly id: string
  readonly name: string
  readonly made: number
  readonly edits: readonly JournalEdit[]
  readonly done: number
}

/** Choices of a person, for all projects (`''`) or for one. */
export interface PreferenceRow {
  readonly scope: string
  readonly values: Readonly<Record<string, unknown>>
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
  /** Panels: whether the outline is on show, and how high the strip is (px). */
  readonly outline?: boolean
  readonly strip?: number
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
  declare folders: EntityTable<FolderRow, 'project'>
  declare onDisk: Table<OnDiskRow, [string, string]>
  declare saves: Table<SaveRow, [string, number]>
  declare saving: EntityTable<SavingRow, 'project'>
  declare takes: Table<TakeRow, [string, string]>
  declare preferences: EntityTable<PreferenceRow, 'scope'>

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
    this.version(3).stores({
      folders: 'project',
      onDisk: '[project+path]',
      saves: '[project+made]',
      saving: 'project',
      takes: '[project+id]',
      preferences: 'scope',
    })
  }
}
