import { compile, __unstable__loadDesignSystem as loadDesignSystem } from 'tailwindcss'
import { longhandsOf, sameCondition, stateAround, widthRange } from '../css'
import { parseColor, parseLength, trimNumber } from '../value'
import { ClassIndex, goesWith, type Effect, type Entry } from './class-index'
import { effectOf, normalLonghand } from './effect'
import { normalValue, resolveVariables, type Variables } from './normal'
import { inBrackets, segments } from './segments'
import { isNewIn4, OLDER } from './version-3'
import type { Declared, Step, UtilityClass, Vocabulary, WantedValues } from './types'

type DesignSystem = Awaited<ReturnType<typeof loadDesignSystem>>
type Compiler = Awaited<ReturnType<typeof compile>>
type AstNode = ReturnType<DesignSystem['compileAstNodes']>[number]['node']

/** Reads style sheets and modules that the input names; an error says what cannot be read. */
export interface TailwindSource {
  readonly css: string
  /** The version that the project is set up for. */
  readonly version: 3 | 4
  /** The folder that relative imports start from. */
  readonly base: string
  readonly loadStylesheet: (id: string, base: string) => Promise<{ path: string; base: string; content: string }>
  readonly loadModule: (id: string, base: string, hint: 'plugin' | 'config') => Promise<{ path: string; base: string; module: never }>
}

/** The inverse index as it is kept: what it is of, the entries, and the roots that take values in brackets. */
export interface TailwindIndex {
  readonly entries: readonly Entry[]
  readonly roots: readonly (readonly [root: string, longhands: readonly string[]])[]
}

const REM = 16

/** Loads the design system that a Tailwind CSS 4 input describes. @throws Error when the input cannot be read; the message says why. */
export async function loadTailwind(source: TailwindSource): Promise<Tailwind> {
  const options = { base: source.base, loadStylesheet: source.loadStylesheet, loadModule: source.loadModule }
  const [system, compiler] = await Promise.all([loadDesignSystem(source.css, options), compile(source.css, options)])
  return new Tailwind(system, compiler, source.version)
}

// What is asked of each root to learn whether it takes values in brackets, and for which properties.
const PROBES = ['7px', '37%', '0.37', '17', '#123457', '7deg', '7ms', 'url(probe)', 'probe', '7px_9px', 'minmax(7px,1fr)', '7px/9px']
const HINTS = ['', 'length:', 'color:', 'number:', 'percentage:', 'image:', 'position:', 'size:', 'family-name:', 'weight:', 'shadow:']

// Roots that stand for several properties.
const OF_SEVERAL = /^(?:bg|border(?:-[xytrblse])?|text|stroke|ring|outline|decoration|font)$/

// The kinds that a value in brackets could be taken for without a hint.
const hintsFor = (text: string): readonly string[] =>
  parseLength(text)
    ? ['', 'length:', 'number:', 'percentage:']
    : parseColor(text)
      ? ['', 'color:']
      : text.includes('var(')
        ? HINTS
        : ['', 'image:', 'position:', 'size:', 'family-name:', 'shadow:']

// A condition around declarations that only repeats them in a newer notation.
const REPEATS = /^@supports/

/** The classes of Tailwind CSS 4 with a project's own theme; the package's own reading of each. */
export class Tailwind implements Vocabulary {
  readonly label = 'Tailwind CSS'
  readonly isCompiled = true
  private readonly initial = new Map<string, string>()
  private readonly bare = new Map<string, readonly Declared[] | null>()
  private readonly valid = new Map<string, boolean>()
  private readonly effects = new Map<string, Effect>()
  private readonly used = new Set<string>()
  private readonly states = new Map<string, string | null>()
  private readonly byState = new Map<string, string>()
  private index: ClassIndex = new ClassIndex([])
  /** Whether the inverse index is there: before that no class can be asked for. */
  ready = false
  private roots: readonly (readonly [root: string, longhands: readonly string[]])[] = []

  constructor(
    private readonly system: DesignSystem,
    private readonly compiler: Compiler,
    private readonly version: 3 | 4,
  ) {}

  private get prefix(): string {
    return this.system.theme.prefix ? `${this.system.theme.prefix}:` : ''
  }

  /** The value that the theme gives a custom property; null where it is none of the theme's. */
  themeValue(name: string): string | null {
    return this.system.resolveThemeValue(this.unprefixed(name), true) ?? null
  }

  private readonly variables: Variables = (name) => this.themeValue(name) ?? this.initial.get(name) ?? null

  // A variable of the theme by its name in the theme: a prefix could make it look like one that classes share.
  private unprefixed(name: string): string {
    const { prefix } = this.system.theme
    if (!prefix || !name.startsWith(`--${prefix}-`)) return name
    const plain = `--${name.slice(prefix.length + 3)}`
    return this.system.resolveThemeValue(plain, true) === undefined ? name : plain
  }

  // --- what a class is ---

  private declaredBy(base: string): readonly Declared[] | null {
    const known = this.bare.get(base)
    if (known !== undefined) return known
    const out: Declared[] = []
    for (const candidate of this.system.parseCandidate(this.prefix + base)) {
      for (const { node } of this.system.compileAstNodes(candidate)) this.collect(node, null, out)
    }
    const found = out.length ? out : null
    this.bare.set(base, found)
    return found
  }

  private collect(node: AstNode, on: string | null, out: Declared[]): void {
    switch (node.kind) {
      case 'declaration':
        if (node.property !== '--tw-sort' && node.value !== undefined)
          out.push({
            on: on ?? '',
            name: node.property,
            value: this.system.theme.prefix ? node.value.replace(/--[\w-]+/g, (name) => this.unprefixed(name)) : node.value,
          })
        return
      case 'at-rule':
        if (node.name === '@property') {
          const value = node.nodes.find((n) => n.kind === 'declaration' && n.property === 'initial-value')
          if (value?.kind === 'declaration' && value.value !== undefined) this.initial.set(node.params, value.value)
        } else if (!REPEATS.test(node.name))
          for (const n of node.nodes) this.collect(n, [on, `${node.name} ${node.params}`].filter(Boolean).join(' '), out)
        return
      case 'rule': {
        // The outermost rule is the class itself.
        const inner = on === null ? '' : [on, node.selector].filter(Boolean).join(' ')
        for (const n of node.nodes) this.collect(n, inner, out)
        return
      }
      case 'context':
      case 'at-root':
        for (const n of node.nodes) this.collect(n, on, out)
    }
  }

  read(name: string): UtilityClass | null {
    const all = segments(name)
    if (this.prefix && all.shift() !== this.system.theme.prefix) return null
    const marked = all.pop() ?? ''
    const base = marked.replace(/^!|!$/, '')
    const declared = this.declaredBy(base)
    if (!declared) return null
    const variant = all.join(':')
    if (variant && !this.takes(variant)) return null
    return { name, base, variant, important: base !== marked, declared }
  }

  meant(name: string): string {
    return this.prefix && !this.read(name) && this.read(this.prefix + name) ? this.prefix + name : name
  }

  offers(base: string): boolean {
    return this.version === 4 || !isNewIn4(base)
  }

  private takes(variant: string): boolean {
    if (this.version === 3 && segments(variant).some((v) => /^(?:not|in|nth)-|^\*|^(?:inert|starting)$/.test(v))) return false
    let known = this.valid.get(variant)
    if (known === undefined) {
      known = this.system.parseCandidate(`${this.prefix}${variant}:block`).some((c) => this.system.compileAstNodes(c).length > 0)
      this.valid.set(variant, known)
    }
    return known
  }

  spell(base: string, variant: string, important: boolean): string {
    const marked = important ? (this.version === 3 ? `!${base}` : `${base}!`) : base
    return `${this.prefix}${variant && `${variant}:`}${marked}`
  }

  effect(c: UtilityClass, beside?: ReadonlyMap<string, string>): Effect {
    if (beside) return effectOf(c.declared, (name) => beside.get(name) ?? this.variables(name), REM)
    let known = this.effects.get(c.base)
    if (!known) this.effects.set(c.base, (known = effectOf(c.declared, this.variables, REM)))
    return known
  }

  normal(property: string, value: string, longhand: string): string {
    return normalLonghand(property, value, longhand, this.variables, REM)
  }

  // --- from values to classes ---

  /** Works the index out, in slices that leave room for other work: `pause` is awaited between them. */
  async buildIndex(pause: (done: number, of: number) => Promise<void>): Promise<TailwindIndex> {
    await pause(0, 1)
    const listed = this.system.getClassList()
    const older = new Set(this.version === 3 ? OLDER : [])
    const list: typeof listed = [
      ...[...older].map((base): (typeof listed)[number] => [base, { modifiers: [] }]),
      ...listed.filter(([base]) => !older.has(base)),
    ]
    const entries: Entry[] = []
    const add = (base: string) => {
      const declared = this.offers(base) ? this.declaredBy(base) : null
      // What a theme of version 3 calls by a name that version 4 takes for a size of text is none.
      if (declared?.some((d) => d.name === 'font-size' && /^(?:[a-z-]+|[\d.]+)$/.test(normalValue(d.value, this.variables, REM)))) return
      if (declared) entries.push({ base, root: this.rootOf(base), effect: [...effectOf(declared, this.variables, REM)] })
    }
    for (const [i, [base, { modifiers }]] of list.entries()) {
      if (i % 200 === 0) await pause(i, list.length)
      add(base)
      // A size of text with its line height is one class; the opacities of a colour are worked out when asked for.
      if (base.startsWith('text-') && entries.at(-1)?.effect.some(([l]) => l === 'font-size'))
        for (const m of modifiers) add(`${base}/${m}`)
    }
    const roots = this.system.utilities.keys('functional').flatMap((root) => {
      const sets = new Set<string>()
      for (const probe of PROBES) {
        const declared = this.declaredBy(`${root}-[${probe}]`)
        if (!declared) continue
        const names = declared
          .filter((d) => !d.name.startsWith('--'))
          .flatMap((d) => longhandsOf(d.name).map((l) => (d.on ? `${d.on}|${l}` : l)))
        if (names.length) sets.add([...new Set(names)].sort().join(','))
      }
      return [...sets].map((s) => [root, s.split(',')] as const)
    })
    const index = { entries, roots }
    this.useIndex(index)
    return index
  }

  useIndex({ entries, roots }: TailwindIndex): void {
    this.index = new ClassIndex(entries)
    this.roots = roots
    this.ready = true
  }

  private rootOf(base: string): string {
    const candidate = this.system.parseCandidate(this.prefix + base)[0]
    return candidate?.kind === 'functional' ? candidate.root.replace(/^-/, '') : ''
  }

  /** What the index depends on, as text: another theme or other classes have another. */
  get signature(): string {
    const { theme, utilities } = this.system
    return JSON.stringify([
      this.version,
      [...theme.entries()].map(([name, { value }]) => [name, value]),
      utilities.keys('static'),
      utilities.keys('functional'),
      theme.prefix,
    ])
  }

  giving(wanted: Effect): readonly string[] {
    return this.index.giving(wanted).map((e) => e.base)
  }

  within(whole: Effect): readonly string[] {
    return this.index.within(whole).map((e) => e.base)
  }

  made(wanted: WantedValues): readonly string[] {
    const text = wanted.value.trim()
    const names = [...wanted.longhands.keys()]
    const fits = (base: string): boolean => {
      const c = !this.offers(base) ? null : this.read(this.spell(base, '', false))
      if (!c) return false
      const effect = this.effect(c)
      return names.every((l) => effect.get(l) === wanted.longhands.get(l))
    }
    const out: string[] = []
    const roots = this.roots
      .filter(
        ([root, longhands]) =>
          !root.startsWith('-') &&
          names.every((n) => longhands.includes(n)) &&
          longhands.every((l) => names.includes(l) || names.some((n) => goesWith(n, l))),
      )
      .sort(([a, la], [b, lb]) => la.length - lb.length || a.length - b.length)
      .map(([root]) => root)
    for (const root of roots) {
      const bare = this.version === 4 ? this.bareValues(root, text).find(fits) : undefined
      if (bare) out.push(bare)
    }
    const faded = this.faded(wanted).find(fits)
    if (faded) out.push(faded)
    for (const root of roots) {
      const variable = /^var\((--[\w-]+)\)$/.exec(text)?.[1]
      // Version 3 goes by the look of a value for what it is, so what is no one length or colour says its kind.
      const isPlain = parseLength(text) !== null || parseColor(text) !== null
      const hints =
        this.version === 3 && !isPlain && OF_SEVERAL.test(root) ? HINTS.filter((h) => h !== '' && h !== 'percentage:') : hintsFor(text)
      const forms = [
        ...(variable && this.version === 4 ? HINTS.map((h) => `${root}-(${h}${variable})`) : []),
        ...hints.map((h) => `${root}-[${h}${inBrackets(text)}]`),
      ]
      const found = forms.find(fits)
      if (found) out.push(found)
    }
    const own = `[${wanted.property}:${inBrackets(text)}]`
    if (fits(own)) out.push(own)
    return [...new Set(out)]
  }

  // Steps that are not listed and yet read as steps: whole and half multiples of the spacing, whole numbers and percents.
  private bareValues(root: string, text: string): string[] {
    const length = parseLength(text)
    if (!length) return []
    const out: string[] = []
    const spacing = parseLength(normalValue('var(--spacing)', this.variables, REM))
    const own = parseLength(normalValue(text, this.variables, REM))
    if (own && spacing?.number && own.unit === spacing.unit) {
      const steps = Math.round((own.number / spacing.number) * 1e4) / 1e4
      if (Number.isInteger(steps * 2)) out.push(steps < 0 ? `-${root}-${-steps}` : `${root}-${steps}`)
    }
    const whole = length.unit === '' && !Number.isInteger(length.number) ? length.number * 100 : length.number
    if (Number.isInteger(whole) && /^(|%|px|deg|ms)$/.test(length.unit))
      out.push(whole < 0 ? `-${root}-${-whole}` : `${root}-${trimNumber(whole)}`)
    return out
  }

  // A colour of the theme with some alpha: `bg-sea/50`.
  private faded({ longhands }: WantedValues): string[] {
    const colors = new Set(longhands.values())
    const alpha = colors.size === 1 ? /^rgb\((.*)\/([\d.]+)\)$/.exec([...colors][0]) : null
    if (!alpha || alpha[2] === '1') return []
    const opaque = new Map([...longhands.keys()].map((l) => [l, `rgb(${alpha[1]}/1)`]))
    const percent = trimNumber(Number(alpha[2]) * 100)
    const after = this.version === 3 && Number(percent) % 5 !== 0 ? `[${trimNumber(Number(alpha[2]))}]` : percent
    return this.index.giving(opaque).map((e) => `${e.base}/${after}`)
  }

  steps(longhands: readonly string[]): readonly Step[] {
    return this.index.steps(longhands).map(({ entry, value }) => ({ base: entry.base, value }))
  }

  family(c: UtilityClass): readonly string[] {
    return this.index.family(this.rootOf(c.base), this.effect(c), c.base).map((e) => e.base)
  }

  /** The rules of a class as the package prints them; null for one it does not know. */
  cssOf(name: string): string | null {
    return this.system.candidatesToCss([name])[0] ?? null
  }

  /** The same with the values of the theme in the place of its variables, for a sheet that has none of these. */
  plainCssOf(name: string): string | null {
    const css = this.cssOf(name)
    return (
      css &&
      css.replace(/(?<=:\s)[^;{}]+(?=;)/g, (value) => resolveVariables(value, (v) => (v.startsWith('--tw-') ? null : this.variables(v))))
    )
  }

  /** The package's own class list. */
  get listed(): readonly string[] {
    return this.system.getClassList().map(([name]) => name)
  }

  /** What a class gives a property, with all that is a variable in it read through; null where it does not. */
  whole(c: UtilityClass, property: string): string | null {
    const longhands = longhandsOf(property)
    const values = new Set(longhands.map((l) => this.effect(c).get(l)))
    return values.size === 1 ? ([...values][0] ?? null) : null
  }

  all(): readonly string[] {
    return this.index.bases
  }

  order(names: readonly string[]): ReadonlyMap<string, number> {
    const sorted = this.system.getClassOrder([...new Set(names)])
    const ranks = [...new Set(sorted.flatMap(([, n]) => (n === null ? [] : [n])))].sort((a, b) => (a < b ? -1 : a > b ? 1 : 0))
    const rank = new Map(ranks.map((n, i) => [n, i]))
    return new Map(sorted.map(([name, n]) => [name, n === null ? -1 : rank.get(n)!]))
  }

  // --- conditions ---

  private named: readonly { readonly name: string; readonly selector: string; readonly media: string }[] | null = null

  private get variants(): NonNullable<Tailwind['named']> {
    if (this.named) return this.named
    const out: { name: string; selector: string; media: string }[] = []
    for (const v of this.system.getVariants()) {
      for (const value of v.isArbitrary ? v.values : [undefined]) {
        const name = value === undefined ? v.name : `${v.name}${v.hasDash ? '-' : ''}${value}`
        for (const text of v.selectors(value === undefined ? {} : { value })) {
          const media = /^@media ([^{]+?)\s*(?:\{|$)/.exec(text)?.[1] ?? ''
          // That the pointer can hover at all goes with the state and is no condition of its own.
          out.push({
            name,
            selector: /&[^{}]*/.exec(text)?.[0].trim() ?? '',
            media: media === '(hover: hover)' ? '' : media,
          })
        }
      }
    }
    return (this.named = out)
  }

  mediaOf(part: string): string | null {
    const least = /^min-\[([\d.]+(?:px|r?em))\]$/.exec(part)
    return least ? `(min-width: ${least[1]})` : this.variants.find((v) => v.name === part && !v.selector)?.media || null
  }

  variantFor({ state, part, media }: { readonly state: string; readonly part: string; readonly media: string }): string | null {
    const parts: string[] = []
    if (media) {
      const named = this.variants
        .filter((v) => !v.selector && v.media && (sameCondition(`@media ${v.media}`, `@media ${media}`) || sameWidths(v.media, media)))
        .sort((a, b) => a.name.length - b.name.length)[0]
      const free = named
        ? named.name
        : (variantOfWidths(media) ?? `[@media${inBrackets(media).startsWith('(') ? '' : '_'}${inBrackets(media)}]`)
      parts.push(free)
    }
    if (state) parts.push(this.variantOfState(state))
    if (part) {
      const known = this.takes(part.replace(/^::/, '')) ? part.replace(/^::/, '') : null
      parts.push(known ?? `[&${inBrackets(part)}]`)
    }
    const variant = parts.join(':')
    return this.takes(variant) || variant === '' ? variant : null
  }

  stateOf(part: string): string | null {
    let known = this.states.get(part)
    if (known === undefined) {
      known = stateIn(this.cssOf(this.spell('block', part, false)) ?? '')
      this.states.set(part, known)
      // What a list calls it goes before other names of the same.
      if (known !== null && !this.stateName(known)) this.byState.set(known, part)
    }
    return known
  }

  /** What an element has to stand in for `dark:`, where that is no media query: `.dark`; else null. */
  get darkAround(): string | null {
    const selector = this.variants.find((v) => v.name === 'dark' && !v.media)?.selector
    return (selector && /^&:(?:where|is)\(([.[][^,\s]*?), \1 \*\)$/.exec(selector)?.[1]) || null
  }

  private variantOfState(state: string): string {
    const listed = this.byState.get(state)
    if (listed !== undefined) return listed
    const around = stateAround(state)
    if (around) return this.variantAround(around.compound, around.state, around.isBefore)
    const held = /^:has\((.+)\)$/.exec(state)?.[1]
    if (held) return [`has-${this.stateName(held) ?? ''}`].find((v) => this.takes(v)) ?? `has-[${inBrackets(held)}]`
    return this.stateName(state) ?? `[&${inBrackets(state)}]`
  }

  private stateName(state: string): string | null {
    return (
      this.variants.find(
        (v) =>
          !v.media &&
          (v.selector === `&${state}` || (v.selector.startsWith('&:is(') && v.selector.slice(5, -1).split(', ').includes(state))),
      )?.name ?? null
    )
  }

  private variantAround(compound: string, state: string, isBefore: boolean): string {
    if (state === '') return this.variants.find((v) => !v.media && isWithin(v.selector, compound))?.name ?? this.around(compound)
    const group = /^\.(group|peer)(?:\\\/(.+))?$/.exec(compound)
    const name = this.stateName(state)
    return group && name && (group[1] === 'peer') === isBefore
      ? `${group[1]}-${name}${group[2] ? `/${group[2]}` : ''}`
      : isBefore
        ? `[${inBrackets(`${compound}${state} ~ &`)}]`
        : this.around(compound + state)
  }

  private around(compound: string): string {
    return this.version === 3 ? `[${inBrackets(compound)}_&]` : `in-[${inBrackets(compound)}]`
  }

  // --- the compiled sheet ---

  /** The sheet with the rules of these classes and of those it was asked for before. */
  compile(classes: Iterable<string>): string {
    const fresh = [...classes].filter((c) => !this.used.has(c))
    for (const c of fresh) this.used.add(c)
    return this.compiler.build(fresh)
  }
}

/** States that come and go; a place among siblings, such as `:first-child`, is none. */
const COMES_AND_GOES =
  /^(?::(?:hover|active|focus|focus-visible|focus-within|target|checked|indeterminate|disabled|enabled|invalid|valid|user-invalid|user-valid|required|optional|placeholder-shown|read-only|autofill|in-range|out-of-range|default)|:has\(:[\w-]+\)|\[(?!dir\b)[\w-]+(?:="[^"]*")?\])$/

// What the rule of a class waits for besides being there, as a condition has it.
function stateIn(css: string): string | null {
  if (/::|@(?:supports|container)|@media (?!\(hover: hover\))/.test(css)) return null
  const selectors = /^\s*([^{}@]+?)\s*\{\s*display: block/m.exec(css)?.[1].replace(/\.(?:[\w-]|\\.)*block(?![\w-])/g, '&') ?? ''
  const related = /^:is\(:where\((\.(?:[\w-]|\\.)+)\)(.+?) (~ )?&\)$/.exec(selectors)
  if (related) return COMES_AND_GOES.test(related[2]) ? `${related[1]}${related[2]} ${related[3] ?? ''}&` : null
  const own = selectors.split(/,\s*(?![^(]*\))/).map((s) => (s.startsWith('&') ? s.slice(1) : ''))
  if (own.length === 1 && own[0] === ':is([open], :popover-open, :open)') return '[open]'
  if (!own.every((s) => COMES_AND_GOES.test(s))) return null
  return own.length === 1 ? own[0] : `:is(${own.join(', ')})`
}

// Whether a variant's selector is of what is or stands in `compound`: `&:where(.dark, .dark *)`, `.dark &`.
const isWithin = (selector: string, compound: string): boolean => {
  const around = /^&:(?:where|is)\((.*)\)$/.exec(selector)?.[1].split(/,\s*/) ?? [selector.replace(/\s*&$/, ' *')]
  return !selector.includes(':not(') && around.some((s) => s === `${compound} *` || s === `:is(${compound} *)`)
}

const sameWidths = (a: string, b: string): boolean => {
  const [x, y] = [widthRange(a), widthRange(b)]
  return x !== null && y !== null && x.min === y.min && x.max === y.max
}

/** The variant of a least width; other conditions are written out. */
function variantOfWidths(media: string): string | null {
  const least = /^\(\s*(?:min-width\s*:|width\s*>=)\s*([\d.]+(?:px|r?em))\s*\)$/i.exec(media.trim())
  return least && `min-[${least[1]}]`
}
