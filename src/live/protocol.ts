import { decodePath } from '../core/text'
/** What the interface and the hidden host frame on a project's live origin say to each other. */

/** Cache that holds the published files. */
export const CACHE = 'steady-files'

/** Bytes from which a file is held by the host frame as a blob, and not stored a second time; the cache has a response with this header for it. */
export const LARGE = 512 * 1024
export const HELD = 'x-steady-held'

/** What the service worker asks the host frame for: a file that it holds, by its URL. Answered on the port with a `Blob` or null. */
export interface HeldRequest {
  readonly steadyHeld: string
}

/** Everything under this path on a live origin is ours; a project's own files there are not served. */
export const OWN_PATH = '/__steady/'

/** A path from the project's root as it stands in a URL that files are kept under. */
export const encodedPath = (path: string): string => path.split('/').map(encodeURIComponent).join('/')

/** The path of a URL as files are kept under it: a page may write `@` and its kin as they are or in percents (URL §4.4), and means the same file. */
export const keptPath = (pathname: string): string =>
  pathname
    .split('/')
    .map((part) => encodeURIComponent(decodePath(part)))
    .join('/')

export interface PublishedFile {
  /** From the project's root, `/` between folders, not encoded. */
  readonly path: string
  readonly type: string
  readonly body: ArrayBuffer | string
}

export type ToHost =
  | { readonly id: number; readonly type: 'reset'; readonly project: string }
  | { readonly id: number; readonly type: 'put'; readonly files: readonly PublishedFile[] }
  | { readonly id: number; readonly type: 'remove'; readonly paths: readonly string[] }

export type FromHost = { readonly id: number; readonly ok: true } | { readonly id: number; readonly ok: false; readonly error: string }

/** Posted to the parent once the service worker is in charge, or cannot be. */
export type HostHello =
  | { readonly steadyHost: 'ready' }
  | { readonly steadyHost: 'failed'; readonly reason: 'no-service-worker' | 'refused'; readonly detail: string }
