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
  const hasLine = LINE.test(first) || (kind[2] === 'radial' && words(first).length > 0 && words(first).every(isPosition))
  const stops = items.slice(hasLine ? 1 : 0).map((item): Stop | null => {
    const parts = words(item)
    const colors = parts.filter((p) => !isPosition(p))
    return colors.length > 1 || parts.length === 0 ? null : { color: colors[0] ?? '', positions: parts.filter(isPosition) }
  })
  if (stops.some((s) => s === null) || stops.filter((s) => s!.color).length < 1) return null
  return {
    kind: kind[2] as Gradient['kind'],
    repeating: Boolean(kind[1]),
    line: hasLine ? first : '',
    stops: stops as Stop[],
  }
}

/** The layers of `background-image`, the topmost first, as written; none for `none`. */
export const layers = (text: string): string[] => (/^none$/i.test(text.trim()) ? [] : commaList(text))

export const formatLayers = (list: readonly string[]): string => list.join(', ') || 'none'

export function format(g: Gradient): string {
  const stops = g.stops.map((s) => [s.color, ...s.positions].filter(Boolean).join(' '))
  return `${g.repeating ? 'repeating-' : ''}${g.kind}-gradient(${[...(g.line ? [g.line] : []), ...stops].join(', ')})`
}

/** A box that a gradient fills, px. */
export interface Area {
  readonly w: number
  readonly h: number
}

const TURN: Readonly<Record<string, number>> = { deg: 1, grad: 0.9, rad: 180 / Math.PI, turn: 360 }

/** Degrees of an angle; null for another text. */
export function degrees(text: string): number | null {
  const m = /^([+-]?[\d.]+)(deg|grad|rad|turn)$/i.exec(text.trim())
  return m && Number(m[1]) * TURN[m[2].toLowerCase()]
}

/** The angle a linear gradient runs at in a box, in degrees clockwise from upwards (CSS Images 4 §3.1.1). */
export function angleOf(g: Gradient, { w, h }: Area): number {
  const angle = degrees(words(g.line)[0] ?? '')
  if (angle !== null) return angle
  const to = /^to\s+(\w+)(?:\s+(\w+))?/i.exec(g.line)
  const edges = [to?.[1], to?.[2]].filter(Boolean).map((e) => e!.toLowerCase())
  const x = edges.includes('right') ? 1 : edges.includes('left') ? -1 : 0
  const y = edges.includes('top') ? 1 : edges.includes('bottom') || edges.length === 0 ? -1 : 0
  if (x === 0 || y === 0) return x === 0 ? (y > 0 ? 0 : 180) : x > 0 ? 90 : 270
  // To a corner: the line that the other two corners have the middle colour on.
  const deg = (Math.atan2(h, w) * 180) / Math.PI
  return x > 0 ? (y > 0 ? deg : 180 - deg) : y > 0 ? 360 - deg : 180 + deg
}

/** The length of the line a linear gradient's stops stand on; px. */
export function lineLength(angle: number, { w, h }: Area): number {
  const a = (angle * Math.PI) / 180
  return Math.abs(w * Math.sin(a)) + Math.abs(h * Math.cos(a))
}

const INTERPOLATION = /\bin\s+[a-z0-9-]+(\s+(shorter|longer|increasing|decreasing)\s+hue)?/i

/** The gradient at another angle; what its line says besides is kept. */
export function withAngle(g: Gradient, degreesTo: number): Gradient {
  const turn = `${Number((((degreesTo % 360) + 360) % 360).toFixed(1))}deg`
  const space = INTERPOLATION.exec(g.line)?.[0]
  if (g.kind === 'linear') return { ...g, line: [turn, space].filter(Boolean).join(' ') }
  const at = /\bat\s+.*$/i.exec(g.line.replace(INTERPOLATION, '').trim())?.[0]
  return { ...g, line: [`from ${turn}`, at, space].filter(Boolean).join(' ') }
}

/** The centre of a radial or conic gradient, in px of the box. */
export function centreOf(g: Gradient, { w, h }: Area): { x: number; y: number } {
  const at = words(/\bat\s+(.*)$/i.exec(g.line.replace(INTERPOLATION, ''))?.[1] ?? '')
  const flip = /^(top|bottom)$/i.test(at[0] ?? '') || /^(left|right)$/i.test(at[1] ?? '')
  const [x, y] = flip ? [at[1], at[0]] : at
  const read = (text: string | undefined, room: number) => {
    if (text === undefined || /^center$/i.test(text)) return room / 2
    if (/^(left|top)$/i.test(text)) return 0
    if (/^(right|bottom)$/i.test(text)) return room
    const n = parseFloat(text)
    return !Number.isFinite(n) ? room / 2 : text.endsWith('%') ? (n / 100) * room : n
  }
  if (at.length === 4) return { x: fromEdge(at, /^(left|right)$/i, w, read), y: fromEdge(at, /^(top|bottom)$/i, h, read) }
  return { x: read(x, w), y: read(y, h) }
}

function fromEdge(at: readonly string[], edge: RegExp, room: number, read: (text: string | undefined, room: number) => number): number {
  const i = at.findIndex((w) => edge.test(w))
  const offset = read(at[i + 1], room)
  return /^(right|bottom)$/i.test(at[i] ?? '') ? room - offset : offset
}

/** The gradient around another centre, in whole per cent of the box. */
export function withCentre(g: Gradient, { x, y }: { x: number; y: number }, { w, h }: Area): Gradient {
  const at = `at ${Math.round((x / w) * 100)}% ${Math.round((y / h) * 100)}%`
  const rest = g.line
    .replace(/\bat\s+[^]*?(?=\s+in\s|$)/i, ' ')
    .replace(/\s+/g, ' ')
    .trim()
  const space = INTERPOLATION.exec(rest)?.[0]
  return { ...g, line: [rest.replace(INTERPOLATION, '').trim(), at, space].filter(Boolean).join(' ') }
}

/** How far a radial gradient's ray to the right reaches; px (CSS Images 4 §3.2.2). */
export function rayLength(g: Gradient, area: Area): number {
  const { x, y } = centreOf(g, area)
  const [near, far] = [Math.min(x, area.w - x), Math.max(x, area.w - x)]
  const [nearY, farY] = [Math.min(y, area.h - y), Math.max(y, area.h - y)]
  const own = words(g.line.replace(/\bat\b[^]*$/i, ''))
    .map(parseFloat)
    .find(Number.isFinite)
  if (own !== undefined) return own
  const isCircle = /\bcircle\b/i.test(g.line)
  const extent = /(closest|farthest)-(side|corner)/i.exec(g.line)?.[0].toLowerCase() ?? 'farthest-corner'
  const [dx, dy] = extent.startsWith('closest') ? [near, nearY] : [far, farY]
  if (extent.endsWith('side')) return isCircle ? (extent.startsWith('closest') ? Math.min(dx, dy) : Math.max(dx, dy)) : dx
  return isCircle ? Math.hypot(dx, dy) : dx * Math.SQRT2
}

/**
 * Where each stop stands, as a share of the line (CSS Images 4 §3.5.1): those without a position are spread between their
 * neighbours. `length` is what 100% is: px of the line, or 360 degrees of a conic gradient.
 */
export function stopShares(g: Gradient, length: number): number[] {
  const given = g.stops.map((s) => {
    const text = s.positions[0]
    if (text === undefined) return null
    const n = parseFloat(text)
    return !Number.isFinite(n) ? null : text.endsWith('%') ? n / 100 : (degrees(text) ?? n) / (length || 1)
  })
  const out = given.map((v, i) => v ?? (i === 0 ? 0 : i === given.length - 1 ? 1 : null))
  for (let i = 1; i < out.length; i++) if (out[i] !== null) out[i] = Math.max(out[i]!, ...out.slice(0, i).filter((v) => v !== null))
  return out.map((v, i) => {
    if (v !== null) return v
    const before = out.findLastIndex((x, k) => k < i && x !== null)
    const after = out.findIndex((x, k) => k > i && x !== null)
    return out[before]! + ((out[after]! - out[before]!) * (i - before)) / (after - before)
  })
}

/** The gradient with a stop moved to a share of its line, in the unit the stop is written in. */
export function withStop(g: Gradient, at: number, share: number, length: number): Gradient {
  const now = g.stops[at].positions[0] ?? ''
  const unit = /[a-z]+$/i.exec(now)?.[0].toLowerCase() ?? '%'
  const text =
    unit === 'px'
      ? `${Math.round(share * length)}px`
      : TURN[unit] && g.kind === 'conic'
        ? `${Number(((share * 360) / TURN[unit]).toFixed(unit === 'deg' ? 0 : 3))}${unit}`
        : `${Math.round(share * 100)}%`
  return { ...g, stops: g.stops.map((s, i) => (i === at ? { ...s, positions: [text, ...s.positions.slice(1)] } : s)) }
}
