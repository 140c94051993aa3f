/** What a class leaves the longhands it sets with: nested ones are named by what they are on, `on|longhand`. */
export type Effect = ReadonlyMap<string, string>

export interface Entry {
  readonly base: string
  /** Classes of one root are steps of one scale: `p` for `p-4`. */
  readonly root: string
  readonly effect: readonly (readonly [longhand: string, normal: string])[]
}

// What a class may set beside what was asked for, since no one writes the one without the other.
const COMPANIONS: Readonly<Record<string, RegExp>> = {
  'font-size': /^(line-height|letter-spacing|font-weight)$/,
  'transition-property': /^transition-(duration|timing-function)$/,
  'outline-width': /^outline-style$/,
}
const BORDER = /^border-(top|right|bottom|left)-width$/

/** Whether a class that sets `longhand` may set `other` too without having been asked for it. */
export const goesWith = (longhand: string, other: string): boolean => {
  const side = BORDER.exec(longhand)?.[1]
  return side
    ? other === `border-${side}-style`
    : (COMPANIONS[longhand]?.test(other) ?? false) ||
        /^-(webkit|moz)-/.test(other) ||
        (longhand.startsWith('--tw-') && other.startsWith('--tw-'))
}

export interface ScaleStep {
  readonly entry: Entry
  readonly value: string
}

const keyOf = (longhand: string, normal: string): string => `${longhand}=${normal}`
const shapeOf = (longhands: Iterable<string>): string => [...longhands].sort().join(',')

// The unit of a value that is one number; null of any other, and of nothing, which has none.
const unitOf = (normal: string): string | null => /^-?(?:0|(?=[\d.]*[1-9])[\d.]+([a-z%]*))$/.exec(normal)?.[1] ?? null

// How far along its scale a value is: a number, the largest length of a shadow, how often a track is repeated.
function numberIn(normal: string): number | null {
  if (normal.includes('infinity') || /^\d+e\d+px$/.test(normal)) return Number.MAX_VALUE
  const alone = /^-?[\d.]+(?=$|[a-z%])/i.exec(normal)
  if (alone) return Number(alone[0])
  const plain = normal.replace(/rgb\([^()]*\)/g, '')
  const lengths = [...plain.matchAll(/-?[\d.]+(?=px)/g)].map((m) => Math.abs(Number(m[0])))
  if (lengths.length) return Math.max(...lengths)
  const first = /[\d.]+/.exec(plain)
  return first ? Number(first[0]) : null
}

// `tracking-normal` before `-tracking-normal`, and a step by its name before the older name without one, as `shadow-sm` before `shadow`.
const plainness = (a: string, b: string): number =>
  Number(a.startsWith('-')) - Number(b.startsWith('-')) || (b.startsWith(`${a}-`) ? 1 : a.startsWith(`${b}-`) ? -1 : 0)

/** From values to classes: which classes give longhands just these values. Values are in normal form. */
export class ClassIndex {
  private readonly byValue = new Map<string, Entry[]>()
  private readonly byShape = new Map<string, Entry[]>()
  readonly bases: readonly string[]
  /** Asked for with every pick, for every property that shows. */
  private readonly known = new Map<string, readonly ScaleStep[]>()

  constructor(entries: readonly Entry[]) {
    this.bases = [...new Set(entries.map((e) => e.base))]
    for (const e of entries) {
      for (const [longhand, normal] of e.effect) push(this.byValue, keyOf(longhand, normal), e)
      push(this.byShape, shapeOf(e.effect.map(([l]) => l)), e)
    }
  }

  /** Classes that give all of `wanted` and nothing else but what goes with it: the plainest and shortest first. */
  giving(wanted: Effect): readonly Entry[] {
    const lists = [...wanted].map(([l, v]) => this.byValue.get(keyOf(l, v)) ?? [])
    const fewest = lists.sort((a, b) => a.length - b.length)[0] ?? []
    const extras = (e: Entry) => e.effect.length - wanted.size
    return fewest
      .filter((e) => {
        let met = 0
        for (const [l, v] of e.effect) {
          if (wanted.get(l) === v) met++
          else if (wanted.has(l) || ![...wanted.keys()].some((w) => goesWith(w, l))) return false
        }
        return met === wanted.size
      })
      .sort((a, b) => extras(a) - extras(b) || plainness(a.base, b.base) || a.base.length - b.base.length)
  }

  /** Classes that are part of `whole`: those that give some of its longhands their value, and nothing against it. */
  within(whole: Effect): readonly Entry[] {
    const seen = new Set<Entry>()
    for (const [l, v] of whole) {
      for (const e of this.byValue.get(keyOf(l, v)) ?? []) {
        if (
          e.effect.every(([el, ev]) => whole.get(el) === ev || (!whole.has(el) && e.effect.some(([w]) => whole.has(w) && goesWith(w, el))))
        )
          seen.add(e)
      }
    }
    return [...seen]
  }

  /** Classes that set just these longhands, all to one value, by that value where it is a number. */
  steps(longhands: readonly string[]): readonly ScaleStep[] {
    const key = longhands.join()
    const known = this.known.get(key) ?? this.findSteps(longhands)
    this.known.set(key, known)
    return known
  }

  private findSteps(longhands: readonly string[]): readonly ScaleStep[] {
    const fit = longhands.flatMap((l) => [
      shapeOf([...longhands]),
      ...[...this.byShape.keys()].filter(
        (s) => s.split(',').every((x) => longhands.includes(x) || goesWith(l, x)) && longhands.every((x) => s.split(',').includes(x)),
      ),
    ])
    const out = [...new Set(fit)]
      .flatMap((s) => this.byShape.get(s) ?? [])
      .flatMap((entry) => {
        const values = new Set(entry.effect.filter(([l]) => longhands.includes(l)).map(([, v]) => v))
        return values.size === 1 ? [{ entry, value: [...values][0] }] : []
      })
    return inOrder(out, (s) => numberIn(s.value))
  }

  /**
   * Classes that could stand in place of `base`, of this root and effect, in the order of their scale: one for each value,
   * by its plainest name. Sizes of text are one walk, the line heights of one size another.
   */
  family(root: string, effect: Effect, base: string): readonly Entry[] {
    const stemOf = (name: string) => (effect.has('font-size') && name.includes('/') ? name.slice(0, name.indexOf('/') + 1) : '')
    const valueOf = (e: Entry) => e.effect.map(([, v]) => v).join(';')
    const alike = (this.byShape.get(shapeOf(effect.keys())) ?? []).filter((e) => e.root === root && stemOf(e.base) === stemOf(base))
    const plainest = new Map<string, Entry>()
    for (const e of alike) {
      const there = plainest.get(valueOf(e))
      if (!there || e.base === base || (there.base !== base && (plainness(e.base, there.base) || e.base.length - there.base.length) < 0))
        plainest.set(valueOf(e), e)
    }
    const own = unitOf([...effect.values()][0] ?? '')
    const number = (e: Entry) => e.effect.flatMap(([, v]) => numberIn(v) ?? [])[0] ?? null
    // Where the scale itself goes below nothing, what it is negated to is no step of it.
    const isSigned = [...plainest.values()].some((e) => !e.base.startsWith('-') && e.effect[0][1].startsWith('-'))
    return inOrder(
      [...plainest.values()].filter((e) => {
        const unit = unitOf(e.effect[0][1])
        return (own === null || unit === null || unit === own) && (e.base === base || !(isSigned && e.base.startsWith('-')))
      }),
      number,
    )
  }
}

/** Adds to the list of a key. */
export function push<T>(map: Map<string, T[]>, key: string, value: T): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}

// Numbers ascend; what is none keeps the order it was listed in, after them.
function inOrder<T>(list: readonly T[], number: (t: T) => number | null): T[] {
  return list
    .map((t, i) => ({ t, i, n: number(t) }))
    .sort((a, b) => (a.n ?? Infinity) - (b.n ?? Infinity) || a.i - b.i)
    .map(({ t }) => t)
}
