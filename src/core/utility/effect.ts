import { isShorthand, longhandsOf, partOfShorthand } from '../css'
import type { Effect } from './class-index'
import { normalFor, normalValue, resolveVariables, type Variables } from './normal'
import type { Declared } from './types'

// A layer that draws nothing stands for each part of a shadow that is not set.
const withoutEmptyLayers = (normal: string): string =>
  normal
    .split(/,(?![^(]*\))/)
    .filter((layer) => !/^0 0 (0 )?(0 )?rgb\(0 0 0\/0\)$/.test(layer))
    .join(',') || 'none'

const finished = (longhand: string, normal: string): string =>
  longhand === 'box-shadow' || longhand === 'text-shadow'
    ? withoutEmptyLayers(normal)
    : /filter$/.test(longhand) && normal === ''
      ? 'none'
      : normalFor(longhand, normal)

/** The value in normal form as one longhand of the property it is written for. */
export function normalLonghand(property: string, value: string, longhand: string, variables: Variables, rem: number): string {
  const resolved = resolveVariables(value, variables)
  const part =
    property === longhand || !isShorthand(property)
      ? null
      : property === 'flex'
        ? partOfFlex(resolved, longhand)
        : partOfShorthand(property, resolved, longhand)
  return finished(longhand, normalValue(part ?? resolved, variables, rem))
}

const FLEX_WORDS: Readonly<Record<string, string>> = { none: '0 0 auto', auto: '1 1 auto', initial: '0 1 auto' }

// What is left out of `flex` is not the property's initial value (CSS Flexbox 1 §7.1).
function partOfFlex(value: string, longhand: string): string {
  const words = (FLEX_WORDS[value.trim()] ?? value).trim().split(/\s+(?![^(]*\))/)
  const numbers = words.filter((w) => /^[\d.]+$/.test(w))
  const basis = words.find((w) => !/^[\d.]+$/.test(w))
  if (longhand === 'flex-basis') return basis ?? '0%'
  return numbers[longhand === 'flex-grow' ? 0 : 1] ?? '1'
}

/**
 * What declarations of one class leave longhands with. Variables that the class sets itself are read through, and are no
 * effect of their own unless the class sets nothing else.
 */
export function effectOf(declared: readonly Declared[], variables: Variables, rem: number): Effect {
  const own = new Map(declared.filter((d) => d.name.startsWith('--')).map((d) => [d.name, d.value]))
  const known: Variables = (name) => own.get(name) ?? variables(name)
  const out = new Map<string, string>()
  const take = (d: Declared) => {
    for (const longhand of longhandsOf(d.name))
      out.set(d.on ? `${d.on}|${longhand}` : longhand, normalLonghand(d.name, d.value, longhand, known, rem))
  }
  const plain = declared.filter((d) => !d.name.startsWith('--'))
  for (const d of plain.length ? plain : declared) take(d)
  return out
}
