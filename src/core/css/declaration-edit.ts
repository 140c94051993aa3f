import type { Span, Splice, Splices } from '../text'
import { applySplices } from '../text'
import type { HouseStyle } from './house-style'
import { lineIndent, ruleIndent } from './house-style'
import { placeFor } from './order'
import { parseDeclarationList, parseStatement } from './parse'
import { isSpace, skipComment, skipTrivia, splitTop, startsComment } from './scan'
import type { RuleSite } from './sheet'
import { isShorthand, longhandsOf } from './longhands'
import { NO_KNOWLEDGE, type Knowledge } from './components'
import { composeShorthand, partOfShorthand, setInShorthand } from './shorthand'
import { declarationsOf, isRule, type Comment, type Declaration, type Rule } from './tree'

/** Why an edit was not planned. */
export type RefusalReason =
  | 'bad-value'
  | 'bad-name'
  | 'no-block'
  | 'unparsable'
  | 'holds-comment'
  | 'not-found'
  | 'not-allowed'
  | 'read-only'
  | 'nothing-new'
  | 'stale'

export interface Refused {
  readonly ok: false
  readonly reason: RefusalReason
  readonly why: string
}

export interface Planned {
  readonly ok: true
  /** In offsets of the file. */
  readonly splices: Splices
}

export type EditPlan = Planned | Refused

export const refuse = (reason: RefusalReason, why: string): Refused => ({ ok: false, reason, why })

/** One declaration asked for. `important` left out keeps what stands there. */
export interface Wanted {
  readonly name: string
  readonly value: string
  readonly important?: boolean
  /** Whether the value says what comments stand around it too, in place of those that do now. */
  readonly comments?: boolean
}

/**
 * The declaration of `list` that decides `longhand` within its rule: the last important one, else the last. Those that
 * the engine drops are left out of `list` by the caller, so that a fallback counts where its better half does not.
 */
export function decidingDeclaration(list: readonly Declaration[], longhand: string): Declaration | null {
  let best: Declaration | null = null
  for (const d of list) {
    if (!(d.name === longhand || longhandsOf(d.name).includes(longhand))) continue
    if (!best || d.important || !best.important) best = d
  }
  return best
}

/** The declarations of a rule that the engine is not known to drop. */
export const takenDeclarations = (text: string, rule: Rule, knowledge: Knowledge): Declaration[] =>
  declarationsOf(rule).filter((d) => knowledge.takes(d.name, text.slice(d.value.from, d.value.to)))

const sameTargets = (a: string, b: string): boolean => {
  const x = longhandsOf(a),
    y = longhandsOf(b)
  return x.length === y.length && x.every((n) => y.includes(n))
}

/** Whether `text` can be the value of a declaration and end where it should (CSS Syntax 3 §5.5.6). */
export function isWholeValue(name: string, text: string): boolean {
  const source = `${name}:${text};--end:1`
  const list = parseDeclarationList(source)
  return (
    list.length === 2 &&
    list[1].name === '--end' &&
    list[0].important === null &&
    (text !== '' || name.startsWith('--')) &&
    withComments(source, list[0]).to === name.length + 1 + text.length
  )
}

/** A declaration's value with the comments that stand around it. */
export function withComments(text: string, d: Declaration): Span {
  let from = text.indexOf(':', d.nameSpan.to) + 1
  let to = d.important?.from ?? skipTrivia(text, d.value.to)
  while (from < d.value.from && isSpace(text.charCodeAt(from))) from++
  while (to > d.value.to && isSpace(text.charCodeAt(to - 1))) to--
  return { from, to }
}

const isName = (name: string): boolean => /^(--[\w-]+|-?[a-z][a-z-]*)$/i.test(name) || /^--\S+$/.test(name)

/**
 * The edit that makes the rule at `site` set `wanted`: the deciding declaration's value where there is one, the part
 * of a shorthand where it can hold it, else a new declaration at the place the rule's own order gives it.
 */
export function setDeclaration(site: RuleSite, style: HouseStyle, wanted: Wanted, knowledge: Knowledge = NO_KNOWLEDGE): EditPlan {
  const { rule } = site
  const text = site.statement.text
  if (!rule.block) return refuse('no-block', `@${(rule as { name?: string }).name} has no block to write in.`)
  if (!isName(wanted.name)) return refuse('bad-name', `“${wanted.name}” is not a property name.`)
  const value = wanted.value.trim()
  if (!isWholeValue(wanted.name, value)) return refuse('bad-value', `“${wanted.value}” cannot stand as the value of ${wanted.name}.`)
  // A value may begin on a line of its own.
  const written = /^[\r\n]/.test(wanted.value) ? wanted.value.trimEnd() : value
  const splices = planSet(text, rule, style, { ...wanted, value: written }, knowledge)
  return verified(site, splices, (after) => holds(after.text, after.rule, { ...wanted, value }, knowledge))
}

function planSet(text: string, rule: Rule, style: HouseStyle, wanted: Wanted, knowledge: Knowledge): Splice[] {
  const list = takenDeclarations(text, rule, knowledge)
  const targets = longhandsOf(wanted.name)
  const deciding = new Map(targets.map((t) => [t, decidingDeclaration(list, t)]))
  const setters = new Set(deciding.values())
  const only = setters.size === 1 ? [...setters][0] : null
  const importance = (d: Declaration): Splice[] => importantSplices(text, d, wanted.important ?? d.important !== null, style)
  const exact = only && sameTargets(only.name, wanted.name) ? only : null
  if (exact) return [replaceValue(text, wanted.comments ? withComments(text, exact) : exact.value, wanted.value), ...importance(exact)]
  if (setters.has(null) && setters.size === 1) return insertDeclaration(text, rule, style, wanted)

  // Each longhand's own text, where a shorthand was asked for and its value can be read.
  const parts = new Map<string, string>()
  for (const t of targets) {
    const part = isShorthand(wanted.name) ? partOfShorthand(wanted.name, wanted.value, t, knowledge) : wanted.value
    if (part !== null) parts.set(t, part)
  }
  if (parts.size === targets.length && !setters.has(null)) {
    const out: Splice[] = []
    for (const d of setters as Set<Declaration>) {
      if (wanted.important !== undefined && wanted.important !== (d.important !== null)) break
      const mine = new Map(targets.filter((t) => deciding.get(t) === d).map((t) => [t, parts.get(t)!]))
      const current = text.slice(d.value.from, d.value.to)
      const whole = longhandsOf(d.name).length === mine.size
      const next = sameTargets(d.name, wanted.name)
        ? wanted.value
        : !isShorthand(d.name)
          ? [...mine.values()][0]
          : (setInShorthand(d.name, current, mine, knowledge) ?? (whole ? composeShorthand(d.name, mine) : null))
      if (next === null) break
      out.push(replaceValue(text, d.value, next))
    }
    if (out.length === setters.size) return out
  }
  const strongest = [...setters].some((d) => d?.important) || undefined
  return insertDeclaration(text, rule, style, { ...wanted, important: wanted.important ?? strongest })
}

/** Only the bytes that differ: the parts of a value that stay are not written again. */
function replaceValue(text: string, at: Span, value: string): Splice {
  const before = text.slice(at.from, at.to)
  let head = 0
  while (head < before.length && head < value.length && before[head] === value[head]) head++
  let tail = 0
  const most = Math.min(before.length, value.length) - head
  while (tail < most && before[before.length - 1 - tail] === value[value.length - 1 - tail]) tail++
  return { from: at.from + head, to: at.to - tail, insert: value.slice(head, value.length - tail) }
}

function importantSplices(text: string, d: Declaration, on: boolean, style: HouseStyle): Splice[] {
  if (on === (d.important !== null)) return []
  if (on) return [{ from: d.value.to, to: d.value.to, insert: `${style.beforeImportant}!important` }]
  let from = d.important!.from
  while (from > d.value.to && isSpace(text.charCodeAt(from - 1))) from--
  return [{ from, to: d.important!.to, insert: '' }]
}

/** After `at`, past a comment that ends the same line; `at` itself when other text follows. */
function pastLineComment(text: string, at: number): number {
  let i = at
  while (text[i] === ' ' || text[i] === '\t') i++
  if (!startsComment(text, i)) return at
  const end = skipComment(text, i)
  if (/[\r\n]/.test(text.slice(i, end))) return at
  return /^[ \t]*(\r|\n|$)/.test(text.slice(end, end + 200)) ? end : at
}

export function declarationText(style: HouseStyle, wanted: Wanted): string {
  const bang = wanted.important ? `${style.beforeImportant}!important` : ''
  // A value that begins on a line of its own leaves no space behind.
  return `${wanted.name}${style.beforeColon}:${/^[\r\n]/.test(wanted.value) ? '' : style.afterColon}${wanted.value}${bang}`
}

/** A new declaration in a rule with a block, written as its neighbours are. Offsets are in the statement's text. */
function insertDeclaration(text: string, rule: Rule, style: HouseStyle, wanted: Wanted): Splice[] {
  const body = declarationText(style, wanted)
  const list = declarationsOf(rule)
  const at = list.length
    ? placeFor(
        wanted.name,
        list.map((d) => d.name),
        style.order,
      )
    : -1
  const anchor = afterStatements(text, rule, at >= 0 ? list[at] : null)
  if (anchor) {
    const indent = lineIndent(text, anchor.span.from)
    const out: Splice[] = []
    if (!anchor.semicolon) out.push({ from: anchor.span.to, to: anchor.span.to, insert: ';' })
    const end = anchor.semicolon?.to ?? anchor.span.to
    const spot = indent === null ? end : pastLineComment(text, end)
    const before = indent === null ? separatorBefore(text, rule, anchor, style) : style.lineEnd + indent
    out.push({ from: spot, to: spot, insert: before + body + (anchor.semicolon ? ';' : '') })
    return out.length === 2 && out[0].from === spot ? [{ from: spot, to: spot, insert: `;${before}${body}` }] : out
  }
  const block = rule.block!
  const inner = text.slice(block.from, block.to)
  // A comment may be what is left of a line, so it says less of the indentation than a declaration does.
  const leads = (c: { readonly span: Span }) => lineIndent(text, c.span.from) !== null
  const first = list.find(leads) ?? rule.children.find((c) => c.kind !== 'comment' || leads(c))
  const sibling = first ? lineIndent(text, first.span.from) : null
  const indent = sibling ?? ruleIndent(text, rule) + style.indent
  const oneLine = style.minified || (list.length > 0 && sibling === null) || (inner.trim() === '' && style.oneLine && !/[\r\n]/.test(inner))
  const semicolon = list.length > 0 || rule.children.length > 0 || style.lastSemicolon ? ';' : ''
  if (oneLine) {
    const pad = style.minified ? '' : ' '
    if (inner.trim() === '') return [{ from: block.from, to: block.to, insert: `${pad}${body}${semicolon}${pad}` }]
    return [{ from: block.from, to: block.from, insert: `${isSpace(inner.charCodeAt(0)) ? pad : ''}${body};` }]
  }
  const closing = /[\r\n]/.test(inner) ? '' : style.lineEnd + ruleIndent(text, rule)
  if (inner.trim() === '' && closing)
    return [{ from: block.from, to: block.to, insert: style.lineEnd + indent + body + semicolon + closing }]
  return [{ from: block.from, to: block.from, insert: style.lineEnd + indent + body + semicolon }]
}

/** What a declaration is put after. */
type Anchor = Pick<Declaration, 'span' | 'semicolon'>

// A statement such as `@apply p-4;` stands for declarations, which one before it would lose to.
function afterStatements(text: string, rule: Rule, anchor: Anchor | null): Anchor | null {
  const last = rule.children.findLast((c) => c.kind === 'at' && c.block === null)
  if (!last || (anchor && anchor.span.from > last.span.from)) return anchor
  const { to } = last.span
  return { span: last.span, semicolon: text[to - 1] === ';' ? { from: to - 1, to } : null }
}

// What stands between two declarations of a one-line rule.
function separatorBefore(text: string, rule: Rule, anchor: Anchor, style: HouseStyle): string {
  if (style.minified) return ''
  let from = anchor.span.from
  while (from > rule.block!.from && isSpace(text.charCodeAt(from - 1))) from--
  const space = text.slice(from, anchor.span.from)
  return /[\r\n]/.test(space) ? ' ' : space
}

/** The splices that take a declaration out, with its line where it has one for itself. */
function removalSplice(text: string, rule: Rule, d: Declaration): Splice[] {
  let from = d.span.from
  let to = d.semicolon?.to ?? d.span.to
  const indent = lineIndent(text, from)
  const rest = /^[ \t]*(\r\n|\n|\r)/.exec(text.slice(to, to + 500))
  if (indent !== null && rest && from > 0) return [{ from: from - indent.length, to: to + rest[0].length, insert: '' }]
  const list = declarationsOf(rule)
  const at = list.indexOf(d)
  if (!d.semicolon && at > 0) {
    // The last of `a:b;c:d` leaves without the `;` before it.
    const previous = list[at - 1]
    if (previous.semicolon && /^\s*$/.test(text.slice(previous.semicolon.to, from))) {
      return [{ from: previous.semicolon.from, to: d.span.to, insert: '' }]
    }
  }
  // What else stands on its line stays where the line begins: a comment of its own, as a rule.
  const next = indent !== null ? /^[ \t]+(?=[^\s}])/.exec(text.slice(to, to + 500)) : null
  if (next) return [{ from, to: to + next[0].length, insert: '' }]
  while (from > rule.block!.from && (text[from - 1] === ' ' || text[from - 1] === '\t')) from--
  if (from === rule.block!.from && /^[ \t]*\}/.test(text.slice(to, to + 20))) while (text[to] === ' ' || text[to] === '\t') to++
  return [{ from, to, insert: '' }]
}

const findAt = (rule: Rule, index: number): Declaration | null => declarationsOf(rule)[index] ?? null

/** Takes out the `index`-th declaration of the rule. */
export function removeDeclaration(site: RuleSite, index: number): EditPlan {
  const d = findAt(site.rule, index)
  if (!d) return refuse('not-found', `The rule has no declaration ${index}.`)
  const count = declarationsOf(site.rule).length
  return verified(site, removalSplice(site.statement.text, site.rule, d), (after) => declarationsOf(after.rule).length === count - 1)
}

export function setImportant(site: RuleSite, style: HouseStyle, index: number, on: boolean): EditPlan {
  const d = findAt(site.rule, index)
  if (!d) return refuse('not-found', `The rule has no declaration ${index}.`)
  return verified(
    site,
    importantSplices(site.statement.text, d, on, style),
    (after) => (declarationsOf(after.rule)[index]?.important !== null) === on,
  )
}

/** Switches the `index`-th declaration off by making it a comment where it stands. */
export function switchOff(site: RuleSite, index: number): EditPlan {
  const d = findAt(site.rule, index)
  if (!d) return refuse('not-found', `The rule has no declaration ${index}.`)
  const text = site.statement.text
  const to = d.semicolon?.to ?? d.span.to
  if (text.slice(d.span.from, to).includes('*/')) return refuse('holds-comment', 'A value with a comment in it cannot stand in a comment.')
  const list = declarationsOf(site.rule)
  const splices: Splice[] = [
    { from: d.span.from, to: d.span.from, insert: '/* ' },
    { from: to, to, insert: ' */' },
  ]
  return verified(site, splices, (after) => declarationsOf(after.rule).length === list.length - 1)
}

/** The declaration that a comment holds, when it holds one and nothing else. */
export function switchedOff(text: string, comment: Comment): { readonly name: string; readonly inner: Span } | null {
  if (!text.startsWith('*/', comment.span.to - 2)) return null
  const inner = text.slice(comment.span.from + 2, comment.span.to - 2)
  const list = parseDeclarationList(inner)
  if (list.length !== 1) return null
  const whole = inner.trim()
  const d = list[0]
  if (!/^(--|-?[a-z])[\w-]*$/.test(d.name) || inner.slice(d.span.from, d.semicolon?.to ?? d.span.to) !== whole) return null
  return { name: d.name, inner: { from: comment.span.from + 2, to: comment.span.to - 2 } }
}

/** Switches the declaration in the `index`-th comment of the rule on again. */
export function switchOn(site: RuleSite, index: number): EditPlan {
  const text = site.statement.text
  const comment = site.rule.children.filter((c): c is Comment => c.kind === 'comment')[index]
  const held = comment && switchedOff(text, comment)
  if (!held) return refuse('not-found', 'The comment does not hold a single declaration.')
  const inner = text.slice(held.inner.from, held.inner.to)
  const lead = /^\s*/.exec(inner)![0].length
  const trail = /\s*$/.exec(inner)![0].length
  const closes = inner.trim().endsWith(';')
  const nextItem = site.rule.children[site.rule.children.indexOf(comment) + 1]
  const needs = !closes && nextItem !== undefined
  const before = site.rule.children[site.rule.children.indexOf(comment) - 1]
  const open = before?.kind === 'declaration' && !before.semicolon
  const splices: Splice[] = [
    ...(open ? [{ from: before.span.to, to: before.span.to, insert: ';' }] : []),
    { from: comment.span.from, to: held.inner.from + lead, insert: '' },
    { from: held.inner.to - trail, to: comment.span.to, insert: needs ? ';' : '' },
  ]
  const count = declarationsOf(site.rule).length
  return verified(site, splices, (after) => declarationsOf(after.rule).length === count + 1)
}

interface After {
  readonly text: string
  readonly rule: Rule
}

/**
 * Turns splices in a statement's text into a plan in file offsets, after reading the rule again with them: it must
 * still be one rule with the same nested rules, and `expected` must hold.
 */
function verified(site: RuleSite, splices: Splice[], expected: (after: After) => boolean): EditPlan {
  const { rule, statement } = site
  const base = rule.span.from
  const sorted = splices.filter((s) => s.insert !== '' || s.from < s.to).sort((a, b) => a.from - b.from || a.to - b.to)
  const local = sorted.map((s) => ({ from: s.from - base, to: s.to - base, insert: s.insert }))
  const text = applySplices(statement.text.slice(base, rule.span.to), local)
  const items = parseStatement(text, () => 0)
  const again = items[0]
  const intact =
    items.length === 1 &&
    isRule(again) &&
    again.kind === rule.kind &&
    again.span.to === text.length &&
    again.closed === rule.closed &&
    again.children.filter(isRule).length === rule.children.filter(isRule).length &&
    text.slice(again.prelude.from, again.prelude.to) === statement.text.slice(rule.prelude.from, rule.prelude.to)
  if (!intact || !expected({ text, rule: again })) {
    return refuse('unparsable', 'The rule cannot be changed here without changing how the rest of it is read.')
  }
  return {
    ok: true,
    splices: sorted.map((s) => ({ from: s.from + statement.start, to: s.to + statement.start, insert: s.insert })),
  }
}

/** Whether the rule now gives `name` this value: through the declarations that decide its longhands. */
function holds(text: string, rule: Rule, { name, value, important, comments }: Wanted, knowledge: Knowledge): boolean {
  const list = takenDeclarations(text, rule, knowledge)
  return longhandsOf(name).every((longhand) => {
    const d = decidingDeclaration(list, longhand)
    if (!d || (important !== undefined && important !== (d.important !== null))) return false
    const at = comments ? withComments(text, d) : d.value
    const now = text.slice(at.from, at.to)
    if (sameTargets(d.name, name) && now === value) return true
    const wanted = isShorthand(name) ? partOfShorthand(name, value, longhand, knowledge) : value
    if (wanted === null) return false
    const part = isShorthand(d.name) ? partOfShorthand(d.name, now, longhand, knowledge) : now
    return part === null ? RESPELLED.has(d.name) || piecesOf(wanted).every((p) => now.includes(p)) : part === wanted
  })
}

// The items of a list, or the rows of a table: a shorthand has other parts between them.
const piecesOf = (value: string): string[] =>
  value.match(/"[^"]*"|'[^']*'/g) ?? splitTop(value, 0, value.length, ',').map(({ from, to }) => value.slice(from, to).trim())

// These spell a part differently from what was asked (`0` as `0px`, two radii around a slash): the page compares them.
const RESPELLED = new Set(['flex', 'border-radius'])
