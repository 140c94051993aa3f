/** Px of an `em` or `rem` in a media query, which takes them from the initial font size (Media Queries 4 §1.3). */
export const MEDIA_EM = 16

/** The colour scheme that a media query's condition asks for (Media Queries 5 §12.5); null where it asks for none. */
export const schemeOf = (media: string): 'dark' | 'light' | null =>
  (/\(\s*prefers-color-scheme\s*:\s*(dark|light)\s*\)/i.exec(media)?.[1].toLowerCase() as 'dark' | 'light' | undefined) ?? null

/** The widths in px at which a media condition holds (Media Queries 4 §2.4.3 for `<` and `>`); null where it asks for more than widths. */
export function widthRange(condition: string): WidthRange | null {
  let min = 0
  let max = Infinity
  const bound = (op: string, at: number) => {
    if (op.startsWith('>')) min = Math.max(min, at + (op === '>' ? 1 : 0))
    else max = Math.min(max, at - (op === '<' ? 1 : 0))
  }
  const px = (n: string, unit: string) => Number(n) * (unit.toLowerCase() === 'px' ? 1 : MEDIA_EM)
  const rest = condition
    .replace(/\(\s*(min|max)-width\s*:\s*([\d.]+)(px|r?em)\s*\)/gi, (_, which: string, n: string, unit: string) => {
      if (which.toLowerCase() === 'min') min = Math.max(min, px(n, unit))
      else max = Math.min(max, px(n, unit))
      return ''
    })
    .replace(
      /\(\s*(?:([\d.]+)(px|r?em)\s*(<=?|>=?)\s*)?width\s*(?:(<=?|>=?)\s*([\d.]+)(px|r?em)\s*)?\)/gi,
      (all, from: string | undefined, fromUnit: string, turned: string, op: string | undefined, to: string, toUnit: string) => {
        if (from === undefined && op === undefined) return all
        if (from !== undefined) bound(turned.startsWith('<') ? turned.replace('<', '>') : turned.replace('>', '<'), px(from, fromUnit))
        if (op !== undefined) bound(op, px(to, toUnit))
        return ''
      },
    )
  return /^[\s]*(?:(?:only\s+)?(?:screen|all)|and|\s)*[\s]*$/i.test(rest) ? { min, max } : null
}

export interface WidthRange {
  readonly min: number
  readonly max: number
}

/** Whether one range of widths is within another and not all of it. */
export const isNarrower = (a: WidthRange | null, b: WidthRange | null): boolean =>
  a !== null && b !== null && a.min >= b.min && a.max <= b.max && (a.min > b.min || a.max < b.max)

/**
 * The width in px nearest to `now` at which a condition holds and, where there is one, none of `others` that are narrower
 * does: what is under it shows there, and not what they make of it. Null where that is `now`, or it is about no widths.
 */
export function widthToShow(condition: string, now: number, others: readonly string[]): number | null {
  const range = widthRange(condition)
  if (!range) return null
  const narrower = others.map(widthRange).filter((r): r is WidthRange => isNarrower(r, range))
  const holds = (w: number) => w >= range.min && w <= range.max
  const shows = (w: number) => holds(w) && !narrower.some((r) => w >= r.min && w <= r.max)
  if (shows(now)) return null
  const bounds = [range.min, range.max, ...narrower.flatMap((r) => [r.min - 1, r.max + 1])]
    .filter(Number.isFinite)
    .map((w) => (w === range.min ? Math.ceil(w) : Math.floor(w)))
  const nearest = (list: readonly number[]) =>
    list.reduce<number | null>((best, w) => (best === null || Math.abs(w - now) < Math.abs(best - now) ? w : best), null)
  return nearest(bounds.filter((w) => w > 0 && shows(w))) ?? (holds(now) ? null : nearest(bounds.filter((w) => w > 0 && holds(w))))
}

/** Whether a condition around rules, as written, is about sizes: of the page (Media Queries 4 §4) or of a container (CSS Conditional 5 §6). */
export const isOfSize = (condition: string): boolean =>
  /^@(?:media|container)\b.*[(\s](?:(?:min-|max-)?(?:width|height|inline-size|block-size|aspect-ratio)|orientation)\b/i.test(condition)
