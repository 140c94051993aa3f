import type { HouseStyle } from './house-style'

const trim = (n: number): string => Number(n.toFixed(4)).toString()

const PART = String.raw`[+-]?[\d.]+(?:%|deg)?`
const MODERN = new RegExp(String.raw`\b(rgb|hsl)a?\(\s*(${PART})\s+(${PART})\s+(${PART})(?:\s*\/\s*([\d.]+%?))?\s*\)`, 'gi')
const LEGACY = new RegExp(String.raw`\b(rgb|hsl)a?\(\s*(${PART})\s*,\s*(${PART})\s*,\s*(${PART})(?:\s*,\s*([\d.]+%?))?\s*\)`, 'gi')

// The two forms of CSS Color 4 §4.1: with commas, or without and with alpha behind a slash.
function colors(value: string, { commas, afterComma }: HouseStyle): string {
  if (commas === null) return value
  return commas
    ? value.replace(MODERN, (_, name: string, a: string, b: string, c: string, alpha: string | undefined) => {
        const of = alpha === undefined ? '' : alpha.endsWith('%') ? trim(Number(alpha.slice(0, -1)) / 100) : alpha
        return `${name.toLowerCase()}${of ? 'a' : ''}(${[a, b, c, ...(of ? [of] : [])].join(`,${afterComma}`)})`
      })
    : value.replace(
        LEGACY,
        (_, name: string, a: string, b: string, c: string, alpha: string | undefined) =>
          `${name.toLowerCase()}(${a} ${b} ${c}${alpha === undefined ? '' : ` / ${alpha}`})`,
      )
}

function times(value: string, { seconds }: HouseStyle): string {
  if (seconds === null) return value
  return value.replace(/(^|[\s,(])(\d+\.?\d*|\.\d+)(m?s)(?![\w-])/gi, (all, before: string, n: string, unit: string) =>
    (unit.toLowerCase() === 's') === seconds || Number(n) === 0
      ? all
      : `${before}${trim(seconds ? Number(n) / 1000 : Number(n) * 1000)}${seconds ? 's' : 'ms'}`,
  )
}

/**
 * A value as the file would spell it: `.5` or `0.5`, the case and length of hex colours, colours with commas or without,
 * times in `s` or `ms`. What it means stays the same; a value with strings or URLs is left as it is.
 */
export function inHouseSpelling(value: string, style: HouseStyle): string {
  if (/["']|url\(/i.test(value)) return value
  const spelled = times(colors(value, style), style)
  const numbers = style.leadingZero
    ? spelled.replace(/(^|[\s(,*/+-])\.(?=\d)/g, '$10.')
    : spelled.replace(/(^|[\s(,*/+-])0\.(?=\d)/g, '$1.')
  return numbers.replace(/#([0-9a-f]{8}|[0-9a-f]{6}|[0-9a-f]{3,4})\b/gi, (_, hex: string) => {
    const pairs = hex.length > 4 ? hex.match(/../g)! : []
    const short =
      style.hexShort && pairs.length > 0 && pairs.every((p) => p[0].toLowerCase() === p[1].toLowerCase())
        ? pairs.map((p) => p[0]).join('')
        : hex
    return `#${style.hexUpper ? short.toUpperCase() : short.toLowerCase()}`
  })
}
