import type * as t from '@babel/types'
import { isWholeValue, longhandsOf, refuse, sets, type EditPlan } from '../css'
import type { Splice } from '../text'
import { isUnitless, styleKey, styleProperty } from './names'
import { bare, type Node } from './parse'
import { stringText } from './quoting'

/** A declaration of a style object: its property, and its value as CSS; null where that is worked out while the page runs. */
export interface StyleEntry {
  readonly property: string
  readonly value: string | null
  readonly node: t.ObjectProperty & Node
}

function cssValue(property: string, given: Node): string | null {
  const node = bare(given)
  if (node.type === 'StringLiteral') return node.value
  if (node.type === 'TemplateLiteral' && node.expressions.length === 0) return node.quasis[0].value.cooked ?? null
  const sign = node.type === 'UnaryExpression' && node.operator === '-' ? -1 : 1
  const number = sign < 0 ? ((node as t.UnaryExpression).argument as Node) : node
  if (number.type !== 'NumericLiteral') return null
  const value = sign * number.value
  return value === 0 || isUnitless(property) ? String(value) : `${value}px`
}

/** The declarations that an object writes out, in order; what it spreads or works out as a name is left out. */
export function styleEntries(object: t.ObjectExpression): StyleEntry[] {
  return object.properties.flatMap((p) => {
    if (p.type !== 'ObjectProperty' || p.computed) return []
    const key = p.key.type === 'Identifier' ? p.key.name : p.key.type === 'StringLiteral' ? p.key.value : null
    if (key === null) return []
    const property = styleProperty(key)
    return [{ property, value: cssValue(property, p.value as Node), node: p as t.ObjectProperty & Node }]
  })
}

const quoted = (text: string, quote: '"' | "'"): string => {
  const q = text.includes(quote) && !text.includes(quote === '"' ? "'" : '"') ? (quote === '"' ? "'" : '"') : quote
  return q + stringText(text, q) + q
}

/** A value as a style object writes it: lengths in px as numbers where `inNumbers`. */
export function styleValue(property: string, value: string, quote: '"' | "'", inNumbers: boolean): string {
  const px = inNumbers && !isUnitless(property) ? /^(-?(?:\d+\.?\d*|\.\d+))px$/.exec(value) : null
  if (px) return String(Number(px[1]))
  const isNumber = /^-?(?:\d+\.?\d*|\.\d+)$/.test(value) && (Number(value) === 0 || (isUnitless(property) && !property.startsWith('--')))
  return isNumber ? String(Number(value)) : quoted(value, quote)
}

const keyText = (property: string, quote: '"' | "'"): string => {
  const key = styleKey(property)
  return /^[a-z]\w*$/i.test(key) ? key : quoted(key, quote)
}

/** One property with its value, as an object has it. */
export const styleText = (property: string, value: string, quote: '"' | "'", inNumbers: boolean): string =>
  `${keyText(property, quote)}: ${styleValue(property, value, quote, inNumbers)}`

/** Whether an object's lengths in px are numbers; true where it has none. */
const inNumbers = (entries: readonly StyleEntry[]): boolean =>
  !entries.some(
    ({ node, value, property }) => !isUnitless(property) && node.value.type === 'StringLiteral' && /^-?[\d.]+px$/.test(value ?? ''),
  )

/** Sets a declaration of a style object, in its place where it has one that decides. */
export function setInStyle(text: string, object: t.ObjectExpression & Node, property: string, wanted: string, quote: '"' | "'"): EditPlan {
  const value = wanted.trim()
  if (!isWholeValue(property, value)) return refuse('bad-value', `“${value}” cannot stand as the value of ${property}.`)
  const entries = styleEntries(object)
  const deciding = entries.findLast((e) => longhandsOf(property).some((l) => sets(e.property, l)))
  const own = entries.findLast((e) => e.property === property)
  if (own && deciding === own) {
    if (own.value === null) return refuse('not-allowed', `${property} is worked out while the page runs.`)
    const at = own.node.value as Node
    const inner = bare(at)
    const isNumeric = inner.type === 'NumericLiteral' || inner.type === 'UnaryExpression'
    // A string stays one, in its own quotes.
    const mark = text[inner.start] === '"' || text[inner.start] === "'" ? (text[inner.start] as '"' | "'") : quote
    const insert =
      inner.type === 'StringLiteral' && !isUnitless(property)
        ? quoted(value, mark)
        : styleValue(property, value, mark, isNumeric || inNumbers(entries))
    return { ok: true, splices: insert === text.slice(inner.start, inner.end) ? [] : [{ from: inner.start, to: inner.end, insert }] }
  }
  const written = styleText(property, value, quote, inNumbers(entries))
  const splices: Splice[] = own ? [...taken(text, object, own)] : []
  const rest = object.properties.filter((p) => p !== own?.node)
  const last = rest.at(-1)
  if (!last) return { ok: true, splices: [{ from: object.start, to: object.end, insert: `{ ${written} }` }] }
  const between = rest.length > 1 ? text.slice(rest.at(-2)!.end!, last.start!) : null
  const isBroken = text.slice(object.start, last.start!).includes('\n')
  const gap = between && /^,\s*$/.test(between) ? between : isBroken ? `,\n${indentAt(text, last.start!)}` : ', '
  return { ok: true, splices: [...splices, { from: last.end!, to: last.end!, insert: gap + written }] }
}

/** The white space between the start of a line and an offset in it. */
export const indentAt = (text: string, offset: number): string => /[ \t]*$/.exec(text.slice(0, offset))![0]

function taken(text: string, object: t.ObjectExpression & Node, { node }: StyleEntry): Splice[] {
  const i = object.properties.indexOf(node)
  const [before, next] = [object.properties[i - 1], object.properties[i + 1]]
  if (next) return [{ from: node.start, to: next.start!, insert: '' }]
  if (before) return [{ from: before.end!, to: node.end, insert: '' }]
  // The comma behind the only one goes with it.
  const comma = /^\s*,/.exec(text.slice(node.end, object.end - 1))?.[0].length ?? 0
  return [{ from: node.start, to: node.end + comma, insert: '' }]
}

/** Takes a declaration out of a style object; null where it has none of that name. */
export function removeFromStyle(text: string, object: t.ObjectExpression & Node, property: string): EditPlan | null {
  const own = styleEntries(object).findLast((e) => e.property === property)
  return own ? { ok: true, splices: taken(text, object, own) } : null
}
