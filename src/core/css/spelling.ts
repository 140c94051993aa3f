import type { HouseStyle } from './house-style'

/**
 * A value as the file would spell it: `.5` or `0.5`, the case and length of hex colours. What it means stays the same;
 * a value with strings or URLs is left as it is.
 */
export function inHouseSpelling(value: string, style: HouseStyle): string {
  if (/["']|url\(/i.test(value)) return value
  const numbers = style.leadingZero ? value.replace(/(^|[\s(,*/+-])\.(?=\d)/g, '$10.') : value.replace(/(^|[\s(,*/+-])0\.(?=\d)/g, '$1.')
  return numbers.replace(/#([0-9a-f]{8}|[0-9a-f]{6}|[0-9a-f]{3,4})\b/gi, (_, hex: string) => {
    const pairs = hex.length > 4 ? hex.match(/../g)! : []
    const short = style.hexShort && pairs.length > 0 && pairs.every((p) => p[0].toLowerCase() === p[1].toLowerCase()) ? pairs.map((p) => p[0]).join('') : hex
    return `#${style.hexUpper ? short.toUpperCase() : short.toLowerCase()}`
  })
}
