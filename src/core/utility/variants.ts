import { isNarrower, widthRange } from '../css'
import { segments } from './segments'
import type { Vocabulary } from './types'

/** Two variants that hold together hold in either order, but for what stands in a pseudo-element. */
export const sameVariant = (a: string, b: string): boolean =>
  a === b || (segments(a).sort().join(':') === segments(b).sort().join(':') && !/before|after|\*/.test(a))

/** Whether what `variant` asks for holds wherever `other` does, and that asks for more. */
export function isUnder(v: Vocabulary, variant: string, other: string): boolean {
  if (variant === other) return false
  const parts = (text: string) => {
    const all = text ? segments(text) : []
    const ranges = all.map((p) => widthRange(v.mediaOf(p) ?? 'none'))
    return {
      others: all.filter((_, i) => ranges[i] === null),
      widths: ranges.reduce((a, b) => (b ? { min: Math.max(a!.min, b.min), max: Math.min(a!.max, b.max) } : a), {
        min: 0,
        max: Infinity,
      })!,
    }
  }
  const [a, b] = [parts(variant), parts(other)]
  if (partOf(variant) !== partOf(other)) return false
  const isEqual = b.widths.min === a.widths.min && b.widths.max === a.widths.max
  return a.others.every((p) => b.others.includes(p)) && (isNarrower(b.widths, a.widths) || (isEqual && b.others.length > a.others.length))
}

const OF_PART =
  /^(?:before|after|file|placeholder|marker|selection|first-line|first-letter|backdrop|details-content|\*\*?)$|^\[.*(?:::|[>+~]|& )/

/** What of a variant is about another box than the element's own; `''` for nothing. */
export const partOf = (variant: string): string =>
  segments(variant)
    .filter((s) => OF_PART.test(s))
    .join(':')
