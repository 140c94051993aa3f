import { structuredPatch } from 'diff'

/** One file of a patch; `before` and `after` are its texts without a byte order mark. */
export interface PatchFile {
  readonly path: string
  readonly before: string
  readonly after: string
  readonly bom: boolean
}

/** A path as git names it: quoted as a C string when it holds a quote, a backslash, a control or a non-ASCII byte. */
export function gitPath(prefix: string, path: string): string {
  const plain = `${prefix}/${path}`
  let quoted = false
  let out = ''
  for (const byte of new TextEncoder().encode(plain)) {
    if (byte === 0x22 || byte === 0x5c) {
      out += `\\${String.fromCharCode(byte)}`
      quoted = true
    } else if (byte < 0x20 || byte > 0x7e) {
      out += `\\${byte.toString(8).padStart(3, '0')}`
      quoted = true
    } else out += String.fromCharCode(byte)
  }
  return quoted ? `"${out}"` : plain
}

// `diff` splits at LF only and gives a CR back as part of the line, which is what git compares too.
function filePatch({ path, before, after, bom }: PatchFile): string {
  const mark = bom ? '\ufeff' : ''
  const { hunks } = structuredPatch(path, path, mark + before, mark + after, '', '', { context: 3 })
  if (hunks.length === 0) return ''
  const a = gitPath('a', path)
  const b = gitPath('b', path)
  // A tab after the name ends it for readers that would otherwise stop at a space.
  const tab = path.includes(' ') ? '\t' : ''
  let out = `diff --git ${a} ${b}\n--- ${a}${tab}\n+++ ${b}${tab}\n`
  for (const h of hunks) {
    out += `@@ -${h.oldLines === 0 ? h.oldStart - 1 : h.oldStart},${h.oldLines} +${h.newLines === 0 ? h.newStart - 1 : h.newStart},${h.newLines} @@\n`
    out += h.lines.map((line) => `${line}\n`).join('')
  }
  return out
}

/** One unified diff over several files that `git apply` accepts on the originals. Unchanged files are left out. */
export const createPatch = (files: readonly PatchFile[]): string => files.map(filePatch).join('')
