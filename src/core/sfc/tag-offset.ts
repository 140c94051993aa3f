import { textMark } from '../text'
import { blocksOf } from './blocks'

/**
 * Where a start tag of that name stands in a component's file, in UTF-16 units, by what its compiler said: with a mark of
 * `@` and a 0-based column, where it begins in the line `nth`, 1-based; with `>` and a 1-based column, where it ends; else
 * with the mark of the template's text, where it begins there. Null where the text has no such tag there.
 */
export function tagOffset(text: string, nth: number, mark: string, name: string): number | null {
  const isThere = (at: number) => at >= 0 && text.slice(at, at + name.length + 1).toLowerCase() === `<${name.toLowerCase()}`
  const [, kind, column] = /^([@>])(\d+)$/.exec(mark) ?? []
  if (kind === undefined) {
    const template = blocksOf(text).find((b) => b.tag === 'template')?.content
    const at = template && textMark(text.slice(template.from, template.to)) === mark ? template.from + nth : -1
    return isThere(at) ? at : null
  }
  const start = lineStart(text, nth)
  if (start === null) return null
  const at = kind === '@' ? start + Number(column) : lastTag(text, start + Number(column) - 1, name)
  return isThere(at) ? at : null
}

function lineStart(text: string, line: number): number | null {
  let at = 0
  for (let n = 1; n < line; n++) {
    at = text.indexOf('\n', at) + 1
    if (at === 0) return null
  }
  return at
}

// The start tag that ends at or before an offset.
const lastTag = (text: string, end: number, name: string): number => {
  const before = text.slice(0, Math.max(0, end)).toLowerCase()
  return before.lastIndexOf(`<${name.toLowerCase()}`)
}
