import { bundledPartQuery, type BundledPart } from '../../core/css'

/** The comments that Turbopack and webpack write over each sheet of a bundle, in development. */
const OVER =
  /^\/\* \[project\]\/(.+?) \[[^\]\n]+\] \(css\) \*\/$|^\/\*!\*+!\*\\\n +!\*\*\* css (?:[^\n]*!)?\.\/([^\n]+?) \*\*\*!\n +\\\*+\/$/gm

export interface TextPart extends BundledPart {
  readonly text: string
}

/** The sheets that a bundler joined, in order; none where the text does not say which. */
export function partsOf(bundle: string): readonly TextPart[] {
  const heads = [...bundle.matchAll(OVER)]
  if (heads.length === 0) return []
  const parts = heads.map((head, i): TextPart => ({
    file: head[1] ?? head[2],
    nth: i + 1,
    text: bundle.slice(head.index + head[0].length, heads[i + 1]?.index ?? bundle.length),
  }))
  // Imports from elsewhere lead the bundle.
  const lead = bundle.slice(0, heads[0].index)
  return lead.trim() === '' ? parts : [{ file: null, nth: 0, text: lead }, ...parts]
}

/** A sheet that is made of parts, each at an address of its own beside it; `name` is the last part of its own address. */
export const sheetOfParts = (parts: readonly TextPart[], name: string, query: string): string =>
  parts.map((part) => `@import url(${JSON.stringify(`${name}${bundledPartQuery(query, part)}`)});\n`).join('')
