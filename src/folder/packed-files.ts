/** Stands for a file that is not there. */
const GONE = 0xffffffff

/** Files one after another, each after its length in four bytes, the most significant first. */
export function packFiles(files: readonly (Uint8Array | null)[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(files.reduce((n, f) => n + 4 + (f?.length ?? 0), 0))
  const view = new DataView(out.buffer)
  let at = 0
  for (const file of files) {
    view.setUint32(at, file?.length ?? GONE)
    if (file) out.set(file, at + 4)
    at += 4 + (file?.length ?? 0)
  }
  return out
}

/** The same apart again. @throws RangeError when it is not as many files as were expected, where that is known. */
export function unpackFiles(packed: Uint8Array, count?: number): (Uint8Array | null)[] {
  const view = new DataView(packed.buffer, packed.byteOffset, packed.byteLength)
  const out: (Uint8Array | null)[] = []
  let at = 0
  while (at < packed.length) {
    const length = view.getUint32(at)
    at += 4
    if (length === GONE) out.push(null)
    else {
      if (at + length > packed.length) throw new RangeError('The files are cut off')
      out.push(packed.slice(at, at + length))
      at += length
    }
  }
  if (count !== undefined && out.length !== count) throw new RangeError(`${count} files were asked for, and ${out.length} came`)
  return out
}
