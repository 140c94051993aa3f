import { isSpace, skipComponent, skipTrivia } from './scan'

/** A stretch of a value; offsets in it. */
export interface Part {
  from: number
  to: number
}

/** The components of a value (CSS Values 4 §2.1) between two offsets; a comma and a slash are components too. */
export function components(value: string, from = 0, to = value.length): Part[] {
  const parts: Part[] = []
  for (let i = skipTrivia(value, from); i < to; i = skipTrivia(value, i)) {
    let end = i
    // A function name and its block, or a number and its unit, are one component.
    do end = Math.min(skipComponent(value, end), to)
    while (end < to && !isSpace(value.charCodeAt(end)) && value[end] !== ',' && value[end] !== '/' && value[i] !== ',' && value[i] !== '/')
    parts.push({ from: i, to: end })
    i = end
  }
  return parts
}

export const replacePart = (value: string, part: Part, text: string): string => value.slice(0, part.from) + text + value.slice(part.to)

/** A single component that can stand as one part: no commas, no slash, no second word. */
export const isOneComponent = (text: string): boolean => components(text).length === 1

const WIDE = /^(initial|inherit|unset|revert|revert-layer)$/i

/** Whether `value` is one CSS-wide keyword (CSS Values 4 §2.1): it then is the whole of the declaration. */
export const isWideKeyword = (value: string): boolean => WIDE.test(value.trim())

/** Whether a value's parts are known only when variables are put in (CSS Variables 1 §3.2). */
export const hasArbitrarySubstitution = (value: string): boolean => /\b(var|env|attr|if|inherit)\s*\(/i.test(value)

/** The one function that a component is, with what stands in it; null for anything else. */
export function functionIn(component: string): { readonly name: string; readonly inside: string } | null {
  const name = /^-?[a-z_][\w-]*(?=\()/i.exec(component)?.[0]
  return name && component.endsWith(')') && skipComponent(component, name.length) === component.length
    ? { name, inside: component.slice(name.length + 1, -1) }
    : null
}

export const isImage = (text: string): boolean =>
  /^(url|image|image-set|-webkit-image-set|[\w-]*gradient|element|cross-fade|src)\(/i.test(text)

/** Whether one component is written as a colour; names are recognised as words that are nothing else where they stand. */
export const isColor = (text: string): boolean =>
  /^(#|(rgba?|hsla?|hwb|lab|lch|oklab|oklch|color|color-mix|light-dark|device-cmyk)\()/i.test(text) || /^[a-z]+$/i.test(text)

export type ValueKind = 'color' | 'length' | 'image'

/** What is known beyond the text at hand: of the project's variables, and of what the engine takes. */
export interface Knowledge {
  /** What a component is that has a `var()` or is one, when all definitions agree; null when that is not known. */
  kindOf(component: string): ValueKind | null
  /** False only where the engine is known to drop the declaration (CSS Syntax 3 §2.2). */
  takes(name: string, value: string): boolean
}

export const NO_KNOWLEDGE: Knowledge = { kindOf: () => null, takes: () => true }
