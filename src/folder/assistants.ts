import type { HandOffEdit, Wish } from '../core/edit'

/** A wish about elements, as it is shared with an assistant. */
export interface SharedWish {
  readonly id: string
  readonly words: string
  readonly state: WishState
  readonly elements: readonly SharedElement[]
}

/** `taken`: somebody works on it. */
export type WishState = 'open' | 'taken' | 'done'

/** An element of the source, as the hand-off note has it. */
export type SharedElement = Wish['elements'][number]

/** A chosen element, with what its values are and where they come from. */
export interface SharedChoice extends SharedElement {
  readonly values: readonly {
    readonly property: string
    readonly computed: string
    /** As the source says it. */
    readonly written: string
    /** The rule, attribute or class list, and where it stands. */
    readonly from: string
    /** Elements of the page that an edit there reaches; null where it is not counted. */
    readonly reach: number | null
  }[]
}

/** An edit, as the hand-off note has it. */
export type SharedEdit = Omit<HandOffEdit, 'reach' | 'verdict'>

/** What the window shows an assistant. */
export interface Shared {
  readonly project: string
  /** The address of the page that is shown, from the project's root. */
  readonly page: string
  readonly chosen: readonly SharedChoice[]
  readonly wishes: readonly SharedWish[]
  /** Edits since the last save. */
  readonly edits: readonly SharedEdit[]
}

/** What an assistant said of a wish. */
export interface WishNews {
  readonly id: string
  readonly state: Exclude<WishState, 'open'>
  /** What it says that it did. */
  readonly told: string
  /** Files that it says it changed. */
  readonly files: readonly string[]
}

/** An element that an assistant wants a picture of: its place among the chosen ones, from 0. */
export interface WantedPicture {
  readonly id: string
  readonly index: number
}

/** A picture of an element as PNG, in base64 (RFC 4648 §4), or why there is none. */
export type SentPicture = { readonly ok: true; readonly png: string } | { readonly ok: false; readonly why: string }

/** Assistants that the server of a folder speaks with. */
export interface Assistants {
  share(shared: Shared): Promise<void>
  /** What was said of wishes since the server was started. */
  news(): Promise<readonly WishNews[]>
  /** Calls `tell` when something was; ends with what is returned. */
  watch(tell: () => void): () => void
  /** Pictures that are waited for. */
  wanted(): Promise<readonly WantedPicture[]>
  picture(id: string, picture: SentPicture): Promise<void>
  /** Calls `tell` when a picture is wanted; ends with what is returned. */
  watchPictures(tell: () => void): () => void
}
