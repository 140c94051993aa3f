// The colour spaces of CSS alone: others would be loaded for nothing.
import 'culori/css'
import { converter, differenceEuclidean, formatHex, formatHex8, parse, type Color, type Oklch } from 'culori/fn'

type Space = 'hex' | 'rgb' | 'hsl' | 'hwb' | 'lab' | 'lch' | 'oklab' | 'oklch' | 'color'

/** How a colour is written (CSS Color 4 §4 to §10). */
export interface Notation {
  readonly space: Space
  /** Hex digits in capitals. */
  readonly upper: boolean
  /** `#fff` where it says the same as `#ffffff`. */
  readonly short: boolean
  /** `rgba(1, 2, 3, .5)`: the older form, with its own name for colours with alpha. */
  readonly commas: boolean
  /** Alpha as a percentage and not as a number. */
  readonly alphaPercent: boolean
  /** A hue with its unit: `120deg`. */
  readonly degrees: boolean
  /** The colour space of `color()`. */
  readonly profile: string
}

const HEX: Notation = {
  space: 'hex',
  upper: false,
  short: true,
  commas: false,
  alphaPercent: true,
  degrees: false,
  profile: '',
}

/** How colours are written where nothing is there to follow. */
export const PLAIN_NOTATION = HEX

/** Reads a colour in any notation of CSS Color 4; null for keywords such as `currentcolor` and for variables. */
export function parseColor(text: string): Color | null {
  // The library takes `600` for `#600`.
  if (/^[\da-f]+$/i.test(text.trim())) return null
  try {
    return parse(text.trim()) ?? null
  } catch {
    // The library reads past the end of some texts that are cut short, such as `rgb(`.
    return null
  }
}

/** A colour by lightness, chroma and hue (CSS Color 4 §9.4). */
export const toOklch: (color: Color) => Oklch = converter('oklch')

/** Whether two colours are one on a screen: the same in sRGB to 8 bits a channel; false where one is none. */
export const sameColor = (a: Color | null, b: Color | null): boolean => a !== null && b !== null && formatHex8(a) === formatHex8(b)

/** How far two colours are apart that hardly anybody tells apart side by side; in OKLab, where black and white are 1 apart. */
const HARDLY = 0.02

const apart = differenceEuclidean('oklab')

/** Whether two colours are not the same, and hardly told apart. */
export const nearlySameColor = (a: Color, b: Color): boolean =>
  !sameColor(a, b) && Math.abs((a.alpha ?? 1) - (b.alpha ?? 1)) < HARDLY && apart(a, b) < HARDLY

/** How `text` writes its colour. A name has no form for another colour, so hex stands in for it. */
export function notationOf(text: string): Notation {
  const t = text.trim()
  if (t.startsWith('#')) return { ...HEX, upper: /[A-F]/.test(t), short: t.length < 6 || !/^#(?:(.)\1){3,4}$/i.test(t) }
  const call = /^([a-z]+)\((.*)\)$/is.exec(t)
  if (!call) return HEX
  const name = call[1].toLowerCase().replace(/^(rgb|hsl)a$/, '$1')
  const alpha = /(?:\/|(?:,[^,]*){3})\s*([\d.]+%?)\s*$/.exec(call[2])?.[1] ?? null
  return {
    ...HEX,
    space: name as Space,
    commas: call[2].includes(','),
    degrees: /deg\b/i.test(call[2]),
    alphaPercent: alpha === null ? !call[2].includes(',') : alpha.endsWith('%'),
    profile: name === 'color' ? call[2].trim().split(/\s+/)[0].toLowerCase() : '',
  }
}

const round = (n: number | undefined, digits: number): string => Number((n ?? 0).toFixed(digits)).toString()
const toSpace: Record<Exclude<Space, 'hex' | 'color'>, (c: Color) => number[]> = {
  rgb: (c) => channels(converter('rgb')(c), ['r', 'g', 'b']).map((v) => v * 255),
  hsl: (c) => channels(converter('hsl')(c), ['h', 's', 'l']),
  hwb: (c) => channels(converter('hwb')(c), ['h', 'w', 'b']),
  lab: (c) => channels(converter('lab')(c), ['l', 'a', 'b']),
  lch: (c) => channels(converter('lch')(c), ['l', 'c', 'h']),
  oklab: (c) => channels(converter('oklab')(c), ['l', 'a', 'b']),
  oklch: (c) => channels(converter('oklch')(c), ['l', 'c', 'h']),
}
const PROFILES: Readonly<Record<string, 'rgb' | 'lrgb' | 'p3' | 'a98' | 'prophoto' | 'rec2020' | 'xyz65' | 'xyz50'>> = {
  srgb: 'rgb',
  'srgb-linear': 'lrgb',
  'display-p3': 'p3',
  'a98-rgb': 'a98',
  'prophoto-rgb': 'prophoto',
  rec2020: 'rec2020',
  xyz: 'xyz65',
  'xyz-d65': 'xyz65',
  'xyz-d50': 'xyz50',
}

const channels = (color: object, names: readonly string[]): number[] =>
  names.map((n) => (color as Record<string, number | undefined>)[n] ?? 0)

/** The colour in the given notation. */
export function formatColor(color: Color, like: Notation): string {
  const alpha = color.alpha ?? 1
  const alphaText = like.alphaPercent ? `${round(alpha * 100, 1)}%` : round(alpha, 3)
  const wrap = (name: string, parts: readonly string[]): string => {
    if (like.commas && /^(rgb|hsl)$/.test(name))
      return alpha < 1 ? `${name}a(${[...parts, alphaText].join(', ')})` : `${name}(${parts.join(', ')})`
    return `${name}(${parts.join(' ')}${alpha < 1 ? ` / ${alphaText}` : ''})`
  }
  const hue = (h: number) => round(h, 1) + (like.degrees ? 'deg' : '')
  const percent = (n: number, digits = 1) => `${round(n, digits)}%`
  switch (like.space) {
    case 'rgb':
      return wrap(
        'rgb',
        toSpace.rgb(color).map((v) => String(Math.round(Math.min(255, Math.max(0, v))))),
      )
    case 'hsl': {
      const [h, s, l] = toSpace.hsl(color)
      return wrap('hsl', [hue(h), percent(s * 100), percent(l * 100)])
    }
    case 'hwb': {
      const [h, w, b] = toSpace.hwb(color)
      return wrap('hwb', [hue(h), percent(w * 100), percent(b * 100)])
    }
    case 'lab':
    case 'oklab': {
      const [l, a, b] = toSpace[like.space](color)
      const digits = like.space === 'lab' ? 2 : 4
      return wrap(like.space, [percent(like.space === 'lab' ? l : l * 100, 2), round(a, digits), round(b, digits)])
    }
    case 'lch':
    case 'oklch': {
      const [l, c, h] = toSpace[like.space](color)
      return wrap(like.space, [percent(like.space === 'lch' ? l : l * 100, 2), round(c, like.space === 'lch' ? 2 : 4), hue(h)])
    }
    case 'color': {
      const mode = PROFILES[like.profile]
      if (!mode) return formatColor(color, HEX)
      const names = mode.startsWith('xyz') ? ['x', 'y', 'z'] : ['r', 'g', 'b']
      return wrap('color', [like.profile, ...channels(converter(mode)(color), names).map((v) => round(v, 4))])
    }
    default: {
      let hex = alpha < 1 ? formatHex8(color)! : formatHex(color)!
      const pairs = hex.slice(1).match(/../g)!
      if (like.short && pairs.every((p) => p[0] === p[1])) hex = `#${pairs.map((p) => p[0]).join('')}`
      return like.upper ? hex.toUpperCase() : hex
    }
  }
}

/** WCAG 2.2 contrast ratio of two opaque colours, 1 to 21. */
export function contrast(a: Color, b: Color): number {
  const luminance = (c: Color): number => {
    const linear = (v: number) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)
    const [r, g, blue] = toSpace.rgb(c).map((v) => linear(v / 255))
    return 0.2126 * r + 0.7152 * g + 0.0722 * blue
  }
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x)
  return (light + 0.05) / (dark + 0.05)
}

/** The colour nearest in lightness that has at least `ratio` against `ground` (WCAG 2.2 §1.4.3); null where none does. */
export function nearestPassing(color: Color, ground: Color, ratio: number): Color | null {
  const base = toOklch(color)
  let best: Color | null = null
  let distance = Infinity
  for (let step = 0; step <= 200; step++) {
    const l = step / 200
    const shade: Color = { ...base, l }
    // As it is shown and written: in eight bits of each channel.
    if (Math.abs(l - base.l) < distance && contrast(parse(formatHex(shade))!, ground) >= ratio) {
      distance = Math.abs(l - base.l)
      best = shade
    }
  }
  return best
}
