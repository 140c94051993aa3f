/**
 * A bundler may join the sheets of a project to one. Each is served at an address of its own then, that says which file it comes
 * from: the address of the whole with these parameters.
 */
const FILE = 'steady-file'
const NTH = 'steady-part'

/** One of the sheets that a bundler joined: its file from the top of the project, or null where that is not said, and which it is, from 0. */
export interface BundledPart {
  readonly file: string | null
  readonly nth: number
}

/** The query of the address of a part; `query` is that of the whole, empty or with its `?`. */
export function bundledPartQuery(query: string, { file, nth }: BundledPart): string {
  const params = new URLSearchParams(query)
  if (file !== null) params.set(FILE, file)
  params.set(NTH, String(nth))
  return `?${params}`
}

/** The part that an address names, and the query of the whole; null where it names none. */
export function readBundledPart(query: string): (BundledPart & { readonly whole: string }) | null {
  const params = new URLSearchParams(query)
  const nth = params.get(NTH)
  if (nth === null || !/^\d{1,4}$/.test(nth)) return null
  const file = params.get(FILE)
  params.delete(FILE)
  params.delete(NTH)
  return { file, nth: Number(nth), whole: params.size ? `?${params}` : '' }
}
