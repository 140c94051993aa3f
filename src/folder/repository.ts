/** What git says of a folder. */
export interface GitState {
  /** The branch that is checked out; null where none is (a detached HEAD). */
  readonly branch: string | null
  /** The commit that is checked out, short; null before the first. */
  readonly head: string | null
  /** Files of the folder that are not as that commit has them. */
  readonly changed: readonly { readonly path: string; readonly is: 'changed' | 'new' | 'deleted' | 'conflicted' }[]
  /** How many commits there are since the folder was opened. */
  readonly commits: number
  /** Why nothing can be committed now; null where it can. */
  readonly refusal: string | null
}

/** A file for a commit: what we changed in it, from one text to the other; null for nothing. */
export interface CommitFile {
  readonly path: string
  readonly before: Uint8Array | null
  readonly after: Uint8Array
}

export interface CommitRequest {
  readonly message: string
  /** A branch to make for it; null for the one that is checked out. */
  readonly branch: string | null
  readonly files: readonly CommitFile[]
}

export type Committed =
  /** `files` are those that the commit changes; `told` is what hooks said. */
  | {
      readonly ok: true
      readonly commit: string
      readonly branch: string
      readonly files: readonly string[]
      readonly told: string
    }
  | { readonly ok: false; readonly why: string }

/** The git repository that a folder is in. */
export interface Repository {
  /** Null where the folder is in none, or there is no git. */
  state(): Promise<GitState | null>
  /** Files as the commit that is checked out has them, as a working tree would; null for each that it has not. */
  committed(paths: readonly string[]): Promise<readonly (Uint8Array | null)[]>
  /** Commits what we changed in files and nothing else of them; what else is staged or changed stays as it is. */
  commit(request: CommitRequest): Promise<Committed>
  /** The commits since the folder was opened as a patch series (`git format-patch`); null where there are none. */
  series(): Promise<string | null>
}
