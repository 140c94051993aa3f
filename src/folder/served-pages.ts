/** A page that is asked for and was not given yet. */
export interface WantedPage {
  readonly host: string
  /** From the top of the folder. */
  readonly path: string
}

/** A file as a live page is to have it. */
export interface GivenFile {
  /** From the top of the folder. */
  readonly path: string
  readonly body: ArrayBuffer | string
}

/** The live pages of a folder, by the server that has it: files come from the disk, but for those that it is given. */
export interface ServedPages {
  /** Serves them at a host of live pages from now on, with nothing given yet. */
  open(host: string): Promise<void>
  /** Has these take the place of what the disk has. */
  give(host: string, files: readonly GivenFile[]): Promise<void>
  /** HTML files that a page waits for: each is given or refused. */
  wanted(): Promise<readonly WantedPage[]>
  /** Tells that the project has no such file. */
  refuse(host: string, path: string): Promise<void>
  /** Calls `tell` when there are some that are wanted; ends with what is returned. */
  watch(tell: () => void): () => void
}
