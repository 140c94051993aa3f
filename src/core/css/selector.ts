import parser from 'postcss-selector-parser'
import { skipToken, startsComment } from './scan'
import { splitSelectors } from './selector-list'

/** `[ids, classes, types]`, compared left to right (Selectors 4 §17). */
export type Specificity = readonly [ids: number, classes: number, types: number]

export function compareSpecificity(a: Specificity, b: Specificity): number {
  // Not one packed number: 256 classes would carry into the ids.
  return a[0] - b[0] || a[1] - b[1] || a[2] - b[2]
}

const ZERO: Specificity = [0, 0, 0]
const add = (a: Specificity, b: Specificity): Specificity => [a[0] + b[0], a[1] + b[1], a[2] + b[2]]
const most = (list: readonly Specificity[]): Specificity => list.reduce((a, b) => (compareSpecificity(a, b) >= 0 ? a : b), ZERO)

/** Pseudo-elements that CSS 2 let authors write with one colon. */
const OLD_PSEUDO_ELEMENTS = new Set([':before', ':after', ':first-line', ':first-letter'])
const TAKES_MOST = new Set([':is', ':not', ':has', ':matches', ':-webkit-any', ':-moz-any'])

function ofNode(node: parser.Node): Specificity {
  switch (node.type) {
    case 'id':
      return [1, 0, 0]
    case 'class':
    case 'attribute':
      return [0, 1, 0]
    case 'tag':
      return [0, 0, 1]
    case 'selector':
      return (node as parser.Selector).nodes.map(ofNode).reduce(add, ZERO)
    case 'pseudo': {
      const pseudo = node as parser.Pseudo
      const name = pseudo.value.toLowerCase()
      if (name === ':where') return ZERO
      const inside = pseudo.nodes.map(ofNode)
      if (TAKES_MOST.has(name)) return most(inside)
      if (name.startsWith('::') || OLD_PSEUDO_ELEMENTS.has(name)) return add([0, 0, 1], name === '::slotted' ? most(inside) : ZERO)
      if (name === ':host' || name === ':host-context') return add([0, 1, 0], most(inside))
      if (name === ':nth-child' || name === ':nth-last-child') return add([0, 1, 0], nthOf(pseudo))
      return [0, 1, 0]
    }
    default:
      return ZERO
  }
}

// `:nth-child(2n of .a, #b)`: the most specific selector after `of` counts too.
function nthOf(pseudo: parser.Pseudo): Specificity {
  const text = pseudo.nodes.map(String).join(',')
  const at = /\sof\s/i.exec(text)
  return at ? specificityOfList(text.slice(at.index + 4)) : ZERO
}

const cache = new Map<string, Specificity>()

/** The specificity of one complex selector; null when it cannot be read. */
export function specificityOf(selector: string): Specificity | null {
  let found = cache.get(selector)
  if (!found) {
    try {
      found = most(parser().astSync(selector).nodes.map(ofNode))
    } catch {
      return null
    }
    if (cache.size < 20000) cache.set(selector, found)
  }
  return found
}

const specificityOfList = (list: string): Specificity => most(splitSelectors(list).map((s) => specificityOf(s) ?? ZERO))

/** The class names in a selector, unescaped; empty when it cannot be read. */
export function classesNamed(selector: string): string[] {
  const names: string[] = []
  try {
    parser((root) => root.walkClasses((c) => void names.push(c.value))).processSync(selector)
  } catch {
    return []
  }
  return names
}

/** Finds one of these names, each as a selector writes it with its `.` or `#`, whole; null for none. */
export const oneOfNames = (names: readonly string[]): RegExp | null =>
  names.length ? new RegExp(`(?:${names.map((n) => n.replace(/[^\w-]/g, '\\$&')).join('|')})(?![\\w\\\\-]|[^\\0-\\x7f])`) : null

/**
 * A nested selector written out without nesting (CSS Nesting 1 §3): `&` stands for `:is(parents)`, and a selector
 * without `&` is relative to it. Specificity and matches are those of the nested form.
 */
export function resolveNested(parents: readonly string[], selector: string): string {
  const amp = parents.length === 1 && isPlainCompound(parents[0]) ? parents[0] : `:is(${parents.join(', ')})`
  let out = ''
  let found = false
  for (let i = 0; i < selector.length;) {
    if (selector[i] === '&') {
      // A plain compound can stand for itself where nothing is written against it.
      const alone = !/[\w\\-]/.test(selector[i - 1] ?? '') && !/[\w\\-]/.test(selector[i + 1] ?? '')
      out += alone && (i === 0 || /[\s>+~(,]/.test(selector[i - 1])) ? amp : `:is(${parents.join(', ')})`
      found = true
      i++
      continue
    }
    const end = '([{'.includes(selector[i]) ? i + 1 : skipToken(selector, i)
    if (!startsComment(selector, i)) out += selector.slice(i, end)
    i = end
  }
  if (found && !/^\s*[>+~]/.test(selector)) return out
  return `${amp} ${out}`
}

const isPlainCompound = (selector: string): boolean => /^[.#]?(?:[\w-]|\\[^\n0-9a-f])+(?:\.(?:[\w-]|\\[^\n0-9a-f])+)*$/i.test(selector)
