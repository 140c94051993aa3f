import { commaList } from '../value'
import { shortColor } from './normal'
import { inBrackets } from './segments'
import type { Vocabulary } from './types'

const SIDES: Readonly<Record<string, string>> = { top: 't', right: 'r', bottom: 'b', left: 'l' }
const ENDS: Readonly<Record<number, readonly string[]>> = { 2: ['from', 'to'], 3: ['from', 'via', 'to'] }
const DEFAULTS: Readonly<Record<string, string>> = { from: '0%', via: '50%', to: '100%' }

/** The start of a stop: its colour, in one notation, and where it stands. */
const STOP = /^(rgb\([^()]*\)|transparent|currentcolor)(?:\s+(-?[\d.]+%))?$/

// The space that classes mix in is left out; CSS itself mixes in sRGB (CSS Images 4 §3.1).
const mixedIn = (space: string | undefined): string => (space === 'oklab' ? '' : `/${space ?? 'srgb'}`)

// The line as a class, the plainest first: its direction or angle, what it starts from, where it is.
function lineClasses(kind: string, line: string): string[] {
  const [, where, space] = /^(.*?)\s*(?:\bin (\w+))?$/.exec(line)!
  const mixed = mixedIn(space)
  const own = `bg-${kind}-[${inBrackets(line)}]`
  if (kind === 'radial') return where === '' ? [`bg-radial${mixed}`] : [own]
  if (kind === 'conic') {
    const from = /^(?:from )?(\d+)deg$/.exec(where)?.[1]
    return where === '' ? [`bg-conic${mixed}`] : [...(from === undefined ? [] : [`bg-conic-${from}${mixed}`]), own]
  }
  const sides = where === '' ? ['bottom'] : /^to ((?:top|right|bottom|left)(?: (?:top|right|bottom|left))?)$/.exec(where)?.[1].split(' ')
  if (sides) {
    const to = sides
      .map((s) => SIDES[s])
      .sort((a) => (a === 't' || a === 'b' ? -1 : 1))
      .join('')
    // The name of version 3, which mixes as CSS does.
    return [`bg-linear-to-${to}${mixed}`, ...(space === undefined ? [`bg-gradient-to-${to}`] : [])]
  }
  const angle = /^(\d+)deg$/.exec(where)?.[1]
  return angle === undefined ? [] : [`bg-linear-${angle}${mixed}`]
}

/**
 * The bases that make up a gradient of two or three stops (CSS Images 4 §3), from its normal form; null for other gradients,
 * and where the vocabulary has none of them.
 */
export function gradientClasses(v: Vocabulary, normal: string): string[] | null {
  const [, kind, inner] = /^(linear|radial|conic)-gradient\(([^]*)\)$/.exec(normal) ?? []
  if (inner === undefined) return null
  const parts = commaList(inner)
  const line = STOP.test(parts[0]) ? '' : parts.shift()!
  const ends = ENDS[parts.length]
  if (!ends) return null
  const knows = (base: string) => v.offers(base) && v.read(v.spell(base, '', false)) !== null
  const given = (name: string, value: string): string | undefined => v.giving(new Map([[name, value]]))[0]
  const colour = (end: string, color: string): string | undefined => {
    const name = `--tw-gradient-${end}`
    const faded = /^rgb\((.*)\/(0?\.\d+)\)$/.exec(color)
    const solid = faded && given(name, `rgb(${faded[1]}/1)`)
    const forms = [
      given(name, color),
      solid ? `${solid}/${Math.round(Number(faded[2]) * 100)}` : undefined,
      `${end}-[${inBrackets(shortColor(color))}]`,
    ]
    return forms.find((f): f is string => f !== undefined && knows(f))
  }
  const out: (string | undefined)[] = [lineClasses(kind, line).find(knows)]
  for (const [i, end] of ends.entries()) {
    const stop = STOP.exec(parts[i])
    if (!stop) return null
    out.push(colour(end, stop[1]))
    if (stop[2] !== undefined && stop[2] !== DEFAULTS[end]) out.push([`${end}-${stop[2]}`, `${end}-[${stop[2]}]`].find(knows))
  }
  return out.every((base) => base !== undefined) ? out : null
}

/** Whether a class has a say in a gradient that is made up of several. */
export const isOfGradient = (declared: readonly { readonly name: string }[]): boolean =>
  declared.some((d) => d.name.startsWith('--tw-gradient-'))
