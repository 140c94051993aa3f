import type { Span, Splices } from '../text'
import { lineEndOf, mapOffset } from '../text'
import { parseStatement, statementEnd } from './parse'
import { rulesIn, type CssItem, type Declaration, type Rule } from './tree'

/** One top-level statement with the white space and comments before it. Concatenated, they are the file. */
export interface Statement {
  readonly text: string
  readonly items: readonly CssItem[]
  /** Offset of `text` in the file; moves when earlier statements change. */
  start: number
  /** Line ends before `start`. */
  linesBefore: number
  readonly lineEnds: number
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
  private lastId = 0
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
    this.place(0)
  }

  private parse(text: string): Statement {
    const items = parseStatement(text, () => ++this.lastId)
    const statement: Statement = { text, items, start: 0, linesBefore: 0, lineEnds: countLineEnds(text) }
    for (const { rule, parents } of rulesIn(items)) this.sites.set(rule.id, { rule, parents, statement })
    return statement
  }

  private place(from: number): void {
    const before = this.statements[from - 1]
    let start = before ? before.start + before.text.length : 0
    let lines = before ? before.linesBefore + before.lineEnds : 0
    for (let i = from; i < this.statements.length; i++) {
      const s = this.statements[i]
      s.start = start
      s.linesBefore = lines
      start += s.text.length
      lines += s.lineEnds
    }
  }

  get length(): number {
    const last = this.statements[this.statements.length - 1]
    return last ? last.start + last.text.length : 0
  }

  get text(): string {
    return (this.joined ??= this.statements.map((s) => s.text).join(''))
  }

  /** The text of `[from, to)`, without joining the whole file. */
  slice(from: number, to: number): string {
    if (this.joined !== null) return this.joined.slice(from, to)
    let out = ''
    for (let i = this.indexAt(from); i < this.statements.length && this.statements[i].start < to; i++) {
      const s = this.statements[i]
      out += s.text.slice(Math.max(0, from - s.start), to - s.start)
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
    let low = 0
    let high = this.statements.length
    while (high - low > 1) {
      const mid = (low + high) >> 1
      if (this.statements[mid].start <= at) low = mid
      else high = mid
    }
    return low
  }

  /** The statement that holds file offset `at`; null in an empty sheet. */
  statementAt(at: number): Statement | null {
    return this.statements[this.indexAt(at)] ?? null
  }

  /** The innermost rule around file offset `at`, or null. */
  ruleAt(at: number): RuleSite | null {
    const statement = this.statements[this.indexAt(at)]
    if (!statement) return null
    let found: RuleSite | null = null
    for (const { rule, parents } of rulesIn(statement.items)) {
      const from = rule.span.from + statement.start
      if (from <= at && at <= rule.span.to + statement.start) found = { rule, parents, statement }
    }
    return found
  }

  /**
   * Applies splices in file offsets; reads again only the statements around them. Gives the ids of rules that are
   * gone. @throws RangeError when a splice does not fit the file.
   */
  apply(splices: Splices): { removed: number[] } {
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
    if (after.length === 1 && before.length === 1) this.statements[first] = after[0]
    else this.statements = [...this.statements.slice(0, first), ...after, ...this.statements.slice(last + 1)]
    this.place(first)
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

/** Whether the statement `[at, end)` of `text` ended by its own `}` or `;` and not by the end of the text. */
function isClosed(text: string, at: number, end: number): boolean {
  // Read once more with a closing brace appended: an open block, string or comment takes it in.
  return statementEnd(`${text.slice(at, end)} x{}`, 0) === end - at && text.slice(at, end).trim() !== ''
}

/** The exact text of a span of a rule's statement. */
export const textOf = (site: RuleSite, span: Span): string => site.statement.text.slice(span.from, span.to)

export const valueOf = (site: RuleSite, d: Declaration): string => textOf(site, d.value)
