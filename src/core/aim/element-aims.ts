import { placeText } from '../text'
import { whyNoEffect, type Applied, type Contest, type NoEffect, type Reason } from '../cascade'
import {
  composeShorthand,
  declarationsOf,
  isShorthand,
  longhandsOf,
  partOfShorthand,
  sets,
  textOf,
  withComments,
  type Declaration,
} from '../css'
import type { Project } from '../project'
import { vocabulariesOf } from '../utility'
import { ElementCascade } from './element-cascade'
import type { Evidence } from './evidence'
import { FreshRule } from './fresh-rule'
import { STEP_WORDS, type Matching } from './matching'
import { placesFor } from './places'
import { RulePlaces } from './rule-places'
import type { Ineffective, PropertyAim, RankedPlaces, ValueOrigin } from './types'

/** What each property of one picked element comes from, and where edits of it could land; made once a pick. */
export class ElementAims {
  readonly cascade: ElementCascade
  /** What would be made for the element alone. */
  readonly fresh: FreshRule
  readonly rules: RulePlaces

  constructor(
    private readonly project: Project,
    private readonly evidence: Evidence,
  ) {
    this.cascade = new ElementCascade(project, evidence)
    this.fresh = new FreshRule(this.cascade)
    this.rules = new RulePlaces(this.cascade)
  }

  /** Where `property` comes from and where an edit of it could land. A shorthand is asked for as its longhands. */
  aim(property: string): PropertyAim {
    const longhands = longhandsOf(property)
    const contest = this.cascade.contest(longhands[0])
    const written = this.readable(longhands, this.written(property, longhands), property)
    const computed = this.evidence.computed[property] ?? this.evidence.computed[longhands[0]] ?? ''
    return {
      property,
      computed,
      origin: this.origin(longhands[0], contest),
      written,
      writtenWhole: this.writtenWhole(property, longhands),
      important: contest?.winner.declaration.important != null,
      ...this.places(longhands),
      without: this.without(longhands[0], contest),
      noEffect: whyNoEffect(property, {
        tag: this.evidence.info.tag,
        isSvg: this.evidence.isSvg,
        computed: this.facts,
        parent: this.parentFacts,
        value: written ?? computed,
      }),
      besides: /^((row|column)-)?gap$/.test(property) && !/^(normal|0px)?( (normal|0px))?$/.test(computed) ? this.marginsBetween() : [],
    }
  }

  // Classes of the element that put margins between its children.
  private marginsBetween(): string[] {
    return vocabulariesOf(this.project).flatMap((v) =>
      this.evidence.info.classes.filter((name) => v.read(name)?.declared.some((d) => d.on.includes('>') && d.name.startsWith('margin'))),
    )
  }

  private readonly ofUnset = new Map<string, RankedPlaces>()

  // Properties that nothing sets have the same places, but for the classes of a vocabulary. Most are such.
  private places(longhands: readonly string[]): RankedPlaces {
    const { matching, names } = this.cascade.level(0)
    const touches = (name: string) => longhands.some((l) => sets(name, l))
    if (
      names.some(touches) ||
      this.cascade.isSetAtSizes(longhands) ||
      matching.some((m) => m.off.some(touches)) ||
      vocabulariesOf(this.project).length
    )
      return placesFor(this, longhands)
    const key = this.fresh.forWhich(longhands)
    const known = this.ofUnset.get(key) ?? placesFor(this, longhands)
    this.ofUnset.set(key, known)
    return known
  }

  private known: Readonly<Record<string, string>> | null = null

  // What is declared is read from the source, since a used value does not tell `auto` from a length.
  private get facts(): Readonly<Record<string, string>> {
    if (this.known) return this.known
    const { computed, parent, place, holds } = this.evidence
    const declared = (name: string) => {
      const value = this.cascade.contest(name)?.winner.value.trim().toLowerCase()
      return value !== undefined && value !== 'auto' && value !== 'initial' && value !== 'unset' ? 'set' : 'auto'
    }
    const zero = (v: string | undefined) => v === '0px' || v === undefined
    const open = (side: 'top' | 'bottom') =>
      computed.display === 'block' &&
      parent.display === 'block' &&
      (parent['overflow-x'] ?? 'visible') === 'visible' &&
      (computed.float ?? 'none') === 'none' &&
      /^(static|relative)$/.test(computed.position ?? '') &&
      zero(parent[`padding-${side}`]) &&
      zero(parent[`border-${side}-width`]) &&
      (place === 'only' || place === (side === 'top' ? 'first' : 'last'))
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
    const height = this.cascade.contest('height', this.evidence.condition.part ? 2 : 1)?.winner.value.trim() ?? 'auto'
    return (this.knownParent = { ...this.evidence.parent, '--declared-height': height === 'auto' ? 'auto' : 'set' })
  }

  private writtenWhole(property: string, longhands: readonly string[]): string | null {
    const winner = this.cascade.contest(longhands[0])?.winner
    return winner?.site && winner.declaration.name === property
      ? textOf(winner.site, withComments(winner.site.statement.text, winner.declaration))
      : null
  }

  // What a compiled sheet writes is arithmetic on variables; its class is read in lengths.
  private readable(longhands: readonly string[], text: string | null, property: string): string | null {
    const site = this.cascade.contest(longhands[0])?.winner.site
    if (text === null || !site || !/calc\(|--tw-|var\(--(?:[\w-]+-)?spacing\)/.test(text)) return text
    const m = this.cascade.level(0).matching.find((x) => x.site === site)
    const v = m && m.ref.generated !== null ? vocabulariesOf(this.project).find((x) => x.isCompiled) : undefined
    if (!v) return text
    const values = new Set(longhands.map((l) => v.normal(property, text, l)))
    const [only] = values
    const plain = values.size === 1 ? only : v.normal(property, text, property)
    return plain.includes('var(') ? text : plain
  }

  private written(property: string, longhands: readonly string[]): string | null {
    const winners = longhands.map((l) => this.cascade.contest(l)?.winner ?? null)
    const first = winners[0]
    if (!first) return null
    if (winners.every((w) => w === first) && first.declaration.name === property) return first.value
    const part = (w: Applied, longhand: string): string | null =>
      !isShorthand(w.declaration.name)
        ? w.value
        : // A variable that holds one length is each side's; one that holds a colour is the colour.
          this.project.knowledge.kindOf(w.value) === (longhand.endsWith('-color') ? 'color' : 'length')
          ? w.value
          : partOfShorthand(w.declaration.name, w.value, longhand, this.project.knowledge)
    const parts = winners.map((w, i) => w && part(w, longhands[i]))
    if (parts.some((p) => p === null)) return null
    if (longhands.length === 1) return parts[0]
    return composeShorthand(property, new Map(longhands.map((l, i) => [l, parts[i]!])))
  }

  private origin(longhand: string, contest: Contest | null): ValueOrigin {
    if (contest) {
      return {
        kind: contest.winner.site ? 'rule' : contest.winner.isHint ? 'attribute' : 'inline',
        ...this.cascade.where(contest.winner),
        text: contest.winner.value,
      }
    }
    const above = this.cascade.winner(longhand)
    if (above) {
      const { winner } = this.cascade.contest(longhand, above.level)!
      return { kind: 'inherited', ...this.cascade.where(winner, above.level), text: winner.value }
    }
    return { kind: 'initial', label: 'initial value', path: null, line: null, text: null }
  }

  private without(longhand: string, contest: Contest | null): Ineffective[] {
    const out: Ineffective[] = []
    const winner = contest && this.cascade.where(contest.winner)
    for (const { applied, by } of contest?.losers ?? [])
      out.push({ ...this.cascade.where(applied), text: applied.value, reason: overridden(by, winner!) })
    for (const { m, d } of this.dropped) {
      if (!sets(d.name, longhand)) continue
      const text = textOf(m.site, d.value)
      const known = this.project.taken.get(`${d.name}: initial`) ?? true
      out.push({
        ...this.cascade.declaredIn(m, d),
        text,
        reason: known ? invalidValue(d.name, text) : unknownProperty(d.name),
      })
    }
    // A winner whose variable holds nothing is as if it were not there (CSS Variables 1 §3.1).
    const missing = contest && this.missingVariable(contest.winner.value)
    if (contest && missing) out.push({ ...winner!, text: contest.winner.value, reason: undefinedVariable(missing) })
    for (const m of this.cascade.unmet) {
      const own = m.applied.findLast((a) => sets(a.declaration.name, longhand))
      if (own)
        out.push({
          ...this.cascade.declaredIn(m, own.declaration),
          text: own.value,
          reason: unmetCondition(m.conditions),
        })
    }
    return out
  }

  private knownDropped: readonly { readonly m: Matching; readonly d: Declaration }[] | null = null

  // Declarations of rules that match which the engine does not take.
  private get dropped(): readonly { readonly m: Matching; readonly d: Declaration }[] {
    return (this.knownDropped ??= this.cascade.level(0).matching.flatMap((m) =>
      declarationsOf(m.site.rule)
        .filter((d) => !m.applied.some((a) => a.declaration === d))
        .map((d) => ({ m, d })),
    ))
  }

  private missingVariable(value: string): string | null {
    const alone = /var\(\s*(--[^\s,)]+)\s*\)/i.exec(value)
    const name = alone?.[1]
    return name && !this.project.definesVariable(name) && !this.evidence.inline.some((text) => text.includes(name)) ? name : null
  }
}

const overridden = (by: Reason, winner: { label: string; path: string; line: number }): NoEffect => ({
  code: 'overridden',
  why: `${winner.label} (${placeText(winner)}) wins: ${STEP_WORDS[by]}`,
  spec: 'CSS Cascade 5 §6.1',
  remedy: null,
})
const invalidValue = (name: string, text: string): NoEffect => ({
  code: 'invalid-value',
  why: `“${text}” is not a value of ${name}, so the browser drops it`,
  spec: 'CSS Syntax 3 §9',
  remedy: null,
})
const unknownProperty = (name: string): NoEffect => ({
  code: 'unknown-property',
  why: `this browser knows no property ${name}`,
  spec: 'CSS Syntax 3 §9',
  remedy: null,
})
const undefinedVariable = (name: string): NoEffect => ({
  code: 'variable-undefined',
  why: `${name} is not defined here, so the value counts as unset`,
  spec: 'CSS Variables 1 §3.1',
  remedy: null,
})
const unmetCondition = (conditions: readonly string[]): NoEffect => ({
  code: 'unmet-condition',
  why: `${conditions.join(' ') || 'its condition'} does not hold now`,
  spec: 'CSS Conditional 3 §2',
  remedy: null,
})
