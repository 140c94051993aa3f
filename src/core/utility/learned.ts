import { declarationsOf, resolvedSelectors, SheetMemo, textOf } from '../css'
import { isOfUtilities, type Project } from '../project'
import { ClassIndex, push, type Effect } from './class-index'
import { effectOf, normalLonghand } from './effect'
import type { Variables } from './normal'
import type { Declared, Step, UtilityClass, VariantCondition, Vocabulary } from './types'

const REM = 16
const MOST_DECLARATIONS = 3
/** A sheet with this share of rules for single classes is a utility sheet. */
const SHARE = 0.6
/** Classes of one stem that set the same with other values are helpers from this many on. */
const FAMILY = 3

/** A rule of one class with few declarations. */
interface Single {
  readonly name: string
  readonly state: string
  readonly media: string
  readonly declared: readonly Declared[]
  readonly important: boolean
  readonly at: number
}

const ONE_CLASS = /^\.((?:[\w-]|\\.|[^\x00-\x7f])+)(:[\w-]+|:where\([^()]+ \*\)|:is\(:where\([^()]+\):[\w-]+ \*\))?$/

/** A class in a group that has a state, as compilers write it without nesting. */
const GROUP = /^:is\(:where\(([^()]+)\)(:[\w-]+) (\.[^\s()]+)\)$/

// The state that a class waits for, as an element's own or of one around it: `:where(.dark, .dark *)` is `.dark &`.
function stateIn(suffix: string): string {
  const group = /^:is\(:where\((.+)\)(:[\w-]+) \*\)$/.exec(suffix)
  if (group) return `${group[1]}${group[2]} &`
  const around = /^:where\((.+), \1 \*\)$/.exec(suffix)
  return around ? `${around[1]} &` : suffix
}

// That the pointer can hover goes with the state and is no condition of its own.
const isOfPointer = (prelude: string): boolean => /^\(\s*hover\s*:\s*hover\s*\)$/.test(prelude)
const unescape = (name: string): string =>
  name.replace(/\\([0-9a-f]{1,6})\s?|\\(.)/gi, (_, hex: string | undefined, ch: string) =>
    hex ? String.fromCodePoint(parseInt(hex, 16)) : ch,
  )

const READ = new SheetMemo((sheet) => {
  const singles: Single[] = []
  const others = new Set<string>()
  let rules = 0
  let utilities = 0
  let at = 0
  for (const site of sheet.rules()) {
    const list = declarationsOf(site.rule)
    const isNested = site.parents.some((p) => p.kind === 'style')
    // Conditions stand in the rule of the class in compiled sheets, and its declarations in them.
    if (site.rule.kind !== 'style' && !(isNested && list.length > 0)) continue
    if (site.rule.kind === 'style' && list.length === 0 && site.rule.children.length > 0) continue
    rules++
    at++
    const conditions = [...site.parents, ...(site.rule.kind === 'at' ? [site.rule] : [])].filter(
      (p) => p.kind === 'at' && p.name !== 'layer' && !(p.name === 'media' && isOfPointer(textOf(site, p.prelude))),
    )
    const media = conditions.map((p) => textOf(site, p.prelude)).join(' and ')
    const selectors = resolvedSelectors(site)
    const plain =
      list.length > 0 &&
      list.length <= MOST_DECLARATIONS &&
      conditions.every((p) => p.kind === 'at' && p.name === 'media') &&
      conditions.length <= 1
    if (plain && selectors.every((s) => ONE_CLASS.test(s.trim().replace(GROUP, '$3')))) utilities++
    for (const selector of selectors.map((s) => s.trim().replace(GROUP, '$3:is(:where($1)$2 *)'))) {
      const one = ONE_CLASS.exec(selector)
      if (one && plain) {
        singles.push({
          name: unescape(one[1]),
          state: stateIn(one[2] ?? ''),
          media,
          at,
          important: list.every((d) => d.important !== null),
          declared: list.map((d) => ({ on: '', name: d.name, value: textOf(site, d.value) })),
        })
      } else for (const [, name] of selector.matchAll(/\.((?:[\w-]|\\.)+)/g)) others.add(unescape(name))
    }
  }
  return { singles, others, rules: isOfUtilities(sheet) ? 0 : rules, utilities }
})

/** Where the scale's own part of a name starts: `mb-3`, `pa3`, `text-center`. */
const stemOf = (name: string): string =>
  name.replace(/-?[^-\d]*\d.*$|-[^-]*$/, (m) => (/\d/.test(m) ? m.replace(/-?\d.*$/, '') : '')) || name

/** Utility classes that a project's own sheets define: a published sheet of them, or helpers among other rules. A closed vocabulary. */
export class LearnedVocabulary implements Vocabulary {
  readonly label = 'the project’s own classes'
  readonly isCompiled = false
  private readonly index: ClassIndex
  private readonly classes = new Map<string, UtilityClass & { readonly at: number }>()
  private readonly names = new Map<string, string>()
  private readonly conditions = new Map<string, string>()
  private readonly effects = new Map<string, Effect>()

  /** What the sheets of the project teach; null where there are no such classes. */
  static of(project: Project): LearnedVocabulary | null {
    const variables: Variables = (name) => {
      const found = project.tokenDefinitions(name)[0]
      return found ? textOf(found.site, found.declaration.value) : null
    }
    const singles: Single[] = []
    const others = new Set<string>()
    let base = 0
    for (const ref of project.allSheets()) {
      // A very long one is learned from once it has been read.
      if (ref.generated !== null || ref.sheet.isLong) continue
      const read = READ.of(ref.sheet)
      for (const name of read.others) others.add(name)
      const all = read.rules === 0 || (read.utilities >= FAMILY * 4 && read.utilities / read.rules >= SHARE)
      const taken = new Set(all ? read.singles : helpersOf(read.singles))
      for (const s of read.singles) {
        if (taken.has(s)) singles.push({ ...s, at: base + s.at })
        else others.add(s.name)
      }
      base += read.rules + 1
    }
    // A class that other rules speak of, or that says different things in different places, is no utility.
    const merged = new Map<string, Single | null>()
    for (const s of singles) {
      const there = merged.get(s.name)
      const same = there && there.state === s.state && there.media === s.media && there.important === s.important
      merged.set(
        s.name,
        there === undefined
          ? s
          : same
            ? {
                ...there,
                at: s.at,
                declared: [...there.declared.filter((d) => !s.declared.some((x) => x.name === d.name)), ...s.declared],
              }
            : null,
      )
    }
    const own = [...merged.values()].filter((s) => s !== null && s.declared.length <= MOST_DECLARATIONS && !others.has(s.name)) as Single[]
    // Many names for one thing are no scale.
    const made = own.length >= FAMILY ? new LearnedVocabulary(own, variables) : null
    return made && made.all().length >= FAMILY ? made : null
  }

  private constructor(
    singles: readonly Single[],
    private readonly variables: Variables,
  ) {
    const isPlain = (s: Single) => s.state === '' && s.media === ''
    const plain = new Map<string, Single[]>()
    // Most sheets have no class for a condition.
    if (!singles.every(isPlain)) for (const s of singles) if (isPlain(s)) push(plain, this.keyOf(s), s)
    for (const s of singles) {
      const spelled = s.state || s.media ? /^(.+):([^:]+)$/.exec(s.name) : null
      if (spelled) {
        // The name itself says what it waits for.
        const [, variant, base] = spelled
        this.conditions.set(`${s.media}|${s.state}`, variant)
        this.classes.set(s.name, {
          name: s.name,
          base,
          variant,
          important: s.important,
          declared: s.declared,
          at: s.at,
        })
        this.names.set(`${variant} ${base}`, s.name)
        continue
      }
      const alike = isPlain(s) ? [s] : (plain.get(this.keyOf(s)) ?? [])
      const same = alike.find((p) => variantName(p.name, s.name) !== null) ?? alike[0] ?? s
      const variant =
        same === s ? (s.state || s.media ? `${s.media}|${s.state}` : '') : (variantName(same.name, s.name) ?? `${s.media}|${s.state}`)
      this.conditions.set(`${s.media}|${s.state}`, variant)
      this.classes.set(s.name, {
        name: s.name,
        base: same.name,
        variant,
        important: s.important,
        declared: s.declared,
        at: s.at,
      })
      this.names.set(`${variant} ${same.name}`, s.name)
    }
    // Some are there for a condition alone.
    const byBase = new Map<string, UtilityClass>()
    for (const c of this.classes.values()) if (!byBase.has(c.base) || c.variant === '') byBase.set(c.base, c)
    this.index = new ClassIndex([...byBase].map(([base, c]) => ({ base, root: stemOf(base), effect: [...this.effect(c)] })))
  }

  private keyOf(s: Single): string {
    return JSON.stringify([[...this.effect(s)].sort(), s.important])
  }

  read(name: string): UtilityClass | null {
    return this.classes.get(name) ?? null
  }

  meant(name: string): string {
    return name
  }

  offers(base: string): boolean {
    return this.classes.has(base)
  }

  spell(base: string, variant: string): string {
    return this.names.get(`${variant} ${base}`) ?? ''
  }

  normal(property: string, value: string, longhand: string): string {
    return normalLonghand(property, value, longhand, this.variables, REM)
  }

  effect(c: Pick<UtilityClass, 'name' | 'declared'>, beside?: ReadonlyMap<string, string>): Effect {
    if (beside) return effectOf(c.declared, (name) => beside.get(name) ?? this.variables(name), REM)
    let known = this.effects.get(c.name)
    if (!known) this.effects.set(c.name, (known = effectOf(c.declared, this.variables, REM)))
    return known
  }

  giving(wanted: Effect): readonly string[] {
    return this.index.giving(wanted).map((e) => e.base)
  }

  within(whole: Effect): readonly string[] {
    return this.index.within(whole).map((e) => e.base)
  }

  made(): readonly string[] {
    return []
  }

  steps(longhands: readonly string[]): readonly Step[] {
    return this.index.steps(longhands).map(({ entry, value }) => ({ base: entry.base, value }))
  }

  family(c: UtilityClass): readonly string[] {
    return this.index.family(stemOf(c.base), this.effect(c), c.base).map((e) => e.base)
  }

  all(): readonly string[] {
    return this.index.bases
  }

  order(names: readonly string[]): ReadonlyMap<string, number> {
    return new Map(names.map((n) => [n, this.classes.get(n)?.at ?? -1]))
  }

  stateOf(part: string): string | null {
    const key = [...this.conditions].find(([key, variant]) => variant === part && key.startsWith('|'))?.[0]
    return key?.slice(1) || null
  }

  mediaOf(part: string): string | null {
    const key = [...this.conditions].find(([key, variant]) => variant === part && key.endsWith('|'))?.[0]
    return key ? key.slice(0, -1) || null : null
  }

  variantFor({ state, part, media }: VariantCondition): string | null {
    if (part) return null
    return state || media ? (this.conditions.get(`${media}|${state}`) ?? null) : ''
  }
}

// Classes of one stem that set the same longhands: the helpers that a project keeps beside its other rules.
function helpersOf(singles: readonly Single[]): Single[] {
  const families = new Map<string, Single[]>()
  for (const s of singles) {
    const key = `${stemOf(s.name)} ${s.declared.map((d) => d.name).join(',')} ${s.media} ${s.state}`
    push(families, key, s)
  }
  return [...families.values()].filter((f) => new Set(f.map((s) => s.name)).size >= FAMILY).flat()
}

// What a name has that its plain one has not, where it is put in or at an end: `md` of `mb-md-3`, `md:` of `md:mb-3`.
function variantName(plain: string, name: string): string | null {
  let from = 0
  while (from < plain.length && plain[from] === name[from]) from++
  let tail = 0
  while (tail < plain.length - from && plain[plain.length - 1 - tail] === name[name.length - 1 - tail]) tail++
  if (from + tail < plain.length) return null
  return name.slice(from, name.length - tail).replace(/^[-:@_]+|[-:@_]+$/g, '') || null
}
