import { longhandsOf, refuse, type Refused } from '../css'
import { asSaid } from './as-said'
import type { Effect } from './class-index'
import { readClassList } from './class-list'
import { solve } from './fewest'
import { inParts } from './in-parts'
import { holdsWithout, idle, repeated, saidByOthers } from './left-over'
import { placed } from './placing'
import { ReadList, type Listed } from './read-list'
import { saidApart } from './said-apart'
import { segments } from './segments'
import type { ClassPlan, ClassWish, Vocabulary } from './types'

// A class that says more than this is not taken apart to be rid of one of them.
const MOST_PARTS = 4

/** The change of a class list that gives properties these values under a variant, in the fewest classes and the least change. */
export function planClasses(
  vocabulary: Vocabulary,
  value: string,
  variant: string,
  important: boolean,
  wishes: readonly ClassWish[],
): ClassPlan | Refused {
  const names = readClassList(value).map((c) => c.name)
  const list = new ReadList(vocabulary, names, variant, important)
  const meant = wishes.flatMap((w) => saidApart(w, list.gives) ?? [w])
  if (meant.length > wishes.length || meant.some((m, i) => m.property !== wishes[i].property)) {
    const said = plan(list, meant)
    const isInSteps = said.ok && said.added.every((name) => !segments(name).at(-1)!.startsWith('['))
    if (isInSteps) return { meant, ...said }
  }
  return plan(list, wishes)
}

function plan(list: ReadList, asked: readonly ClassWish[]): ClassPlan | Refused {
  const wishes = asked.map((w) => asSaid(list, w))
  let { listed } = list
  const removed = new Set<number>()
  const added: { base: string; instead: number | null; important: boolean }[] = []
  for (const { wish, wanted } of joined(list, wishes)) {
    if (wish.value !== null && [...wanted].every(([k, v]) => list.given(listed, k) === v)) continue
    const repeats = wish.value !== null && !list.important && holdsWithout(list, wanted)
    const decider = list.winner(listed, [...wanted.keys()][0])
    const important = list.important || (decider?.c.important ?? false)
    const pool = listed.filter((l) => l.c.important === important)
    const solved = repeats
      ? solve(list, pool, { ...wish, value: null }, wanted)
      : (wish.value !== null && inParts(list, pool, wish.property, wish.value)) || solve(list, pool, wish, wanted)
    const dissolved =
      wish.value === null && solved
        ? list.listed.find(
            (l) => solved.among.includes(l) && !solved.keep.includes(l) && l.effect.size > MOST_PARTS && solved.add.length > 1,
          )
        : undefined
    if (dissolved)
      return refuse(
        'bad-value',
        `${dissolved.c.name} says ${dissolved.effect.size} things at once. Give ${wish.property} another value instead, or take the class out of the list.`,
      )
    if (!solved)
      return refuse('bad-value', `No class of ${list.v.label} gives ${wish.property} the value ${wish.value}. Choose another place for it.`)
    const kept = new Set(solved.keep)
    const gone = solved.among.filter((l) => !kept.has(l))
    for (const l of gone) if (l.index >= 0) removed.add(l.index)
    const at = gone.find((l) => l === decider)?.index ?? gone[0]?.index ?? null
    const spelled = (base: string) => list.spell(base, important)
    const order = list.v.order(solved.add.map(spelled))
    solved.add.sort((a, b) => order.get(spelled(a))! - order.get(spelled(b))!)
    for (const base of solved.add) added.push({ base, instead: at, important })
    // What comes next is planned on what this leaves.
    listed = [
      ...listed.filter((l) => !gone.includes(l)),
      ...solved.add.flatMap((base) => {
        const c = list.v.read(list.spell(base, important))
        return c ? [{ index: -1, c, effect: list.v.effect(c) }] : []
      }),
    ]
  }
  const one = folded(list, listed, added)
  if (one) {
    for (const l of one.gone) if (l.index >= 0) removed.add(l.index)
    listed = [...listed.filter((l) => !one.gone.includes(l)), one.size]
    added.push({
      base: one.size.c.base,
      instead: one.gone.find((l) => l.index >= 0)?.index ?? null,
      important: list.important,
    })
  }
  const meant = new Set([...asked, ...wishes].flatMap((w) => longhandsOf(w.property)))
  for (const l of saidByOthers(list, listed)) {
    removed.add(l.index)
    listed = listed.filter((x) => x !== l)
  }
  for (const i of [...repeated(list, listed, removed, meant), ...idle(list, listed, removed)]) removed.add(i)
  const moved = [...new Set(list.listed.flatMap((l) => [...l.effect.keys()]))].filter(
    (k) => !meant.has(k) && !/^--|\|/.test(k) && list.given(list.listed, k) !== list.given(listed, k),
  )
  return {
    ...placed(
      list,
      [...removed],
      added.filter((a) => listed.some((l) => l.index === -1 && l.c.base === a.base)),
    ),
    moved,
    ...(wishes.some((w, i) => w !== asked[i]) && { meant: wishes }),
  }
}

// A width and a height of the same step are one class, once one of them is written.
function folded(
  list: ReadList,
  listed: readonly Listed[],
  added: readonly { base: string }[],
): { readonly gone: readonly Listed[]; readonly size: Listed } | null {
  const of = (name: string) => listed.filter((l) => l.effect.size === 1 && l.effect.has(name) && l.c.important === list.important)
  const [[width, ...w], [height, ...h]] = [of('width'), of('height')]
  if (!width || !height || w.length || h.length || !added.some((a) => a.base === width.c.base || a.base === height.c.base)) return null
  const base = list.v.giving(
    new Map([
      ['width', width.effect.get('width')!],
      ['height', height.effect.get('height')!],
    ]),
  )[0]
  const c =
    base === undefined || width.effect.get('width') !== height.effect.get('height') ? null : list.v.read(list.spell(base, list.important))
  return c && { gone: [width, height], size: { index: -1, c, effect: list.v.effect(c) } }
}

// What one class says is asked for at once: `size-4` and not a width and a height.
function joined(list: ReadList, wishes: readonly ClassWish[]): readonly { wish: ClassWish; wanted: Effect }[] {
  const each = wishes.map((wish) => ({
    wish,
    wanted: new Map(longhandsOf(wish.property).map((l) => [l, wish.value === null ? '' : list.v.normal(wish.property, wish.value, l)])),
  }))
  if (each.length < 2 || wishes.some((w) => w.value === null)) return each
  const all = new Map(each.flatMap(({ wanted }) => [...wanted]))
  return list.v.giving(all).length ? [{ wish: { property: 'all', value: '' }, wanted: all }] : each
}
