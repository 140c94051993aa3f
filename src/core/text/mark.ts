/** A short mark of a text: its length and a checksum (FNV-1a, 32 bits). Two texts with other marks differ; with the same, they are taken for one. */
export function textMark(text: string): string {
  let hash = 0x811c9dc5
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193)
  return `${text.length}.${(hash >>> 0).toString(36)}`
}
