import type { Contest } from '../cascade'
import { isPreprocessed, isStyleModule, resolvedSelectors } from '../css'
import { isHelperClass, isLibrary } from '../project'
import { vocabulariesOf } from '../utility'
import { isConditional } from './condition'
import type { ElementCascade } from './element-cascade'
import type { FreshRule } from './fresh-rule'
import { isAsked, type Matching } from './matching'
import type { TokenPlaces } from './tokens'
import type { Candidate } from './types'

/** Which of the places that an edit could land at is the default, and why. */
export class DefaultPlace {
  constructor(
    private readonly c: ElementCascade,
    private readonly freshRule: FreshRule,
    private readonly tokens: TokenPlaces,
    private readonly longhands: readonly string[],
    private readonly contests: readonly (Contest | null)[],
  ) {}

  private get condition() {
    return this.c.evidence.condition
  }

  /** The rule of Sass or the like that decides now, or else, where no other place does, the element's own: an author would write there. */
  get preprocessed(): Matching | null {
    const compiled = this.c.level(0).matching.filter((m) => m.source === null && isPreprocessed(m.ref.path))
    // Most pages have none, and this is asked of each property.
    if (compiled.length === 0) return null
    const winners = new Set(this.contests.flatMap((c) => c?.winner.site ?? []))
    const deciding = compiled.find((m) => winners.has(m.site))
    if (deciding || (winners.size > 0 && !this.isSetByAll)) return deciding ?? null
    return compiled.find((m) => m.isOwn || isStyleModule(m.ref.path)) ?? null
  }

  // What is about every element says nothing about this one.
  private get isSetByAll(): boolean {
    return this.contests.every((c) => !c || c.winner.site === null || resolvedSelectors(c.winner.site).every((s) => s === '*'))
  }

  /** Whether most of the element's classes are utilities, or it has none and stands among elements styled so. */
  get isStyledByList(): boolean {
    const vocabularies = vocabulariesOf(this.c.project)
    const { info, ancestors } = this.c.evidence
    const known = (classes: readonly string[]) => classes.filter((name) => vocabularies.some((v) => v.read(name))).length
    if (vocabularies.length === 0) return false
    const near = [info, ...ancestors.slice(1)].find((e) => e.classes.length)
    return near !== undefined && known(near.classes) * 2 >= near.classes.length
  }

  isOfVocabulary(c: Candidate): boolean {
    const vocabularies = vocabulariesOf(this.c.project)
    if (vocabularies.length === 0) return false
    const names = this.matchingOf(c)?.selectors.map((s) => /^\.((?:[\w-]|\\.)+)(?::.*)?$/.exec(s.trim())?.[1].replace(/\\(.)/g, '$1'))
    return names !== undefined && names.every((n) => n !== undefined && vocabularies.some((v) => v.read(n)))
  }

  // A list such as `.mb-auto, .my-auto` counts by each of its selectors.
  private isOfHelpers(c: Candidate): boolean {
    const selectors = this.matchingOf(c)?.selectors ?? []
    return (
      selectors.length > 0 &&
      selectors.every((s) => {
        const name = /^\.(-?[a-z_][\w-]*)$/i.exec(s.trim())?.[1]
        return name !== undefined && isHelperClass(this.c.project, name)
      })
    )
  }

  get marked(): string {
    const over = this.contests.find((c) => c)?.winner
    return `marked !important: nothing else wins over ${over ? this.c.where(over).label : 'what sets it now'}`
  }

  /** What an edit of the element's own tag is about: a tag of a component may make several elements. */
  get whom(): string {
    const { copies = 1, usage } = this.c.evidence
    return copies > 1 ? `the ${copies} elements of its tag` : usage ? 'its tag, of one element here' : 'this element alone'
  }

  matchingOf(c: Candidate): Matching | null {
    return c.ref.kind === 'rule' ? this.c.matchingAt(c.ref) : null
  }

  private isKin(c: Candidate): boolean {
    if (c.ref.kind === 'inline' || c.ref.kind === 'attribute') return true
    if (c.ref.kind === 'class-list') return !c.ref.alike
    // A token reaches all that use it.
    if (c.ref.kind === 'token') return c.ref === this.tokens.own?.ref
    if (c.ref.kind === 'new-class') return this.freshRule.isWritable
    if (c.ref.kind === 'new-sheet') return true
    const m = this.matchingOf(c)
    if (m) return (this.c.reachOf(m)?.kin ?? false) && this.c.isKinInProject(m)
    return (
      c.ref.kind === 'new-rule' &&
      ((isConditional(this.condition) && this.freshRule.isWritable) || this.freshRule.isForItsLike(c.ref.selector, this.longhands))
    )
  }

  private get hasOwnRule(): boolean {
    return this.c.level(0).matching.some((m) => m.isOwn)
  }

  /** Whether a place holds at some sizes only that were not asked for, and is not alone in setting the value. */
  private isNarrowed(c: Candidate): boolean {
    const m = this.matchingOf(c)
    return (
      m !== null &&
      this.c.isNarrowed(m) &&
      (c.current === null || !c.wins || this.longhands.some((l) => this.c.contestAtEverySize(l) !== null))
    )
  }

  /**
   * DESIGN section 5, rules 4 and 5: the place that decides now, if it reaches no further than the element's like; else the
   * rule of its own class, or of its like under what it stands in, which is made where there is none; else a class of its
   * own; else the element alone. Never one that would lose at every size, none in a sheet of a library while the author has
   * one, and none under a size that was not asked for, unless that alone sets the value.
   */
  choose(candidates: readonly Candidate[]): number {
    // An edit anywhere else would stand where no author looks for it, and may lose with the next order of the sheets.
    if (this.preprocessed && !this.isStyledByList) return -1
    const kin: { c: Candidate; i: number }[] = []
    for (const [i, c] of candidates.entries())
      if ((c.wins || c.elsewhere) && c.fits && !this.isNarrowed(c) && this.isKin(c)) kin.push({ c, i })
    const authored = kin.filter(({ c }) => !this.isOfLibrary(c))
    const fit = authored.length ? authored : kin
    // A rule that is shared says where the value goes, and a token of its own which it is.
    const token = fit.find(({ c }) => c.ref.kind === 'token')
    if (token) return token.i
    // A class that would only count as `!important` is no place for what a rule decides.
    const isForced = (c: Candidate) => c.ref.kind === 'class-list' && c.asImportant && !c.important
    const deciding = fit.find(({ c }) => c.current !== null && !isForced(c) && !(c.ref.kind === 'rule' && this.isOfVocabulary(c)))
    if (deciding) return deciding.i
    if (this.isStyledByList) {
      const list = fit.find(({ c }) => c.ref.kind === 'class-list' && !c.closed && !isForced(c))
      if (list) return list.i
    }
    // What a class of a vocabulary, or one that says one thing alone, means is not changed by the way.
    const rest = fit.filter(({ c }) => c.ref.kind !== 'rule' || !(this.isOfVocabulary(c) || this.isOfHelpers(c)))
    const rules = rest.filter(({ c }) => c.ref.kind === 'rule')
    // A list such as `.small, small` is about other elements too.
    const own = rules.filter(({ c }) => this.c.isOwnRule(this.matchingOf(c)!.site))
    // Conditions the person did not ask for narrow an edit unseen, so a rule without one goes first.
    const asked = ({ c }: { c: Candidate }) => c.conditions.every((x) => isAsked(x, this.condition))
    const plain = own.filter(asked)
    const best = [...plain].sort((a, b) => (b.c.reach ?? 0) - (a.c.reach ?? 0))[0] ?? own[0]
    // A rule of tags alone may reach no others yet, but is not about this element, unless it names what that stands in.
    const near = rules.filter(asked)
    const beside = near.find(({ c }) =>
      this.matchingOf(c)!.selectors.every((s) => /[.#[\s>]/.test(s.trim()) || s.trim() === this.freshRule.selector),
    )
    const of = (kind: Candidate['ref']['kind']) => rest.find(({ c }) => c.ref.kind === kind)
    return (
      (
        best ??
        beside ??
        of('new-rule') ??
        near[0] ??
        rest.find(({ c }) => c.ref.kind !== 'new-class' && c.ref.kind !== 'inline') ??
        of('new-class') ??
        rest[0] ??
        fit[0]
      )?.i ?? -1
    )
  }

  private isOfLibrary({ ref }: Candidate): boolean {
    const sheet = 'sheet' in ref ? this.c.project.sheet(ref.sheet) : null
    return sheet !== null && this.freshRule.isAuthored && isLibrary(sheet)
  }

  because(all: readonly Candidate[], c: Candidate): string {
    const wider = all.some((x) => x.wins && x.current !== null && x !== c && x.ref.kind === 'rule')
    const first = wider ? 'What sets the value now reaches other kinds of element too, so the edit stays nearer: ' : ''
    if (c.asImportant)
      return `What sets the value now is stronger than any rule, so this one is ${c.ref.kind === 'class-list' ? c.reason : this.marked}.`
    if (c.ref.kind === 'token') {
      const others = this.tokens.own?.others ?? []
      return `${c.of} gives ${c.label} its value, and only the element and others like it use it${others.length ? `, ${others.slice(0, 3).join(' and ')} too` : ''}.`
    }
    const here = c.overridden.find((o) => o.holds)
    if (c.elsewhere && here) return `It holds at every width; at this one ${here.condition} sets ${here.value}.`
    const at = c.current !== null ? this.matchingOf(c) : null
    if (at && this.c.isNarrowed(at)) return `${at.conditions.join(' ')} alone sets the value, so the edit holds there.`
    if (c.ref.kind === 'new-class') return `${first}a class of its own, since no rule wins here without affecting other elements.`
    if (c.ref.kind === 'new-sheet') return 'The page has no style sheet of yours to write it in, so one is made in its head.'
    if (c.ref.kind === 'new-rule' && isConditional(this.condition))
      return 'No rule has just this condition yet, so one is made beside its base.'
    if (c.ref.kind === 'class-list')
      return c.current !== null ? `Its class ${c.current} sets the value now.` : 'It is styled by classes of this vocabulary.'
    if (c.ref.kind === 'attribute') return `Its ${c.label} sets the value now.`
    if (c.current !== null)
      return c.ref.kind === 'inline'
        ? 'Its style attribute sets the value now.'
        : 'It sets the value now and reaches only this element and others like it.'
    const ofClass = c.ref.kind === 'new-rule' && /\.[^\s]+$/.test(c.ref.selector)
    const then =
      c.ref.kind === 'inline'
        ? `${this.whom}.`
        : c.ref.kind === 'new-rule'
          ? !ofClass
            ? 'a rule for elements like it, which have none yet.'
            : this.hasOwnRule
              ? 'a rule for its class in a sheet of yours.'
              : 'a rule for its class, which has none yet.'
          : this.matchingOf(c)!.isOwn
            ? 'the rule of its own class.'
            : 'a rule that reaches only this element and others like it.'
    return first ? first + then : then.charAt(0).toUpperCase() + then.slice(1)
  }
}
