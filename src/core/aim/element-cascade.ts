import { compareApplied, decide, whyNoEffect, type Applied, type Contest, type LayerOrder, type NoEffect, type Reason } from '../cascade'
import {
  compareSpecificity, composeShorthand, declarationsOf, escapeName, isOfSize, isShorthand, longhandsOf, oneOfNames, parseDeclarationList, partOfShorthand, resolvedSelectors, sets, specificityOf, switchedOff, takenDeclarations, textOf, withComments,
  type Declaration, type RuleSite, type Specificity,
} from '../css'
import { placeNames } from '../html'
import { reachesOnlyKin, sourceOfRule, type Kind, type Project, type RulePlace, type SheetRef } from '../project'
import { asksForState } from './condition'
import { vocabulariesOf } from '../utility'
import type { Evidence, MatchedEvidence, ReachEvidence } from './evidence'
import { FreshRule } from './fresh-rule'
import { layersOf } from './page-layers'
import { placesFor } from './places'
import { NEW_DECLARATION, RulePlaces } from './rule-places'
import { isAsked } from './tokens'
import type { AimRef, Candidate, Ineffective, Overriding, PropertyAim, ValueOrigin } from './types'

const INHERITED = new Set([
  'color', 'font-size', 'font-family', 'font-weight', 'font-style', 'font-stretch', 'font-variant-caps', 'line-height', 'letter-spacing', 'word-spacing', 'text-align', 'text-transform', 'text-indent', 'text-shadow',
  'text-wrap-mode', 'text-wrap-style', 'text-wrap', 'white-space', 'white-space-collapse', 'word-break', 'overflow-wrap', 'hyphens', 'tab-size', 'list-style-type', 'list-style-position', 'list-style-image',
  'visibility', 'cursor', 'direction', 'writing-mode', 'quotes', 'border-collapse', 'border-spacing', 'caption-side', 'empty-cells', 'fill', 'stroke', 'stroke-width', 'stroke-linecap', 'stroke-linejoin',
  'stroke-dasharray', 'fill-rule', 'fill-opacity', 'stroke-opacity', 'pointer-events', 'accent-color', 'caret-color', 'color-scheme', 'image-rendering', 'orphans', 'widows',
])

export const isInherited = (name: string): boolean => INHERITED.has(name) || name.startsWith('--')

/** A rule that matches, read. */
export interface Matching {
  readonly evidence: MatchedEvidence
  readonly ref: SheetRef
  readonly site: RuleSite
  /** Where it is written: the rule itself, or the one it was compiled from; null where there is no editing it. */
  readonly source: RulePlace | null
  readonly specificity: Specificity
  /** Written out without nesting. */
  readonly selectors: readonly string[]
  readonly label: string
  readonly conditions: readonly string[]
  readonly applied: readonly Applied[]
  /** Whether its selector names a class of the element in hand, and not only of what stands around it. */
  readonly isOwn: boolean
  /** Names of declarations that stand in it as comments, switched off. */
  readonly off: readonly string[]
}

/** What applies to the element in hand, or to one that it inherits from. */
interface Level {
  readonly matching: readonly Matching[]
  readonly applied: readonly Applied[]
  /** Names that some declaration of `applied` has: far fewer than there are declarations. */
  readonly names: readonly string[]
  readonly contests: Map<string, Contest | null>
}

/** The declaration that gives a custom property its value: at which level, and in which rule; none where that is a style attribute. */
export interface Definition {
  readonly winner: Applied
  readonly level: number
  readonly matching: Matching | null
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
        if (d.name.startsWith('--')) continue
        // A value that is not taken is told apart from a name that no value would save.
        for (const text of [`${d.name}: ${textOf(site, d.value)}`, `${d.name}: initial`]) if (!project.taken.has(text)) out.add(text)
      }
    }
  }
  return [...out]
}

/** All that the cascade says about one picked element, or a pseudo-element of it; made once a pick and asked per property. */
export class ElementCascade {
  readonly layers: LayerOrder
  /** The reference to the element's `style` attribute. */
  readonly inlineRef: Extract<AimRef, { kind: 'inline' }>
  /** What would be made for the element alone. */
  readonly fresh = new FreshRule(this)
  readonly rules = new RulePlaces(this)
  private readonly levels: Level[] = []

  constructor(readonly project: Project, readonly evidence: Evidence) {
    this.layers = layersOf(project, evidence.sheets)
    this.ownClass = oneOfNames(evidence.info.classes.map((c) => `.${escapeName(c)}`))
    this.inlineRef = { kind: 'inline', source: evidence.info.source ?? '' }
  }

  level(n: number): Level {
    return (this.levels[n] ??= this.read(n))
  }

  private read(n: number): Level {
    const matching = this.matching(this.evidence.matched[n] ?? [])
    const text = this.evidence.inline[n] ?? ''
    const inline = parseDeclarationList(text).map((declaration): Applied => ({
      declaration, site: null, specificity: [0, 0, 0], layer: 0, sheet: 0, offset: declaration.span.from, proximity: Infinity,
      value: text.slice(declaration.value.from, declaration.value.to),
    }))
    const applied = [...this.hints(n), ...matching.flatMap((m) => m.applied), ...inline]
    return { matching, applied, names: [...new Set(applied.map((a) => a.declaration.name))], contests: new Map() }
  }

  /** The source of the element that a level is about; null for a pseudo-element and where there is none. */
  private sourceAt(level: number): string | null {
    return this.evidence.ancestors[this.evidence.condition.part ? level - 1 : level]?.source ?? null
  }

  private hints(level: number): Applied[] {
    const source = this.sourceAt(level)
    const found = source ? this.project.element(source) : null
    return (found?.tree.presentation(found.element) ?? []).map(({ name, value }) => ({
      declaration: { ...NEW_DECLARATION, name }, value, site: null, isHint: true, specificity: [0, 0, 0], layer: 0, sheet: 0, offset: 0, proximity: Infinity,
    }))
  }

  private matching(list: readonly MatchedEvidence[]): Matching[] {
    return list.flatMap((m): Matching[] => {
      const ref = this.project.sheet(m.sheet)
      // The page may still show rules of a version that is gone; it is told of the new one at once.
      if (!ref?.sheet.hasRule(m.rule)) return []
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
      const off = site.rule.children.flatMap((c) => (c.kind === 'comment' ? (switchedOff(site.statement.text, c)?.name ?? []) : []))
      const source = this.project.isEditable(ref) ? { ref, site } : sourceOfRule(this.project, ref, site)
      const isOwn = m.selectors.some((i) => this.namesOwn(selectors[i] ?? ''))
      return [{ evidence: m, ref, site, source, specificity, selectors, label: labelOf(site), conditions: conditionsOf(site), applied, isOwn, off }]
    })
  }

  private knownUnmet: readonly Matching[] | null = null

  /** The rules that would match the element if their conditions held. */
  get unmet(): readonly Matching[] {
    return (this.knownUnmet ??= this.matching(this.evidence.unmet))
  }

  /** Whether a rule holds at some sizes only that were not asked for. */
  isNarrowed(m: Matching): boolean {
    return m.conditions.some((c) => isOfSize(c) && !isAsked(c, this.evidence.condition))
  }

  private knownNarrowed: { readonly rules: readonly (readonly [m: Matching, holds: boolean])[]; readonly names: ReadonlySet<string> } | null = null

  // The rules that match at some sizes only, and what they declare.
  private get narrowed() {
    if (this.knownNarrowed) return this.knownNarrowed
    const of = (list: readonly Matching[], holds: boolean) => list.filter((m) => this.isNarrowed(m)).map((m) => [m, holds] as const)
    const rules = [...of(this.level(0).matching, true), ...of(this.unmet, false)]
    return (this.knownNarrowed = { rules, names: new Set(rules.flatMap(([m]) => m.applied.map((a) => a.declaration.name))) })
  }

  /** Whether a rule that holds at some sizes only sets any of these longhands. */
  isSetAtSizes(longhands: readonly string[]): boolean {
    return [...this.narrowed.names].some((name) => longhands.some((l) => sets(name, l)))
  }

  /** The declarations of rules that hold at some sizes only which set any of these longhands over one of this rank. */
  overriding(longhands: readonly string[], rank: Applied): Overriding[] {
    return this.narrowed.rules.flatMap(([m, holds]): Overriding[] => {
      const own = m.applied.findLast((a) => longhands.some((l) => sets(a.declaration.name, l)))
      // A sheet's end is no site to compare by.
      if (!own || own.site === rank.site || compareApplied(own, { ...rank, site: rank.site ?? own.site }).sign < 0) return []
      const { label, path, line } = this.place(m, own.declaration)
      return [{ condition: m.conditions.filter(isOfSize).join(' '), label, path, line, value: own.value, holds }]
    })
  }

  private readonly atEverySize = new Map<string, Contest | null>()

  /** Who decides a longhand where no rule counts that holds at some sizes only. */
  contestAtEverySize(longhand: string): Contest | null {
    let known = this.atEverySize.get(longhand)
    if (known === undefined) {
      const narrowed = new Set(this.narrowed.rules.map(([m]) => m.site))
      this.atEverySize.set(longhand, (known = decide(this.level(0).applied.filter((a) => a.site === null || !narrowed.has(a.site)), longhand)))
    }
    return known
  }

  /** Who decides a longhand at a level: 0 is the element itself, or the pseudo-element in hand. */
  contest(longhand: string, level = 0): Contest | null {
    const { applied, names, contests } = this.level(level)
    let known = contests.get(longhand)
    if (known === undefined) {
      const setting = names.filter((name) => sets(name, longhand))
      contests.set(longhand, (known = setting.length ? decide(applied.filter((a) => setting.includes(a.declaration.name)), longhand) : null))
    }
    return known
  }

  /** The declaration that decides a longhand, on the element or on the ancestor it is inherited from: its line in its file, and its value. */
  winner(longhand: string): { line: number; value: string; level: number } | null {
    const most = isInherited(longhand) ? this.evidence.matched.length : 1
    for (let n = 0; n < most; n++) {
      const winner = this.contest(longhand, n)?.winner
      if (winner) return { line: this.where(winner, n).line, value: winner.value, level: n }
    }
    return null
  }

  private readonly definitions = new Map<string, Definition | null>()

  /** Who decides a custom property for the element, on itself or on what it inherits from. The same token is behind several properties, so it is looked for once. */
  definitionOf(name: string): Definition | null {
    let known = this.definitions.get(name)
    if (known === undefined) this.definitions.set(name, (known = this.findDefinition(name)))
    return known
  }

  private findDefinition(name: string): Definition | null {
    for (let n = 0; n < this.evidence.matched.length; n++) {
      const winner = this.contest(name, n)?.winner
      if (winner) return { winner, level: n, matching: this.level(n).matching.find((m) => m.site === winner.site) ?? null }
    }
    return null
  }

  /** Whether all selectors of a rule are about something with a class of the element in hand. */
  isOwnRule(site: RuleSite): boolean {
    return resolvedSelectors(site).every((s) => this.namesOwn(s))
  }

  private namesOwn(selector: string): boolean {
    return this.ownClass !== null && this.ownClass.test(lastCompound(selector))
  }

  /** One of the element's own classes in a selector, whole. */
  private readonly ownClass: RegExp | null

  /** Whether a matching rule does so by a selector that asks for the state in hand. */
  inState(m: Matching, state: string): boolean {
    return m.evidence.selectors.some((i) => asksForState(m.selectors[i] ?? '', state))
  }

  private reaches: ReadonlyMap<MatchedEvidence, ReachEvidence> | null = null

  /** What the page says of how far a rule that matches the element reaches there. */
  reachOf({ evidence }: Matching): ReachEvidence | undefined {
    const { matched, reach } = this.evidence
    this.reaches ??= new Map((matched[0] ?? []).flatMap((m, i) => (reach[i] ? [[m, reach[i]]] : [])))
    return this.reaches.get(evidence)
  }

  private readonly kin = new Map<Matching, boolean>()

  /** Whether the rule reaches only the element's like on all pages of the project, and not just on the one that shows. */
  isKinInProject(m: Matching): boolean {
    let found = this.kin.get(m)
    // The page itself has counted what is on it.
    if (found === undefined) this.kin.set(m, (found = this.project.pages().length === 1 || reachesOnlyKin(this.project, m.selectors, this.kind)))
    return found
  }

  private knownKind: Kind | null = null

  /** What the element is known by to its like. */
  get kind(): Kind {
    const { info, ancestors } = this.evidence
    return (this.knownKind ??= { tag: info.tag, classes: info.classes, place: placeNames(ancestors.slice(1)) })
  }

  /** Where `property` comes from and where an edit of it could land. A shorthand is asked for as its longhands. */
  aim(property: string): PropertyAim {
    const longhands = longhandsOf(property)
    const contest = this.contest(longhands[0])
    const written = this.readable(longhands, this.written(property, longhands), property)
    const computed = this.evidence.computed[property] ?? this.evidence.computed[longhands[0]] ?? ''
    return {
      property, computed,
      origin: this.origin(longhands[0], contest),
      written,
      writtenWhole: this.writtenWhole(property, longhands),
      important: contest?.winner.declaration.important != null,
      ...this.places(longhands),
      without: this.without(longhands[0], contest),
      noEffect: whyNoEffect(property, { tag: this.evidence.info.tag, isSvg: this.evidence.isSvg, computed: this.facts, parent: this.parentFacts, value: written ?? computed }),
      besides: /^((row|column)-)?gap$/.test(property) && !/^(normal|0px)?( (normal|0px))?$/.test(computed) ? this.marginsBetween() : [],
    }
  }

  // Classes of the element that put margins between its children.
  private marginsBetween(): string[] {
    return vocabulariesOf(this.project).flatMap((v) => this.evidence.info.classes.filter((name) => v.read(name)?.declared.some((d) => d.on.includes('>') && d.name.startsWith('margin'))))
  }

  private readonly ofUnset = new Map<string, Pick<PropertyAim, 'candidates' | 'chosen' | 'because'>>()

  // Properties that nothing sets have the same places, but for the classes of a vocabulary. Most are such.
  private places(longhands: readonly string[]): Pick<PropertyAim, 'candidates' | 'chosen' | 'because'> {
    const { matching, names } = this.level(0)
    const touches = (name: string) => longhands.some((l) => sets(name, l))
    if (names.some(touches) || this.isSetAtSizes(longhands) || matching.some((m) => m.off.some(touches)) || vocabulariesOf(this.project).length) return placesFor(this, longhands)
    const key = this.fresh.forWhich(longhands)
    const known = this.ofUnset.get(key) ?? placesFor(this, longhands)
    this.ofUnset.set(key, known)
    return known
  }

  private readonly ruleRefs = new Map<RuleSite, Extract<AimRef, { kind: 'rule' }>>()

  private readonly toldOf = new Map<AimRef, Candidate[]>()

  /** A candidate as it was told of another property, where all it says is the same: sent to another thread, it goes once. */
  told(candidate: Candidate): Candidate {
    const { ref } = candidate
    const known = this.toldOf.get(ref)
    const same = known?.find((k) => k === candidate || (saysTheSame(k, candidate) && saysTheSame(candidate, k)))
    if (same) return same
    if (known) known.push(candidate)
    else this.toldOf.set(ref, [candidate])
    return candidate
  }

  /** The reference to a rule, the same for each property: what is sent to another thread names it once. */
  ruleRef({ ref, site }: RulePlace): Extract<AimRef, { kind: 'rule' }> {
    let known = this.ruleRefs.get(site)
    if (!known) this.ruleRefs.set(site, (known = { kind: 'rule', sheet: ref.key, rule: site.rule.id }))
    return known
  }

  private bySource: Map<AimRef, Matching> | null = null

  /** The rule that matches the element and is written at the place that `ruleRef` gave. */
  matchingAt(ref: AimRef): Matching | null {
    this.bySource ??= new Map(this.level(0).matching.toReversed().flatMap((m) => (m.source ? [[this.ruleRef(m.source), m]] : [])))
    return this.bySource.get(ref) ?? null
  }

  private known: Readonly<Record<string, string>> | null = null

  // What is declared is read from the source, since a used value does not tell `auto` from a length.
  private get facts(): Readonly<Record<string, string>> {
    if (this.known) return this.known
    const { computed, parent, place, holds } = this.evidence
    const declared = (name: string) => {
      const value = this.contest(name)?.winner.value.trim().toLowerCase()
      return value !== undefined && value !== 'auto' && value !== 'initial' && value !== 'unset' ? 'set' : 'auto'
    }
    const zero = (v: string | undefined) => v === '0px' || v === undefined
    const open = (side: 'top' | 'bottom') =>
      computed.display === 'block' && parent.display === 'block' && (parent['overflow-x'] ?? 'visible') === 'visible' && (computed.float ?? 'none') === 'none' && /^(static|relative)$/.test(computed.position ?? '') &&
      zero(parent[`padding-${side}`]) && zero(parent[`border-${side}-width`]) && (place === 'only' || place === (side === 'top' ? 'first' : 'last'))
    return (this.known = {
      ...computed,
      ...Object.fromEntries(['width', 'height', 'top', 'left'].map((n) => [`--declared-${n}`, declared(n)])),
      '--holds-elements': holds.elements ? 'yes' : 'no',
      '--wide-text': holds.wideText ? 'yes' : 'no',
      '--collapses-top': open('top') ? 'yes' : 'no',
      '--collapses-bottom': open('bottom') && this.parentFacts['--declared-height'] !== 'set' ? 'yes' : 'no',
    })
  }

  private knownParent: Readonly<Record<string, string>> | null = null

  private get parentFacts(): Readonly<Record<string, string>> {
    if (this.knownParent) return this.knownParent
    const height = this.contest('height', this.evidence.condition.part ? 2 : 1)?.winner.value.trim() ?? 'auto'
    return (this.knownParent = { ...this.evidence.parent, '--declared-height': height === 'auto' ? 'auto' : 'set' })
  }

  private writtenWhole(property: string, longhands: readonly string[]): string | null {
    const winner = this.contest(longhands[0])?.winner
    return winner?.site && winner.declaration.name === property ? textOf(winner.site, withComments(winner.site.statement.text, winner.declaration)) : null
  }

  // What a compiled sheet writes is arithmetic on variables; its class is read in lengths.
  private readable(longhands: readonly string[], text: string | null, property: string): string | null {
    const site = this.contest(longhands[0])?.winner.site
    if (text === null || !site || !/calc\(|--tw-|var\(--(?:[\w-]+-)?spacing\)/.test(text)) return text
    const m = this.level(0).matching.find((x) => x.site === site)
    const v = m && m.ref.generated !== null ? vocabulariesOf(this.project).find((x) => x.isCompiled) : undefined
    if (!v) return text
    const values = new Set(longhands.map((l) => v.normal(property, text, l)))
    const [only] = values
    const plain = values.size === 1 ? only : v.normal(property, text, property)
    return plain.includes('var(') ? text : plain
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
      : partOfShorthand(w.declaration.name, w.value, longhand, this.project.knowledge)
    const parts = winners.map((w, i) => w && part(w, longhands[i]))
    if (parts.some((p) => p === null)) return null
    if (longhands.length === 1) return parts[0]
    return composeShorthand(property, new Map(longhands.map((l, i) => [l, parts[i]!])))
  }

  /** The file and line of a declaration that applies at a level, and the name of its rule. */
  where(applied: Applied, level = 0): { label: string; path: string; line: number } {
    if (applied.site === null) {
      const source = this.sourceAt(level)
      const found = source ? this.project.element(source) : null
      return { label: applied.isHint ? `${applied.declaration.name} attribute` : 'style attribute', path: found?.path ?? '', line: found?.element.startTag ? found.tree.lineAt(found.element.startTag.from) : 0 }
    }
    const m = this.level(level).matching.find((x) => x.site === applied.site)!
    return this.place(m, applied.declaration)
  }

  private place(m: Matching, d: Declaration): { label: string; path: string; line: number } {
    return { label: m.label, path: (m.source?.ref ?? m.ref).path, line: this.lineOf(m, d) }
  }

  lineOf(m: Matching, d: Declaration | null): number {
    const { ref, site } = m.source ?? m
    // A compiled declaration stands in the source too, or in what the compiler put in its place.
    const written = site === m.site ? d : d && (declarationsOf(site.rule).findLast((x) => x.name === d.name) ?? null)
    return this.project.lineIn(ref, site.statement.start + (written?.span.from ?? site.rule.span.from))
  }

  private origin(longhand: string, contest: Contest | null): ValueOrigin {
    if (contest) {
      return { kind: contest.winner.site ? 'rule' : contest.winner.isHint ? 'attribute' : 'inline', ...this.where(contest.winner), text: contest.winner.value }
    }
    const above = this.winner(longhand)
    if (above) {
      const { winner } = this.contest(longhand, above.level)!
      return { kind: 'inherited', ...this.where(winner, above.level), text: winner.value }
    }
    return { kind: 'initial', label: 'initial value', path: null, line: null, text: null }
  }

  private without(longhand: string, contest: Contest | null): Ineffective[] {
    const out: Ineffective[] = []
    const winner = contest && this.where(contest.winner)
    for (const { applied, by } of contest?.losers ?? []) out.push({ ...this.where(applied), text: applied.value, reason: overridden(by, winner!) })
    for (const { m, d } of this.dropped) {
      if (!sets(d.name, longhand)) continue
      const text = textOf(m.site, d.value)
      const known = this.project.taken.get(`${d.name}: initial`) ?? true
      out.push({ ...this.place(m, d), text, reason: known ? invalidValue(d.name, text) : unknownProperty(d.name) })
    }
    // A winner whose variable holds nothing is as if it were not there (CSS Variables 1 §3.1).
    const missing = contest && this.missingVariable(contest.winner.value)
    if (contest && missing) out.push({ ...winner!, text: contest.winner.value, reason: undefinedVariable(missing) })
    for (const m of this.unmet) {
      const own = m.applied.findLast((a) => sets(a.declaration.name, longhand))
      if (own) out.push({ ...this.place(m, own.declaration), text: own.value, reason: unmetCondition(m.conditions) })
    }
    return out
  }

  private knownDropped: readonly { readonly m: Matching; readonly d: Declaration }[] | null = null

  // Declarations of rules that match which the engine does not take.
  private get dropped(): readonly { readonly m: Matching; readonly d: Declaration }[] {
    return (this.knownDropped ??= this.level(0).matching.flatMap((m) => declarationsOf(m.site.rule).filter((d) => !m.applied.some((a) => a.declaration === d)).map((d) => ({ m, d }))))
  }

  private missingVariable(value: string): string | null {
    const alone = /var\(\s*(--[^\s,)]+)\s*\)/i.exec(value)
    const name = alone?.[1]
    return name && !this.project.definesVariable(name) && !this.evidence.inline.some((text) => text.includes(name)) ? name : null
  }
}

// Asked for each place of each property of a pick, so without a list of names.
// Lists of what overrides a place are made for each property.
function saysTheSame(a: Candidate, b: Candidate): boolean {
  for (const name in a) if (a[name as keyof Candidate] !== b[name as keyof Candidate]) return false
  return true
}

/** How a step of the cascade is told of the one that won by it. */
export const STEP_WORDS: Readonly<Record<Reason, string>> = {
  importance: 'it is !important', hint: 'any rule comes before an attribute of SVG', inline: 'it is a style attribute', layer: 'its layer comes later', specificity: 'its specificity is higher', proximity: 'its scope is nearer', order: 'it stands later',
}

const overridden = (by: Reason, winner: { label: string; path: string; line: number }): NoEffect => ({
  code: 'overridden', why: `${winner.label} (${winner.path}:${winner.line}) wins: ${STEP_WORDS[by]}`, spec: 'CSS Cascade 5 §6.1', remedy: null,
})
const invalidValue = (name: string, text: string): NoEffect => ({ code: 'invalid-value', why: `“${text}” is not a value of ${name}, so the browser drops it`, spec: 'CSS Syntax 3 §9', remedy: null })
const unknownProperty = (name: string): NoEffect => ({ code: 'unknown-property', why: `this browser knows no property ${name}`, spec: 'CSS Syntax 3 §9', remedy: null })
const undefinedVariable = (name: string): NoEffect => ({ code: 'variable-undefined', why: `${name} is not defined here, so the value counts as unset`, spec: 'CSS Variables 1 §3.1', remedy: null })
const unmetCondition = (conditions: readonly string[]): NoEffect => ({ code: 'unmet-condition', why: `${conditions.join(' ') || 'its condition'} does not hold now`, spec: 'CSS Conditional 3 §2', remedy: null })

export const lastCompound = (selector: string): string => selector.split(/[\s>+~]+/).at(-1) ?? ''

export const labelOf = (site: RuleSite): string => {
  const style = site.rule.kind === 'style' ? site.rule : site.parents.findLast((p) => p.kind === 'style')
  // What is nested is told without its nesting.
  if (style && site.parents.some((p) => p.kind === 'style')) return resolvedSelectors(site).join(', ')
  return style ? textOf(site, style.prelude).replace(/\s+/g, ' ') : `@${(site.rule as { name: string }).name}`
}

/** Conditions around a rule, outermost first, as written. */
export const conditionsOf = (site: RuleSite): string[] =>
  [...site.parents, site.rule].flatMap((p) => (p.kind === 'at' && p.name !== 'layer' && p.name !== 'scope' ? [`@${p.name} ${textOf(site, p.prelude)}`] : []))
