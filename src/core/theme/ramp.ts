import { formatColor, notationOf, parseColor, toOklch } from '../value'
import type { ThemeToken } from './read-theme'

/** How the steps of a ramp are changed as one: lightness by so much, of 1, and chroma times so much (CSS Color 4 §9.4, OKLCH). */
export interface RampPull {
  readonly lightness: number
  readonly chroma: number
}

/** Each step of a ramp as it is then, in its own notation; what names another token, or would be the same, is left out. */
export function pulledRamp(steps: readonly Pick<ThemeToken, 'name' | 'value'>[], { lightness, chroma }: RampPull) {
  return steps.flatMap(({ name, value }) => {
    const color = parseColor(value)
    if (!color) return []
    const { l, c, ...rest } = toOklch(color)
    const to = { ...rest, l: Math.min(1, Math.max(0, l + lightness)), c: Math.max(0, c * chroma) }
    const text = formatColor(to, notationOf(value))
    return text === value ? [] : [{ name, value: text }]
  })
}
