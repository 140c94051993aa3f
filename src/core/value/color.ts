import { converter, formatHex, formatHex8, parse, type Color } from 'culori'

export type Notation = 'hex' | 'hex-upper' | 'rgb' | 'hsl' | 'oklch' | 'name'

const toRgb = converter('rgb')
const toHsl = converter('hsl')
const toOklch = converter('oklch')

/** Reads a colour in any notation of CSS Color 4; null for keywords such as `currentcolor` and for variables. */
export const parseColor = (text: string): Color | null => parse(text.trim()) ?? null

/** How a colour is written. */
export function notationOf(text: string): Notation {
  const t = text.trim()
  if (t.startsWith('#')) return /[A-F]/.test(t) ? 'hex-upper' : 'hex'
  if (/^oklch\(/i.test(t)) return 'oklch'
  if (/^hsla?\(/i.test(t)) return 'hsl'
  return /^rgba?\(/i.test(t) ? 'rgb' : 'name'
}

const round = (n: number | undefined, digits: number): string => Number((n ?? 0).toFixed(digits)).toString()

/** The colour in the notation of `like`; `hexShort` asks for `#fff` where it says the same. */
export function formatColor(color: Color, like: Notation, hexShort = true): string {
  const alpha = color.alpha ?? 1
  const tail = alpha < 1 ? ` / ${round(alpha * 100, 1)}%` : ''
  switch (like) {
    case 'rgb': {
      const c = toRgb(color)
      const channels = [c.r, c.g, c.b].map((v) => String(Math.round(Math.min(1, Math.max(0, v)) * 255)))
      return `rgb(${channels.join(' ')}${tail})`
    }
    case 'hsl': {
      const c = toHsl(color)
      return `hsl(${round(c.h, 1)} ${round(c.s * 100, 1)}% ${round(c.l * 100, 1)}%${tail})`
    }
    case 'oklch': {
      const c = toOklch(color)
      return `oklch(${round(c.l * 100, 2)}% ${round(c.c, 4)} ${round(c.h, 2)}${tail})`
    }
    default: {
      let hex = alpha < 1 ? formatHex8(color)! : formatHex(color)!
      const pairs = hex.slice(1).match(/../g)!
      if (hexShort && pairs.every((p) => p[0] === p[1])) hex = `#${pairs.map((p) => p[0]).join('')}`
      return like === 'hex-upper' ? hex.toUpperCase() : hex
    }
  }
}

/** WCAG 2.2 contrast ratio of two opaque colours, 1 to 21. */
export function contrast(a: Color, b: Color): number {
  const luminance = (c: Color): number => {
    const { r, g, b: blue } = toRgb(c)
    const linear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
    return 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(blue)
  }
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x)
  return (light + 0.05) / (dark + 0.05)
}
