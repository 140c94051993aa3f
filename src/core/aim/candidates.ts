import { compareApplied, decide, importLayer, LayerOrder, type Applied, type Contest } from '../cascade'
import {
  compareSpecificity, composeShorthand, declarationsOf, escapeName, isShorthand, longhandsOf, parseDeclarationList, partOfShorthand, resolvedSelectors, specificityOf, takenDeclarations, textOf,
  type Declaration, type RuleSite, type Specificity,
} from '../css'
import type { Project, SheetRef } from '../project'
import type { Evidence, MatchedEvidence } from './evidence'

/** Where an edit can land. */
export type AimRef =
  | { readonly kind: 'rule'; readonly sheet: string; readonly rule: number }
  | { readonly kind: 'inline'; readonly source: string }
  /** The custom property `name` at its definition, in place of the property itself. */
  | { readonly kind: 'token'; readonly sheet: string; readonly rule: number; readonly name: string }
  /** A rule that is not there yet, after another one or at the end of the sheet. */
  | { readonly kind: 'new-rule'; readonly sheet: string; readonly after: number | null; readonly selector: string }

/** A place an edit of one property could land, with what choosing it would mean. */
export interface Candidate {
  readonly ref: AimRef
  readonly path: string
  /** 1-based line of the declaration, or of the rule where none is there yet. */
  readonly line: number
  /** The rule's selector list, or `style attribute`. */
  readonly label: string
  /** Conditions around the rule, outermost first, as written. */
  readonly conditions: readonly string[]
  readonly specificity: Specificity | null
  /** Elements on this page; null when the page has not counted them. */
  readonly reach: number | null
  /** The value written there now; null where the property is not set. */
  readonly current: string | null
  readonly important: boolean
  /** Whether a value written here would be the one the element gets. */
  readonly wins: boolean
  /** What wins instead when it would not: where, and by which step of the cascade. */
  readonly losesTo: string | null
  readonly reason: string
}

/** Where the value of a property comes from now. */
export interface ValueOrigin {
  readonly kind: 'rule' | 'inline' | 'inherited' | 'initial'
  readonly label: string
  readonly path: string | null
  readonly line: number | null
  /** As written in the source. */
  readonly text: string | null
}

export interface PropertyAim {
  readonly property: string
  readonly computed: string
  readonly origin: ValueOrigin
  /** The text that the source gives the property now, the part of a shorthand included; null where it gives none. */
  readonly written: string | null
  readonly candidates: readonly Candidate[]
  /** Index of the default in `candidates`; -1 when nothing can take the edit. */
  readonly chosen: number
  /** Declarations that lost, strongest first. */
  readonly losing: readonly { readonly label: string; readonly path: string; readonly line: number; readonly text: string; readonly by: string }[]
}

const INHERITED = new Set(['color', 'font-size', 'font-family', 'font-weight', 'font-style', 'line-height', 'letter-spacing', 'word-spacing', 'text-align', 'text-transform', 'white-space', 'list-style-type', 'visibility', 'cursor'])

export const isInherited = (name: string): boolean => INHERITED.has(name) || name.startsWith('--')

interface Matching {
  readonly evidence: MatchedEvidence
  readonly ref: SheetRef
  readonly site: RuleSite
  readonly specificity: Specificity
  readonly applied: readonly Applied[]
}

/** The declarations, as `name: value`, of which it has to be known whether the engine takes them before a cascade is right. */
export function unknownDeclarations(project: Project, evidence: Evidence): string[] {
  const out = new Set<string>()
  for (const level of evidence.matched) {
    for (const m of level) {
      const ref = project.sheet(m.sheet)
      if (!ref?.sheet.hasRule(m.rule)) continue
      const site = ref.sheet.site(m.rule)
      for (const d of declarationsOf(site.rule)) {
        const text = `${d.name}: ${textOf(site, d.value)}`
        if (!d.name.startsWith('--') && !project.taken.has(text)) out.add(text)
      }
    }
  }
  return [...out]
}

/** All that the cascade says about one picked element; made once a pick and asked per property. */
export class ElementCascade {
  private readonly layers: LayerOrder
  private readonly levels: { matching: Matching[]; applied: Applied[] }[] = []

  constructor(private readonly project: Project, private readonly evidence: Evidence) {
    this.layers = layersOf(project, evidence.sheets)
  }

  private level(n: number): { matching: Matching[]; applied: Applied[] } {
    return (this.levels[n] ??= this.read(n))
  }

  private read(n: number): { matching: Matching[]; applied: Applied[] } {
    const matching: Matching[] = []
    for (const m of this.evidence.matched[n] ?? []) {
      const ref = this.project.sheet(m.sheet)
      // The page may still show rules of a version that is gone; it is told of the new one at once.
      if (!ref?.sheet.hasRule(m.rule)) continue
      const site = ref.sheet.site(m.rule)
      const selectors = resolvedSelectors(site)
      const specificity = m.selectors.map((i) => specificityOf(selectors[i] ?? '') ?? ([0, 0, 0] as const)).reduce((a, b) => (compareSpecificity(a, b) >= 0 ? a : b), [0, 0, 0])
      const layer = this.layers.orderOf(site.rule)
      const applied = takenDeclarations(site.statement.text, site.rule, this.project.knowledge).map((declaration): Applied => ({
        declaration, site, specificity, layer, sheet: m.order,
        value: textOf(site, declaration.value),
        offset: site.statement.start + declaration.span.from,
        proximity: m.proximity ?? Infinity,
      }))
      matching.push({ evidence: m, ref, site, specificity, applied })
    }
    const inline = parseDeclarationList(this.evidence.inline[n] ?? '').map((declaration): Applied => ({
      declaration, site: null, specificity: [0, 0, 0], layer: 0, sheet: 0, offset: declaration.span.from, proximity: Infinity,
      value: (this.evidence.inline[n] ?? '').slice(declaration.value.from, declaration.value.to),
    }))
    return { matching, applied: [...matching.flatMap((m) => m.applied), ...inline] }
  }

  /** Who decides a longhand on the element itself. */
  contest(longhand: string): Contest | null {
    return decide(this.level(0).applied, longhand)
  }

  /** The declaration that decides a longhand on the element itself: its line in its file, and its value. */
  winner(longhand: string): { line: number; value: string } | null {
    const winner = this.contest(longhand)?.winner
    return winner ? { line: this.where(winner).line, value: winner.value } : null
  }

  /** Where `property` comes from and where an edit of it could land. A shorthand is asked for as its longhands. */
  aim(property: string): PropertyAim {
    const longhands = longhandsOf(property)
    const contest = this.contest(longhands[0])
    const candidates = this.candidates(longhands)
    return {
      property,
      computed: this.evidence.computed[property] ?? this.evidence.computed[longhands[0]] ?? '',
      origin: this.origin(longhands[0], contest),
      written: this.written(property, longhands),
      candidates,
      chosen: this.choose(candidates),
      losing: (contest?.losers ?? []).map(({ applied, by }) => ({ ...this.where(applied), text: applied.value, by })),
    }
  }

  private written(property: string, longhands: readonly string[]): string | null {
    const winners = longhands.map((l) => this.contest(l)?.winner ?? null)
    const first = winners[0]
    if (!first) return null
    if (winners.every((w) => w === first) && first.declaration.name === property) return first.value
    const part = (w: Applied, longhand: string): string | null =>
      !isShorthand(w.declaration.name) ? w.value
      // A variable that holds one length is each side's; one that holds a colour is the colour.
      : this.project.knowledge.kindOf(w.value) === (longhand.endsWith('-color') ? 'color' : 'length') ? w.value
      : partOfShorthand(w.declaration.name, w.value, longhand)
    const parts = winners.map((w, i) => w && part(w, longhands[i]))
    if (parts.some((p) => p === null)) return null
    if (longhands.length === 1) return parts[0]
    return composeShorthand(property, new Map(longhands.map((l, i) => [l, parts[i]!])))
  }

  private where(applied: Applied, level = 0): { label: string; path: string; line: number } {
    if (applied.site === null) {
      const source = this.evidence.ancestors[level]?.source
      const found = source ? this.project.element(source) : null
      return { label: 'style attribute', path: found?.path ?? '', line: found?.element.startTag ? found.doc.lineAt(found.element.startTag.from) : 0 }
    }
    const m = this.level(level).matching.find((x) => x.site === applied.site)!
    return { label: labelOf(m.site), path: m.ref.path, line: this.lineOf(m, applied.declaration) }
  }

  private lineOf(m: Matching, d: Declaration | null): number {
    return this.project.lineAt(m.ref.path, m.ref.base + m.site.statement.start + (d?.span.from ?? m.site.rule.span.from))
  }

  private origin(longhand: string, contest: Contest | null): ValueOrigin {
    if (contest) {
      return { kind: contest.winner.site ? 'rule' : 'inline', ...this.where(contest.winner), text: contest.winner.value }
    }
    if (isInherited(longhand)) {
      for (let n = 1; n < this.evidence.matched.length; n++) {
        const above = decide(this.level(n).applied, longhand)
        if (above) return { kind: 'inherited', ...this.where(above.winner, n), text: above.winner.value }
      }
    }
    return { kind: 'initial', label: 'initial value', path: null, line: null, text: null }
  }

  private candidates(longhands: readonly string[]): Candidate[] {
    const { matching, applied } = this.level(0)
    const contests = longhands.map((l) => decide(applied, l))
    const out: { candidate: Candidate; rank: Applied }[] = []
    matching.forEach((m) => {
      if (this.project.readOnly(m.ref.path)) return
      const own = m.applied.filter((a) => longhands.some((l) => longhandsOf(a.declaration.name).includes(l)))
      const there = own[own.length - 1] ?? null
      // A new declaration would stand after those the rule has.
      const rival: Applied = there ?? {
        declaration: NEW_DECLARATION, value: '', site: m.site, sheet: m.evidence.order, specificity: m.specificity,
        offset: m.site.statement.start + m.site.rule.span.to, layer: this.layers.orderOf(m.site.rule), proximity: m.evidence.proximity ?? Infinity,
      }
      const stronger = contests.flatMap((c) => (c && c.winner.site !== m.site && compareApplied(rival, c.winner).sign < 0 ? [c.winner] : []))[0]
      const index = this.evidence.matched[0].indexOf(m.evidence)
      const reach = this.evidence.reach[index]
      const candidate: Candidate = {
        ref: { kind: 'rule', sheet: m.ref.key, rule: m.evidence.rule },
        path: m.ref.path,
        line: this.lineOf(m, there?.declaration ?? null),
        label: labelOf(m.site),
        conditions: conditionsOf(m.site),
        specificity: m.specificity,
        reach: reach?.count ?? null,
        current: there?.value ?? null,
        important: there?.declaration.important !== null && there !== null,
        wins: !stronger,
        losesTo: stronger ? this.losesTo(rival, stronger) : null,
        reason: this.reason(m, there, reach?.kin ?? false),
      }
      out.push({ candidate, rank: rival })
    })
    // Strongest first: the one that decides now, then those that could.
    out.sort((a, b) => Number(b.candidate.wins) - Number(a.candidate.wins) || compareApplied(b.rank, a.rank).sign)
    const rules = out.map(({ candidate }) => candidate)
    rules.push(...this.tokenCandidates(contests), ...this.newRuleCandidates(contests))
    const source = this.evidence.info.source
    const found = source ? this.project.element(source) : null
    if (found?.element.startTag) {
      const own = applied.filter((a) => a.site === null && longhands.some((l) => longhandsOf(a.declaration.name).includes(l)))
      const important = contests.find((c) => c && c.winner.site && c.winner.declaration.important)?.winner
      const there = own[own.length - 1] ?? null
      const inline: Candidate = {
        ref: { kind: 'inline', source: source! }, path: found.path, line: found.doc.lineAt(found.element.startTag.from), label: 'style attribute',
        conditions: [], specificity: null, reach: 1, current: there?.value ?? null, important: there?.declaration.important != null,
        wins: !important || there?.declaration.important != null,
        losesTo: important ? `${this.where(important).label} is !important` : null,
        reason: there ? 'sets it on this element alone now' : 'this element alone',
      }
      return there ? [inline, ...rules] : [...rules, inline]
    }
    return rules
  }

  // The definition behind a value that is one `var()`.
  private tokenCandidates(contests: readonly (Contest | null)[]): Candidate[] {
    const value = contests[0]?.winner.value ?? ''
    const name = /^var\(\s*(--[^\s,)]+)\s*\)$/i.exec(value)?.[1]
    if (!name || contests.some((c) => c?.winner.value !== value)) return []
    const uses = this.project.tokenUses(name)
    return this.project.tokenDefinitions(name).map(({ ref, site, declaration }) => ({
      ref: { kind: 'token', sheet: ref.key, rule: site.rule.id, name },
      path: ref.path,
      line: this.project.lineAt(ref.path, ref.base + site.statement.start + declaration.span.from),
      label: name,
      conditions: conditionsOf(site),
      specificity: null,
      reach: null,
      current: textOf(site, declaration.value),
      important: false,
      wins: true,
      losesTo: null,
      reason: `the token behind the value; ${uses} ${uses === 1 ? 'declaration uses' : 'declarations use'} it`,
    }))
  }

  // A rule with a selector of its own, right after the strongest one that matches, or at the end of the last sheet.
  private newRuleCandidates(contests: readonly (Contest | null)[]): Candidate[] {
    const selector = this.ownSelector()
    const editable = this.level(0).matching.filter((m) => m.site.parents.length === 0 && m.site.rule.closed && !this.project.readOnly(m.ref.path))
    const strongest = [...editable].sort((a, b) => b.evidence.order - a.evidence.order || b.site.statement.start - a.site.statement.start)[0]
    const last = this.evidence.sheets.findLast((key) => this.project.sheet(key) && !this.project.readOnly(this.project.sheet(key)!.path))
    const ref = strongest?.ref ?? (last ? this.project.sheet(last) : null)
    if (!selector || !ref || this.level(0).matching.some((m) => resolvedSelectors(m.site).join(', ') === selector)) return []
    const rival: Applied = {
      declaration: NEW_DECLARATION, value: '', site: strongest?.site ?? null!, sheet: strongest?.evidence.order ?? this.evidence.sheets.lastIndexOf(ref.key),
      specificity: specificityOf(selector) ?? [0, 0, 0], offset: strongest ? strongest.site.statement.start + strongest.site.rule.span.to : ref.sheet.length,
      layer: strongest ? this.layers.orderOf(strongest.site.rule) : Infinity, proximity: Infinity,
    }
    const stronger = contests.flatMap((c) => {
      if (!c) return []
      if (!c.winner.site || c.winner.declaration.important) return [c.winner]
      return compareApplied({ ...rival, site: c.winner.site }, c.winner).sign < 0 ? [c.winner] : []
    })[0]
    return [{
      ref: { kind: 'new-rule', sheet: ref.key, after: strongest?.site.rule.id ?? null, selector },
      path: ref.path,
      line: this.project.lineAt(ref.path, ref.base + (strongest ? strongest.site.statement.start + strongest.site.rule.span.to : ref.sheet.length)),
      label: selector,
      conditions: [],
      specificity: specificityOf(selector),
      reach: null,
      current: null,
      important: false,
      wins: !stronger,
      losesTo: stronger ? `${this.where(stronger).label} (${this.where(stronger).path}:${this.where(stronger).line})` : null,
      reason: 'a new rule with a selector of its own',
    }]
  }

  /** A short selector that an author would write for the element: its id, its classes, or its tag under a class. */
  private ownSelector(): string | null {
    const { tag, id, classes } = this.evidence.info
    if (id) return `#${escapeName(id)}`
    if (classes.length) return classes.slice(0, 3).map((c) => `.${escapeName(c)}`).join('')
    const above = this.evidence.ancestors.slice(1).find((a) => a.classes.length || a.id)
    if (!above) return null
    return `${above.classes.length ? `.${escapeName(above.classes[0])}` : `#${escapeName(above.id)}`} ${tag}`
  }

  private losesTo(a: Applied, b: Applied): string {
    const { by } = compareApplied(b, a)
    const at = this.where(b)
    const why = { importance: 'it is !important', inline: 'it is a style attribute', layer: 'its layer comes later', specificity: `its specificity ${b.specificity.join(',')} is higher`, proximity: 'its scope is nearer', order: 'it stands later' }[by]
    return `${at.label} (${at.path}:${at.line}): ${why}`
  }

  private reason(m: Matching, there: Applied | null, kin: boolean): string {
    if (there && this.level(0).applied.includes(there)) {
      return kin ? 'sets it now, for this element and its like' : 'sets it now, for other kinds of element too'
    }
    if (there) return 'sets it too, and loses'
    return this.isOwnClass(m) ? 'the rule of its own class' : kin ? 'matches it and its like' : 'matches other kinds of element too'
  }

  private isOwnClass(m: Matching): boolean {
    const selectors = resolvedSelectors(m.site)
    return m.evidence.selectors.some((i) => this.evidence.info.classes.some((c) => lastCompound(selectors[i] ?? '').includes(`.${c}`)))
  }

  /**
   * DESIGN section 5, rules 4 and 5: the place that decides now, if it reaches no further than the element's like;
   * else the rule of its own class; else the element alone. Never one that would lose.
   */
  private choose(candidates: readonly Candidate[]): number {
    const kin = (c: Candidate): boolean => {
      if (c.ref.kind === 'inline') return true
      // A token reaches all that use it, and a new rule is made only when asked for.
      if (c.ref.kind !== 'rule') return false
      const { sheet, rule } = c.ref
      const at = this.evidence.matched[0].findIndex((m) => m.sheet === sheet && m.rule === rule)
      return this.evidence.reach[at]?.kin ?? false
    }
    const fit = candidates.map((c, i) => ({ c, i })).filter(({ c }) => c.wins && kin(c))
    const deciding = fit.find(({ c }) => c.current !== null)
    if (deciding) return deciding.i
    // Conditions the person did not ask for narrow an edit unseen, so a rule without one goes first.
    const rules = fit.filter(({ c }) => c.ref.kind === 'rule')
    const own = rules.filter(({ c }) => this.isOwnClass(this.level(0).matching.find((m) => c.ref.kind === 'rule' && m.evidence.rule === c.ref.rule && m.ref.key === c.ref.sheet)!))
    const plain = own.filter(({ c }) => c.conditions.length === 0)
    const best = [...plain].sort((a, b) => (b.c.reach ?? 0) - (a.c.reach ?? 0))[0] ?? own[0] ?? rules.find(({ c }) => c.conditions.length === 0)
    return best?.i ?? fit[0]?.i ?? -1
  }
}

const NEW_DECLARATION: Declaration = {
  kind: 'declaration', name: '', nameSpan: { from: 0, to: 0 }, value: { from: 0, to: 0 }, important: null, span: { from: 0, to: 0 }, semicolon: null,
}

const lastCompound = (selector: string): string => selector.split(/[\s>+~]+/).at(-1) ?? ''

export const labelOf = (site: RuleSite): string => {
  const style = site.rule.kind === 'style' ? site.rule : site.parents.findLast((p) => p.kind === 'style')
  return style ? textOf(site, style.prelude).replace(/\s+/g, ' ') : `@${(site.rule as { name: string }).name}`
}

const conditionsOf = (site: RuleSite): string[] =>
  [...site.parents, site.rule].flatMap((p) => (p.kind === 'at' && p.name !== 'layer' && p.name !== 'scope' ? [`@${p.name} ${textOf(site, p.prelude)}`] : []))

const layerOrders = new WeakMap<Project, { readonly of: string; readonly order: LayerOrder }>()

// Walking every rule of every sheet is too slow for each pick; the order changes only with the rules themselves.
function layersOf(project: Project, sheets: readonly string[]): LayerOrder {
  const of = `${project.ruleRevision} ${sheets.join('\n')}`
  const known = layerOrders.get(project)
  if (known?.of === of) return known.order
  const order = new LayerOrder(sheets.flatMap((key) => {
    const ref = project.sheet(key)
    return ref ? [{ sheet: ref.sheet, layer: importedLayer(project, sheets, key) }] : []
  }))
  layerOrders.set(project, { of, order })
  return order
}

// The layer of an imported sheet is named where it is imported.
function importedLayer(project: Project, sheets: readonly string[], key: string): string | null {
  for (const other of sheets) {
    const ref = project.sheet(other)
    if (!ref || other === key) continue
    for (const statement of ref.sheet.statements) {
      for (const item of statement.items) {
        if (item.kind !== 'at' || item.name !== 'import') continue
        const url = /^(?:url\(\s*)?["']?([^"')\s]+)/i.exec(statement.text.slice(item.prelude.from, item.prelude.to))?.[1]
        if (url && new URL(url, `http://x/${other.startsWith('#') ? '' : other}`).pathname === `/${key}`) return importLayer(ref.sheet, item)
      }
    }
  }
  return null
}
