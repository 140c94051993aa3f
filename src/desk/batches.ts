import { mimeType } from '../live/mime'
import type { PublishedFile } from '../live/protocol'

/** UTF-16 units or bytes that one message carries, and a file more. */
const BATCH = 4 * 1024 * 1024

/** A file as a live page is given it. */
export const publishedFile = (path: string, body: string | Uint8Array): PublishedFile => ({
  path,
  type: mimeType(path),
  body: typeof body === 'string' ? body : (body.slice().buffer as ArrayBuffer),
})

/** Gives files in batches of at most `most`, with how many have been given; false where `each` said not to go on. */
export async function inBatches(
  paths: readonly string[],
  most: number,
  fileOf: (path: string) => PublishedFile,
  each: (files: PublishedFile[], done: number) => Promise<boolean>,
): Promise<boolean> {
  let batch: PublishedFile[] = []
  let size = 0
  for (const [i, path] of paths.entries()) {
    const file = fileOf(path)
    batch.push(file)
    size += typeof file.body === 'string' ? file.body.length : file.body.byteLength
    if (size <= BATCH && batch.length < most && i < paths.length - 1) continue
    if (!(await each(batch, i + 1))) return false
    batch = []
    size = 0
  }
  return true
}
