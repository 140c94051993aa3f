import { commaList, functionOf, words } from './parts'

export const name = 'gradient'

/** A gradient (CSS Images 4 §3); colours and positions as written. */
export interface Gradient {
  readonly kind: 'linear' | 'radial' | 'conic'
  readonly repeating: boolean
  /** What stands before the stops: an angle, a shape, a centre; empty when left out. */
  readonly line: string
  readonly stops: readonly Stop[]
}

export interface Stop {
  /** Empty for a hint, which is a position alone. */
  readonly color: string
  readonly positions: readonly string[]
}

const isPosition = (word: string): boolean => /^[+-]?(\d|\.\d)/.test(word) || /^(calc|min|max|clamp)\(/i.test(word)
const LINE = /^(to\s|from\s|at\s|in\s|circle|ellipse|closest|farthest|[+-]?[\d.]+(deg|rad|turn|grad)\b)/i

/** Null when `text` is no gradient that can be read. */
export function parse(text: string): Gradient | null {
  const call = functionOf(text)
  const kind = call && /^(repeating-)?(linear|radial|conic)-gradient$/.exec(call.name)
  if (!call || !kind) return null
  const items = commaList(call.args)
  const first = items[0] ?? ''
  const hasLine = LINE.test(first) || (kind[2] === 'radial' && words(first).length > 1 && words(first).every(isPosition))
  const stops = items.slice(hasLine ? 1 : 0).map((item): Stop | null => {
    const parts = words(item)
    const colors = parts.filter((p) => !isPosition(p))
    return colors.length > 1 || parts.length === 0 ? null : { color: colors[0] ?? '', positions: parts.filter(isPosition) }
  })
  if (stops.some((s) => s === null) || stops.filter((s) => s!.color).length < 1) return null
  return { kind: kind[2] as Gradient['kind'], repeating: Boolean(kind[1]), line: hasLine ? first : '', stops: stops as Stop[] }
}

export function format(g: Gradient): string {
  const stops = g.stops.map((s) => [s.color, ...s.positions].filter(Boolean).join(' '))
  return `${g.repeating ? 'repeating-' : ''}${g.kind}-gradient(${[...(g.line ? [g.line] : []), ...stops].join(', ')})`
}
