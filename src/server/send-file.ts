import { createReadStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { byteRange } from '../live/byte-range'

/** What a live page is sent: a file of the disk by its path there, or bytes. */
export type Sent = { readonly file: string } | { readonly bytes: Uint8Array }

/** Sends a file, or the part of it that a request asks for (RFC 9110 §14). */
export async function sendFile(
  sent: Sent,
  headers: Readonly<Record<string, string>>,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  const size = 'bytes' in sent ? sent.bytes.length : (await stat(sent.file)).size
  const all = { ...headers, 'x-content-type-options': 'nosniff', 'cache-control': 'no-store', 'accept-ranges': 'bytes' }
  const range = byteRange(request.headers.range, size)
  if (range === 'none') return void response.writeHead(416, { ...all, 'content-range': `bytes */${size}` }).end()
  const { from, to } = range ?? { from: 0, to: size - 1 }
  response.writeHead(range ? 206 : 200, {
    ...all,
    'content-length': String(to - from + 1),
    ...(range && { 'content-range': `bytes ${from}-${to}/${size}` }),
  })
  if (request.method === 'HEAD' || size === 0) return void response.end()
  const body = 'bytes' in sent ? Readable.from([sent.bytes.subarray(from, to + 1)]) : createReadStream(sent.file, { start: from, end: to })
  await pipeline(body, response).catch((error: NodeJS.ErrnoException) => {
    // Whoever asked has gone.
    if (error.code !== 'ERR_STREAM_PREMATURE_CLOSE') throw error
  })
}
