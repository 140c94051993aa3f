import { commaList } from '../value/parts'
import { shortColor } from './normal'
import { inBrackets } from './segments'
import type { Vocabulary } from './types'

const SIDES: Readonly<Record<string, string>> = { top: 't', right: 'r', bottom: 'b', left: 'l' }
const ENDS: Readonly<Record<number, readonly string[]>> = { 2: ['from', 'to'], 3: ['from', 'via', 'to'] }
const DEFAULTS: Readonly<Record<string, string>> = { from: '0%', via: '50%', to: '100%' }

/** The start of a stop: its colour, in one notation, and where it stands. */
const STOP = /^(rgb\([^()]*\)|transparent|currentcolor)(?:\s+(-?[\d.]+%))?$/

// The line as a class: its direction or angle, and the space it is mixed in where that is not the one classes mix in.
function lineClass(line: string): string | null {
  const [, where, space] = /^(.*?)\s*(?:\bin (\w+))?$/.exec(line)!
  const mixed = space === 'oklab' ? '' : `/${space ?? 'srgb'}`
  const sides = /^to ((?:top|right|bottom|left)(?: (?:top|right|bottom|left))?)$/.exec(where)?.[1].split(' ')
  if (sides) return `bg-linear-to-${sides.map((s) => SIDES[s]).sort((a) => (a === 't' || a === 'b' ? -1 : 1)).join('')}${mixed}`
  if (where === '') return `bg-linear-to-b${mixed}`
  const angle = /^(-?[\d.]+)deg$/.exec(where)?.[1]
  if (angle === undefined) return null
  return Number.isInteger(Number(angle)) && Number(angle) >= 0 ? `bg-linear-${angle}${mixed}` : null
}

/**
 * The bases that make up a linear gradient of two or three stops (CSS Images 3 §3.1), from its normal form; null for other
 * gradients, and where the vocabulary has none of them.
 */
export function gradientClasses(v: Vocabulary, normal: string): string[] | null {
  const inner = /^linear-gradient\(([^]*)\)$/.exec(normal)?.[1]
  if (inner === undefined) return null
  const parts = commaList(inner)
  const line = STOP.test(parts[0]) ? '' : parts.shift()!
  const ends = ENDS[parts.length]
  const first = lineClass(line)
  if (!ends || !first) return null
  const knows = (base: string) => v.read(v.spell(base, '', false)) !== null
  const given = (name: string, value: string): string | undefined => v.giving(new Map([[name, value]]))[0]
  const colour = (end: string, color: string): string | null => {
    const name = `--tw-gradient-${end === 'via' ? 'via' : end}`
    const faded = /^rgb\((.*)\/(0?\.\d+)\)$/.exec(color)
    const solid = faded && given(name, `rgb(${faded[1]}/1)`)
    const forms = [given(name, color), solid ? `${solid}/${Math.round(Number(faded[2]) * 100)}` : undefined, `${end}-[${inBrackets(shortColor(color))}]`]
    return forms.find((f): f is string => f !== undefined && knows(f)) ?? null
  }
  const out: (string | null)[] = [first]
  for (const [i, end] of ends.entries()) {
    const stop = STOP.exec(parts[i])
    if (!stop) return null
    out.push(colour(end, stop[1]))
    if (stop[2] !== undefined && stop[2] !== DEFAULTS[end]) out.push(`${end}-${Number.isInteger(parseFloat(stop[2])) ? stop[2] : `[${stop[2]}]`}`)
  }
  return out.every((base): base is string => base !== null && knows(base)) ? out : null
}

/** Whether a class has a say in a gradient that is made up of several. */
export const isOfGradient = (declared: readonly { readonly name: string }[]): boolean => declared.some((d) => d.name.startsWith('--tw-gradient-'))
