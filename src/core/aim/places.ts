import { compareApplied, type Applied, type Contest } from '../cascade'
import {
  compareSpecificity,
  escapeName,
  longhandsOf,
  nestingHabit,
  placeUnder,
  SheetMemo,
  specificityOf,
  splitSelectors,
  stateSelectors,
  textOf,
  type Declaration,
  type Specificity,
} from '../css'
import { isScopedSheet, type FoundElement } from '../project'
import { placeText } from '../text'
import { classListsFor } from './class-lists'
import { classedUsage } from './component-usage'
import { asksForAnyState, isConditional } from './condition'
import { DefaultPlace } from './default-place'
import type { ElementCascade } from './element-cascade'
import { homeAfter, type FreshRule, type Home } from './fresh-rule'
import { isAsked, NEW_DECLARATION, NOTHING, type Matching } from './matching'
import type { RulePlaces } from './rule-places'
import { styleModulesOf } from './style-modules'
import { tokenPlaces, type TokenPlaces } from './tokens'
import type { Candidate, NewRuleRef, RankedPlaces, TakingRef } from './types'

const IMPORTANT_DECLARATION: Declaration = { ...NEW_DECLARATION, important: { from: 0, to: 0 } }

const HABITS = new SheetMemo(nestingHabit)

/** Where a rule under a condition would stand, by its offset; undefined where that is right behind the rule of its home. */
function endUnder({ ref, after, rule }: Home, condition: string): number | undefined {
  // What a rule is compiled to stands in another sheet than the rule, in an order of its own.
  if (rule === null || after?.ref.key !== ref.key || HABITS.of(ref.sheet).conditions) return undefined
  const place = placeUnder(ref.sheet, ref.sheet.site(rule), 'media', condition)
  const site = place.kind === 'empty' ? place.block : place.kind === 'after' ? place.rule : place.after
  return site.statement.start + site.rule.span.to
}

/** What is made once for an element, and asked for each property. */
interface OfElement {
  readonly cascade: ElementCascade
  readonly fresh: FreshRule
  readonly rules: RulePlaces
}

/** Every place an edit of these longhands could land, and which of them is the default. */
export function placesFor({ cascade, fresh, rules }: OfElement, longhands: readonly string[]): RankedPlaces {
  return new Places(cascade, fresh, rules, longhands).rank()
}

class Places {
  private readonly contests: readonly (Contest | null)[]
  private readonly tokens: TokenPlaces
  private readonly byDefault: DefaultPlace

  constructor(
    private readonly c: ElementCascade,
    private readonly freshRule: FreshRule,
    private readonly rules: RulePlaces,
    private readonly longhands: readonly string[],
  ) {
    this.contests = longhands.map((l) => c.contest(l))
    this.tokens = tokenPlaces(c, this.contests)
    this.byDefault = new DefaultPlace(c, freshRule, this.tokens, longhands, this.contests)
  }

  private get condition() {
    return this.c.evidence.condition
  }

  rank(): RankedPlaces {
    const rules = this.rules.candidates(this.longhands, this.contests)
    const rest = this.told([
      ...this.tokens.candidates,
      ...(isConditional(this.condition) ? this.conditionedRules(rules) : [...this.ownRule(rules), ...this.newClass()]),
      ...this.newSheet(),
    ])
    const inline = isConditional(this.condition) ? [] : this.told([...this.attribute(), ...this.inline()])
    const lists = this.told(classListsFor(this.c, this.longhands, this.contests))
    // A list that decides, or that is how the element is styled, goes before rules that would make it something else.
    const [first, last] = this.byDefault.isStyledByList
      ? [lists, []]
      : [lists.filter((c) => c.current !== null && c.wins), lists.filter((c) => c.current === null || !c.wins)]
    const candidates = inline.some((c) => c.current !== null)
      ? [...inline, ...first, ...rules, ...last, ...rest]
      : [...first, ...rules, ...last, ...rest, ...inline]
    const chosen = this.byDefault.choose(candidates)
    const because = chosen < 0 ? '' : this.byDefault.because(candidates, candidates[chosen])
    const m = chosen < 0 ? this.byDefault.preprocessed : null
    const preprocessed = m && { label: m.label, path: m.ref.path, line: this.c.lineOf(m, null) }
    if (!candidates.some((c) => c.closed)) return { candidates, chosen, because, preprocessed }
    const open = candidates.filter((c) => !c.closed && !this.byDefault.isOfVocabulary(c))
    const instead = open[this.byDefault.choose(open)]
    return {
      candidates: instead
        ? candidates.map((c) => (c.closed ? { ...c, otherwise: { ref: instead.ref, label: instead.label, reach: instead.reach } } : c))
        : candidates,
      chosen,
      because,
      preprocessed,
    }
  }

  private told(candidates: readonly Candidate[]): Candidate[] {
    return candidates.map((c) => this.c.told(c))
  }

  private setsAny = (a: Applied): boolean => this.longhands.some((l) => longhandsOf(a.declaration.name).includes(l))

  private isBeaten(rival: Applied): boolean {
    return this.contests.some((c) => c && compareApplied(rival, c.winner).sign < 0)
  }

  private fresh(
    selector: string,
    home: Home,
    more: Pick<Candidate, 'ref' | 'reason' | 'label'> & Partial<Candidate>,
    offset?: number,
  ): Candidate {
    const { ref, after, end } = home
    const specificity = splitSelectors(selector)
      .map((s) => specificityOf(s) ?? ([0, 0, 0] as Specificity))
      .reduce((a, b) => (compareSpecificity(a, b) >= 0 ? a : b))
    const declaration = more.asImportant ? IMPORTANT_DECLARATION : NEW_DECLARATION
    const rival: Applied = after
      ? { ...this.rules.rivalIn(after, specificity), declaration, ...(offset !== undefined && { offset }) }
      : {
          declaration,
          value: '',
          site: null,
          sheet: home.order,
          specificity,
          offset: end,
          layer: home.layer,
          proximity: Infinity,
        }
    const stronger = this.contests.flatMap((c) => {
      if (!c) return []
      // A sheet's end is no site to compare by, and what is in an attribute is stronger but for importance.
      const { winner } = c
      if (!winner.site) return winner.isHint || (more.asImportant && !winner.declaration.important) ? [] : [winner]
      return compareApplied({ ...rival, site: rival.site ?? winner.site }, winner).sign < 0 ? [winner] : []
    })[0]
    const at = stronger && this.c.where(stronger)
    const place: Candidate = {
      path: ref.path,
      line: this.c.project.lineIn(ref, end),
      ...(ref.style.minified && { near: after ? after.label : 'its end' }),
      conditions: [],
      specificity,
      reach: null,
      current: null,
      important: false,
      asImportant: false,
      elsewhere: false,
      overridden: NOTHING,
      wins: !stronger,
      losesTo: at ? `${at.label} (${placeText(at)})` : null,
      fits: true,
      off: false,
      ...more,
    }
    return place.conditions.length === 0 && this.isSetAtSizes ? this.rules.atSizes(place, rival, this.longhands) : place
  }

  // The first of some selectors that reaches only the element's like, at the first place where the new rule would win; or the first at all.
  private atBest(
    selectors: readonly string[],
    make: (selector: string, home: Home) => Candidate,
    homes: readonly Home[] = [...this.freshRule.beforeConditions, ...this.freshRule.homes],
  ): Candidate[] {
    let first: Candidate | null = null
    for (const selector of selectors) {
      for (const home of homes) {
        const candidate = make(selector, home)
        const isLike = selectors.length === 1 || this.freshRule.isForItsLike(selector, this.longhands)
        if (isLike && (candidate.wins || candidate.elsewhere)) return [candidate]
        first ??= candidate
      }
    }
    return first ? [first] : []
  }

  private ownRule(rules: readonly Candidate[]): Candidate[] {
    const fresh = this.freshRule
    // A rule for its like that is there is such a place already.
    const isThere = rules.some((r) => {
      const m = this.byDefault.matchingOf(r)
      return (
        m !== null && (r.wins || r.elsewhere) && !this.c.isNarrowed(m) && (m.isOwn || m.selectors.every((s) => fresh.selectors.includes(s)))
      )
    })
    const make = (selector: string, home: Home) => {
      const ref: NewRuleRef = { kind: 'new-rule', sheet: home.ref.key, after: home.rule, selector, under: '' }
      return this.fresh(selector, home, { ref, label: selector, reason: 'a new rule with a selector of its own' })
    }
    const best = this.atBest(isThere ? fresh.free.filter((s) => /^[.#]\S+$/.test(s)) : [...fresh.free, ...fresh.stronger], make)
    // What has an id can be named by it, too.
    const id = fresh.free.find((s) => s.startsWith('#'))
    return id && best[0]?.label !== id ? [...best, ...this.atBest([id], make)] : best
  }

  private newClass(): Candidate[] {
    const { info, copies = 1 } = this.c.evidence
    const found = info.source && this.c.project.element(info.source)
    if (!info.source || !found || !found.element.startTag || this.c.project.readOnly(found.path)) return []
    const usage = classedUsage(this.c)
    const own = this.newClassOf(found, { source: info.source }, copies, `a new class for ${this.byDefault.whom}, with a rule of its own`)
    if (!usage) return own
    const { source, name, count, taking } = usage
    const reason = taking ? `the edit has ${name} take className and pass it on` : `a new class that this ${name} is given`
    const given = this.newClassOf(usage.found, { source, ...(taking && { taking }) }, count, reason)
    // Not written unasked: what a component is given is the page's own choice.
    return [...own, ...given.map((c) => ({ ...c, label: `${c.label} of this ${name}`, fits: false }))]
  }

  private newClassOf(
    found: FoundElement,
    of: { readonly source: string; readonly taking?: TakingRef },
    reach: number,
    reason: string,
  ): Candidate[] {
    const name = this.freshRule.className
    const make =
      (styles?: string) =>
      (selector: string, home: Home): Candidate =>
        this.fresh(selector, home, {
          ref: {
            kind: 'new-class',
            ...of,
            name: styles === undefined ? name : selector.slice(1),
            sheet: home.ref.key,
            after: home.rule,
            ...(styles !== undefined && { styles }),
          },
          label: selector,
          reach,
          reason,
        })
    const [module] = styleModulesOf(this.c, found.path)
      .map(({ styles, ref }) => ({ styles, ref, homes: this.freshRule.homesIn(ref) }))
      .sort((a, b) => b.homes.length - a.homes.length)
    const own = module && this.atBest([`.${this.freshRule.memberName(module.ref)}`], make(module.styles), module.homes)
    // A module's class has another name on the page than a plain list would say.
    return own ?? this.atBest([`.${escapeName(name)}`], make()).filter(({ path }) => !isScopedSheet({ path }))
  }

  /** Where the page has no sheet of the author's, one in the page itself. */
  private newSheet(): Candidate[] {
    const { evidence, project, layers } = this.c
    const { source } = evidence.info
    const found = source ? project.element(source) : null
    const key = evidence.sheets.at(-1)
    const last = key === undefined ? null : project.sheet(key)
    if (
      this.freshRule.isAuthored ||
      !source ||
      !found?.element.startTag ||
      project.readOnly(found.path) ||
      !last ||
      !found.tree.newSheetPlace()
    )
      return []
    const name = this.freshRule.className
    const { state, part, media } = this.condition
    const plain = `.${escapeName(name)}`
    const asked = state || part ? stateSelectors(plain, state + part) : plain
    return [
      this.fresh(
        asked,
        {
          ref: last,
          after: null,
          rule: null,
          order: evidence.sheets.length,
          layer: layers.unlayered,
          end: last.sheet.length,
        },
        {
          ref: { kind: 'new-sheet', source, name, selector: asked, under: media, last: last.key },
          label: `${asked} in a new <style>`,
          reach: 1,
          path: found.path,
          line: found.tree.lineAt(found.element.startTag.from),
          near: undefined,
          conditions: media ? [`@media ${media}`] : [],
          reason: 'a new class for this element alone, in a style sheet of the page',
        },
      ),
    ]
  }

  /** The rule for the state, part and widths asked for, beside the rule that the element's default edit would land in. */
  private conditionedRules(rules: readonly Candidate[]): Candidate[] {
    const { state, part, media } = this.condition
    const base = this.baseRule(rules)
    const home = base ? homeAfter(base, this.c.layers) : this.freshRule.home
    const prelude = base ? textOf(base.site, base.site.rule.prelude) : this.freshRule.selector
    if (!home) return []
    const plain = part && base && this.hasPart(base) ? prelude : part ? stateSelectors(prelude, part) : prelude
    // The base itself stands under the condition already: only the state is added.
    const there = base !== null && base.conditions.some((c) => isAsked(c, this.condition))
    const under = there ? '' : media
    const selector = state ? stateSelectors(plain, state) : plain
    const reach = base && this.c.reachOf(base)
    let known: { readonly end: number | undefined } | undefined
    const made = (text: string, more: Partial<Candidate> & { reason: string }) => {
      const all = {
        ref: { kind: 'new-rule' as const, sheet: home.ref.key, after: home.rule, selector: text, under },
        label: text,
        conditions: under ? [`@media ${under}`] : base ? base.conditions : [],
        ...more,
      }
      const beside = this.fresh(text, home, all)
      // A block of its own may stand further down, behind what would win over it there.
      if (beside.wins || under === '') return beside
      const { end } = (known ??= { end: endUnder(home, under) })
      return end === undefined ? beside : this.fresh(text, home, all, end)
    }
    const out: Candidate[] = []
    if (!rules.some((r) => r.fits && r.label === selector))
      out.push(
        made(selector, {
          reach: reach?.count ?? null,
          reason: base ? `a new rule beside ${base.label}` : 'a new rule with a selector of its own',
        }),
      )
    if (out.some((c) => c.wins) || rules.some((r) => r.fits && r.wins)) return out
    const raised = this.raised((own) =>
      made(stateSelectors(part ? stateSelectors(own, part) : own, state), {
        reason: 'a new rule, specific enough to win',
      }),
    )
    if (raised) return [...out, raised]
    return [...out, ...this.asImportant(rules, (reason) => made(selector, { reach: reach?.count ?? null, asImportant: true, reason }))]
  }

  // What an important place is told by, in the middle of a sentence.
  /** Where only importance can win, the rule that has just this condition, or a new one, with its declaration marked so. */
  private asImportant(rules: readonly Candidate[], make: (reason: string) => Candidate): Candidate[] {
    const there = rules.find((r) => r.fits)
    const m = there && this.byDefault.matchingOf(there)
    const candidate =
      there && m
        ? {
            ...there,
            asImportant: true,
            losesTo: null,
            reason: this.byDefault.marked,
            wins: !this.isBeaten({ ...this.rules.rivalIn(m), declaration: IMPORTANT_DECLARATION }),
          }
        : make(`a new rule, ${this.byDefault.marked}`)
    return candidate.wins ? [candidate] : []
  }

  // What its own selector says, told further and further out, until nothing that applies is more specific.
  private raised(make: (selector: string) => Candidate): Candidate | null {
    const { info, ancestors } = this.c.evidence
    const compound = (e: { tag: string; id: string; classes: readonly string[] }) =>
      `${e.tag}${e.id ? `#${escapeName(e.id)}` : ''}${e.classes.map((c) => `.${escapeName(c)}`).join('')}`
    let selector = compound(info)
    for (const above of [null, ...ancestors.slice(1, 8)]) {
      if (above) selector = `${compound(above)} ${selector}`
      const candidate = make(selector)
      if (candidate.wins) return candidate
    }
    return null
  }

  private inAnyState(m: Matching): boolean {
    return m.evidence.selectors.some((i) => asksForAnyState(m.selectors[i] ?? ''))
  }

  private hasPart = (m: Matching): boolean => textOf(m.site, m.site.rule.prelude).includes(this.condition.part)

  // The rule that the same edit would land in without the condition; for a pseudo-element without rules, one of the element.
  private baseRule(rules: readonly Candidate[]): Matching | null {
    const { state, part } = this.condition
    const plain = rules
      .filter((r) => {
        const m = this.byDefault.matchingOf(r)
        return m !== null && (state === '' || (!this.inAnyState(m) && !this.c.inState(m, state))) && r.conditions.length === 0
      })
      .map((r) => ({ ...r, fits: true }))
    const at = this.byDefault.choose(plain)
    const found = at >= 0 ? this.byDefault.matchingOf(plain[at]) : null
    if (found || !part) return found
    const own = this.c
      .level(1)
      .matching.filter(
        (m) => m.site.rule.kind === 'style' && m.site.parents.length === 0 && m.site.rule.closed && m.source !== null && m.isOwn,
      )
    return own[0] ?? null
  }

  private inline(): Candidate[] {
    const { evidence, project } = this.c
    const source = evidence.info.source
    const found = source ? project.element(source) : null
    if (!found?.element.startTag || project.readOnly(found.path)) return []
    const there = this.c.level(0).applied.findLast((a) => a.site === null && !a.isHint && this.setsAny(a)) ?? null
    const important = this.contests.find((c) => c && c.winner.site && c.winner.declaration.important)?.winner
    return [
      {
        ref: this.c.inlineRef,
        path: found.path,
        line: found.tree.lineAt(found.element.startTag.from),
        label: 'style attribute',
        conditions: [],
        specificity: null,
        reach: evidence.copies ?? 1,
        current: there?.value ?? null,
        important: there?.declaration.important != null,
        asImportant: false,
        elsewhere: false,
        overridden: NOTHING,
        wins: !important || there?.declaration.important != null,
        losesTo: important ? `${this.c.where(important).label} is !important` : null,
        fits: true,
        off: false,
        reason: there ? `sets it on ${this.byDefault.whom} now` : this.byDefault.whom,
      },
    ]
  }

  // Where an attribute of an SVG element gives it.
  private attribute(): Candidate[] {
    const { evidence, project } = this.c
    const { source } = evidence.info
    const hint = this.c.level(0).applied.find((a) => a.isHint && this.setsAny(a))
    const found = source && hint ? project.element(source) : null
    if (!source || !hint || !found?.element.startTag || project.readOnly(found.path)) return []
    const { name } = hint.declaration
    const stronger = this.contests.find((c) => c && c.winner !== hint)?.winner
    return [
      {
        ref: { kind: 'attribute', source, name },
        path: found.path,
        line: found.tree.lineAt(found.element.startTag.from),
        label: `${name} attribute`,
        conditions: [],
        specificity: null,
        reach: evidence.copies ?? 1,
        current: hint.value,
        important: false,
        asImportant: false,
        elsewhere: false,
        overridden: NOTHING,
        wins: !stronger,
        losesTo: stronger ? `${this.c.where(stronger).label}: any rule comes before an attribute of SVG` : null,
        fits: true,
        off: false,
        reason: `sets it on ${this.byDefault.whom} now`,
      },
    ]
  }

  private get isSetAtSizes(): boolean {
    return this.condition.media === '' && this.c.isSetAtSizes(this.longhands)
  }
}
