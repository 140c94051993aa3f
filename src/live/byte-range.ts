/** The part of a body that a `Range` header asks for, both ends in it; `none` where the body has no such part, null where all of it is asked for (RFC 9110 §14.1.2). */
export function byteRange(header: string | null | undefined, size: number): { readonly from: number; readonly to: number } | 'none' | null {
  const range = /^bytes=(\d*)-(\d*)$/.exec(header ?? '')
  if (!range || (!range[1] && !range[2])) return null
  const from = range[1] ? Number(range[1]) : Math.max(0, size - Number(range[2]))
  const to = range[1] && range[2] ? Math.min(Number(range[2]), size - 1) : size - 1
  return from > to ? 'none' : { from, to }
}
