import type { Span, Splices } from '../text'
import { lineEndOf, mapOffset } from '../text'
import { parseStatement, statementEnd } from './parse'
import { rulesIn, type CssItem, type Declaration, type Rule } from './tree'

/** Running totals that change in place: `add` and `before` take time in the logarithm of the count (a Fenwick tree). */
class Totals {
  private readonly tree: number[]

  constructor(values: readonly number[]) {
    this.tree = [0, ...values]
    for (let i = 1; i < this.tree.length; i++) {
      const up = i + (i & -i)
      if (up < this.tree.length) this.tree[up] += this.tree[i]
    }
  }

  add(index: number, by: number): void {
    for (let i = index + 1; i < this.tree.length; i += i & -i) this.tree[i] += by
  }

  /** The sum of the values before `index`. */
  before(index: number): number {
    let sum = 0
    for (let i = index; i > 0; i -= i & -i) sum += this.tree[i]
    return sum
  }

  /** The last index whose sum before it is at most `sum`. */
  find(sum: number): number {
    let at = 0
    for (let step = 2 ** Math.floor(Math.log2(Math.max(1, this.tree.length - 1))); step >= 1; step /= 2) {
      if (at + step < this.tree.length && this.tree[at + step] <= sum) {
        at += step
        sum -= this.tree[at]
      }
    }
    return Math.min(at, this.tree.length - 2)
  }
}

interface Places {
  lengths: Totals
  lines: Totals
}

/** One top-level statement with the white space and comments before it. Concatenated, they are the file. */
export class Statement {
  readonly lineEnds: number

  constructor(readonly text: string, readonly items: readonly CssItem[], private readonly places: Places, public index = 0) {
    this.lineEnds = countLineEnds(text)
  }

  /** Offset of `text` in the file as it is now. */
  get start(): number {
    return this.places.lengths.before(this.index)
  }

  /** Line ends before `start`. */
  get linesBefore(): number {
    return this.places.lines.before(this.index)
  }
}

/** A rule where it stands: `at` is what to add to its spans to get offsets in the file. */
export interface RuleSite {
  readonly rule: Rule
  readonly parents: readonly Rule[]
  readonly statement: Statement
}

function countLineEnds(text: string, to = text.length): number {
  let n = 0
  for (let i = 0; i < to; i++) {
    const c = text.charCodeAt(i)
    if (c === 10 || (c === 13 && text.charCodeAt(i + 1) !== 10)) n++
  }
  return n
}

/**
 * A style sheet as a list of statements that are parsed each on its own. An edit parses again only the statements
 * it touches; the others move. Rules keep their ids through edits that leave their selector's start in place.
 */
export class Sheet {
  statements: Statement[] = []
  private readonly places: Places = { lengths: new Totals([]), lines: new Totals([]) }
  private lastId = 0
  /** Counts up with each edit. */
  revision = 0
  private readonly sites = new Map<number, RuleSite>()
  private joined: string | null
  readonly lineEnd: '\n' | '\r\n'

  constructor(text: string) {
    this.joined = text
    this.lineEnd = lineEndOf(text)
    for (let at = 0; at < text.length; ) {
      const end = statementEnd(text, at)
      this.statements.push(this.parse(text.slice(at, end)))
      at = end
    }
    this.place()
  }

  private parse(text: string): Statement {
    const items = parseStatement(text, () => ++this.lastId)
    const statement = new Statement(text, items, this.places)
    for (const { rule, parents } of rulesIn(items)) this.sites.set(rule.id, { rule, parents, statement })
    return statement
  }

  private place(): void {
    this.statements.forEach((s, i) => {
      s.index = i
    })
    this.places.lengths = new Totals(this.statements.map((s) => s.text.length))
    this.places.lines = new Totals(this.statements.map((s) => s.lineEnds))
  }

  get length(): number {
    return this.places.lengths.before(this.statements.length)
  }

  get text(): string {
    return (this.joined ??= this.statements.map((s) => s.text).join(''))
  }

  /** The text of `[from, to)`, without joining the whole file. */
  slice(from: number, to: number): string {
    if (this.joined !== null) return this.joined.slice(from, to)
    let out = ''
    let i = this.statements.length ? this.indexAt(from) : 0
    for (let start = this.statements[i]?.start ?? 0; i < this.statements.length && start < to; i++) {
      const { text } = this.statements[i]
      out += text.slice(Math.max(0, from - start), to - start)
      start += text.length
    }
    return out
  }

  /** The rule with this id. @throws RangeError when the sheet has none. */
  site(id: number): RuleSite {
    const site = this.sites.get(id)
    if (!site) throw new RangeError(`The sheet has no rule ${id}`)
    return site
  }

  hasRule(id: number): boolean {
    return this.sites.has(id)
  }

  /** All rules in source order, parents first. */
  *rules(): Generator<RuleSite> {
    for (const statement of this.statements) yield* this.rulesOf(statement)
  }

  *rulesOf(statement: Statement): Generator<RuleSite> {
    for (const { rule, parents } of rulesIn(statement.items)) yield { rule, parents, statement }
  }

  /** 1-based line of `offset`, counted in the statement's own text. */
  lineAt(statement: Statement, offset: number): number {
    return statement.linesBefore + countLineEnds(statement.text, offset) + 1
  }

  /** Index of the statement that holds file offset `at`; the last one for the end of the file. */
  private indexAt(at: number): number {
    return this.places.lengths.find(at)
  }

  /** The statement that holds file offset `at`; null in an empty sheet. */
  statementAt(at: number): Statement | null {
    return this.statements[this.indexAt(at)] ?? null
  }

  /**
   * Applies splices in file offsets; reads again only the statements around them. Gives the ids of rules that are
   * gone. @throws RangeError when a splice does not fit the file.
   */
  apply(splices: Splices): { removed: number[] } {
    this.revision++
    const removed: number[] = []
    for (let i = splices.length - 1; i >= 0; i--) removed.push(...this.applyOne(splices[i]))
    return { removed }
  }

  private applyOne(splice: { from: number; to: number; insert: string }): number[] {
    if (splice.from < 0 || splice.to > this.length || splice.to < splice.from) {
      throw new RangeError(`Splice [${splice.from}, ${splice.to}) does not fit a sheet of ${this.length}`)
    }
    this.joined = null
    const first = this.statements.length ? this.indexAt(splice.from) : 0
    let last = this.statements.length ? this.indexAt(splice.to) : -1
    const start = this.statements[first]?.start ?? 0
    let old = ''
    for (let i = first; i <= last; i++) old += this.statements[i].text
    let text = old.slice(0, splice.from - start) + splice.insert + old.slice(splice.to - start)

    // Split the changed text again; take in following statements until an end falls on the end of one of them.
    const ends: number[] = []
    for (let at = 0; at < text.length; ) {
      const end = statementEnd(text, at)
      if (end < text.length || last === this.statements.length - 1 || isClosed(text, at, end)) ends.push((at = end))
      else {
        // A sheet-long unclosed block would otherwise be scanned once for each statement it swallows.
        const take = Math.max(1, last - first + 1)
        const stop = Math.min(this.statements.length - 1, last + take)
        while (last < stop) {
          const next = this.statements[++last].text
          old += next
          text += next
        }
      }
    }

    const before = this.statements.slice(first, last + 1)
    const after: Statement[] = []
    let from = 0
    for (const end of ends) {
      after.push(this.parse(text.slice(from, end)))
      from = end
    }
    if (after.length === 1 && before.length === 1) {
      after[0].index = first
      this.statements[first] = after[0]
      this.places.lengths.add(first, after[0].text.length - before[0].text.length)
      this.places.lines.add(first, after[0].lineEnds - before[0].lineEnds)
    } else {
      this.statements = [...this.statements.slice(0, first), ...after, ...this.statements.slice(last + 1)]
      this.place()
    }
    return this.keepIds(before, after, start, splice)
  }

  // A rule is the same rule when its start is where the splice moved it and its kind is unchanged.
  private keepIds(before: Statement[], after: Statement[], base: number, splice: { from: number; to: number; insert: string }): number[] {
    const found = new Map<number, RuleSite>()
    for (const statement of after) {
      for (const site of rulesIn(statement.items)) {
        found.set(statement.start + site.rule.span.from, { ...site, statement })
      }
    }
    const removed: number[] = []
    let at = base
    for (const statement of before) {
      for (const { rule } of rulesIn(statement.items)) {
        const id = rule.id
        const now = found.get(mapOffset([splice], at + rule.span.from, 'after'))
        const deleted = splice.from <= at + rule.span.from && splice.to > at + rule.span.from
        this.sites.delete(id)
        if (now && !deleted && now.rule.kind === rule.kind && !this.sites.has(id)) {
          this.sites.delete(now.rule.id)
          now.rule.id = id
          this.sites.set(id, now)
        } else removed.push(id)
      }
      at += statement.text.length
    }
    return removed
  }
}

/** What is read out of whole sheets, kept for each until its next edit: most edits touch one sheet of many. */
export class SheetMemo<T> {
  private readonly known = new WeakMap<Sheet, { readonly of: number; readonly value: T }>()

  constructor(private readonly read: (sheet: Sheet) => T) {}

  of(sheet: Sheet): T {
    const found = this.known.get(sheet)
    if (found?.of === sheet.revision) return found.value
    const value = this.read(sheet)
    this.known.set(sheet, { of: sheet.revision, value })
    return value
  }
}

/** Whether the statement `[at, end)` of `text` ended by its own `}` or `;` and not by the end of the text. */
function isClosed(text: string, at: number, end: number): boolean {
  // Read once more with a closing brace appended: an open block, string or comment takes it in.
  return statementEnd(`${text.slice(at, end)} x{}`, 0) === end - at && text.slice(at, end).trim() !== ''
}

/** The exact text of a span of a rule's statement. */
export const textOf = (site: RuleSite, span: Span): string => site.statement.text.slice(span.from, span.to)

const ROOT = /(^|,)\s*(:root|html|body|:host|\*)\s*(,|$)/

/** Whether a rule defines custom properties for the whole document: it is one of the root, or a theme that is compiled to one. */
export const isRootRule = (site: RuleSite): boolean => (site.rule.kind === 'style' ? ROOT.test(textOf(site, site.rule.prelude)) : site.rule.name === 'theme')

export const valueOf = (site: RuleSite, d: Declaration): string => textOf(site, d.value)
