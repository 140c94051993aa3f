import { parseColor } from './color'
import { parseLength } from './length'
import { commaList, words } from './parts'

export const name = 'shadow'

/** One shadow of `box-shadow` or `text-shadow` (CSS Backgrounds 3 §6.1, CSS Text Decoration 3 §4); parts as written. */
export interface Shadow {
  readonly inset: boolean
  readonly x: string
  readonly y: string
  /** `null` where it is left out: 0. */
  readonly blur: string | null
  readonly spread: string | null
  /** Null where it is left out: the text's colour. */
  readonly color: string | null
  /** Whether the colour stood first. */
  readonly colorFirst: boolean
}

const isLength = (word: string): boolean => parseLength(word) !== null || /^(calc|min|max|clamp)\(/i.test(word)

function parseOne(text: string): Shadow | null {
  const parts = words(text)
  const inset = parts.some((p) => /^inset$/i.test(p))
  const lengths = parts.filter(isLength)
  const rest = parts.filter((p) => !isLength(p) && !/^inset$/i.test(p))
  if (lengths.length < 2 || lengths.length > 4 || rest.length > 1) return null
  if (rest[0] && !parseColor(rest[0]) && !/^(currentcolor|var\(|[a-z-]+\()/i.test(rest[0])) return null
  return {
    inset,
    x: lengths[0],
    y: lengths[1],
    blur: lengths[2] ?? null,
    spread: lengths[3] ?? null,
    color: rest[0] ?? null,
    colorFirst: rest[0] !== undefined && parts.indexOf(rest[0]) < parts.indexOf(lengths[0]),
  }
}

/** The shadows of a value, the topmost first; an empty list for `none`, null when it cannot be read. */
export function parse(text: string): Shadow[] | null {
  if (/^none$/i.test(text.trim())) return []
  const list = commaList(text).map(parseOne)
  return list.every((s) => s !== null) ? (list as Shadow[]) : null
}

export function format(list: readonly Shadow[]): string {
  if (list.length === 0) return 'none'
  return list
    .map((s) => {
      const blur = s.blur ?? (s.spread === null ? null : '0')
      const lengths = [s.x, s.y, blur, s.spread].filter((p) => p !== null).join(' ')
      const body = s.color === null ? lengths : s.colorFirst ? `${s.color} ${lengths}` : `${lengths} ${s.color}`
      return s.inset ? `inset ${body}` : body
    })
    .join(', ')
}
