import type { PublishedFile } from '../live/protocol'

/** A style sheet as the page has it: the address it was loaded from, or `#` and the source of the element it stands in. */
export type SheetName = string

/** Serves a live page: one state of a project's files, on an origin of its own. */
export interface PageServer {
  /** Where its pages are; another after {@link restart}. */
  readonly origin: string
  /** Makes a page ready to be loaded, and the others after it. False where it was cancelled. @throws LiveFaultError when no page can be served. */
  open(page: string, onProgress: (done: number, of: number) => void): Promise<boolean>
  /** Ends an {@link open} that is under way; what is on its way still comes. */
  cancel(): void
  /** The URL of an address of the project, such as `/fares.html`. */
  urlOf(address: string): string
  /** Serves these files from now on. */
  show(files: readonly PublishedFile[]): Promise<void>
  /** Ends once every page of the project can be loaded. */
  whole(): Promise<void>
  /** Whether its pages have the files as they were saved last: each that is loaded still needs the edits since. */
  readonly hasSaved: boolean
  /** Whether its pages have a sheet as it is now all the same, by the key of the sheet. */
  hasNow?(key: string): boolean
  /** The key of the project's sheet that a sheet of the page comes from; null for one of elsewhere. */
  sheetOf(name: SheetName): string | null
  /** Leaves its origin, whose page hangs, for a fresh one; it is to be opened again. */
  restart(): void
  close(): void
}

/** What a {@link PageServer} serves, as it is to be served. */
export interface ServedFiles {
  /** What the page that is to be shown needs, or, as `rest`, all other pages, in batches; false where `each` ended it. */
  publish(
    page: string,
    rest: boolean,
    each: (files: readonly PublishedFile[], done: number, of: number) => Promise<boolean>,
  ): Promise<boolean>
}
