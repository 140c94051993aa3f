import { isName, skipComponent, skipName } from './scan'

/** What a compound selector asks for outright, unescaped: not in `:is()` or the like. */
interface Asked {
  readonly id: string | null
  readonly classes: readonly string[]
  readonly tag: string | null
}

/**
 * What an element needs to have to be the subject of `selector`: `#id`, `.class`, `tag`, or `*` where none is asked
 * for outright. Serves to look rules up; a match is decided by the engine.
 */
export const subjectKey = (selector: string): string =>
  PLAIN.test(selector) ? plainKey(selector.slice(selector.lastIndexOf(' ') + 1)) : keyOf(subjectOf(selector))

/** The same of an element that the subject has to stand in, its parent or further out; null where the last combinator asks for none, or for nothing outright. */
export function aroundKey(selector: string): string | null {
  if (PLAIN.test(selector)) {
    const at = selector.lastIndexOf(' ')
    return at < 0 ? null : plainKey(selector.slice(selector.lastIndexOf(' ', at - 1) + 1, at))
  }
  const asked = aroundOf(selector)
  const key = asked && keyOf(asked)
  return key === '*' ? null : key
}

/** The classes that `selector` asks for outright of its subject, and of an element that this stands in. */
export const classesAsked = (selector: string): { readonly own: readonly string[]; readonly around: readonly string[] } => ({
  own: subjectOf(selector).classes,
  around: aroundOf(selector)?.classes ?? [],
})

const keyOf = ({ id, classes, tag }: Asked): string => (id !== null ? `#${id}` : classes.length ? `.${classes[0]}` : (tag ?? '*'))

const subjectOf = (selector: string): Asked => readCompound(selector, lastCombinator(selector).to)

function aroundOf(selector: string): Asked | null {
  const { from, to } = lastCombinator(selector)
  return from > 0 && /^\s*>?\s*$/.test(selector.slice(from, to)) ? subjectOf(selector.slice(0, from)) : null
}

/** Compounds of names with a space between, which most selectors are: these need no reading letter by letter. */
const PLAIN = /^[\w.#-]+(?: [\w.#-]+)*$/

function plainKey(compound: string): string {
  const named = /#[\w-]+/.exec(compound) ?? /\.[\w-]+/.exec(compound)
  return named ? named[0] : compound.toLowerCase()
}

const COMBINATOR = new Set(['>', '+', '~', '|', ' ', '\t', '\n', '\r', '\f'])

// Where the last combinator stands, with the white space around it.
function lastCombinator(selector: string): { from: number; to: number } {
  let from = 0
  let to = 0
  for (let i = 0; i < selector.length;) {
    if (!COMBINATOR.has(selector[i])) i = skipComponent(selector, i)
    else {
      if (to !== i) from = i
      to = ++i
    }
  }
  return { from, to }
}

function readCompound(selector: string, start: number): Asked {
  let id: string | null = null
  const classes: string[] = []
  let tag: string | null = null
  for (let i = start; i < selector.length;) {
    const c = selector[i]
    const end = skipComponent(selector, i)
    if (c === '#') {
      id ??= unescaped(selector.slice(i + 1, end))
      i = end
    } else if (c === '.') {
      const nameEnd = skipName(selector, i + 1)
      classes.push(unescaped(selector.slice(i + 1, nameEnd)))
      i = nameEnd
    } else if (c === ':') {
      const colons = selector[i + 1] === ':' ? 2 : 1
      const nameEnd = skipName(selector, i + colons)
      i = selector[nameEnd] === '(' ? skipComponent(selector, nameEnd) : nameEnd
    } else {
      if (i === start && (isName(c.charCodeAt(0)) || c === '\\')) tag = selector.slice(i, end).toLowerCase()
      i = Math.max(end, i + 1)
    }
  }
  return { id, classes, tag }
}

const unescaped = (s: string): string =>
  s.includes('\\')
    ? s.replace(/\\([0-9a-f]{1,6})\s?/gi, (_, hex: string) => String.fromCodePoint(parseInt(hex, 16) || 0xfffd)).replace(/\\(.)/g, '$1')
    : s
