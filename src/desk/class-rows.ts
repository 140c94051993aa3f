import fuzzysort from 'fuzzysort'
import { ElementCascade, type Evidence } from '../core/aim'
import { escapeName } from '../core/css'
import { attribute } from '../core/language'
import type { Project } from '../core/project'
import {
  readClassList,
  segments,
  setsSlots,
  tellClass,
  vocabulariesOf,
  type ClassTold,
  type UtilityClass,
  type Vocabulary,
} from '../core/utility'

/** A class of an element's list. */
export interface ClassRow extends ClassTold {
  readonly name: string
  readonly variant: string
  /**
   * `wins`: something of it counts now; `loses`: all that it sets is set by something stronger; `waits`: its variant does
   * not hold now; `rule`: an ordinary class that rules of the project are about; `unknown`: nothing in the project knows it.
   */
  readonly state: 'wins' | 'loses' | 'waits' | 'rule' | 'unknown'
  /** How many classes could stand in its place. */
  readonly family: number
  /** What it waits for in its component, as the source writes it; `''` where it always counts. */
  readonly when: string
  /** Whether other elements may take it from the same place of the source, which an edit reaches too. */
  readonly isShared: boolean
}

export interface Completion extends ClassTold {
  readonly name: string
}

const MOST_COMPLETIONS = 40

function find(project: Project, name: string): { v: Vocabulary; c: UtilityClass } | null {
  for (const v of vocabulariesOf(project)) {
    const c = v.read(name)
    if (c) return { v, c }
  }
  return null
}

// In words, with variables that nothing defines marked as such.
function told(project: Project, v: Vocabulary, c: UtilityClass): ClassTold {
  const known = tellClass(v, c)
  const unknown = [...v.effect(c).values()]
    .flatMap((value) => /var\((--(?!tw-)[\w-]+)\)/.exec(value)?.[1] ?? [])
    .find((name) => project.tokenDefinitions(name).length === 0)
  return unknown ? { ...known, sets: `${unknown} is not defined` } : known
}

const NOTHING: ClassTold = { sets: '', color: null, px: null }

/** The classes of an element as they stand in its source. */
export function readClassRows(project: Project, source: string, evidence: Evidence | null): ClassRow[] {
  const of = project.element(source)
  const value = attribute(of?.element, 'class') ?? ''
  const names = readClassList(value).map((c) => c.name)
  const cascade = evidence && new ElementCascade(project, evidence)
  const pieces =
    of?.tree
      .classPieces(of.element)
      .flatMap(({ text, when, isShared }) => readClassList(text).map(() => ({ when: when.join(' and '), isShared }))) ?? []
  return names.map((name, i): ClassRow => {
    const found = find(project, name)
    const piece = pieces[i] ?? { when: '', isShared: false }
    if (!found) return { ...NOTHING, ...piece, name, variant: '', state: isStyled(project, name) ? 'rule' : 'unknown', family: 0 }
    const { v, c } = found
    return {
      ...piece,
      ...told(project, v, c),
      name,
      variant: c.variant,
      state: cascade ? stateOf(cascade, v, c, names) : 'wins',
      family: v.family(c).length,
    }
  })
}

function stateOf(cascade: ElementCascade, v: Vocabulary, c: UtilityClass, names: readonly string[]): ClassRow['state'] {
  const { slots } = setsSlots(c)
  // The same declarations in a newer notation stand in a rule of their own inside it.
  const own = cascade
    .level(0)
    .matching.filter((m) =>
      m.selectors.some(
        (s) =>
          s.includes(`.${escapeName(c.name)}`) &&
          !new RegExp(`\\.${escapeName(c.name).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}[\\w-]`).test(s),
      ),
    )
  const effect = [...v.effect(c).keys()].filter((l) => !/\||^--/.test(l))
  // What it sets in variables or inside the element has no contest of its own: only a class of the same slots can be against it.
  if (effect.length === 0 || (own.length && effect.some((l) => setsSlots(c).composed.has(l))))
    return isCovered(v, c, slots, names) ? 'loses' : 'wins'
  if (own.length === 0) return c.variant ? 'waits' : 'loses'
  return effect.some((l) => own.some((m) => cascade.contest(l)?.winner.site === m.site)) ? 'wins' : 'loses'
}

// Whether classes of the same variant that come later take up all that it does.
function isCovered(v: Vocabulary, c: UtilityClass, slots: ReadonlySet<string>, names: readonly string[]): boolean {
  const order = v.order(names)
  const later = names.flatMap((n) => {
    const other = n === c.name ? null : v.read(n)
    return other && other.variant === c.variant && order.get(n)! > order.get(c.name)! ? [other] : []
  })
  const taken = new Set(later.flatMap((o) => [...setsSlots(o).slots]))
  return slots.size > 0 && [...slots].every((s) => taken.has(s))
}

const isStyled = (project: Project, name: string): boolean =>
  project.allSheets().some((ref) => ref.sheet.text.includes(`.${escapeName(name)}`))

/** The classes that could stand in a class's place, under its own variant and importance, in order. */
export function familyOf(project: Project, name: string): string[] {
  const found = find(project, name)
  if (!found) return []
  const { v, c } = found
  return v
    .family(c)
    .map((base) => v.spell(base, c.variant, c.important))
    .filter((n) => n !== '')
}

/** Classes that answer what was typed, variants typed before them kept: the best first. */
export function completions(project: Project, typed: string): Completion[] {
  const at = typed.lastIndexOf(':')
  const [variant, stem] = [typed.slice(0, Math.max(0, at)), typed.slice(at + 1)]
  const limit = MOST_COMPLETIONS * 2
  const answers = (names: readonly string[]) =>
    stem === '' ? names.slice(0, limit).map((target) => ({ target, score: 1 })) : fuzzysort.go(stem, names, { limit, threshold: 0 })
  const best = vocabulariesOf(project)
    .flatMap((v) => answers(v.all()).map(({ target, score }) => ({ name: target, score, v })))
    .sort((a, b) => b.score - a.score || a.name.length - b.name.length)
    .slice(0, limit)
  // What is typed may be a class that no list has: `p-[13px]`.
  const own = find(project, typed)
  const rows = best
    .flatMap(({ name, v }) => {
      const spelled = v.spell(name, variant, false)
      const c = spelled ? v.read(spelled) : null
      return c ? [{ name: spelled, ...tellClass(v, c) }] : []
    })
    .slice(0, MOST_COMPLETIONS)
  return own && !rows.some((r) => r.name === typed) ? [{ name: typed, ...tellClass(own.v, own.c) }, ...rows] : rows
}

/** A state that classes wait for, by the name that they have for it. */
export interface NamedState {
  readonly name: string
  /** As a condition has it: `.group:hover &`. */
  readonly state: string
}

const MOST_NEIGHBOURS = 40

/** The states that classes of an element, or of those beside and around it, wait for. */
export function statesOfClasses(project: Project, source: string): NamedState[] {
  const found = project.element(source)
  if (!found) return []
  const { element } = found
  const siblings = element.parent ? found.tree.elements.filter((e) => e.parent === element.parent).slice(0, MOST_NEIGHBOURS) : []
  const near = new Set([element, ...siblings, ...(element.parent ? [element.parent] : [])])
  const parts = new Set([...near].flatMap((e) => readClassList(attribute(e, 'class') ?? '')).flatMap((c) => segments(c.name).slice(0, -1)))
  const out = new Map<string, string>()
  for (const part of parts) {
    for (const v of vocabulariesOf(project)) {
      const state = v.stateOf(part)
      if (state !== null && !out.has(state)) out.set(state, part)
    }
  }
  return [...out].map(([state, name]) => ({ name, state }))
}
