import type { Verdict } from '../../core/edit'
import { decodePath } from '../../core/text'

/** The file that an address of the live page shows. */
export function pageOf(address: string): string {
  const path = decodePath(address.replace(/[?#].*$/, '')).replace(/^\//, '')
  return path === '' || path.endsWith('/') ? `${path}index.html` : path
}

/** Whether this browser's engine, which shows the page too, takes each declaration (CSS Conditional 3 §6.1). */
export function askEngine(declarations: readonly string[]): Record<string, boolean> {
  return Object.fromEntries(
    declarations.map((text) => {
      const colon = text.indexOf(':')
      return [text, CSS.supports(text.slice(0, colon), text.slice(colon + 1).trim())]
    }),
  )
}

/** What two readings of the same elements say: before an edit was written, and after. */
export function verdictOf(
  seen: readonly (readonly string[])[] | null,
  now: readonly (readonly string[])[] | null,
  props: readonly string[],
): Verdict {
  if (!seen || !now) return { state: 'unread', why: 'the page did not answer' }
  if (seen.length !== now.length)
    return {
      state: 'differs',
      elements: Math.abs(seen.length - now.length),
      of: Math.max(seen.length, now.length),
      example: `${seen.length} elements before, ${now.length} after`,
    }
  let differing = 0
  let example = ''
  seen.forEach((values, i) => {
    const at = values.findIndex((v, k) => v !== now[i][k])
    if (at < 0) return
    differing++
    example ||= `${props[at]}: ${values[at]} was shown, ${now[i][at]} is there`
  })
  return differing ? { state: 'differs', elements: differing, of: seen.length, example } : { state: 'holds', elements: now.length }
}
