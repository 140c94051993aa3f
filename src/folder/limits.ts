/** What was brought is refused whole; the message names the file and says why. */
export class ImportError extends Error {
  override readonly name = 'ImportError'
}

/** What a project takes. */
export const MOST_BYTES = 50 * 1024 * 1024
export const MOST_FILES = 10_000

/** A size in words. */
export const inWords = (bytes: number): string =>
  bytes < 2 ** 30 ? `${(bytes / 2 ** 20).toFixed(1)} MB` : `${(bytes / 2 ** 30).toFixed(1)} GB`
