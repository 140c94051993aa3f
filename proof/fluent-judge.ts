import { longhandsOf } from '../src/core/css'
import { sameVariant, type Vocabulary } from '../src/core/utility'
import { composedTransform, transformWith, holds, TRANSFORMS, worldOf, type FluentReading, type World } from './fluent-reading'

/** What was asked of a list: a value, or null for none, under a variant. */
export interface Asked {
  readonly property: string
  readonly value: string | null
  readonly variant: string
}

/** What a fluent reader would say of a list. */
export interface Verdict {
  /** The page does not show what was asked for, or shows something else besides. */
  readonly wrong: readonly string[]
  /** A class could be left out. */
  readonly dead: readonly string[]
  /** Fewer named steps, or a named one for one in brackets, would give the same. */
  readonly longer: readonly string[]
}

// What a step brings along by its nature, and what a fluent author lets it bring: a size of text its line height.
const BRINGS: readonly (readonly [asked: RegExp, brought: RegExp])[] = [
  [/^font-size$/, /^(line-height|letter-spacing|font-weight)$/],
  [/^border-(top|right|bottom|left)-width$/, /^border-(top|right|bottom|left)-style$/],
  [/^transition-property$/, /^transition-(duration|timing-function)$/],
  // The way to say no outline that leaves one where colours are forced.
  [/^outline-(width|style)$/, /^outline-(style|width|color|offset)$/],
]
const VENDOR = /^-(webkit|moz|ms)-/
// Whether a value in normal form is what a box has when nothing is said; the package's own base makes borders solid.
const isNothing = (longhand: string, value: string | undefined): boolean =>
  value === undefined ||
  (longhand === 'transition-delay' && /^0(m?s)?$/.test(value)) ||
  (longhand === 'transition-behavior' && value === 'normal') ||
  (/^border-\w+-style$/.test(longhand) && value === 'solid') ||
  (value === 'none' && /^(box-shadow|filter|backdrop-filter|transform|translate|rotate|scale)$/.test(longhand))

const AT: Readonly<Record<string, string>> = { left: '0', top: '0', right: '100%', bottom: '100%', center: '50%' }

// A value in the notation in which those that draw the same are the same text.
function drawn(longhand: string, value: string): string {
  if (longhand === 'font-family') return value.replaceAll("'", '"')
  if (/radius$/.test(longhand)) return /infinity|9999px|e\+?\d+px/.test(value) ? 'full' : value
  if (longhand === 'box-shadow')
    return (
      value
        .split(/,(?![^(]*\))/)
        .filter((layer) => !/^0 0 0 0 /.test(layer))
        .join(',') || 'none'
    )
  if (/^(transform-origin|object-position|background-position.*|perspective-origin)$/.test(longhand)) {
    const words = value.split(' ')
    if (words.length === 2 && /^(top|bottom)$/.test(words[0])) words.reverse()
    if (words.length === 1) words.splice(/^(top|bottom)$/.test(words[0]) ? 0 : 1, 0, 'center')
    return words.map((w) => AT[w] ?? w).join(' ')
  }
  // A gradient's line goes to the bottom and its stops from end to end, where that is not said (CSS Images 3 §3.1).
  if (longhand === 'background-image')
    return value
      .replace(/linear-gradient\((?!to |-?[\d.]|in )/, 'linear-gradient(to bottom,')
      .replace(/(\/[\d.]+\)) 0%,/, '$1,')
      .replace(/ 100%\)$/, ')')
  return value
}

// Values that lay a box out alike: the start of a flow that is not reversed, a span with or without its other end.
function sameFor(longhand: string, wanted: string, got: string | undefined): boolean {
  if (
    got === wanted ||
    (got !== undefined && drawn(longhand, got) === drawn(longhand, wanted)) ||
    (isNothing(longhand, got) && isNothing(longhand, wanted))
  )
    return true
  if (/^(align|justify)-/.test(longhand)) return got?.replace('flex-', '') === wanted.replace('flex-', '')
  return /^grid-(column|row)-end$/.test(longhand) && wanted === 'auto' && /^span \d+$/.test(got ?? '')
}

export class FluentJudge {
  private readonly steps = new Map<string, Set<string>>()
  private readonly effects = new Map<string, ReadonlyMap<string, string>>()
  private readonly isTransformInOne: boolean

  constructor(
    private readonly reading: FluentReading,
    private readonly v: Vocabulary,
  ) {
    this.isTransformInOne =
      v.isCompiled && reading.rules(v.spell('rotate-3', '', false)).some((r) => r.declarations.some((d) => d.name === 'transform'))
    for (const name of reading.names) {
      const base = v.isCompiled ? v.spell(name, '', false) : name
      for (const [key, value] of this.effectOf(base)) {
        const at = `${key}=${value}`
        this.steps.set(at, (this.steps.get(at) ?? new Set()).add(base))
      }
    }
  }

  // What a class gives where its own conditions hold.
  private effectOf(name: string): ReadonlyMap<string, string> {
    let found = this.effects.get(name)
    if (!found) this.effects.set(name, (found = this.reading.meaning([name], worldOf(this.conditionsOf(name)))))
    return found
  }

  private conditionsOf(name: string): readonly string[] {
    return this.reading.rules(name)[0]?.conditions ?? []
  }

  // A named step under the asked variant, as it stands in a list.
  private under(base: string, variant: string): string | null {
    if (!this.v.isCompiled) return this.v.read(base) && sameVariant(this.v.read(base)!.variant, variant) ? base : null
    const bare = this.v.read(base)
    return bare && this.v.spell(bare.base, variant, false)
  }

  judge(before: readonly string[], after: readonly string[], asked: Asked): Verdict {
    const wrong: string[] = []
    const known = [...new Set([...before, ...after])].filter((n) => this.reading.rules(n).length > 0)
    const probe = this.v.isCompiled
      ? this.v.spell('block', asked.variant, false)
      : (known.find((n) => sameVariant(this.v.read(n)?.variant ?? '?', asked.variant)) ?? '')
    const conditions = asked.variant === '' ? [] : this.conditionsOf(probe)
    const askedWorld = worldOf(conditions)
    const sets = new Map<string, World>([
      ['', worldOf([])],
      [conditions.join(), askedWorld],
    ])
    for (const n of known)
      for (const r of this.reading.rules(n))
        sets
          .set(r.conditions.join(), worldOf(r.conditions))
          .set([...r.conditions, ...conditions].join(), worldOf([...r.conditions, ...conditions]))
    const worlds = [...sets.values()]
    const longhands = longhandsOf(asked.property)
    // What a variant such as `after:` is about is not the element itself.
    const boxes = asked.variant === '' || this.reading.rules(probe).length === 0 ? [''] : this.reading.rules(probe).map((r) => r.on)
    const [on] = boxes
    const name = (key: string) => (boxes.includes(key.slice(0, key.lastIndexOf('|'))) ? key.slice(key.lastIndexOf('|') + 1) : '')
    // What an element is transformed by is one thing, by whichever properties it is said.
    const isAsked = (key: string) => longhands.includes(name(key)) || (TRANSFORMS.includes(asked.property) && name(key) === 'transform')
    const own = this.reading.longhands(before, askedWorld)
    const wantedFor = (l: string) => {
      const said = this.v.normal(asked.property, asked.value!, l)
      if (!TRANSFORMS.includes(l)) return said
      const there = (p: string) => own.get(`${on}|${p}`)?.value
      // Version 3 writes all transforms as one, of which classes give the functions one by one.
      const functions = l === 'transform' && this.isTransformInOne ? [...said.matchAll(/(translate|rotate|scale)\(([^()]*)\)/g)] : []
      return composedTransform(
        functions.length
          ? functions.reduce((so, [, name, args]) => transformWith(so, name, args.split(/,\s*/).join(' ')), there)
          : transformWith(there, l, said),
      )
    }
    const brought = (key: string) =>
      name(key) !== '' && (VENDOR.test(name(key)) || BRINGS.some(([a, b]) => longhands.some((l) => a.test(l)) && b.test(name(key))))
    for (const world of worlds) {
      const [was, is] = [this.reading.decided(before, world), this.reading.decided(after, world)]
      const includes = conditions.every((c) => holds(world, c))
      for (const key of new Set([...was.keys(), ...is.keys()])) {
        const [a, b] = [was.get(key)?.value, is.get(key)?.value]
        if (a === b) continue
        if (includes && isAsked(key)) {
          // What decided under more than was asked about stays as it was. Where a class only changes a part, such as an opacity, it goes on doing so.
          const [from, to] = [was.get(key)?.by ?? '', is.get(key)?.by ?? '']
          if (
            world !== askedWorld &&
            from !== '' &&
            from !== to &&
            !after.includes(from) &&
            !this.conditionsOf(from).every((c) => holds(askedWorld, c))
          ) {
            wrong.push(`${key} ${a} becomes ${b} under ${[...world.held].join(' ')}`)
            continue
          }
          const isOfTheEdit = (!before.includes(to) && !after.includes(from)) || from === to
          if (world === askedWorld || asked.value === null || isOfTheEdit) continue
          if (!sameFor(name(key), wantedFor(longhands.includes(name(key)) ? name(key) : asked.property), b))
            wrong.push(`${key} becomes ${b} under ${[...world.held].join(' ')}`)
        } else if (includes && brought(key) && (b !== undefined || name(key).startsWith('outline-'))) continue
        // The colour of a side without a line shows nothing.
        else if (includes && /^\|border-\w+-color$/.test(key) && (is.get(key.replace('color', 'width'))?.value ?? '0') === '0') continue
        else if (!(isNothing(key.slice(1), a) && isNothing(key.slice(1), b)))
          wrong.push(`${key} ${a} becomes ${b} ${includes ? 'besides' : 'elsewhere'}`)
      }
    }
    const shown = this.reading.meaning(after, askedWorld)
    if (asked.value !== null) {
      for (const l of longhands) {
        // The course of a transition that none is written for is the vocabulary's own.
        if (asked.property === 'transition' && asked.value === 'none' && l !== 'transition-property') continue
        if (l === 'transition-timing-function' && asked.property === 'transition' && !/ease|linear|steps?|cubic/.test(asked.value)) continue
        const wanted = wantedFor(l)
        const isUnseen = l === 'outline-style' && wanted === 'none' && shown.get(`${on}|outline-color`) === 'rgb(0 0 0/0)'
        const got = shown.get(`${on}|${TRANSFORMS.includes(l) ? 'transform' : l}`)
        if (!isUnseen && !sameFor(l, wanted, got)) wrong.push(`${l} is ${got} and not ${wanted}`)
      }
    } else
      for (const n of after)
        if (
          this.conditionsOf(n).join() === conditions.join() &&
          [...this.effectOf(n).keys()].some((k) => isAsked(k)) &&
          !before.includes(n)
        )
          wrong.push(`${n} sets what was taken out`)
    const kept = before.filter((n) => after.includes(n))
    if (after.filter((n) => kept.includes(n)).join(' ') !== kept.join(' ')) wrong.push('classes that stay changed their order')
    const dead =
      before.join(' ') === after.join(' ')
        ? []
        : this.deadIn(after, worlds).filter(
            (n) =>
              !before.includes(n) ||
              !this.deadIn(before, worlds).includes(n) ||
              (this.effectOf(n).size > 0 &&
                this.conditionsOf(n).join() === conditions.join() &&
                [...this.effectOf(n).keys()].every(isAsked)),
          )
    return {
      wrong,
      dead,
      longer: [...this.shorter(before, after, asked, worlds, conditions), ...this.named(before, after, asked.variant)],
    }
  }

  /** The same of classes put in by name, or walked to: what they leave without effect goes, and what else is said stays. */
  judgeNamed(before: readonly string[], after: readonly string[], added: readonly string[], isWalk: boolean): Verdict {
    const known = [...new Set([...before, ...after])]
    const worlds = [worldOf([]), ...known.flatMap((n) => this.reading.rules(n).map((r) => worldOf(r.conditions)))]
    const effects = new Set(added.flatMap((n) => [...this.effectOf(n).keys()]))
    const without = after.filter((n) => !added.includes(n))
    const wrong = worlds.flatMap((world) => {
      const [was, is, rest] = [before, after, without].map((list) => this.reading.meaning(list, world))
      // A class that sets a variable, such as the colour of a ring, says what others make of it.
      const said = new Set([...effects, ...[...is.keys()].filter((k) => is.get(k) !== rest.get(k))])
      return [...was].filter(([k, v]) => !said.has(k) && is.get(k) !== v).map(([k, v]) => `${k} ${v} becomes ${is.get(k)} besides`)
    })
    const were = this.deadIn(before, worlds)
    // While a class is walked, what says the same as one of its steps stays for those that say another.
    const stays = (n: string) =>
      isWalk && added.some((a) => [...this.effectOf(n)].every(([key, value]) => this.effectOf(a).get(key) === value))
    return {
      wrong,
      dead: this.deadIn(after, worlds).filter(
        (n) => !added.includes(n) && !were.includes(n) && !stays(n) && this.conditionsOf(n).join() === this.conditionsOf(added[0]).join(),
      ),
      longer: [],
    }
  }

  /** Whether a class that is none of the vocabulary decides what is asked about: then it is not the list's to say. */
  isOfOthers(before: readonly string[], asked: Asked): boolean {
    const longhands = longhandsOf(asked.property)
    return before.some(
      (n) =>
        this.v.read(n) === null &&
        this.reading
          .rules(n)
          .some((r) => r.on === '' && r.declarations.some((d) => longhandsOf(d.name).some((l) => longhands.includes(l)))),
    )
  }

  private same(a: readonly string[], b: readonly string[], worlds: readonly World[]): boolean {
    return worlds.every((world) => {
      const [x, y] = [this.reading.meaning(a, world), this.reading.meaning(b, world)]
      return x.size === y.size && [...x].every(([k, v]) => y.get(k) === v)
    })
  }

  private deadIn(list: readonly string[], worlds: readonly World[]): string[] {
    return list.filter(
      (n, i) =>
        this.reading.rules(n).length > 0 &&
        this.same(
          list,
          list.filter((_, k) => k !== i),
          worlds,
        ),
    )
  }

  // A shorter list of named steps with the same meaning, of up to three changed classes.
  private shorter(
    before: readonly string[],
    after: readonly string[],
    asked: Asked,
    worlds: readonly World[],
    conditions: readonly string[],
  ): string[] {
    const changed = [...before.filter((n) => !after.includes(n)), ...after.filter((n) => !before.includes(n))]
    const touched = new Set(changed.flatMap((n) => [...this.effectOf(n).keys()]))
    const idle = this.deadIn(before, worlds)
    const pool = after.filter(
      (n) =>
        !(before.includes(n) && idle.includes(n)) &&
        this.conditionsOf(n).join() === conditions.join() &&
        [...this.effectOf(n).keys()].some((k) => touched.has(k)),
    )
    if (pool.length < 2) return []
    const whole = this.reading.meaning(pool, worldOf(conditions))
    const rest = after.filter((n) => !pool.includes(n))
    const options = new Map<string, string[]>()
    const candidates = new Set(pool)
    for (const [k, v] of whole)
      for (const base of this.steps.get(`${k}=${v}`) ?? []) {
        const name = this.under(base, asked.variant)
        if (name) candidates.add(name)
      }
    for (const name of candidates) {
      const effect = this.effectOf(name)
      if (![...effect.keys()].every((k) => whole.has(k))) continue
      for (const [k, v] of effect) if (whole.get(k) === v) options.set(k, [...(options.get(k) ?? []), name])
    }
    const keys = [...whole.keys()]
    let tries = 0
    const search = (chosen: readonly string[]): string[] | null => {
      if (++tries > 4000) return null
      const now = this.reading.meaning(chosen, worldOf(conditions))
      const open = keys.find((k) => now.get(k) !== whole.get(k))
      if (open === undefined) {
        const changes = Math.max(
          before.filter((n) => !chosen.includes(n) && !rest.includes(n)).length,
          chosen.filter((n) => !before.includes(n)).length,
        )
        return changes <= 3 && this.same([...rest, ...chosen], after, worlds) ? [...chosen] : null
      }
      if (chosen.length + 1 >= pool.length) return null
      for (const name of options.get(open) ?? []) {
        const found = chosen.includes(name) ? null : search([...chosen, name])
        if (found) return found
      }
      return null
    }
    const found = search([])
    return found ? [`${found.join(' ')} for ${pool.join(' ')}`] : []
  }

  // Brackets stand only for what no step says.
  private named(before: readonly string[], after: readonly string[], variant: string): string[] {
    return after
      .filter((n) => !before.includes(n) && /[[(]/.test(this.v.read(n)?.base ?? ''))
      .flatMap((n) => {
        const effect = this.effectOf(n)
        const lists = [...effect].map(([k, v]) => this.steps.get(`${k}=${v}`) ?? new Set<string>())
        const found = [...(lists[0] ?? [])].find((base) => lists.every((l) => l.has(base)) && this.effectOf(base).size === effect.size)
        const own = found && this.under(found, variant)
        return own ? [`${own} for ${n}`] : []
      })
  }
}
