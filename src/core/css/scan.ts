/**
 * Character-level steps over CSS text, after CSS Syntax 3 §4 (tokenization). Every function takes the text and an
 * offset and gives the offset after what it read; none recurses, so nesting depth is no limit.
 */

const SLASH = 47
const STAR = 42
const BACKSLASH = 92
const LPAREN = 40
const RPAREN = 41

export const isNewline = (c: number): boolean => c === 10 || c === 13 || c === 12
export const isSpace = (c: number): boolean => c === 32 || c === 9 || isNewline(c)
const isDigit = (c: number): boolean => c >= 48 && c <= 57

/** CSS Syntax 3 §4.2: a letter, a non-ASCII code unit or `_`. */
export const isNameStart = (c: number): boolean => (c >= 97 && c <= 122) || (c >= 65 && c <= 90) || c === 95 || c >= 128
export const isName = (c: number): boolean => isNameStart(c) || isDigit(c) || c === 45

export const startsComment = (t: string, i: number): boolean => t.charCodeAt(i) === SLASH && t.charCodeAt(i + 1) === STAR

/** After the comment that starts at `i`; the end of the text when it is never closed. */
export function skipComment(t: string, i: number): number {
  const end = t.indexOf('*/', i + 2)
  return end === -1 ? t.length : end + 2
}

/** After white space and comments. */
export function skipTrivia(t: string, i: number): number {
  for (;;) {
    while (isSpace(t.charCodeAt(i))) i++
    if (!startsComment(t, i)) return i
    i = skipComment(t, i)
  }
}

/** After the string whose quote stands at `i`; a newline ends a bad string before itself (§4.3.5). */
export function skipString(t: string, i: number): number {
  const quote = t.charCodeAt(i++)
  while (i < t.length) {
    const c = t.charCodeAt(i)
    if (c === quote) return i + 1
    if (isNewline(c)) return i
    if (c === BACKSLASH) i += t.charCodeAt(i + 1) === 13 && t.charCodeAt(i + 2) === 10 ? 3 : 2
    else i++
  }
  return t.length
}

/** Whether an ident sequence starts at `i` (§4.3.9). */
export function startsIdent(t: string, i: number): boolean {
  const c = t.charCodeAt(i)
  if (c === 45) {
    const next = t.charCodeAt(i + 1)
    return next === 45 || isNameStart(next) || (next === BACKSLASH && !isNewline(t.charCodeAt(i + 2)))
  }
  return isNameStart(c) || (c === BACKSLASH && i + 1 < t.length && !isNewline(t.charCodeAt(i + 1)))
}

/** After the name that starts at `i`; equal to `i` when there is none. */
export function skipName(t: string, i: number): number {
  while (i < t.length) {
    const c = t.charCodeAt(i)
    if (isName(c)) i++
    else if (c === BACKSLASH && !isNewline(t.charCodeAt(i + 1)) && i + 1 < t.length) i += 2
    else break
  }
  return i
}

// `url(` without a quote is one token in which braces, semicolons and comments mean nothing (§4.3.6).
function skipUrlRest(t: string, i: number): number {
  while (i < t.length) {
    const c = t.charCodeAt(i)
    if (c === RPAREN) return i + 1
    i += c === BACKSLASH ? 2 : 1
  }
  return t.length
}

/** After an ident, or after the whole of an unquoted `url(…)`. A function's `(` is left to the caller. */
export function skipIdentLike(t: string, i: number): number {
  const end = skipName(t, i)
  if (t.charCodeAt(end) !== LPAREN || end - i !== 3 || t.slice(i, end).toLowerCase() !== 'url') return end
  let k = end + 1
  while (isSpace(t.charCodeAt(k))) k++
  const c = t.charCodeAt(k)
  return c === 34 || c === 39 ? end : skipUrlRest(t, k)
}

/** After one token: comment, string, url, name, or a single code unit. Brackets are single code units. */
export function skipToken(t: string, i: number): number {
  const c = t.charCodeAt(i)
  if (c === 34 || c === 39) return skipString(t, i)
  if (c === SLASH && t.charCodeAt(i + 1) === STAR) return skipComment(t, i)
  if (c === BACKSLASH) return startsIdent(t, i) ? skipIdentLike(t, i) : i + 1
  if (isNameStart(c) || (c === 45 && startsIdent(t, i))) return skipIdentLike(t, i)
  if (c === 35 || c === 64) return Math.max(skipName(t, i + 1), i + 1)
  if (isDigit(c)) return skipName(t, i + 1)
  return i + 1
}

const opens = (c: number): boolean => c === 123 || c === 40 || c === 91
const closerOf = (c: number): number => (c === 40 ? 41 : c + 2)

/** After the block that opens at `i` with `{`, `(` or `[` (§5.5.8); the end of the text when it is never closed. */
export function skipBlock(t: string, i: number): number {
  const open: number[] = [closerOf(t.charCodeAt(i))]
  i++
  while (i < t.length) {
    const c = t.charCodeAt(i)
    if (c === open[open.length - 1]) {
      open.pop()
      i++
      if (open.length === 0) return i
    } else if (opens(c)) {
      open.push(closerOf(c))
      i++
    } else i = skipToken(t, i)
  }
  return t.length
}

/** After one component value: a whole block or a token. */
export const skipComponent = (t: string, i: number): number => (opens(t.charCodeAt(i)) ? skipBlock(t, i) : skipToken(t, i))

/** Splits `[from, to)` at each top-level `separator`; the parts are not trimmed. */
export function splitTop(t: string, from: number, to: number, separator: string): { from: number; to: number }[] {
  const code = separator.charCodeAt(0)
  const parts: { from: number; to: number }[] = []
  let start = from
  for (let i = from; i < to;) {
    if (t.charCodeAt(i) === code) {
      parts.push({ from: start, to: i })
      start = ++i
    } else i = Math.min(skipComponent(t, i), to)
  }
  parts.push({ from: start, to })
  return parts
}

/** `span` without the white space and comments around it; empty at its start when it holds nothing else. */
export function trimTrivia(t: string, from: number, to: number): { from: number; to: number } {
  const start = Math.min(skipTrivia(t, from), to)
  let end = start
  for (let i = start; i < to;) {
    const next = Math.min(skipToken(t, i), to)
    if (!isSpace(t.charCodeAt(i)) && !startsComment(t, i)) end = next
    i = next
  }
  return { from: start, to: end }
}
