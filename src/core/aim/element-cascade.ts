import { compareApplied, decide, type Applied, type Contest, type LayerOrder } from '../cascade'
import {
  compareSpecificity,
  declarationsOf,
  escapeName,
  isOfSize,
  oneOfNames,
  parseDeclarationList,
  resolvedSelectors,
  sets,
  specificityOf,
  switchedOff,
  takenDeclarations,
  textOf,
  type Declaration,
  type RuleSite,
} from '../css'
import { placeNames } from '../html'
import { reachesOnlyKin, sourceOfRule, type Kind, type Project, type RulePlace } from '../project'
import { asksForState } from './condition'
import type { Evidence, MatchedEvidence, ReachEvidence } from './evidence'
import { isInherited } from './inherited'
import { conditionsOf, isAsked, labelOf, lastCompound, NEW_DECLARATION, type Matching } from './matching'
import { layersOf } from './page-layers'
import type { AimRef, Candidate, Overriding } from './types'

/** What applies to the selected element, or to one that it inherits from. */
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
        // A value that is not taken is distinguished from a name that no value would save.
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
  private readonly levels: Level[] = []

  constructor(
    readonly project: Project,
    readonly evidence: Evidence,
  ) {
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
      declaration,
      site: null,
      specificity: [0, 0, 0],
      layer: 0,
      sheet: 0,
      offset: declaration.span.from,
      proximity: Infinity,
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
      declaration: { ...NEW_DECLARATION, name },
      value,
      site: null,
      isHint: true,
      specificity: [0, 0, 0],
      layer: 0,
      sheet: 0,
      offset: 0,
      proximity: Infinity,
    }))
  }

  private matching(list: readonly MatchedEvidence[]): Matching[] {
    return list.flatMap((m): Matching[] => {
      const ref = this.project.sheet(m.sheet)
      // The page may still show rules of a version that is gone; it is sent the new one at once.
      if (!ref?.sheet.hasRule(m.rule)) return []
      const site = ref.sheet.site(m.rule)
      const selectors = resolvedSelectors(site)
      const specificity = m.selectors
        .map((i) => specificityOf(selectors[i] ?? '') ?? ([0, 0, 0] as const))
        .reduce((a, b) => (compareSpecificity(a, b) >= 0 ? a : b), [0, 0, 0])
      const layer = this.layers.orderOf(site.rule)
      const applied = takenDeclarations(site.statement.text, site.rule, this.project.knowledge).map((declaration): Applied => ({
        declaration,
        site,
        specificity,
        layer,
        sheet: m.order,
        value: textOf(site, declaration.value),
        offset: site.statement.start + declaration.span.from,
        proximity: m.proximity ?? Infinity,
      }))
      const off = site.rule.children.flatMap((c) => (c.kind === 'comment' ? (switchedOff(site.statement.text, c)?.name ?? []) : []))
      const source = this.project.isEditable(ref) ? { ref, site } : sourceOfRule(this.project, ref, site)
      const isOwn = m.selectors.some((i) => this.namesOwn(selectors[i] ?? ''))
      return [
        {
          evidence: m,
          ref,
          site,
          source,
          specificity,
          selectors,
          label: labelOf(site),
          conditions: conditionsOf(site),
          applied,
          isOwn,
          off,
        },
      ]
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

  private knownNarrowed: {
    readonly rules: readonly (readonly [m: Matching, holds: boolean])[]
    readonly names: ReadonlySet<string>
  } | null = null

  // The rules that match at some sizes only, and what they declare.
  private get narrowed() {
    if (this.knownNarrowed) return this.knownNarrowed
    const of = (list: readonly Matching[], holds: boolean) => list.filter((m) => this.isNarrowed(m)).map((m) => [m, holds] as const)
    const rules = [...of(this.level(0).matching, true), ...of(this.unmet, false)]
    return (this.knownNarrowed = {
      rules,
      names: new Set(rules.flatMap(([m]) => m.applied.map((a) => a.declaration.name))),
    })
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
      const { label, path, line } = this.declaredIn(m, own.declaration)
      return [{ condition: m.conditions.filter(isOfSize).join(' '), label, path, line, value: own.value, holds }]
    })
  }

  private readonly atEverySize = new Map<string, Contest | null>()

  /** Who decides a longhand where no rule counts that holds at some sizes only. */
  contestAtEverySize(longhand: string): Contest | null {
    let known = this.atEverySize.get(longhand)
    if (known === undefined) {
      const narrowed = new Set(this.narrowed.rules.map(([m]) => m.site))
      this.atEverySize.set(
        longhand,
        (known = decide(
          this.level(0).applied.filter((a) => a.site === null || !narrowed.has(a.site)),
          longhand,
        )),
      )
    }
    return known
  }

  /** Who decides a longhand at a level: 0 is the element itself, or the selected pseudo-element. */
  contest(longhand: string, level = 0): Contest | null {
    const { applied, names, contests } = this.level(level)
    let known = contests.get(longhand)
    if (known === undefined) {
      const setting = names.filter((name) => sets(name, longhand))
      contests.set(
        longhand,
        (known = setting.length
          ? decide(
              applied.filter((a) => setting.includes(a.declaration.name)),
              longhand,
            )
          : null),
      )
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

  /** Whether all selectors of a rule are about something with a class of the selected element. */
  isOwnRule(site: RuleSite): boolean {
    return resolvedSelectors(site).every((s) => this.namesOwn(s))
  }

  private namesOwn(selector: string): boolean {
    return this.ownClass !== null && this.ownClass.test(lastCompound(selector))
  }

  /** One of the element's own classes in a selector, whole. */
  private readonly ownClass: RegExp | null

  /** Whether a matching rule does so by a selector that asks for the chosen state. */
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
    if (found === undefined)
      this.kin.set(m, (found = this.project.pages().length === 1 || reachesOnlyKin(this.project, m.selectors, this.kind)))
    return found
  }

  private knownKind: Kind | null = null

  /** What the element is known by to its like. */
  get kind(): Kind {
    const { info, ancestors } = this.evidence
    return (this.knownKind ??= { tag: info.tag, classes: info.classes, place: placeNames(ancestors.slice(1)) })
  }

  private readonly ruleRefs = new Map<RuleSite, Extract<AimRef, { kind: 'rule' }>>()

  private readonly toldOf = new Map<AimRef, Candidate[]>()

  /** A candidate as it was sent for another property, where all it says is the same: sent to another thread, it goes once. */
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
    this.bySource ??= new Map(
      this.level(0)
        .matching.toReversed()
        .flatMap((m) => (m.source ? [[this.ruleRef(m.source), m]] : [])),
    )
    return this.bySource.get(ref) ?? null
  }

  /** The file and line of a declaration that applies at a level, and the name of its rule. */
  where(applied: Applied, level = 0): { label: string; path: string; line: number } {
    if (applied.site === null) {
      const source = this.sourceAt(level)
      const found = source ? this.project.element(source) : null
      return {
        label: applied.isHint ? `${applied.declaration.name} attribute` : 'style attribute',
        path: found?.path ?? '',
        line: found?.element.startTag ? found.tree.lineAt(found.element.startTag.from) : 0,
      }
    }
    const m = this.level(level).matching.find((x) => x.site === applied.site)!
    return this.declaredIn(m, applied.declaration)
  }

  /** The file and line of a declaration of a rule that matches, and the name of the rule. */
  declaredIn(m: Matching, d: Declaration): { label: string; path: string; line: number } {
    return { label: m.label, path: (m.source?.ref ?? m.ref).path, line: this.lineOf(m, d) }
  }

  lineOf(m: Matching, d: Declaration | null): number {
    const { ref, site } = m.source ?? m
    // A compiled declaration stands in the source too, or in what the compiler put in its place.
    const written = site === m.site ? d : d && (declarationsOf(site.rule).findLast((x) => x.name === d.name) ?? null)
    return this.project.lineIn(ref, site.statement.start + (written?.span.from ?? site.rule.span.from))
  }
}

// Asked for each place of each property of a pick, so without a list of names.
// Lists of what overrides a place are made for each property.
function saysTheSame(a: Candidate, b: Candidate): boolean {
  for (const name in a) if (a[name as keyof Candidate] !== b[name as keyof Candidate]) return false
  return true
}
