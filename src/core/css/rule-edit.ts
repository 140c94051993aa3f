import type { Splice } from '../text'
import { declarationText, refuse, type EditPlan, type Wanted } from './declaration-edit'
import { ruleIndent, type HouseStyle } from './house-style'
import { isNarrower, widthRange } from './media'
import { parseStatement } from './parse'
import { skipComponent, skipName, skipToken, startsComment } from './scan'
import { oneOfNames } from './selector'
import { splitSelectors } from './selector-list'
import { textOf, type RuleSite, type Sheet } from './sheet'
import { stateAround } from './state-around'
import { isRule, type AtRule, type CssItem, type Rule } from './tree'

/** A rule to be written. */
export interface NewRule {
  readonly selector: string
  readonly declarations: readonly Wanted[]
}

const isOneRule = (text: string, declarations: number): boolean => {
  const items = parseStatement(text, () => 0)
  const [rule] = items
  return (
    items.length === 1 &&
    (rule.kind === 'style' || (rule.kind === 'at' && rule.name === 'font-face')) &&
    rule.closed &&
    rule.span.to === text.length &&
    rule.children.length === declarations &&
    rule.children.every((c) => c.kind === 'declaration')
  )
}

/** The text of a rule in the sheet's own style, its first line without indentation. */
export function ruleText(style: HouseStyle, indent: string, rule: NewRule): string {
  const body = rule.declarations.map((d) => declarationText(style, d))
  const last = style.lastSemicolon ? ';' : ''
  if (style.minified) return `${rule.selector}${style.beforeBrace}{${body.join(';')}${last}}`
  if (style.oneLine && body.length === 1) return `${rule.selector}${style.beforeBrace}{ ${body[0]}${last} }`
  const lines = body.map((b, i) => `${indent}${style.indent}${b}${i < body.length - 1 ? ';' : last}`)
  return [`${rule.selector}${style.beforeBrace}{`, ...lines, `${indent}}`].join(style.lineEnd)
}

const siblingsOf = (site: RuleSite): readonly CssItem[] => site.parents.at(-1)?.children ?? site.statement.items

/** White space between a rule and its neighbour before or after it, where nothing else stands between; null elsewhere. */
function gapBeside(sheet: Sheet, site: RuleSite): string | null {
  const file = (offset: number) => site.statement.start + offset
  const list = siblingsOf(site)
  const at = list.indexOf(site.rule)
  const beforeEnd = list[at - 1] && isRule(list[at - 1]) ? file(list[at - 1].span.to) : null
  const from = beforeEnd ?? (site.parents.length === 0 ? previousEnd(sheet, site) : null)
  const gap = from === null ? null : sheet.slice(from, file(site.rule.span.from))
  return gap !== null && /^\s*$/.test(gap) ? gap : null
}

function previousEnd(sheet: Sheet, site: RuleSite): number | null {
  if (site.statement.start === 0) return null
  const before = sheet.statementAt(site.statement.start - 1)!
  return before.items.some(isRule) ? site.statement.start : null
}

/**
 * Adds a rule right after the one at `site`, so that it wins over it at equal specificity, spaced as its neighbours
 * are. A rule within a condition block goes into that block.
 */
export function insertRuleAfter(sheet: Sheet, site: RuleSite, style: HouseStyle, rule: NewRule): EditPlan {
  if (!site.rule.closed) return refuse('unparsable', 'The rule before it is not closed.')
  const indent = style.minified ? '' : ruleIndent(site.statement.text, site.rule)
  const text = ruleText(style, indent, rule)
  if (!isOneRule(text, rule.declarations.length)) return refuse('bad-value', 'The selector or a value would not be read as one rule.')
  const gap = style.minified ? '' : (gapBeside(sheet, site) ?? style.lineEnd.repeat(style.blankLines + 1) + indent)
  const lead = style.minified || /[\r\n]/.test(gap) ? gap : style.lineEnd + indent
  const at = site.statement.start + site.rule.span.to
  return { ok: true, splices: [{ from: at, to: at, insert: lead + text }] }
}

/** Adds a rule before the first of the sheet, after what has to stand first (CSS Cascade 5 §6.4.1, CSS Syntax 3 §3.2). */
export function prependRule(sheet: Sheet, style: HouseStyle, rule: NewRule): EditPlan {
  const first = [...sheet.rules()].find(
    (s) => s.parents.length === 0 && !(s.rule.kind === 'at' && /^(charset|import|namespace|layer)$/.test(s.rule.name)),
  )
  if (!first) return appendRule(sheet, style, rule)
  const indent = style.minified ? '' : ruleIndent(first.statement.text, first.rule)
  const text = ruleText(style, indent, rule)
  if (!isOneRule(text, rule.declarations.length)) return refuse('bad-value', 'The selector or a value would not be read as one rule.')
  const at = first.statement.start + first.rule.span.from
  return {
    ok: true,
    splices: [{ from: at, to: at, insert: text + (style.minified ? '' : style.lineEnd.repeat(style.blankLines + 1) + indent) }],
  }
}

/** The indentation of a sheet's last rule at the top level: in a `style` element all of them may be indented. */
export function topIndent(sheet: Sheet, style: HouseStyle): string {
  const last = style.minified ? undefined : [...sheet.rules()].findLast((s) => s.parents.length === 0)
  return last ? ruleIndent(last.statement.text, last.rule) : ''
}

/** Adds a rule at the end of the sheet. */
export function appendRule(sheet: Sheet, style: HouseStyle, rule: NewRule): EditPlan {
  const indent = topIndent(sheet, style)
  const text = ruleText(style, indent, rule)
  if (!isOneRule(text, rule.declarations.length)) return refuse('bad-value', 'The selector or a value would not be read as one rule.')
  const last = sheet.statements.at(-1)
  if (last && last.items.some((i) => isRule(i) && !i.closed)) return refuse('unparsable', 'The last rule of the sheet is not closed.')
  const all = sheet.text
  if (/\/\*(?:(?!\*\/)[^])*$/.test(last?.text ?? '')) return refuse('unparsable', 'A comment at the end of the sheet is not closed.')
  const trailing = /\s*$/.exec(all)![0]
  const at = all.length - trailing.length
  const lead = style.minified ? '' : at === 0 ? indent : style.lineEnd.repeat(style.blankLines + 1) + indent
  return { ok: true, splices: [{ from: at, to: at, insert: lead + text }] }
}

/** The same condition, whatever its white space and case. */
export const sameCondition = (a: string, b: string): boolean => a.replace(/\s+/g, '').toLowerCase() === b.replace(/\s+/g, '').toLowerCase()

/** Where a rule under a condition is written: after a rule in a block that is there, into an empty one, or in a new block after a rule. */
export type UnderPlace =
  | { readonly kind: 'after'; readonly rule: RuleSite }
  | { readonly kind: 'empty'; readonly block: RuleSite }
  | { readonly kind: 'new-block'; readonly after: RuleSite }

/** The layers that a rule stands in, outermost first, as far as nothing else stands between. */
const layersAround = ({ parents }: RuleSite): readonly Rule[] => {
  const end = parents.findIndex((p) => p.kind !== 'at' || p.name !== 'layer')
  return end < 0 ? parents : parents.slice(0, end)
}

/**
 * The place for a rule under a condition that has to win over `base`. Of the blocks of the same condition that stand
 * after it: the last that is about the same classes or ids, else the nearest. Where there is none, a new block: after
 * the last of its kind that is about the same, or the last at all where only such blocks follow; else after `base`. It
 * stands before those that hold at some of its widths alone, which are to go on winning there.
 */
export function placeUnder(sheet: Sheet, base: RuleSite, name: string, condition: string): UnderPlace {
  // What stands in layers stays in them.
  const layers = layersAround(base)
  const own = sheet.site((base.parents[layers.length] ?? base.rule).id)
  const about = namesIn(textOf(base, base.rule.prelude))
  const after = base.statement.start + base.rule.span.to
  const widths = widthRange(condition)
  const isBeside = ({ parents }: RuleSite) => parents.length === layers.length && parents.every((p, i) => p.id === layers[i].id)
  const following = [...sheet.rules()].filter((s) => isBeside(s) && s.statement.start + s.rule.span.from >= after)
  const blocks = following.flatMap((site, i) => {
    const { rule } = site
    if (rule.kind !== 'at' || rule.name !== name || !rule.block || !rule.closed) return []
    return [
      {
        site,
        text: textOf(site, rule.prelude),
        isRelated: about !== null && about.test(textOf(site, rule.block)),
        before: following[i - 1] ?? own,
      },
    ]
  })
  const same = blocks.filter((b) => sameCondition(b.text, condition))
  const block = (same.findLast((b) => b.isRelated) ?? same[0])?.site
  if (!block) {
    const related = blocks.filter((b) => b.isRelated)
    const areLast = blocks.length > 0 && following.slice(following.indexOf(blocks[0].site)).every((s) => s.rule.kind === 'at')
    const among = related.length ? related : areLast ? blocks : []
    const narrower = among.find((b) => isNarrower(widthRange(b.text), widths))
    return { kind: 'new-block', after: narrower?.before ?? among.at(-1)?.site ?? own }
  }
  const inside = block.rule.children.findLast((c): c is Rule => isRule(c))
  return inside ? { kind: 'after', rule: sheet.site(inside.id) } : { kind: 'empty', block }
}

// How the sheet sets its blocks of a kind off from what is before them.
function gapBeforeBlock(sheet: Sheet, name: string): string | null {
  for (const site of sheet.rules()) {
    if (layersAround(site).length !== site.parents.length || site.rule.kind !== 'at' || site.rule.name !== name || !site.rule.block)
      continue
    const gap = gapBeside(sheet, site)
    if (gap !== null && /[\r\n]/.test(gap)) return gap
  }
  return null
}

/** Finds one of the classes and ids that a selector names; null where it names none. */
const namesIn = (selector: string): RegExp | null =>
  oneOfNames([...new Set([...selector.matchAll(/(?<!\\)[.#](?:[\w-]|[^\0-\x7f]|\\.)+/g)].map(([name]) => name))])

/** What an at-rule begins with, its condition spelled as the sheet's others are. */
export const atHead = (style: HouseStyle, name: string, condition: string): string =>
  `@${name}${condition.startsWith('(') ? style.afterAt : ' '}${condition.replace(/(\(\s*[\w-]+\s*:)\s*/g, `$1${style.afterFeature}`)}`

/** The text of a rule under a condition, its lines but the first indented. */
export function blockText(style: HouseStyle, name: string, condition: string, rule: NewRule, indent = ''): string {
  const inside = indent + style.indent
  const inner = style.minified
    ? ruleText(style, '', rule)
    : `${style.lineEnd}${inside}${ruleText(style, inside, rule)}${style.lineEnd}${indent}`
  return `${atHead(style, name, condition)}${style.beforeBrace}{${inner}}`
}

/** Writes a rule under a condition, at the place {@link placeUnder} finds for it. */
export function insertUnder(sheet: Sheet, base: RuleSite, style: HouseStyle, name: string, condition: string, rule: NewRule): EditPlan {
  if (!isOneRule(ruleText(style, '', rule), rule.declarations.length))
    return refuse('bad-value', 'The selector or a value would not be read as one rule.')
  const place = placeUnder(sheet, base, name, condition)
  if (place.kind === 'after') return insertRuleAfter(sheet, place.rule, style, rule)
  if (place.kind === 'empty') {
    const { block } = place
    const outer = style.minified ? '' : ruleIndent(block.statement.text, block.rule)
    const indent = style.minified ? '' : outer + style.indent
    const { from, to } = (block.rule as AtRule).block!
    if (textOf(block, { from, to }).trim() !== '') return refuse('unparsable', 'The block holds something that is not a rule.')
    const span = { from: from + block.statement.start, to: to + block.statement.start }
    const text = ruleText(style, indent, rule)
    return {
      ok: true,
      splices: [{ ...span, insert: style.minified ? text : `${style.lineEnd}${indent}${text}${style.lineEnd}${outer}` }],
    }
  }
  const { after } = place
  if (!after.rule.closed) return refuse('unparsable', 'The rule before it is not closed.')
  const indent = style.minified ? '' : ruleIndent(after.statement.text, after.rule)
  const text = blockText(style, name, condition, rule, indent)
  const items = parseStatement(text, () => 0)
  const [at] = items
  if (items.length !== 1 || at.kind !== 'at' || !at.closed || at.span.to !== text.length || at.children.length !== 1) {
    return refuse('bad-value', 'The condition, the selector or a value would not be read as one block.')
  }
  const gap = style.minified ? '' : (gapBeforeBlock(sheet, name) ?? style.lineEnd.repeat(Math.max(1, style.blankLines) + 1))
  // The gap of another depth has another indentation.
  const lead = gap.replace(/[^\r\n]*$/, '') + indent
  const where = after.statement.start + after.rule.span.to
  return { ok: true, splices: [{ from: where, to: where, insert: lead + text }] }
}

/** Whether most of the sheet's state rules, and of its conditions, stand inside the rule they are about (CSS Nesting 1). */
export function nestingHabit(sheet: Sheet): { readonly states: boolean; readonly conditions: boolean } {
  let states = 0
  let conditions = 0
  for (const site of sheet.rules()) {
    const inStyle = site.parents.some((p) => p.kind === 'style') ? 1 : -1
    if (site.rule.kind === 'at') conditions += site.rule.name === 'media' ? inStyle : 0
    else if (/:(hover|focus|active|focus-visible|focus-within|checked|disabled)\b/.test(textOf(site, site.rule.prelude))) states += inStyle
  }
  return { states: states > 0, conditions: conditions > 0 }
}

/** What `selectors` adds to each selector of a rule, when it is the same text: `.a:hover, .b:hover` over `.a, .b` gives `:hover`. `.a__b` adds nothing to `.a`: `&__b` is no such name (CSS Nesting 1 §4). */
export function nestedSuffix(base: RuleSite, selectors: string): string | null {
  const own = splitSelectors(textOf(base, base.rule.prelude))
  const wanted = splitSelectors(selectors)
  if (own.length !== wanted.length || !own.every((s, i) => wanted[i].startsWith(s))) return null
  const suffix = wanted[0].slice(own[0].length)
  return /^($|[.#:[\s>+~])/.test(suffix) && own.every((s, i) => wanted[i] === s + suffix) ? suffix : null
}

/** Writes a rule, or a condition with declarations, as the last thing in the block of `base`: `&:hover { … }`, `@media … { … }`. */
export function nestRule(base: RuleSite, style: HouseStyle, rule: NewRule): EditPlan {
  const text = base.statement.text
  const { block, closed } = base.rule
  if (!block || !closed) return refuse('no-block', 'The rule has no closed block to write in.')
  const last = base.rule.children.at(-1)
  const inner = text.slice(block.from, block.to)
  const many = /[\r\n]/.test(inner) || (!style.oneLine && !style.minified)
  const indent = many ? ruleIndent(text, base.rule) + style.indent : ''
  const body = ruleText(many ? style : { ...style, oneLine: true }, indent, rule)
  const open = last?.kind === 'declaration' && !last.semicolon ? ';' : ''
  const at = last ? (last.kind === 'declaration' && last.semicolon ? last.semicolon.to : last.span.to) : block.from
  const lead = style.minified ? '' : many ? style.lineEnd.repeat(last && style.blankLines > 0 ? 2 : 1) + indent : ' '
  const tail =
    many && !/[\r\n]/.test(text.slice(at, block.to))
      ? style.lineEnd + ruleIndent(text, base.rule)
      : !many && !style.minified && at === block.to
        ? ' '
        : ''
  const insert = open + lead + body + tail
  const again = parseStatement(text.slice(base.rule.span.from, at) + insert + text.slice(at, base.rule.span.to), () => 0)
  const [read] = again
  if (
    again.length !== 1 ||
    !isRule(read) ||
    read.children.length !== base.rule.children.length + 1 ||
    read.span.to !== base.rule.span.to - base.rule.span.from + insert.length
  ) {
    return refuse('bad-value', 'The selector or a value would not be read as one rule.')
  }
  return { ok: true, splices: [{ from: at + base.statement.start, to: at + base.statement.start, insert }] }
}

/** The selectors of a state beside those of a base rule: `a, b` gives `a:hover, b:hover`. */
export function stateSelectors(prelude: string, state: string): string {
  if (state.endsWith(' &'))
    return splitSelectors(prelude)
      .map((s) => besideState(s, state.slice(0, -2)))
      .join(', ')
  return splitSelectors(prelude)
    .map((s) => {
      // A pseudo-element stays last (Selectors 4 §3.6.1).
      const element = /::[\w-]+(\([^)]*\))?$|:(before|after|first-line|first-letter)$/.exec(s)
      return element ? s.slice(0, element.index) + state + element[0] : s + state
    })
    .join(', ')
}

// `.card .name` in `.card:hover` is `.card:hover .name`; where the selector does not name the element around, it comes before all.
function besideState(selector: string, around: string): string {
  const compound = stateAround(`${around} &`)?.compound ?? ''
  const at = compound === '' ? -1 : selector.indexOf(`${compound} `)
  return at < 0 || /[\w-]/.test(selector[at - 1] ?? '')
    ? `${around} ${selector}`
    : selector.slice(0, at) + around + selector.slice(at + compound.length)
}

/** Writes another selector list for a rule; the rest of the rule stays. */
export function setSelector(site: RuleSite, selector: string): EditPlan {
  const wanted = selector.trim()
  if (site.rule.kind !== 'style') return refuse('no-block', 'Only a style rule has a selector.')
  const items = parseStatement(`${wanted}{}`, () => 0)
  const [rule] = items
  if (
    wanted === '' ||
    items.length !== 1 ||
    rule.kind !== 'style' ||
    rule.block.from !== wanted.length + 1 ||
    rule.prelude.to !== wanted.length ||
    /^(--)?[\w-]+\s*:\s*\{?$/.test(wanted)
  ) {
    return refuse('bad-value', `“${selector}” cannot stand as a selector.`)
  }
  // A combinator joins two compounds; the first may be left out where the rule is nested (Selectors 4 §3.1, CSS Nesting 1 §3).
  const nested = site.parents.some((p) => p.kind === 'style' || p.name === 'scope')
  if (splitSelectors(wanted).some((s) => s === '' || /[>+~]$/.test(s.replace(/\\[>+~]$/, '')) || (!nested && /^[>+~]/.test(s)))) {
    return refuse('bad-value', `“${selector}” cannot stand as a selector: a combinator in it has nothing to join.`)
  }
  // Nested, `a:hover` could be read as a declaration by old engines but not by CSS Syntax 3.
  const { from, to } = site.rule.prelude
  return { ok: true, splices: [{ from: from + site.statement.start, to: to + site.statement.start, insert: wanted }] }
}

/** Where class `name` stands in a selector, without its dot; strings, attribute values and comments are passed by. */
export const classSpans = (selector: string, name: string) => nameSpans(selector, '.', name)

function nameSpans(selector: string, mark: '.' | '#', name: string): { from: number; to: number }[] {
  const out: { from: number; to: number }[] = []
  for (let i = 0; i < selector.length;) {
    if (startsComment(selector, i)) i = skipComponent(selector, i)
    else if (selector[i] === mark) {
      const end = skipName(selector, i + 1)
      if (unescapeName(selector.slice(i + 1, end)) === name) out.push({ from: i + 1, to: end })
      i = Math.max(end, i + 1)
    } else if (selector[i] === '[') i = skipComponent(selector, i)
    else i = '({'.includes(selector[i]) ? i + 1 : skipToken(selector, i)
  }
  return out
}

const unescapeName = (s: string): string =>
  s.replace(/\\([0-9a-f]{1,6})\s?|\\(.)/gi, (_, hex: string, c: string) => (hex ? String.fromCodePoint(parseInt(hex, 16) || 0xfffd) : c))

/** A class name as it stands in a selector (CSSOM §2.1, serialize an identifier). */
export const escapeName = (name: string): string =>
  [...name]
    .map((c, i) => {
      if (
        /[\w\u0080-\u{10ffff}-]/u.test(c) &&
        !(i === 0 && /\d/.test(c)) &&
        !(i === 1 && /\d/.test(c) && name[0] === '-') &&
        !(name === '-')
      )
        return c
      return /[\d\n\t]/.test(c) || c.charCodeAt(0) < 32 ? `\\${c.codePointAt(0)!.toString(16)} ` : `\\${c}`
    })
    .join('')

/** Renames a class in every selector of the sheet. */
export const renameClass = (sheet: Sheet, from: string, to: string): Splice[] => renameIn(sheet, '.', from, to)

/** Renames an id in every selector of the sheet. */
export const renameId = (sheet: Sheet, from: string, to: string): Splice[] => renameIn(sheet, '#', from, to)

function renameIn(sheet: Sheet, mark: '.' | '#', from: string, to: string): Splice[] {
  const splices: Splice[] = []
  const text = escapeName(to)
  for (const site of sheet.rules()) {
    if (site.rule.kind !== 'style' && site.rule.name !== 'scope') continue
    const start = site.statement.start + site.rule.prelude.from
    for (const span of nameSpans(textOf(site, site.rule.prelude), mark, from))
      splices.push({ from: start + span.from, to: start + span.to, insert: text })
  }
  return splices
}
