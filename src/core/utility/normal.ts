import { evaluateLength, formatColor, parseColor, parseLength, PLAIN_NOTATION, trimNumber } from '../value'

/** Finds what a variable holds; null when that is not known. */
export type Variables = (name: string) => string | null

const DEPTH = 12

/** The span of a function's arguments that starts after its parenthesis; -1 when it does not end. */
function closing(text: string, from: number): number {
  let depth = 1
  for (let i = from; i < text.length; i++) {
    if (text[i] === '(') depth++
    else if (text[i] === ')' && --depth === 0) return i
  }
  return -1
}

/** The value with each `var()` replaced by what it holds, or its fallback (CSS Variables 1 §3); an unknown one stays. */
export function resolveVariables(value: string, variables: Variables, depth = 0): string {
  if (depth > DEPTH || !value.includes('var(')) return value
  let out = ''
  let at = 0
  for (;;) {
    const start = value.indexOf('var(', at)
    if (start < 0) return out + value.slice(at)
    const end = closing(value, start + 4)
    if (end < 0) return out + value.slice(at)
    const inner = value.slice(start + 4, end)
    const comma = inner.indexOf(',')
    const name = (comma < 0 ? inner : inner.slice(0, comma)).trim()
    const held = variables(name)
    const fallback = comma < 0 ? null : inner.slice(comma + 1).trim()
    const text = held ?? fallback
    out += value.slice(at, start) + (text === null ? value.slice(start, end + 1) : resolveVariables(text, variables, depth + 1))
    at = end + 1
  }
}

/** How many results are kept. */
const MOST_REMEMBERED = 20_000

// The classes of a vocabulary share a few thousand values and parts of values.
function remembered(work: (text: string, rem: number) => string): (text: string, rem: number) => string {
  const known = new Map<string, string>()
  return (text, rem) => {
    const key = `${rem} ${text}`
    let result = known.get(key)
    if (result === undefined) {
      if (known.size >= MOST_REMEMBERED) known.clear()
      known.set(key, (result = work(text, rem)))
    }
    return result
  }
}

// One `calc()` after another from the inside out, where it comes to a single length or number.
function reduceCalc(value: string): string {
  let text = value
  for (let round = 0; round < 40; round++) {
    const found = /calc\(([^()]*)\)/i.exec(text)
    if (!found) return text
    const inner = found[1].trim()
    const result = /^-?[\d.]+$/.test(inner) ? inner : evaluateLength(inner, null, '')
    if (result === null || result.startsWith('calc(')) return text
    text = text.slice(0, found.index) + result + text.slice(found.index + found[0].length)
  }
  return text
}

// In as few places as tell it from the other 8-bit values (CSS Color 4 §15.1).
function alphaText(alpha: number): string {
  const byte = (a: number) => Math.round(a * 255)
  return trimNumber(alpha, byte(Number(alpha.toFixed(2))) === byte(alpha) ? 2 : 3)
}

const colorText = (text: string): string | null => {
  // Numbers and keywords that no colour has are the most of what comes here.
  if (!/^(#|(rgb|hsl|hwb|lab|lch|ok|color)a?\w*\(|[a-z]+$)/i.test(text)) return null
  const color = parseColor(text)
  if (!color) return null
  const opaque = formatColor({ ...color, alpha: 1 }, { ...PLAIN_NOTATION, space: 'rgb' })
  return `${opaque.slice(0, -1)} / ${alphaText(color.alpha ?? 1)})`
}

// `color-mix(in oklab, C 50%, transparent)` is C with that much alpha (CSS Color 5 §3).
function mixedColor(text: string): string {
  return text.replace(
    /color-mix\(in \w+,\s*((?:[^()]|\([^()]*\))+?)\s+([\d.]+)%\s*,\s*transparent\s*\)/gi,
    (whole, color: string, percent: string) => {
      const base = parseColor(color)
      if (!base) return whole
      return `${formatColor({ ...base, alpha: 1 }, { ...PLAIN_NOTATION, space: 'rgb' }).slice(0, -1)} / ${((base.alpha ?? 1) * Number(percent)) / 100})`
    },
  )
}

/** Splits at white space and commas outside parentheses and strings, with the separators. */
function pieces(text: string): string[] {
  const out: string[] = []
  let depth = 0
  let quote = ''
  let word = ''
  const flush = () => {
    if (word) out.push(word)
    word = ''
  }
  for (const ch of text) {
    if (quote) {
      word += ch
      if (ch === quote) quote = ''
    } else if (ch === '"' || ch === "'") {
      word += ch
      quote = ch
    } else if (depth === 0 && (/\s/.test(ch) || ch === ',' || ch === '/')) {
      flush()
      if (!/\s/.test(ch)) out.push(ch)
    } else {
      if (ch === '(') depth++
      if (ch === ')') depth--
      word += ch
    }
  }
  flush()
  return out
}

const piece: (text: string, rem: number) => string = remembered((text, rem) => {
  const color = colorText(text)
  if (color) return color
  const length = parseLength(text)
  if (length) {
    const unit = length.unit.toLowerCase()
    if (unit === 'rem') return `${trimNumber(length.number * rem, 3)}px`
    if (unit === 's') return `${trimNumber(length.number * 1000, 3)}ms`
    if (length.number === 0 && (unit === '' || unit === 'px')) return '0'
    return trimNumber(length.number, 4) + unit
  }
  const call = /^([\w-]+)\(([^]*)\)$/.exec(text)
  if (call) return `${call[1].toLowerCase()}(${/^url$/i.test(call[1]) ? call[2] : normalValue(call[2], () => null, rem)})`
  return /^["']/.test(text) ? text : text.toLowerCase()
})

const KEYWORDS: Readonly<Record<string, string>> = { normal: '400', bold: '700' }

const withoutComments = (text: string): string => (text.includes('/*') ? text.replace(/\/\*[^]*?\*\//g, '') : text)

// A value whose variables are read through already.
const normalText = remembered((resolved, rem) => {
  const text = mixedColor(reduceCalc(withoutComments(resolved).trim()).replace(/\s+/g, ' '))
  return pieces(text)
    .map((p) => piece(p, rem))
    .join(' ')
    .replace(/ ?([,/]) ?/g, '$1')
})

/**
 * A value in the form in which equal ones are the same text: variables and `calc()` resolved, `rem` as px of a root of
 * `rem` px, colours in one notation, white space plain.
 */
export function normalValue(value: string, variables: Variables, rem: number): string {
  return normalText(resolveVariables(withoutComments(value), variables), rem)
}

const asNumbers = (text: string): string => text.replace(/(-?[\d.]+)%/g, (_, n: string) => trimNumber(Number(n) / 100))

/** The same for one property: `normal` and `bold` are weights, a ratio without its second number is over 1. */
export function normalFor(property: string, normal: string): string {
  if (property === 'letter-spacing' && /^-?0[a-z]*$/.test(normal)) return '0px'
  if (property === 'font-weight') return KEYWORDS[normal] ?? normal
  if (/^(opacity|zoom|.*-opacity)$/.test(property)) return asNumbers(normal)
  if (property === 'scale') return asNumbers(normal).replace(/^(\S+) \1( 1)?$/, '$1')
  if (/filter$/.test(property))
    return normal.replace(
      /\b(brightness|contrast|grayscale|invert|opacity|saturate|sepia)\(([^()]*)\)/g,
      (_, name: string, args: string) => `${name}(${asNumbers(args)})`,
    )
  if (property === 'aspect-ratio' && /^[\d.]+$/.test(normal)) return `${normal}/1`
  return normal
}

/** A colour of a normal form as people write it; other text as it is. */
export function shortColor(text: string): string {
  const color = parseColor(text)
  return color ? formatColor(color, PLAIN_NOTATION) : text
}
