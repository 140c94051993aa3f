import { parse as parseHtml, defaultTreeAdapter as tree, type DefaultTreeAdapterTypes } from 'parse5'
import postcss, { type AtRule, type ChildNode, type Container, type Declaration, type Rule } from 'postcss'
import { classSpans, longhandsOf, partOfShorthand } from '../src/core/css'
import type { Expectation } from './corpus-edits'

/** An independent reading of CSS text, to hold our own against; null where postcss cannot read it. */
export function readCss(text: string): Container | null {
  try {
    // `<!--` and `-->` between rules say nothing (CSS Syntax 3 §5.4.1), which postcss does not know.
    return postcss.parse(text.replace(/<!--|-->/g, '   '))
  } catch {
    return null
  }
}

interface FlatRule {
  readonly head: string
  readonly node: Rule | AtRule
  readonly declarations: string[]
}

const isRuleNode = (n: ChildNode): n is Rule | AtRule => n.type === 'rule' || n.type === 'atrule'
// A selector as written, comments and all.
const headOf = (n: Rule | AtRule): string => (n.type === 'rule' ? (n.raws.selector?.raw ?? n.selector) : `@${n.name} ${n.params}`)
const declarationText = (d: Declaration): string => `${d.prop}:${d.raws.value?.raw ?? d.value}${d.important ? '!' : ''}`

/** All rules of a tree in order, parents first, with their own declarations. */
export function flatten(root: Container): FlatRule[] {
  const out: FlatRule[] = []
  const visit = (c: Container, prefix: string) => {
    for (const n of c.nodes ?? []) {
      if (!isRuleNode(n)) continue
      const head = `${prefix}${headOf(n)} {`
      out.push({
        head,
        node: n,
        declarations: (n.nodes ?? []).filter((d): d is Declaration => d.type === 'decl').map(declarationText),
      })
      if (n.nodes) visit(n, head)
    }
  }
  visit(root, '')
  return out
}

const sameRule = (a: FlatRule, b: FlatRule): boolean => a.head === b.head && a.declarations.join(';') === b.declarations.join(';')
const same = (a: readonly FlatRule[], b: readonly FlatRule[]): boolean => a.length === b.length && a.every((r, i) => sameRule(r, b[i]))

const strip = (s: string) => s.replace(/\/\*[^]*?\*\//g, '').trim()

/** What `name` comes to in a rule, by the declarations of the independent reading. */
function decided(rule: FlatRule, longhand: string): { value: string; prop: string; important: boolean } | null {
  let best: Declaration | null = null
  for (const d of (rule.node.nodes ?? []).filter((x): x is Declaration => x.type === 'decl')) {
    // Hacks such as `_position` and `*zoom` stand in what comes before the name.
    if (/[^\s]$/.test((d.raws.before ?? '').replace(/\/\*[^]*?\*\//g, ''))) continue
    const prop = d.prop.startsWith('--') ? d.prop : d.prop.toLowerCase()
    if (longhandsOf(prop).includes(longhand) && (!best || d.important || !best.important)) best = d
  }
  return best && { value: strip(best.raws.value?.raw ?? best.value), prop: best.prop, important: best.important ?? false }
}

// The engine spells these parts its own way; the browser check compares them.
const OPAQUE = new Set([
  'flex',
  'border-radius',
  'font',
  'background',
  'transition',
  'grid-row',
  'grid-column',
  'grid-area',
  'list-style',
  'text-decoration',
  'flex-flow',
  'outline',
  'columns',
  'border-top',
  'border-right',
  'border-bottom',
  'border-left',
  'column-rule',
])

function checkDeclaration(before: FlatRule, after: FlatRule, e: Extract<Expectation, { of: 'declaration' }>): string | null {
  for (const longhand of longhandsOf(e.name)) {
    const now = decided(after, longhand)
    if (!now) return `${longhand} is not set`
    if (e.important !== null && now.important !== e.important) return `${longhand} is ${now.important ? '' : 'not '}important`
    if (now.prop.toLowerCase() === e.name && now.value === strip(e.value)) continue
    const wanted = partOfShorthand(e.name, e.value, longhand) ?? e.value
    const part = partOfShorthand(now.prop.toLowerCase(), now.value, longhand) ?? now.value
    if (part === wanted) continue
    if (OPAQUE.has(now.prop.toLowerCase()) && (now.value.includes(wanted) || now.prop === 'flex' || now.prop === 'border-radius')) continue
    return `${longhand} reads ${part} from ${now.prop}, not ${wanted}`
  }
  // What is not asked for stays: no other longhand of the rule is decided by another text.
  const asked = new Set(longhandsOf(e.name))
  for (const d of before.declarations) {
    const prop = d.slice(0, d.indexOf(':'))
    for (const longhand of longhandsOf(prop.startsWith('--') ? prop : prop.toLowerCase())) {
      if (asked.has(longhand)) continue
      const was = decided(before, longhand)
      const is = decided(after, longhand)
      // A part that `border` leaves out has its initial value, whatever else it holds.
      const read = (x: typeof was) =>
        x && (partOfShorthand(x.prop.toLowerCase(), x.value, longhand) ?? (x.prop.toLowerCase() === 'border' ? 'initial' : x.value))
      if (was && !is) return `${longhand} is gone`
      if (was && is && was.prop === is.prop && was.value !== is.value && !OPAQUE.has(is.prop.toLowerCase()) && read(was) !== read(is))
        return `${longhand} changed from ${read(was)} to ${read(is)}`
    }
  }
  return null
}

/** Whether new declarations are written as their neighbours are; null when they are. */
function checkStyle(before: FlatRule, after: FlatRule): string | null {
  const own = (r: FlatRule) => (r.node.nodes ?? []).filter((x): x is Declaration => x.type === 'decl')
  const old = own(before)
  if (old.length < 2) return null
  const texts = new Set(old.map(declarationText).map((t) => t.slice(0, t.indexOf(':'))))
  // A hack's own letter stands in what comes before its name.
  const leadOf = (d: Declaration) => (d.raws.before ?? '').replace(/[^\s]+$/, '').replace(/^[\r\n\s]*(?=[\r\n])/, '')
  const leads = new Set(old.map(leadOf))
  const betweens = new Set(old.filter((d) => !d.prop.startsWith('--')).map((d) => d.raws.between))
  for (const d of own(after)) {
    if (texts.has(d.prop)) continue
    const lead = leadOf(d)
    if (leads.size === 1 && !leads.has(lead)) return `indented ${JSON.stringify(lead)} among ${JSON.stringify([...leads])}`
    if (betweens.size === 1 && !d.prop.startsWith('--') && old.length > 3 && !betweens.has(d.raws.between))
      return `colon ${JSON.stringify(d.raws.between)} among ${JSON.stringify([...betweens])}`
  }
  if (
    after.node.raws.semicolon !== before.node.raws.semicolon &&
    own(after).length >= old.length &&
    after.node.nodes?.at(-1)?.type === 'decl' &&
    before.node.nodes?.at(-1)?.type === 'decl'
  )
    return 'the last semicolon changed'
  return null
}

/** Holds a CSS edit against what was expected of it; null when it is right. `at` is the rule's place in the region. */
export function checkCss(before: Container, after: Container, at: number, e: Expectation): string | null {
  const a = flatten(before)
  const b = flatten(after)
  switch (e.of) {
    case 'declaration':
    case 'count': {
      if (a.length !== b.length) return `${a.length} rules before, ${b.length} after`
      if (
        !same(
          a.filter((_, i) => i !== at),
          b.filter((_, i) => i !== at),
        )
      )
        return 'another rule changed'
      if (a[at].head !== b[at].head) return 'the selector changed'
      if (e.of === 'count')
        return b[at].declarations.length === a[at].declarations.length + e.by
          ? null
          : `${b[at].declarations.length} declarations, not ${a[at].declarations.length + e.by}`
      return checkDeclaration(a[at], b[at], e) ?? checkStyle(a[at], b[at])
    }
    case 'rule': {
      const extra = b.length - a.length
      if (extra < 1 || extra > (e.condition ? 2 : 1)) return `${extra} rules more`
      // What was put in stands, at the latest, where the two first differ.
      const differing = a.findIndex((rule, i) => !sameRule(rule, b[i]))
      const place = differing < 0 ? a.length : differing
      if (!same(a.slice(place), b.slice(place + extra))) return 'other rules changed'
      const found = b
        .slice(0, b.length)
        .some((r) => r.node.type === 'rule' && headOf(r.node) === e.selector && (!e.condition || r.node.parent?.type === 'atrule'))
      return found ? null : `no rule ${e.selector}`
    }
    case 'selector': {
      if (a.length !== b.length) return `${a.length} rules before, ${b.length} after`
      const node = b[at].node
      return node.type === 'rule' && headOf(node) === e.selector && b[at].declarations.join(';') === a[at].declarations.join(';')
        ? null
        : `reads ${b[at].head}`
    }
    case 'gone':
      return b.length < a.length ? null : 'no rule is gone'
    case 'class': {
      if (a.length !== b.length || a.some((r, i) => r.declarations.join(';') !== b[i].declarations.join(';')))
        return 'more than selectors changed'
      const left = b.some((r) => r.node.type === 'rule' && classSpans(headOf(r.node), e.from).length > 0)
      return left ? `.${e.from} is still there` : null
    }
    default:
      return `a CSS file cannot hold ${e.of}`
  }
}

interface FlatNode {
  readonly name: string
  readonly attrs: string
  readonly depth: number
  readonly value: string
}

/** A document as a list of its nodes, by an independent walk over a fresh parse. */
export function flattenHtml(text: string): FlatNode[] {
  const out: FlatNode[] = []
  const stack: { node: DefaultTreeAdapterTypes.Node; depth: number }[] = [{ node: parseHtml(text), depth: 0 }]
  while (stack.length) {
    const { node, depth } = stack.pop()!
    const attrs = tree.isElementNode(node) ? JSON.stringify(node.attrs.map((x) => [x.prefix ?? '', x.name, x.value])) : ''
    out.push({
      name: node.nodeName,
      attrs,
      depth,
      value: 'value' in node ? node.value : 'data' in node ? node.data : '',
    })
    const children =
      'content' in node ? (node as DefaultTreeAdapterTypes.Template).content.childNodes : 'childNodes' in node ? node.childNodes : []
    for (let i = children.length - 1; i >= 0; i--) stack.push({ node: children[i], depth: depth + 1 })
  }
  return out
}

/** Holds an HTML edit against what was expected: one node differs, in one way. */
export function checkHtml(before: string, after: string, e: Expectation): string | null {
  const a = flattenHtml(before)
  const b = flattenHtml(after)
  if (a.length !== b.length) return `${a.length} nodes before, ${b.length} after`
  const differing = a.flatMap((n, i) =>
    n.name !== b[i].name || n.attrs !== b[i].attrs || n.depth !== b[i].depth || n.value !== b[i].value ? [i] : [],
  )
  // Formatting elements that are misnested are made again by the parser from the one tag.
  const names = new Set(differing.map((i) => `${a[i].name} ${a[i].attrs}`))
  if (names.size > 1) return `${differing.length} nodes differ`
  for (const i of differing) {
    const [x, y] = [a[i], b[i]]
    const only = (what: (keyof FlatNode)[]) =>
      (['name', 'attrs', 'depth', 'value'] as const).every((k) => what.includes(k) || x[k] === y[k])
    if (e.of === 'attribute') {
      const read =
        (JSON.parse(y.attrs) as [string, string, string][]).find(([, n]) => n.toLowerCase() === e.name.toLowerCase())?.[2] ?? null
      if (!only(['attrs'])) return 'more than an attribute differs'
      if (read !== e.value) return `${e.name} reads ${JSON.stringify(read)}`
    } else if (e.of === 'text') {
      if (!only(['value']) || y.value !== e.text) return `text reads ${JSON.stringify(y.value)}`
    } else if (e.of === 'tag') {
      if (!only(['name']) || y.name !== e.tag) return `tag reads ${y.name}`
    } else if (!only(['attrs'])) return 'more than an attribute differs'
  }
  return null
}
