import type { SyncOp } from '../agent/protocol'
import type { JournalEdit, PlannedEdit, Verdict } from '../core/edit'
import type { ComponentProperty, GivenProperty } from '../core/language'
import type { Scale } from '../core/project'
import type { MergePart } from '../core/text'
import type { PublishedFile } from '../live/protocol'
import type { ViewRow } from '../storage/db'
import type { OutsideChange } from './linked-folder'

/** An edit as the ledger shows it. */
export interface LedgerRow {
  readonly seq: number
  readonly path: string
  /** 1-based line in the file as it is now. */
  readonly line: number
  readonly name: string
  readonly before: string | null
  readonly after: string
  readonly label: string
  readonly element: string | null
  readonly part: JournalEdit['part'] | null
  readonly did: JournalEdit['did'] | null
  readonly reach: number
  readonly verdict: Verdict
}

export interface DeskState {
  /** Made since the last save, or left out of it. */
  readonly rows: readonly LedgerRow[]
  readonly changed: readonly string[]
  readonly canUndo: boolean
  readonly canRedo: boolean
  readonly done: number
  /** Edits of the last save that were undone since. */
  readonly undone: number
  /** The folder that it is saved to, by its name; null where there is none. */
  readonly folder: string | null
  /** Files that both sides changed in the same place: none is written before it is settled. */
  readonly conflicts: readonly string[]
  /** Why nothing can be changed here; null when it can. */
  readonly readOnly: string | null
}

export interface OpenedProject {
  readonly id: string
  readonly name: string
  readonly pages: readonly string[]
  /** Addresses that its framework makes pages for, by the names of its files. */
  readonly routes: readonly string[]
  /** Paths of its style sheets. */
  readonly sheets: readonly string[]
  /** Paths of all that is source text, scripts and the like too. */
  readonly written: readonly string[]
  /** Source files that stay as they are, with why. */
  readonly readOnly: readonly { readonly path: string; readonly why: string }[]
  readonly scale: Scale
  /** Paths of its pictures. */
  readonly images: readonly string[]
  readonly view: ViewRow | null
  readonly state: DeskState
  /** Edits of the journal that were not made on these files, and are left out. */
  readonly lost: number
}

/** What is known of a project once all its files are read: `sync` and `files` bring the compiled sheet to the page. */
export type RestRead = Pick<OpenedProject, 'scale' | 'readOnly'> & Pick<Written, 'sync' | 'files'>

/** What the tag of a component gives it, and may. */
export interface UsageProperties {
  /** Why its file is not written; null where it is. */
  readonly readOnly: string | null
  readonly properties: readonly (ComponentProperty & { readonly given: GivenProperty | null })[]
}

/** Where a tag stands, 1-based, its source, and the component that it is of, if any; or why that cannot be determined. */
export type TagPlace =
  /** `source` is null where what made the element is known, and no edit can be made of it. */
  | { readonly ok: true; readonly path: string; readonly line: number; readonly source: string | null; readonly component: string | null }
  | { readonly ok: false; readonly path: string; readonly why: string }

/** An element as its file says it. */
export interface ElementSource {
  readonly tag: string
  readonly attributes: readonly { readonly name: string; readonly value: string }[]
  /** Its own texts in order, white space and all. */
  readonly texts: readonly string[]
  /** The sources of the elements in it. */
  readonly children: readonly string[]
  readonly parent: string | null
}

/** What an edit, undo or redo means for the live page and the screen. */
export interface Written {
  readonly state: DeskState
  readonly sync: readonly SyncOp[]
  /** Greater for what was written later: it may be taken in in another order. */
  readonly order: number
  readonly files: readonly PublishedFile[]
  /** Whether the compiled sheet of utility classes is another with it. */
  readonly isCompiled: boolean
  readonly path: string
  readonly edit: JournalEdit
  /** Source of the element that is selected after it; null where the selection stays. */
  readonly chosen: string | null
  readonly scale: Scale
}

/** What a step that is shown would write, as the ledger will say it. */
/** What is read of the page before and after an edit. */
export interface Reading {
  readonly nodes: readonly number[]
  readonly selectors: readonly string[]
  readonly sheet: string | null
  readonly props: readonly string[]
  readonly part: string
}

export interface Shown {
  /** Names the plan, for `commitPlan`; null of a step that is on its way to another. */
  readonly plan: number | null
  /** Whether the page has it; it may be busy. */
  readonly onPage: boolean
  /** What is to be read of the page for it, and what the page shows of that with it; null of a step on its way to another, and where the page is busy. */
  readonly read: { readonly what: Reading; readonly seen: readonly (readonly string[])[] } | null
  readonly meant: PlannedEdit['meant'] | null
  readonly before: string | null
  readonly after: string
  /** Properties that were not asked for and have another value with it. */
  readonly moves: readonly string[]
  /** Where it goes instead, since no class of a closed vocabulary gives it; null where one does. */
  readonly otherwise: string | null
}

/** A file that both sides changed in the same places. */
export interface Conflict {
  readonly path: string
  readonly parts: readonly MergePart[]
  /** What the folder has now. */
  readonly theirs: OutsideChange
}

/** A page as it was published and as it is now. */
export interface PageTree {
  readonly file: number
  readonly before: string
  readonly after: string
}
