import { MEDIA_EM } from '../css'
import type { Scale } from './scale'

/** CSS px below which a page is narrow, where the project itself turns at no width. */
export const NARROW = 640

/** A condition on width with one or two ends in the project's own habit; '' without any. Ends are CSS px, both included. */
export function widthsBetween(scale: Scale, from: number | null, to: number | null): string {
  const ends = [
    ...(from === null ? [] : [widthCondition(scale, 'from', from)]),
    ...(to === null ? [] : [widthCondition(scale, 'up to', to)]),
  ]
  const range = ends.length === 2 ? ends.map((e) => /^\(width ([<>]=) (.+)\)$/.exec(e)) : []
  return range[0] && range[1] ? `(${range[0][2]} <= width <= ${range[1][2]})` : ends.join(' and ')
}

/** A condition on width in the project's own habit: range syntax or `min-`/`max-width`, in px or em. `px` are CSS px. */
export function widthCondition(scale: Scale, edge: 'from' | 'up to', px: number): string {
  const all = scale.conditions.join(' ')
  const range = (all.match(/width\s*[<>]/g)?.length ?? 0) > (all.match(/(min|max)-width/g)?.length ?? 0)
  const em = (all.match(/\d(r?em)\b/g)?.length ?? 0) > (all.match(/\dpx\b/g)?.length ?? 0)
  const value = em ? `${Number((px / MEDIA_EM).toFixed(4))}em` : `${px}px`
  const space = /\(\s*(?:min|max)-width:\S/.test(all) ? '' : ' '
  if (range) return edge === 'from' ? `(width >= ${value})` : `(width <= ${value})`
  return `(${edge === 'from' ? 'min' : 'max'}-width:${space}${value})`
}
