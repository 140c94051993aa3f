import { placeText } from '../text'
import { compareApplied, type Applied, type Contest } from '../cascade'
import { longhandsOf, type Specificity } from '../css'
import type { ElementCascade } from './element-cascade'
import { isAsked, labelOf, NEW_DECLARATION, NOTHING, STEP_WORDS, type Matching } from './matching'
import type { Candidate } from './types'

// The rule before one in its sheet, which is where it is looked for in a text without lines.
function behind({ ref, site }: NonNullable<Matching['source']>): string {
  const { statements } = ref.sheet
  const before = statements[statements.indexOf(site.statement) - 1]
  const last = before ? [...ref.sheet.rulesOf(before)].findLast((s) => s.rule.kind === 'style') : undefined
  return last ? labelOf(last) : 'its start'
}

/** A rule that matches, with what it says as a place for whatever it does not set: most rules set none of the properties asked for. */
interface Standing {
  readonly m: Matching
  readonly rival: Applied
  readonly unset: Candidate
  /** The same where a new declaration would lose, by what to. */
  readonly losing: Map<Applied, Candidate>
}

/** The rules that match an element as places for edits; made once a pick, and asked for each property. */
export class RulePlaces {
  private known: readonly Standing[] | null = null

  constructor(private readonly c: ElementCascade) {}

  /** What a declaration written again into a rule would be ranked as: it stands behind those that the rule has. */
  rivalIn(m: Matching, specificity: Specificity = m.specificity): Applied {
    return {
      declaration: NEW_DECLARATION,
      value: '',
      site: m.site,
      sheet: m.evidence.order,
      specificity,
      offset: m.site.statement.start + m.site.rule.span.to,
      layer: this.c.layers.orderOf(m.site.rule),
      proximity: m.evidence.proximity ?? Infinity,
    }
  }

  // Strongest first, so that the places of a property are nearly in order.
  private get standings(): readonly Standing[] {
    return (this.known ??= this.c
      .level(0)
      .matching.flatMap((m): Standing[] =>
        m.source ? [{ m, rival: this.rivalIn(m), unset: this.unset(m, m.source), losing: new Map() }] : [],
      )
      .sort((a, b) => compareApplied(b.rival, a.rival).sign))
  }

  private unset(m: Matching, source: NonNullable<Matching['source']>): Candidate {
    const reach = this.c.reachOf(m)
    return {
      ref: this.c.ruleRef(source),
      path: source.ref.path,
      line: this.c.lineOf(m, null),
      ...(source.ref.style.minified && { near: behind(source) }),
      label: m.label,
      conditions: m.conditions,
      specificity: m.specificity,
      reach: reach?.count ?? null,
      current: null,
      important: false,
      wins: true,
      losesTo: null,
      elsewhere: false,
      overridden: NOTHING,
      fits: this.fits(m),
      asImportant: false,
      off: false,
      reason: m.isOwn ? 'the rule of its own class' : reach?.kin ? 'matches it and others like it' : 'matches other kinds of element too',
    }
  }

  // Whether the rule holds in just what was asked for: no other state would be changed with it.
  private fits(m: Matching): boolean {
    const { condition } = this.c.evidence
    if (condition.state !== '' && !this.c.inState(m, condition.state)) return false
    return condition.media === '' || m.conditions.some((c) => isAsked(c, condition))
  }

  /** A place for each rule: the one that decides now first, then those that could, strongest first. */
  candidates(longhands: readonly string[], contests: readonly (Contest | null)[]): Candidate[] {
    const touches = (name: string) => longhands.some((l) => longhandsOf(name).includes(l))
    const setting = new Set(this.c.level(0).names.filter(touches))
    const strongerThan = (rival: Applied, m: Matching) =>
      contests.find((c) => c && c.winner.site !== m.site && compareApplied(rival, c.winner).sign < 0)?.winner
    const isSetAtSizes = this.c.isSetAtSizes(longhands)
    return this.standings
      .map((standing) => {
        const { m } = standing
        const there = setting.size ? m.applied.findLast((a) => setting.has(a.declaration.name)) : undefined
        const rank = there ?? standing.rival
        const stronger = strongerThan(rank, m)
        const told = there ? this.set(standing, there, stronger, contests) : stronger ? this.losing(standing, stronger) : standing.unset
        const place = isSetAtSizes && !this.c.isNarrowed(m) ? this.atSizes(told, rank, longhands) : told
        return { rank, candidate: m.off.some(touches) ? this.c.told({ ...place, off: true }) : place }
      })
      .sort((a, b) => Number(b.candidate.wins) - Number(a.candidate.wins) || compareApplied(b.rank, a.rank).sign)
      .map(({ candidate }) => candidate)
  }

  /** The same place with what sets the property over it at some sizes. */
  atSizes(place: Candidate, rank: Applied, longhands: readonly string[]): Candidate {
    const overridden = this.c.overriding(longhands, rank)
    if (overridden.length === 0) return place
    const isBeaten = longhands.some((l) => {
      const winner = this.c.contestAtEverySize(l)?.winner
      return winner !== undefined && winner !== rank && compareApplied({ ...rank, site: rank.site ?? winner.site }, winner).sign < 0
    })
    return this.c.told({ ...place, overridden, elsewhere: !place.wins && !isBeaten })
  }

  private set({ m, unset }: Standing, there: Applied, stronger: Applied | undefined, contests: readonly (Contest | null)[]): Candidate {
    const decides = contests.some((c) => c?.winner === there)
    return this.c.told({
      ...unset,
      line: this.c.lineOf(m, there.declaration),
      current: there.value,
      important: there.declaration.important !== null,
      wins: !stronger,
      losesTo: stronger ? this.losesTo(there, stronger) : null,
      reason: !decides
        ? 'sets it too, and loses'
        : this.c.reachOf(m)?.kin
          ? 'sets it now, for this element and others like it'
          : 'sets it now, for other kinds of element too',
    })
  }

  private losing({ unset, rival, losing }: Standing, stronger: Applied): Candidate {
    let known = losing.get(stronger)
    if (!known) losing.set(stronger, (known = { ...unset, wins: false, losesTo: this.losesTo(rival, stronger) }))
    return known
  }

  private losesTo(a: Applied, b: Applied): string {
    const { by } = compareApplied(b, a)
    const at = this.c.where(b)
    return `${at.label} (${placeText(at)}): ${by === 'specificity' ? `its specificity ${b.specificity.join(',')} is higher` : STEP_WORDS[by]}`
  }
}
