import { longhandsOf } from './longhands'

/** How a sheet orders the declarations of a rule. */
export type DeclarationOrder = 'alphabetical' | 'grouped' | 'none'

/**
 * Families of properties that authors keep together, outermost concern first. A new declaration goes after the last
 * one of its own or an earlier family.
 */
const FAMILIES: readonly RegExp[] = [
  /^--/,
  /^(all|content|composes)$/,
  /^(position|inset|top|right|bottom|left|z-index)/,
  /^(display|visibility|float|clear|flex|order|grid|place|justify|align|gap|row-gap|column-gap|columns?|column-)/,
  /^(box-sizing|(min-|max-)?(width|height|inline-size|block-size)|aspect-ratio|object-|overflow|overscroll|scroll-margin|scroll-padding)/,
  /^margin/,
  /^padding/,
  /^(border|outline)/,
  /^(color|background|fill|stroke|opacity|box-shadow|accent-color|caret-color)/,
  /^(font|line-height|letter-spacing|word-spacing|text|white-space|word-break|overflow-wrap|hyphens|list-style|vertical-align|tab-size)/,
  /^(transform|translate|rotate|scale|filter|backdrop-filter|mix-blend|clip|mask|perspective|cursor|pointer-events|user-select)/,
  /^(transition|animation|will-change)/,
]

const familyOf = (name: string): number => {
  const at = FAMILIES.findIndex((f) => f.test(name))
  return at < 0 ? FAMILIES.length : at
}

/** Whether the families follow one another, the outermost concern first. */
export const inFamilies = (names: readonly string[]): boolean => names.every((n, i) => i === 0 || familyOf(names[i - 1]) <= familyOf(n))

const stem = (name: string): string => name.replace(/^-\w+-/, '').split('-')[0]

/**
 * Index in `names` (a rule's declarations in order) after which a new `name` is at home; -1 for before the first.
 * It never goes before a declaration that would take its effect away.
 */
export function placeFor(name: string, names: readonly string[], order: DeclarationOrder): number {
  const targets = longhandsOf(name)
  // After everything that sets any of the same longhands: an earlier place could be overridden.
  const clash = names.findLastIndex((n) => longhandsOf(n).some((l) => targets.includes(l)))
  if (order === 'alphabetical' && isSorted(names))
    return Math.max(
      clash,
      names.findLastIndex((n) => n <= name),
    )
  const kin = names.findLastIndex((n) => stem(n) === stem(name))
  if (kin >= 0) return Math.max(kin, clash)
  const family = familyOf(name)
  const same = names.findLastIndex((n) => familyOf(n) === family)
  if (same >= 0) return Math.max(same, clash)
  // Only where the file, or a longer rule itself, keeps the families in order is a place between them meant.
  const families = names.map(familyOf)
  const ordered = inFamilies(names) && (order === 'grouped' || names.length > 2)
  return ordered
    ? Math.max(
        families.findLastIndex((f) => f <= family),
        clash,
      )
    : names.length - 1
}

const isSorted = (names: readonly string[]): boolean => names.every((n, i) => i === 0 || names[i - 1] <= n)
