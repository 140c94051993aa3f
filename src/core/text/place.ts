/** A place in a file as people write it, `path:line`; the path alone where the line is not known, for which 0 and null stand. */
export const placeText = ({ path, line }: { readonly path: string | null; readonly line: number | null }): string =>
  line ? `${path ?? ''}:${line}` : (path ?? '')
