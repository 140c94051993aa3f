import type { Span } from '../text'

/** An attribute where it is written. Offsets are in the file. */
export interface AttributeSite {
  /** As written. */
  readonly name: string
  readonly span: Span
  /** Between the quotes, or the unquoted text; null for a name alone. */
  readonly value: Span | null
  readonly quote: '"' | "'" | ''
}

export interface StartTag {
  /** As written. */
  readonly name: string
  readonly nameEnd: number
  readonly attributes: readonly AttributeSite[]
  /** Before `>` or `/>`. */
  readonly close: number
  readonly selfClosing: boolean
}

const isSpace = (c: string): boolean => c === ' ' || c === '\t' || c === '\n' || c === '\r' || c === '\f'

/** Reads the start tag whose `<` stands at `from` and that ends at `to`, after HTML §13.2.5.6 to §13.2.5.40. */
export function readStartTag(text: string, from: number, to: number): StartTag {
  let i = from + 1
  while (i < to && !isSpace(text[i]) && text[i] !== '/' && text[i] !== '>') i++
  const nameEnd = i
  const attributes: AttributeSite[] = []
  let close = i
  let selfClosing = false
  while (i < to && text[i] !== '>') {
    if (isSpace(text[i])) {
      i++
      continue
    }
    if (text[i] === '/') {
      selfClosing = text[i + 1] === '>'
      if (selfClosing) break
      i++
      continue
    }
    const start = i
    // A `=` that begins a name belongs to it.
    if (text[i] === '=') i++
    while (i < to && !isSpace(text[i]) && text[i] !== '/' && text[i] !== '>' && text[i] !== '=') i++
    const name = text.slice(start, i)
    let after = i
    while (after < to && isSpace(text[after])) after++
    if (text[after] !== '=') {
      attributes.push({ name, span: { from: start, to: i }, value: null, quote: '' })
      close = i
      continue
    }
    i = after + 1
    while (i < to && isSpace(text[i])) i++
    const quote = text[i] === '"' || text[i] === "'" ? (text[i] as '"' | "'") : ''
    const valueFrom = quote ? i + 1 : i
    if (quote) {
      const end = text.indexOf(quote, valueFrom)
      i = end < 0 || end > to ? to : end
    } else while (i < to && !isSpace(text[i]) && text[i] !== '>') i++
    const value = { from: valueFrom, to: i }
    if (quote) i = Math.min(i + 1, to)
    attributes.push({ name, span: { from: start, to: i }, value, quote })
    close = i
  }
  return { name: text.slice(from + 1, nameEnd), nameEnd, attributes, close, selfClosing }
}

/** The attribute that counts: the first of its name (HTML §13.2.5.33 drops later ones). */
export const attributeOf = (tag: StartTag, name: string): AttributeSite | null =>
  tag.attributes.find((a) => a.name.toLowerCase() === name.toLowerCase()) ?? null
