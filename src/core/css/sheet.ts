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
  /** How many ids from `id` on are kept for its rules. */
  readonly ids: number
  private read: readonly CssItem[] | null = null

  /** `id` is that of its first rule, which has it before the statement is read; `readItems` gives what is in it. */
  constructor(
    readonly text: string,
    readonly id: number,
    private readonly places: Places,
    private readonly readItems: (statement: Statement) => readonly CssItem[],
  ) {
    this.lineEnds = countLineEnds(text)
    this.ids = mostRules(text)
  }

  index = 0

  /** What is in it, read when it is first asked for: most of a very large sheet is not, for a long time. */
  get items(): readonly CssItem[] {
    return (this.read ??= this.readItems(this))
  }

  get isRead(): boolean {
    return this.read !== null
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

/** UTF-16 units from which a sheet is read a part at a time. */
const LONG = 2_000_000

/** A rule where it stands: `at` is what to add to its spans to get offsets in the file. */
export interface RuleSite {
  readonly rule: Rule
  readonly parents: readonly Rule[]
  readonly statement: Statement
}

/** The most rules that a statement can have: each has a block or begins with `@`. */
function mostRules(text: string): number {
  let n = 0
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i)
    if (c === 123 || c === 64) n++
  }
  return Math.max(1, n)
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
  private list: Statement[] | null = null
  private readonly places: Places = { lengths: new Totals([]), lines: new Totals([]) }
  private lastId = 0
  private lastRevision = 0
  /** Another with each edit; never one of before, but where edits are taken back to it. */
  revision = 0
  private readonly sites = new Map<number, RuleSite>()
  private joined: string | null
  readonly lineEnd: '\n' | '\r\n'

  constructor(text: string) {
    this.joined = text
    this.lineEnd = lineEndOf(text)
  }

  /** Its statements in order, told apart when they are first asked for. */
  get statements(): readonly Statement[] {
    return this.list ?? this.split()
  }

  private split(): readonly Statement[] {
    const text = this.joined!
    const list: Statement[] = []
    for (let at = 0; at < text.length;) {
      const end = statementEnd(text, at)
      list.push(this.parse(text.slice(at, end)))
      at = end
    }
    this.place(list)
    return list
  }

  private parse(text: string): Statement {
    const statement = new Statement(text, this.lastId + 1, this.places, this.readItems)
    this.lastId += statement.ids
    return statement
  }

  private readonly readItems = (statement: Statement): readonly CssItem[] => {
    // Ids do not hang on which statement is read first.
    let next = statement.id
    const items = parseStatement(statement.text, () => next++)
    for (const { rule, parents } of rulesIn(items)) this.sites.set(rule.id, { rule, parents, statement })
    return items
  }

  private siteOf(id: number): RuleSite | undefined {
    if (!this.sites.has(id)) void this.statements.find((s) => !s.isRead && id >= s.id && id < s.id + s.ids)?.items
    return this.sites.get(id)
  }

  private place(list: Statement[]): void {
    this.list = list
    list.forEach((s, i) => {
      s.index = i
    })
    this.places.lengths = new Totals(list.map((s) => s.text.length))
    this.places.lines = new Totals(list.map((s) => s.lineEnds))
  }

  get length(): number {
    return this.list ? this.places.lengths.before(this.list.length) : this.joined!.length
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
    const site = this.siteOf(id)
    if (!site) throw new RangeError(`The sheet has no rule ${id}`)
    return site
  }

  hasRule(id: number): boolean {
    return this.siteOf(id) !== undefined
  }

  /** Whether reading all of it takes so long that nobody is to wait for it: it is large, and most of it is not read yet. */
  get isLong(): boolean {
    return this.length > LONG && !this.list?.at(-1)!.isRead
  }

  /** Reads what is not read yet, for some ms at a time: gives back the share of it that is, from 0 to 1. */
  *readAhead(slice: number): Generator<number> {
    for (let i = 0, until = performance.now() + slice; i < this.statements.length; i++) {
      void this.statements[i].items
      if (i % 64 || performance.now() < until) continue
      yield i / this.statements.length
      until = performance.now() + slice
    }
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
    this.revision = ++this.lastRevision
    const removed: number[] = []
    for (let i = splices.length - 1; i >= 0; i--) removed.push(...this.applyOne(splices[i]))
    return { removed }
  }

  /** What takes the sheet back to how it is now, with the ids of its rules, whatever is applied meanwhile. */
  mark(): () => void {
    const { list, lastId, revision, joined } = this
    const statements = list && [...list]
    return () => {
      if (this.revision === revision) return
      Object.assign(this, { lastId, revision, joined })
      this.sites.clear()
      if (!statements) {
        this.list = null
        return
      }
      this.place(statements)
      for (const statement of statements)
        if (statement.isRead) for (const site of this.rulesOf(statement)) this.sites.set(site.rule.id, site)
    }
  }

  private applyOne(splice: { from: number; to: number; insert: string }): number[] {
    if (splice.from < 0 || splice.to > this.length || splice.to < splice.from) {
      throw new RangeError(`Splice [${splice.from}, ${splice.to}) does not fit a sheet of ${this.length}`)
    }
    // Told apart before the text is another.
    void this.statements
    this.joined = null
    const first = this.statements.length ? this.indexAt(splice.from) : 0
    let last = this.statements.length ? this.indexAt(splice.to) : -1
    const start = this.statements[first]?.start ?? 0
    let old = ''
    for (let i = first; i <= last; i++) old += this.statements[i].text
    let text = old.slice(0, splice.from - start) + splice.insert + old.slice(splice.to - start)

    // Split the changed text again; take in following statements until an end falls on the end of one of them.
    const ends: number[] = []
    for (let at = 0; at < text.length;) {
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
      this.list![first] = after[0]
      this.places.lengths.add(first, after[0].text.length - before[0].text.length)
      this.places.lines.add(first, after[0].lineEnds - before[0].lineEnds)
    } else {
      this.place([...this.statements.slice(0, first), ...after, ...this.statements.slice(last + 1)])
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

/** What is read out of the statements of sheets: of each once, whatever is edited beside it, and summed up for the sheet. */
export class StatementMemo<T, S> {
  private readonly known = new WeakMap<
    Sheet,
    {
      readonly of: number
      readonly statements: readonly Statement[]
      readonly values: readonly (T | null)[]
      readonly list: readonly T[]
      readonly sum: S
    }
  >()

  /** `read` gives what a statement's rules say, null for nothing; `add` counts that in, or out again with -1. */
  constructor(
    private readonly read: (rules: Iterable<RuleSite>) => T | null,
    private readonly empty: () => S,
    private readonly add: (sum: S, value: T, by: 1 | -1) => void,
  ) {}

  /** What the statements say, in order, and their sum. */
  of(sheet: Sheet): { readonly list: readonly T[]; readonly sum: S } {
    const known = this.known.get(sheet)
    if (known?.of === sheet.revision) return known
    const now = sheet.statements
    const before = known?.statements ?? []
    let from = 0
    while (from < before.length && from < now.length && before[from] === now[from]) from++
    let tail = 0
    while (tail < before.length - from && tail < now.length - from && before[before.length - 1 - tail] === now[now.length - 1 - tail])
      tail++
    const old = known?.values ?? []
    const come = now.slice(from, now.length - tail).map((statement) => this.read(sheet.rulesOf(statement)))
    const sum = known?.sum ?? this.empty()
    for (const value of old.slice(from, old.length - tail)) if (value !== null) this.add(sum, value, -1)
    for (const value of come) if (value !== null) this.add(sum, value, 1)
    const values = [...old.slice(0, from), ...come, ...old.slice(old.length - tail)]
    const read = { of: sheet.revision, statements: [...now], values, list: values.filter((v) => v !== null), sum }
    this.known.set(sheet, read)
    return read
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
export const isRootRule = (site: RuleSite): boolean =>
  site.rule.kind === 'style' ? ROOT.test(textOf(site, site.rule.prelude)) : site.rule.name === 'theme'

export const valueOf = (site: RuleSite, d: Declaration): string => textOf(site, d.value)
