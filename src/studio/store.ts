import { create } from 'zustand'
import type { Box, Geometry, HoverFacts, NodeInfo, PageState, PickReport, TreeRow } from '../agent/protocol'
import { ALWAYS, type Candidate, type Condition, type Evidence, type PropertyAim } from '../core/aim'
import type { BlockOut, Intent } from '../core/edit'
import type { Scale } from '../core/project'
import type { GitState } from '../folder'
import { type DeskState, type OpenedProject, type Point, type Shown, type TagPlace, type VocabularyState } from '../desk'
import type { Drop } from './session/drop'
import { NONE_CHOSEN, type ChosenPlaces } from './session/chosen-aim'
import type { KnownProject } from '../storage/known-projects'
import { DEFAULTS, type Preferences } from '../storage/preferences'
import { OPEN_AT_FIRST } from './tune/open-sections'
import type { LiveFault } from '../page'

export type Mode = 'pick' | 'use'

export interface Picked {
  readonly report: PickReport & Pick<Evidence, 'usage'>
  readonly aims: ReadonlyMap<string, PropertyAim>
  /** File and line of the element, or of its nearest in the source. */
  readonly place: { readonly path: string; readonly line: number } | null
  /** Where the tag of the component stands that made it, or the nearest around it that is known; null on a page without. */
  readonly tag: TagPlace | null
  /** Where the component is used whose tag that is, and how often the project uses it; null where that is not known. */
  readonly usage: { readonly name: string; readonly place: TagPlace; readonly tags: number; readonly files: number } | null
}

/** Something kept in a state such as `:hover`, or open where `state` is `''`, whatever is chosen. */
export interface HeldThing {
  readonly info: NodeInfo
  readonly state: string
}

/** Text typed into a file that its grammar cannot read. Both texts have line feeds alone. */
export interface Draft {
  /** The text of the file that it starts from. */
  readonly base: string
  readonly text: string
  readonly fault: string
}

/** What Source shows: a file, and the line that is being written or was asked for. */
export interface SourceSpot {
  readonly path: string
  readonly line: number
}

/** A layout as it is drawn, with what it can be made of. */
export interface Drawing extends BlockOut {
  /** Which of the regions is selected; -1 for none. */
  readonly current: number
  readonly children: readonly { readonly source: string; readonly name: string; readonly tag: string }[]
  readonly sheets: readonly { readonly key: string; readonly path: string }[]
  readonly hasMain: boolean
}

export interface StudioState {
  readonly project: OpenedProject | null
  /** Path with query and fragment, as the page has it. */
  readonly address: string
  readonly mode: Mode
  readonly width: number | null
  /** The selected element. */
  readonly picked: Picked | null
  /** Elements chosen with it. */
  readonly others: readonly Picked[]
  /** What edits are to hold in; the page shows the element so. */
  readonly condition: Condition
  readonly held: readonly HeldThing[]
  /** Taken off the page for now; the source has them. */
  readonly hidden: readonly NodeInfo[]
  /** The text of the selected element is being typed on the page. */
  readonly typing: boolean
  /** What is dragged would land there. */
  readonly drop: Drop | null
  /** An aim kept while other elements are chosen. */
  readonly heldAim: Candidate | null
  /** Titles of the sections of Tune that are unfolded. */
  readonly open: ReadonlySet<string>
  /** The page shows what was saved. */
  readonly comparing: boolean
  /** Clicks give elements the values of the edit made last. */
  readonly carrying: boolean
  /** Distances are shown. */
  readonly measuring: boolean
  /** Containers without an edge of their own are outlined. */
  readonly containers: boolean
  /** Height of the strip with Ledger and Source; px. */
  readonly strip: number
  /** The outline is on show; and the page's tree while it is. */
  readonly outline: boolean
  /** What of the page as a whole is on show, in the outline's place; null for nothing of it. */
  readonly whole: 'findings' | 'in use' | 'theme' | 'weight' | 'unused' | 'picture' | null
  /** The layout that is being drawn over the selected element; null while none is. */
  readonly drawing: Drawing | null
  /** The dialog for what to insert is on show. */
  readonly inserting: boolean
  /** The dialog for a rule that is not there yet is on show. */
  readonly composing: boolean
  /** A row of Tune is looked for by its property. */
  readonly findingRow: boolean
  /** The dialog for selectors and class names is on show. */
  readonly naming: boolean
  /** The dialog on show that is about the project as a whole. */
  readonly dialog: 'review' | 'conflicts' | 'history' | 'takes' | 'preferences' | 'projects' | 'note' | 'wishes' | 'lost' | 'server' | null
  /** The development server that renders the project's pages, by its name; null where there is none. */
  readonly server: string | null
  /** How many files of the folder are read that it was opened without; null where all are. */
  readonly unread: { readonly done: number; readonly of: number } | null
  /** The long sheet that is being read, and how far; null when none is. */
  readonly reading: { readonly path: string; readonly share: number } | null
  /** Projects that were here when this was used last, and that the browser has cleared since. */
  readonly lost: readonly KnownProject[]
  /** Counts changes of the wishes. */
  readonly wishRevision: number
  /** What git says of the linked folder; null where that is in no repository that can be reached. */
  readonly git: GitState | null
  /** Whether the browser lets the linked folder be read and written. */
  readonly access: PermissionState
  /** The person's choices, those for this project before those for all. */
  readonly preferences: Preferences
  /** Another state of the project shown beside the page. */
  readonly beside: { readonly point: Point; readonly name: string } | null
  /** The head of the page is on show. */
  readonly head: boolean
  readonly tree: readonly TreeRow[] | null
  /** The sheet of keys is on show. */
  readonly keys: boolean
  /** The edit made last, to be carried to other elements. */
  readonly lastMade: Intent | null
  /** Which layer of the background is selected, the topmost being 0. */
  readonly layer: number
  readonly hover: NodeInfo | null
  /** What is told of it; null where it is pointed at elsewhere than on the page. */
  readonly hoverFacts: HoverFacts | null
  readonly frames: {
    readonly hover: Geometry | null
    readonly picked: Geometry | null
    readonly others: readonly Box[]
    readonly reach: readonly Box[]
    readonly containers: readonly Box[]
    readonly page: PageState | null
  }
  readonly ledger: DeskState
  readonly scale: Scale
  readonly source: SourceSpot | null
  /** What was typed in Source and cannot be read, by file: no part of the file until the person says so. */
  readonly drafts: ReadonlyMap<string, Draft>
  /** Where the caret was last in a page's file in Source; an offset with line feeds alone. */
  readonly caret: { readonly path: string; readonly offset: number } | null
  /** Counts up whenever the text of a file may have changed. */
  readonly revision: number
  /** The property whose aim is on show; its row is the one last touched. */
  readonly property: string
  /** Places chosen by hand, until another element is picked. */
  readonly chosen: ChosenPlaces
  /** How many elements of the page rules that are not there yet would match, by their selectors. */
  readonly fresh: ReadonlyMap<string, number>
  /** Of the current aim, over all pages of the project; null where that cannot be determined from the sources. */
  readonly projectReach: { readonly elements: number; readonly pages: number } | null
  readonly pulling: { readonly property: string; readonly value: string } | null
  /** What the step under way would write, as the ledger will say it. */
  readonly writes: Shown | null
  readonly status: { readonly kind: 'info' | 'error'; readonly text: string } | null
  /** Makes once more an edit that could not be stored. */
  readonly again: (() => Promise<unknown>) | null
  readonly fault: LiveFault | null
  readonly busy: boolean
  /** Why the page shows nothing; null where it shows something. */
  readonly empty: string | null
  readonly progress: { readonly text: string; readonly share: number } | null
  readonly connected: boolean
  /** Whether a page of the project was on the screen already. */
  readonly painted: boolean
  /** Of the utility classes the project is styled with; null where there are none to be read. */
  readonly vocabulary: VocabularyState | null
}

const NO_FRAMES: StudioState['frames'] = {
  hover: null,
  picked: null,
  others: [],
  reach: [],
  containers: [],
  page: null,
}
const NO_SCALE: Scale = { tokens: [], breakpoints: [], conditions: [], lengths: [] }
/** Heights of the strip; px. */
export const USUAL_STRIP = 188
export const FOLDED_STRIP = 34

export const NO_EDITS: DeskState = {
  rows: [],
  changed: [],
  canUndo: false,
  canRedo: false,
  done: 0,
  undone: 0,
  folder: null,
  conflicts: [],
  readOnly: null,
}

export const INITIAL: StudioState = {
  project: null,
  address: '/',
  mode: 'pick',
  width: null,
  picked: null,
  others: [],
  condition: ALWAYS,
  held: [],
  hidden: [],
  typing: false,
  drop: null,
  heldAim: null,
  open: new Set(OPEN_AT_FIRST),
  comparing: false,
  lastMade: null,
  carrying: false,
  measuring: false,
  containers: false,
  strip: USUAL_STRIP,
  outline: false,
  whole: null,
  drawing: null,
  inserting: false,
  composing: false,
  findingRow: false,
  naming: false,
  dialog: null,
  server: null,
  unread: null,
  reading: null,
  lost: [],
  access: 'granted',
  git: null,
  wishRevision: 0,
  preferences: DEFAULTS,
  beside: null,
  head: false,
  tree: null,
  keys: false,
  layer: 0,
  hover: null,
  hoverFacts: null,
  frames: NO_FRAMES,
  ledger: NO_EDITS,
  scale: NO_SCALE,
  source: null,
  drafts: new Map(),
  caret: null,
  revision: 0,
  property: 'padding-top',
  chosen: NONE_CHOSEN,
  fresh: new Map(),
  projectReach: null,
  pulling: null,
  writes: null,
  status: null,
  again: null,
  fault: null,
  busy: false,
  empty: null,
  progress: null,
  connected: false,
  painted: false,
  vocabulary: null,
}

export const useStudio = create<StudioState>(() => INITIAL)
export const setStudio = useStudio.setState
export const getStudio = useStudio.getState
export { NO_FRAMES }

export const say = (kind: 'info' | 'error', text: string): void => setStudio({ status: { kind, text }, again: null })
