import { compareApplied, type Applied, type Contest } from '../cascade'
import { escapeName, isPreprocessed } from '../css'
import { attribute } from '../language'
import type { FoundElement, SheetRef } from '../project'
import { readClassList, sameList, sameVariant, segments, setsSlots, vocabulariesOf, type UtilityClass, type Vocabulary } from '../utility'
import { classedUsage } from './component-usage'
import { isConditional } from './condition'
import type { ElementCascade } from './element-cascade'
import { NOTHING } from './matching'
import type { Candidate, TakingRef } from './types'

interface Listed {
  readonly c: UtilityClass
  readonly rank: number
}

// Whether a state is one of those that any will do of.
const waitsFor = (any: string | null, state: string): boolean =>
  /^:is\((.*)\)$/
    .exec(any ?? '')?.[1]
    .split(', ')
    .includes(state) ?? false

const words = (variant: string): string => (variant ? `class list, ${variant}:` : 'class list')

/** The places that an edit could land in the element's class list: one for each vocabulary and each variant that counts. */
export function classListsFor(cascade: ElementCascade, longhands: readonly string[], contests: readonly (Contest | null)[]): Candidate[] {
  const { evidence, project } = cascade
  if (vocabulariesOf(project).length === 0) return []
  const source = evidence.info.source
  const found = source ? project.element(source) : null
  if (!source || !found?.element.startTag || project.readOnly(found.path)) return []
  const { lists, alike } = readLists(cascade, found)
  const own = lists.flatMap(({ v, listed }, i) =>
    new ClassLists(cascade, v, i, source, found, alike, listed, longhands, contests, null).candidates(),
  )
  const given = ofUsage(cascade, found, longhands, contests)
  // What makes the component take classes first is not written unasked.
  if (given.some(({ ref }) => ref.kind === 'class-list' && ref.taking)) return [...own, ...given.map((c) => ({ ...c, fits: false }))]
  // Where the component is used elsewhere on the page too, its definition is not changed by the way.
  const isWider = (evidence.copies ?? 1) > (evidence.usage?.count ?? 0)
  return given.some((c) => c.wins && !c.asImportant) && isWider
    ? [...given, ...own.map((c) => ({ ...c, fits: false }))]
    : [...own, ...given]
}

/** The class list that a component is given where it is used: a place for this use of it alone. */
function ofUsage(
  cascade: ElementCascade,
  definition: FoundElement,
  longhands: readonly string[],
  contests: readonly (Contest | null)[],
): Candidate[] {
  const usage = classedUsage(cascade)
  if (!usage) return []
  const { lists } = readLists(cascade, usage.found)
  const { lists: own } = readLists(cascade, definition)
  return lists.flatMap(({ v, listed }, i) =>
    new ClassLists(cascade, v, i, usage.source, usage.found, NO_OTHERS, listed, longhands, contests, {
      ...usage,
      against: usage.how === 'merged' ? [] : own[i].listed.map(({ c }) => c),
    }).candidates(),
  )
}

const NO_OTHERS = { same: 1, elsewhere: false }

/** What a component is given its classes by, and those of its own that stay beside them. */
interface Given {
  readonly name: string
  readonly count: number
  readonly taking: TakingRef | undefined
  readonly against: readonly UtilityClass[]
}

interface ReadLists {
  /** How many elements of the page have just this list, and whether it seems to stand on others too; how often is counted when it is asked for. */
  readonly alike: { readonly same: number; readonly elsewhere: boolean }
  readonly lists: readonly { readonly v: Vocabulary; readonly listed: readonly Listed[] }[]
}

const read = new WeakMap<ElementCascade, Map<FoundElement['element'], ReadLists>>()

// The same for every property of one element: a pick asks for some dozens.
function readLists(cascade: ElementCascade, { tree, element, path }: FoundElement): ReadLists {
  let of = read.get(cascade)
  if (!of) read.set(cascade, (of = new Map()))
  let known = of.get(element)
  if (!known) {
    const { project } = cascade
    const value = attribute(element, 'class') ?? ''
    const names = readClassList(value).map((c) => c.name)
    const lists = vocabulariesOf(project).map((v) => {
      const order = v.order(names)
      return {
        v,
        listed: names.flatMap((name) => {
          const c = v.read(name)
          return c ? [{ c, rank: order.get(name) ?? -1 }] : []
        }),
      }
    })
    const text = names.join(' ')
    const has = (e: typeof element) =>
      e.startTag !== null && e.attributes.some((a) => a.name === 'class' && a.value.includes(names[0])) && sameList(e, names)
    const alike = {
      same: names.length ? tree.elements.filter(has).length : 0,
      elsewhere: names.length > 2 && project.pages().some((p) => p !== path && project.text(p).includes(text)),
    }
    of.set(element, (known = { lists, alike: lists.length ? alike : { same: 0, elsewhere: false } }))
  }
  return known
}

class ClassLists {
  constructor(
    private readonly c: ElementCascade,
    private readonly v: Vocabulary,
    private readonly index: number,
    private readonly source: string,
    private readonly found: FoundElement,
    private readonly alike: ReadLists['alike'],
    private readonly listed: readonly Listed[],
    private readonly longhands: readonly string[],
    private readonly contests: readonly (Contest | null)[],
    private readonly given: Given | null,
  ) {}

  candidates(): Candidate[] {
    const { condition } = this.c.evidence
    const deciding = this.deciding()
    // What waits for any of several states, as `hocus:` may, is that one's for each of them.
    const several =
      deciding && condition.state && segments(deciding.variant).some((part) => waitsFor(this.v.stateOf(part), condition.state))
        ? deciding.variant
        : null
    const wanted = several ?? (isConditional(condition) ? this.v.variantFor(condition) : '')
    // Where the list says it for other conditions too, those can be changed without waiting for them.
    const others = isConditional(condition) ? [] : this.listed.filter(({ c }) => this.setsAny(c)).map(({ c }) => c.variant)
    // Where the class that decides now waits for something, one for a condition has to wait for that too to come after it.
    const stacked = wanted && deciding?.variant && !sameVariant(deciding.variant, wanted) ? `${deciding.variant}:${wanted}` : null
    const variants = new Set([
      ...(deciding && !isConditional(condition) ? [deciding.variant] : []),
      ...(wanted === null ? [] : [wanted]),
      ...(stacked ? [stacked] : []),
      ...others,
    ])
    // What decides now is where an edit goes, whatever it waits for; a new condition has to be asked for.
    return [...variants].flatMap((variant) =>
      this.at(variant, deciding, variant === wanted || variant === stacked || (variant === deciding?.variant && !isConditional(condition))),
    )
  }

  /** The class of the list whose rule gives the value now. */
  private deciding(): UtilityClass | null {
    const winner = this.contests.find((c) => c)?.winner
    if (!winner?.site) return null
    const m = this.c.level(0).matching.find((x) => x.site === winner.site)
    if (!m || !this.isOurs(m.ref)) return null
    const own = this.listed
      .filter(({ c }) => m.selectors.some((s) => s.includes(`.${escapeName(c.name)}`)) && this.setsAny(c))
      .map(({ c }) => c)
    // `.p-4` is in `.p-40` too.
    return own.sort((a, b) => b.name.length - a.name.length)[0] ?? null
  }

  private isOurs(ref: SheetRef): boolean {
    return this.v.isCompiled === (ref.generated !== null && !isPreprocessed(ref.path))
  }

  private setsAny(c: UtilityClass): boolean {
    const effect = this.v.effect(c)
    return this.longhands.some((l) => effect.has(l))
  }

  private at(variant: string, deciding: UtilityClass | null, fits: boolean): Candidate[] {
    const here = this.listed.filter(({ c }) => sameVariant(c.variant, variant) && this.setsAny(c)).sort((a, b) => b.rank - a.rank)
    const current = here.map(({ c }) => c).find((c) => !this.longhands.every((l) => setsSlots(c).yields.has(l))) ?? here[0]?.c ?? null
    // Where no class is for the property under this variant, none can be had.
    const steps = this.v.isCompiled
      ? this.v.steps(this.longhands)
      : this.v.steps(this.longhands).filter((s) => this.v.spell(s.base, variant, false) !== '')
    if (!this.v.isCompiled && steps.length === 0 && current === null) return []
    const stronger = this.stronger(variant, deciding)
    const imported = current && this.importedPlace(current)
    const base: Candidate = {
      ref: {
        kind: 'class-list',
        source: this.source,
        vocabulary: this.index,
        variant,
        alike: false,
        ...(this.given?.taking && { taking: this.given.taking }),
      },
      ...(imported
        ? { ...imported, isImported: true }
        : { path: this.found.path, line: this.found.tree.lineAt(this.found.element.startTag!.from) }),
      label: words(variant) + (this.given ? ` of this ${this.given.name}` : ''),
      conditions: [],
      specificity: [0, 1, 0],
      reach: this.given?.count ?? this.c.evidence.copies ?? 1,
      elsewhere: false,
      overridden: NOTHING,
      current: current?.name ?? null,
      important: current?.important ?? false,
      asImportant: false,
      wins: stronger === null,
      losesTo: stronger,
      fits,
      off: false,
      steps,
      closed: !this.v.isCompiled,
      reason: this.given?.taking
        ? `the edit has ${this.given.name} take className and pass it on`
        : current && current === deciding
          ? `${current.name} sets it now`
          : current
            ? `${current.name} sets it ${variant ? `where ${variant}: holds` : 'too'}`
            : `a class of ${this.v.label}`,
    }
    const { same, elsewhere } = this.alike
    const alike: Candidate[] =
      stronger === null && (same > 1 || elsewhere)
        ? [
            {
              ...base,
              ref: { kind: 'class-list', source: this.source, vocabulary: this.index, variant, alike: true },
              label: `${words(variant)} on all that have just it`,
              reach: same,
              reason: 'every element of the project that has this same list',
              fits: false,
            },
          ]
        : []
    // Against another class of the list, that one is changed.
    if (stronger === null || current?.important || deciding) return [base, ...alike]
    const marked = this.important(base)
    return [base, ...(marked ? [marked] : []), ...alike]
  }

  // Where a class stands that the element's file imports; null where it stands in that itself.
  private importedPlace({ name }: UtilityClass): { readonly path: string; readonly line: number } | null {
    const { tree, element } = this.found
    const piece = tree.classPieces(element).find((p) => p.path !== undefined && readClassList(p.text).some((c) => c.name === name))
    return piece?.path === undefined ? null : { path: piece.path, line: this.c.project.lineAt(piece.path, piece.span.from) }
  }

  /** What a class of this variant would lose to; null when it wins. */
  private stronger(variant: string, deciding: UtilityClass | null): string | null {
    if (deciding && sameVariant(deciding.variant, variant)) return null
    // Classes that the component has beside it may stand after any that is given.
    const beside = this.given?.against.find((c) => sameVariant(c.variant, variant) && this.setsAny(c))
    if (beside) return `${beside.name} of ${this.given!.name} itself`
    const contest = this.contests.find((c) => c)
    if (!contest) return null
    const { label, path, line } = this.c.where(contest.winner)
    const told = `${label} (${path}:${line})`
    if (deciding) {
      if (deciding.important) return told
      // A closed vocabulary may not have the same class for it: any that it has stands where that would.
      const name =
        [deciding.base, ...this.v.steps(this.longhands).map((s) => s.base)]
          .map((base) => this.v.spell(base, variant, false))
          .find((n) => n !== '' && this.v.read(n) !== null) ?? ''
      const order = this.v.order([name, deciding.name])
      return (order.get(name) ?? -1) > (order.get(deciding.name) ?? 0) ? null : told
    }
    return compareApplied(this.rival(contest.winner, false), contest.winner).sign < 0 ? told : null
  }

  private important(base: Candidate): Candidate | null {
    if (!this.v.isCompiled) return null
    const contest = this.contests.find((c) => c)
    if (!contest || compareApplied(this.rival(contest.winner, true), contest.winner).sign < 0) return null
    const { ref } = base
    return ref.kind === 'class-list'
      ? {
          ...base,
          asImportant: true,
          wins: true,
          losesTo: null,
          reason: `marked !important: no class wins over ${this.c.where(contest.winner).label} else`,
        }
      : null
  }

  /** A declaration as a class of this vocabulary would give it: in the layer, sheet and strength of its others. */
  private rival(winner: Applied, marked: boolean): Applied {
    const sheet = this.c.evidence.sheets.findLastIndex((key) => {
      const ref = this.c.project.sheet(key)
      return ref !== null && this.isOurs(ref)
    })
    // Rules of the project's own can stand in the same sheet.
    const names = new Set(this.listed.map(({ c }) => `.${escapeName(c.name)}`))
    const like = this.c.level(0).matching.find((m) => this.isOurs(m.ref) && m.selectors.some((s) => names.has(s)))
    const key = this.c.evidence.sheets[sheet]
    const any = like?.site ?? (key === undefined ? null : this.c.project.sheet(key)!.sheet.rules().next().value) ?? null
    const important = marked || (like?.applied.some((a) => a.declaration.important !== null) ?? false)
    const declaration = { ...winner.declaration, important: important ? { from: 0, to: 0 } : null }
    return {
      declaration,
      value: '',
      site: any ?? winner.site,
      specificity: [0, 1, 0],
      sheet,
      offset: Infinity,
      proximity: Infinity,
      // Compiled classes stand in a layer of their own, after the package's others.
      layer: like ? this.c.layers.orderOf(like.site.rule) : this.v.isCompiled ? this.c.layers.named('utilities') : Infinity,
    }
  }
}
