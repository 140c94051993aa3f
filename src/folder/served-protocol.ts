import type { LeftOut } from './left-out'

/** What the interface asks the server of this machine about the folder that it opened, below this path of the interface's own origin. */
export const FOLDER_PATH = '/folder/'

/** The folder that the server opened. */
export interface ServedInfo {
  /** Absolute, as the machine spells it. */
  readonly path: string
}

export interface ServedListing {
  readonly files: readonly { readonly path: string; readonly size: number; readonly modified: number }[]
  readonly leftOut: readonly LeftOut[]
}

/** A file to be written. */
export interface ServedWrite {
  readonly path: string
  /** SHA-256 of what the folder is believed to have, in hexadecimal; null for nothing. */
  readonly before: string | null
  /** What it is to have, in base64 (RFC 4648 §4). */
  readonly after: string
}

export type ServedWritten =
  | { readonly ok: true; readonly modified: Readonly<Record<string, number>> }
  | { readonly ok: false; readonly path: string; readonly why: string; readonly written: readonly string[] }

/** What is to be committed: the same as a {@link CommitRequest}, its bytes in base64. */
export interface ServedCommit {
  readonly message: string
  readonly branch: string | null
  readonly files: readonly { readonly path: string; readonly before: string | null; readonly after: string }[]
}

/** When a file was changed; ms since 1970. */
export const MODIFIED_HEADER = 'x-steady-modified'

/** Requests of the interface carry it, which a form of another page cannot (Fetch §2.2.2). */
export const OURS_HEADER = 'x-steady-brush'

/** What a message to the server may weigh; bytes. */
export const MOST_BODY = 128 * 1024 * 1024
