/** Splits a class at `:` outside brackets, parentheses and strings: its variants, and its base last. */
export function segments(name: string): string[] {
  const out: string[] = []
  let depth = 0
  let from = 0
  for (let i = 0; i < name.length; i++) {
    const ch = name[i]
    if (ch === '\\') i++
    else if (ch === '[' || ch === '(' || ch === '{') depth++
    else if (ch === ']' || ch === ')' || ch === '}') depth--
    else if (ch === ':' && depth === 0) {
      out.push(name.slice(from, i))
      from = i + 1
    }
  }
  out.push(name.slice(from))
  return out
}

/** A value as it stands between the brackets of a class: no white space, and underscores that are meant as such escaped. */
export const inBrackets = (value: string): string =>
  value
    .trim()
    .replace(/url\([^)]*\)|_/g, (m) => (m === '_' ? '\\_' : m))
    .replace(/\s*,\s*/g, ',')
    .replace(/\s+/g, '_')
