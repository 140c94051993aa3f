/** What a zip says of one of its files (APPNOTE 6.3 §4.3.12). */
export interface ZipEntry {
  readonly name: string
  /** Of the unpacked bytes. */
  readonly size: number
  readonly crc: number
}

const END = 0x06054b50
const ENTRY = 0x02014b50
/** The end record and the longest comment behind it (APPNOTE 6.3 §4.3.16). */
const MOST_BEHIND = 22 + 0xffff

/** The files of a zip as its central directory lists them; null where there is none to be read, or in the form for very large ones. */
export function zipDirectory(bytes: Uint8Array): ZipEntry[] | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  let end = bytes.length - 22
  while (end >= Math.max(0, bytes.length - MOST_BEHIND) && view.getUint32(end, true) !== END) end--
  if (end < 0 || end < bytes.length - MOST_BEHIND) return null
  const count = view.getUint16(end + 10, true)
  let at = view.getUint32(end + 16, true)
  const out: ZipEntry[] = []
  for (let i = 0; i < count; i++) {
    if (at + 46 > bytes.length || view.getUint32(at, true) !== ENTRY) return null
    const flags = view.getUint16(at + 8, true)
    const [name, extra, comment] = [view.getUint16(at + 28, true), view.getUint16(at + 30, true), view.getUint16(at + 32, true)]
    // Without the flag for UTF-8 names are in code page 437, whose first half is ASCII.
    const decoder = new TextDecoder(flags & 0x800 ? 'utf-8' : 'latin1')
    out.push({
      name: decoder.decode(bytes.subarray(at + 46, at + 46 + name)),
      size: view.getUint32(at + 24, true),
      crc: view.getUint32(at + 16, true),
    })
    at += 46 + name + extra + comment
  }
  return out
}

let table: Uint32Array | null = null

/** The checksum that a zip has of its files (CRC-32, ISO 3309). */
export function crc32(bytes: Uint8Array): number {
  if (!table) {
    table = new Uint32Array(256)
    for (let n = 0; n < 256; n++) {
      let c = n
      for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1
      table[n] = c >>> 0
    }
  }
  let crc = 0xffffffff
  for (const b of bytes) crc = table[(crc ^ b) & 0xff] ^ (crc >>> 8)
  return (crc ^ 0xffffffff) >>> 0
}
