import { inFamilies, type DeclarationOrder } from './order'
import type { Sheet } from './sheet'
import { declarationsOf, rulesIn, type Rule } from './tree'

/** How a sheet is written, measured from the sheet itself: the majority's habit, else a common default. */
export interface HouseStyle {
  readonly lineEnd: '\n' | '\r\n'
  /** One level of indentation. */
  readonly indent: string
  /** Between `:` and the value. */
  readonly afterColon: string
  readonly beforeColon: string
  /** Between the selector and `{`. */
  readonly beforeBrace: string
  /** Between the name of an at-rule and the parenthesis of its condition. */
  readonly afterAt: string
  /** After the colon of a feature in a condition. */
  readonly afterFeature: string
  /** Whether the last declaration of a rule ends in `;`. */
  readonly lastSemicolon: boolean
  /** Rules with a single declaration stand on one line. */
  readonly oneLine: boolean
  /** No line ends and no spaces that grammar does not ask for. */
  readonly minified: boolean
  /** After a comma between values. */
  readonly afterComma: string
  readonly quote: '"' | "'"
  /** `0.5` and not `.5`. */
  readonly leadingZero: boolean
  readonly hexUpper: boolean
  /** `#fff` where it can stand for `#ffffff`. */
  readonly hexShort: boolean
  /** Colours as `rgba(1, 2, 3, 0.5)` and not as `rgb(1 2 3 / 50%)`; null where the sheet has neither. */
  readonly commas: boolean | null
  /** Times in `s` and not in `ms`; null where the sheet has none. */
  readonly seconds: boolean | null
  /** Blank lines between top-level rules. */
  readonly blankLines: number
  readonly order: DeclarationOrder
  /** Before `!important`. */
  readonly beforeImportant: string
}

class Tally {
  private readonly counts = new Map<string, number>()
  add(habit: string): void {
    this.counts.set(habit, (this.counts.get(habit) ?? 0) + 1)
  }
  most(fallback: string): string {
    let best = fallback
    let most = 0
    for (const [habit, n] of this.counts) if (n > most) [best, most] = [habit, n]
    return best
  }
  count(habit: string): number {
    return this.counts.get(habit) ?? 0
  }
}

/** Rules looked at; a habit shows long before, and a very large sheet must not make an edit wait. */
const SAMPLE = 1500

export function measureHouseStyle(sheet: Sheet): HouseStyle {
  const indent = new Tally(),
    afterColon = new Tally(),
    beforeColon = new Tally(),
    beforeBrace = new Tally(),
    afterAt = new Tally(),
    afterFeature = new Tally()
  const semicolon = new Tally(),
    oneLine = new Tally(),
    afterComma = new Tally(),
    quote = new Tally()
  const zero = new Tally(),
    hexCase = new Tally(),
    hexLength = new Tally(),
    blank = new Tally(),
    bang = new Tally(),
    commas = new Tally(),
    times = new Tally()
  let sorted = 0
  let unsorted = 0
  let grouped = 0
  let mixed = 0
  let seen = 0
  let lineEnds = 0

  for (const statement of sheet.statements) {
    if (seen > SAMPLE) break
    lineEnds += statement.lineEnds
    const { text } = statement
    if (seen > 0 && statement.items.some((i) => i.kind === 'style')) {
      const lead = /^\s*/.exec(text)![0]
      blank.add(String(Math.max(0, lead.split('\n').length - 2)))
    }
    for (const { rule, parents } of rulesIn(statement.items)) {
      seen++
      if (!rule.block) continue
      if (rule.kind === 'at') {
        const prelude = text.slice(rule.prelude.from, rule.prelude.to)
        const room = text.slice(rule.span.from + 1 + rule.name.length, rule.prelude.from)
        if (prelude.startsWith('(') && /^[ \t]*$/.test(room)) afterAt.add(room)
        for (const [, space] of prelude.matchAll(/\(\s*[\w-]+\s*:([ \t]*)/g)) afterFeature.add(space)
      }
      if (rule.kind === 'style') beforeBrace.add(/\s*$/.exec(text.slice(rule.prelude.to, rule.block.from - 1))![0])
      const declarations = declarationsOf(rule)
      if (declarations.length === 0) continue
      const last = declarations[declarations.length - 1]
      if (rule.closed && rule.children[rule.children.length - 1] === last) semicolon.add(String(last.semicolon !== null))
      if (declarations.length === 1) oneLine.add(String(!/[\r\n]/.test(text.slice(rule.span.from, rule.span.to))))
      const names = declarations.map((d) => d.name.replace(/^-\w+-/, ''))
      if (names.length > 2) {
        if (names.every((n, i) => i === 0 || names[i - 1] <= n)) sorted++
        else unsorted++
        if (inFamilies(names)) grouped++
        else mixed++
      }
      for (const d of declarations) {
        const lead = lineIndent(text, d.span.from)
        // In a `style` element all rules may be indented.
        const own = ruleIndent(text, rule)
        if (lead !== null) indent.add(parents.length ? '' : lead.startsWith(own) ? lead.slice(own.length) : lead)
        const colon = text.indexOf(':', d.nameSpan.to)
        beforeColon.add(text.slice(d.nameSpan.to, colon))
        if (!d.name.startsWith('--')) afterColon.add(/^\s*/.exec(text.slice(colon + 1, d.value.to))![0])
        if (d.important) bang.add(text.slice(d.value.to, d.important.from))
        const value = text.slice(d.value.from, d.value.to)
        for (const [, q] of value.matchAll(/(["'])/g)) quote.add(q)
        for (const [, space] of value.matchAll(/,([ \t]*)(?=\S)/g)) afterComma.add(space)
        if (/(^|[^\d.])0\.\d/.test(value)) zero.add('0.')
        if (/(^|[^\d])\.\d/.test(value)) zero.add('.')
        for (const [, args] of value.matchAll(/\b(?:rgb|hsl)a?\(([^()]*)\)/gi)) commas.add(String(args.includes(',')))
        for (const [, unit] of value.matchAll(/(?:^|[\s,(])[\d.]+(m?s)\b/gi)) times.add(unit.toLowerCase())
        for (const [, hex] of value.matchAll(/#([0-9a-f]{3,8})\b/gi)) {
          if (/[a-f]/i.test(hex)) hexCase.add(/[A-F]/.test(hex) ? 'upper' : 'lower')
          if (hex.length < 5) hexLength.add('short')
          else if (/^(?:(.)\1){3,4}$/i.test(hex)) hexLength.add('long')
        }
      }
    }
  }
  const measured = indent.most('')
  const minified = seen > 2 && lineEnds * 8 < seen && afterColon.most('') === ''
  return {
    lineEnd: sheet.lineEnd,
    indent: measured !== '' ? measured : '  ',
    afterColon: afterColon.most(' ').includes('\n') ? ' ' : afterColon.most(' '),
    beforeColon: beforeColon.most(''),
    beforeBrace: beforeBrace.most(' '),
    lastSemicolon: semicolon.most('true') === 'true',
    oneLine: oneLine.count('true') > oneLine.count('false'),
    minified,
    afterAt: afterAt.most(' '),
    afterFeature: afterFeature.most(minified ? '' : ' '),
    afterComma: afterComma.most(minified ? '' : ' '),
    quote: quote.most('"') as '"' | "'",
    leadingZero: zero.count('0.') >= zero.count('.'),
    commas: commas.most('') === '' ? null : commas.most('') === 'true',
    seconds: times.most('') === '' ? null : times.most('') === 's',
    hexUpper: hexCase.count('upper') > hexCase.count('lower'),
    hexShort: hexLength.count('short') >= hexLength.count('long'),
    blankLines: minified ? 0 : Number(blank.most('1')),
    order: sorted > 2 && sorted > unsorted * 3 ? 'alphabetical' : grouped > 2 && grouped > mixed * 3 ? 'grouped' : 'none',
    beforeImportant: bang.most(minified ? '' : ' '),
  }
}

/** The indentation of the line that `offset` stands in; null when other text stands before it on that line. */
export function lineIndent(text: string, offset: number): string | null {
  let i = offset
  while (i > 0 && (text[i - 1] === ' ' || text[i - 1] === '\t')) i--
  return i === 0 || text[i - 1] === '\n' || text[i - 1] === '\r' ? text.slice(i, offset) : null
}

/** The indentation of a rule's own line, even when the rule does not begin it. */
export function ruleIndent(text: string, rule: Rule): string {
  let i = rule.span.from
  while (i > 0 && text[i - 1] !== '\n' && text[i - 1] !== '\r') i--
  return /^[ \t]*/.exec(text.slice(i, rule.span.from))![0]
}
