/** The attribute that a development server of ours gives elements: which tag of which file made them. */
export const STAMP_ATTRIBUTE = 'data-steady-tag'

/** The attribute that it gives elements of Vue's components: where the tag begins in the template of its file, in UTF-16 units, and the mark of that. */
export const PLACE_ATTRIBUTE = 'data-steady-place'

/** The name of a page's map from the properties of a component to the stamp of the tag that used it. */
export const USAGES = '__steadyUsages'

/** Which tag made an element: the file, the tag's place among all tags of it, from 0, and the mark of the text that it was read in. */
export interface Stamp {
  readonly path: string
  readonly nth: number
  readonly mark: string
}

export const stampText = ({ path, nth, mark }: Stamp): string => `${nth} ${mark} ${path}`

/** A stamp as an attribute has it; null where it is none. */
export function readStamp(text: string): Stamp | null {
  const [, nth, mark, path] = /^(\d{1,7}) (\S{1,40}) (.{1,1000})$/.exec(text) ?? []
  return path === undefined ? null : { path, nth: Number(nth), mark }
}
