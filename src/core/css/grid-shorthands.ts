import { hasArbitrarySubstitution, isWideKeyword } from './components'
import { longhandsOf } from './longhands'
import { splitTop } from './scan'

// A name that a line left out takes over (CSS Grid 2 §8.4).
const isLineName = (text: string): boolean => /^-?[a-z_][\w-]*$/i.test(text) && !/^(auto|span)$/i.test(text)

/** Which line a line that is left out follows, in the order of the longhands. */
const FOLLOWS: Readonly<Record<number, readonly number[]>> = { 2: [0, 0], 4: [0, 0, 0, 1] }

function expand(written: readonly string[], most: number): string[] {
  const out = [...written]
  for (let i = written.length; i < most; i++) {
    const from = out[FOLLOWS[most][i]]
    out.push(isLineName(from) ? from : 'auto')
  }
  return out
}

function readWritten(value: string, most: number): { from: number; to: number }[] | null {
  if (hasArbitrarySubstitution(value) || isWideKeyword(value)) return null
  const parts = splitTop(value, 0, value.length, '/').map(({ from, to }) => {
    const inner = value.slice(from, to)
    const start = from + (inner.length - inner.trimStart().length)
    return { from: start, to: start + inner.trim().length }
  })
  return parts.length > most || parts.some((p) => p.from === p.to) ? null : parts
}

/** The lines that `grid-row`, `grid-column` or `grid-area` gives its longhands, in their order; null when unreadable. */
export function readLines(shorthand: string, value: string): string[] | null {
  const most = longhandsOf(shorthand).length
  const parts = readWritten(value, most)
  return (
    parts &&
    expand(
      parts.map((p) => value.slice(p.from, p.to)),
      most,
    )
  )
}

/** Sets lines of `grid-row`, `grid-column` or `grid-area` by their index; null where a longhand reads better. */
export function setLines(shorthand: string, value: string, changes: ReadonlyMap<number, string>): string | null {
  const most = longhandsOf(shorthand).length
  const parts = readWritten(value, most)
  if (!parts || [...changes.values()].some((t) => t.includes('/') || t.trim() === '' || isWideKeyword(t) || hasArbitrarySubstitution(t)))
    return null
  const written = parts.map((p) => value.slice(p.from, p.to))
  // A named area says where it is by its name; lines of it are distinguished from that.
  if (written.length === 1 && isLineName(written[0]) && changes.size < most) return null
  const next = expand(written, most).map((line, i) => changes.get(i)?.trim() ?? line)
  const says = (n: number, lines: readonly string[]) => expand(lines.slice(0, n), most).every((line, i) => line === lines[i])
  const shortest = [...Array(most).keys()].map((i) => i + 1).find((n) => says(n, next))!
  // What was spelled out stays so.
  const count = written.length > 1 && says(written.length - 1, expand(written, most)) ? Math.max(shortest, written.length) : shortest
  const slash = parts.length > 1 ? value.slice(parts[0].to, parts[1].from) : ' / '
  let out = value.slice(0, parts[0].from)
  for (let i = 0; i < count; i++) out += (i === 0 ? '' : i < parts.length ? value.slice(parts[i - 1].to, parts[i].from) : slash) + next[i]
  return out + value.slice(parts.at(-1)!.to)
}

/** What `grid-template`, or `grid` in that form, gives one longhand, as far as it can be determined from its text; else null. */
export function partOfTemplate(value: string, longhand: string): string | null {
  const sides = splitTop(value, 0, value.length, '/').map(({ from, to }) => value.slice(from, to).trim())
  if (hasArbitrarySubstitution(value) || sides.length > 2 || /\bauto-flow\b/i.test(value)) return null
  const named = /["']/.test(value)
  if (longhand === 'grid-template-columns') return sides[1] ?? null
  if (longhand === 'grid-template-rows') return named || sides.length < 2 ? null : sides[0]
  return longhand === 'grid-template-areas' && named ? (value.match(/"[^"]*"|'[^']*'/g) ?? []).join(' ') : null
}

/**
 * Sets the columns, rows or areas of `grid-template`, or of `grid` in that form (CSS Grid 2 §7.4, §7.8). Rows that stand
 * between the names of areas are left to a longhand.
 */
export function setInTemplate(value: string, longhand: string, text: string): string | null {
  const sides = splitTop(value, 0, value.length, '/')
  if (hasArbitrarySubstitution(value) || isWideKeyword(value) || isWideKeyword(text) || /\/|subgrid/i.test(text)) return null
  const named = /["']/.test(value)
  if (sides.length > 2 || (sides.length === 1 && !named)) return null
  const replace = (side: number, to: string): string | null => {
    const { from, to: end } = sides[side]
    const inner = value.slice(from, end)
    if (/\bauto-flow\b/i.test(inner)) return null
    return value.slice(0, from) + inner.replace(inner.trim(), () => to) + value.slice(end)
  }
  switch (longhand) {
    case 'grid-template-columns':
      // Beside names of areas a track is one size: no repetition and no `none`.
      if (named && /^none$|repeat\(/i.test(text.trim())) return null
      return sides.length === 2 ? replace(1, text.trim()) : `${value} / ${text.trim()}`
    case 'grid-template-rows':
      return named ? null : replace(0, text.trim())
    case 'grid-template-areas': {
      const rows = text.match(/"[^"]*"|'[^']*'/g) ?? []
      let at = 0
      const out = value.replace(/"[^"]*"|'[^']*'/g, () => rows[at++] ?? '')
      return rows.length > 0 && at === rows.length ? out : null
    }
    default:
      return null
  }
}
