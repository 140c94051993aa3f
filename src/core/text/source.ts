/** How the bytes of a text file are spelled. `other` is shown and never written. */
export type Encoding = 'utf-8' | 'other'

/** The text of a file. `text` never holds the byte order mark; line ends stand in it as they are in the file. */
export interface SourceText {
  readonly bom: boolean
  readonly text: string
}

/** The bytes are not UTF-8; the file can be shown to the page but not edited. */
export class EncodingError extends TypeError {
  override readonly name = 'EncodingError'
  constructor(readonly found: string) {
    super(`The file is not UTF-8 (it looks like ${found}), so it stays read-only.`)
  }
}

const guessEncoding = (bytes: Uint8Array): string => {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'UTF-16 LE'
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'UTF-16 BE'
  return 'a single-byte encoding such as Windows-1252'
}

/**
 * Bytes to text, following WHATWG Encoding "UTF-8 decode", but refusing malformed bytes.
 * `encodeSource(decodeSource(b))` equals `b` for every accepted `b`.
 * @throws EncodingError when the bytes are not UTF-8.
 */
export function decodeSource(bytes: Uint8Array): SourceText {
  const bom = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf
  try {
    const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true })
    return { bom, text: decoder.decode(bom ? bytes.subarray(3) : bytes) }
  } catch {
    throw new EncodingError(guessEncoding(bytes))
  }
}

/** Text to bytes; the inverse of {@link decodeSource}. Lone surrogates cannot come from a file and become U+FFFD. */
export function encodeSource(source: SourceText): Uint8Array {
  const body = new TextEncoder().encode(source.text)
  if (!source.bom) return body
  const bytes = new Uint8Array(body.length + 3)
  bytes.set([0xef, 0xbb, 0xbf])
  bytes.set(body, 3)
  return bytes
}
