import type { ClassListRef } from '../aim'
import { refuse, type EditPlan, type Refused } from '../css'
import { attribute, type ElementTree, type ListText, type SourceElement } from '../language'
import type { Project } from '../project'
import { applySplices, mapOffset, normalizeSplices, type Splice } from '../text'
import {
  changeClassList,
  planClasses,
  readClassList,
  sameList,
  sameVariant,
  setsSlots,
  vocabulariesOf,
  type ClassPlan,
  type ClassWish,
  type ListChange,
} from '../utility'
import type { ClassesIntent, FileSplices, PlannedEdit, PreviewPlan } from './intent'
import { withTaking } from './plan-taking'
import { editableElement } from './target'

/** The parts of a list that a change touches, each with its own part of the change, in the offsets of its own names. */
function changeOfParts(
  parts: readonly (ListText & { readonly first: number; readonly count: number })[],
  change: ListChange,
): ListChange[] {
  const partAt = (index: number) => parts.findIndex((p) => index >= p.first && index < p.first + p.count)
  const isOwn = (part: ListText): boolean => part.when.length === 0 && part.path === undefined
  const out = parts.map((): { remove: number[]; add: ListChange['add'][number][] } => ({ remove: [], add: [] }))
  for (const index of change.remove) out[partAt(index)].remove.push(index - parts[partAt(index)].first)
  const always = parts.findLastIndex(isOwn)
  for (const { name, after } of change.add) {
    const at = after < 0 ? parts.findIndex(isOwn) : partAt(after)
    // What takes the place of another stands where that does; what only comes stands where it always counts, in the element's own file.
    const isThere = at >= 0 && (isOwn(parts[at]) || change.remove.includes(after))
    const to = isThere ? at : always >= 0 ? always : Math.max(at, 0)
    out[to].add.push({ name, after: to === at && after >= 0 ? after - parts[to].first : after < 0 ? -1 : parts[to].count - 1 })
  }
  return out
}

/** A list that was changed: splices of the element's own file, those of others that parts of it stand in, and what it reads then. */
interface ChangedList {
  readonly plan: EditPlan
  readonly elsewhere: readonly FileSplices[]
  readonly value: string | null
  /** As of a preview: the names of the one part that is changed, where that does not always count. */
  readonly having: readonly string[] | null
}

/** A class list with some classes gone and others come; the rest of its text stays. */
function changeAttribute(tree: ElementTree, element: SourceElement, change: ListChange): ChangedList {
  const before = attribute(element, 'class') ?? ''
  const text = applySplices(before, changeClassList(before, change))
  const value = readClassList(text).length ? text : null
  const pieces = tree.classPieces(element)
  let first = 0
  const parts = pieces.map((piece) => {
    const count = readClassList(piece.text).length
    first += count
    return { ...piece, first: first - count, count }
  })
  // Names spelled with references are as many; where the list cannot be split at its white space, it is written again.
  if (first === 0 || first !== readClassList(before).length) {
    if (value !== null) return { plan: tree.writeClasses(element, text), elsewhere: [], value, having: null }
    return { plan: before === '' ? { ok: true, splices: [] } : tree.removeAttribute(element, 'class'), elsewhere: [], value, having: null }
  }
  // Where nothing is written that always counts, what only comes is written beside what is there.
  const fresh = change.add.filter(({ after }) => !change.remove.includes(after))
  if (
    fresh.length &&
    fresh.length === change.add.length &&
    change.remove.length === 0 &&
    parts.every((p) => p.when.length > 0 || p.path !== undefined)
  )
    return { plan: tree.writeClasses(element, fresh.map((a) => a.name).join(' ')), elsewhere: [], value, having: null }
  const splices: Splice[] = []
  const elsewhere = new Map<string, Splice[]>()
  const into = ({ path }: ListText): Splice[] => {
    if (path === undefined) return splices
    const own = elsewhere.get(path) ?? []
    elsewhere.set(path, own)
    return own
  }
  const changes = changeOfParts(parts, change)
  const changed = parts.filter((_, i) => changes[i].remove.length + changes[i].add.length > 0)
  const having = changed.length === 1 && changed[0].when.length > 0 ? readClassList(changed[0].text).map((c) => c.name) : null
  for (const [i, part] of parts.entries()) {
    const own = changes[i]
    if (own.remove.length === 0 && own.add.length === 0) continue
    const isEmptied = own.add.length === 0 && own.remove.length === part.count
    if (isEmptied) {
      const plan = tree.emptyClassPiece(element, i)
      if (!plan.ok) return { plan, elsewhere: [], value, having: null }
      into(part).push(...plan.splices)
      continue
    }
    const spelled = { ...own, add: own.add.map((a) => ({ ...a, name: part.escape(a.name) })) }
    const inPart = changeClassList(part.text, spelled)
    if (part.overwrite) into(part).push(part.overwrite(applySplices(part.text, changeClassList(part.text, own))))
    else into(part).push(...inPart.map((s) => ({ ...s, from: s.from + part.span.from, to: s.to + part.span.from })))
  }
  return { plan: { ok: true, splices }, elsewhere: [...elsewhere].map(([path, own]) => ({ path, splices: own })), value, having }
}

/** A class put behind the others of an element. */
export const addClassTo = (tree: ElementTree, element: SourceElement, name: string): EditPlan =>
  changeAttribute(tree, element, { remove: [], add: [{ name, after: readClassList(attribute(element, 'class') ?? '').length - 1 }] }).plan

/** The elements that an aim at a class list is about: those with the same list come in the order of their pages. */
export function elementsOf(project: Project, { source, alike }: { readonly source: string; readonly alike: boolean }): string[] | Refused {
  const found = editableElement(project, source)
  if (!found.ok) return found
  if (!alike) return [source]
  const names = readClassList(attribute(found.element, 'class') ?? '').map((c) => c.name)
  return [
    source,
    ...project
      .pages()
      .filter((page) => !project.readOnly(page))
      .flatMap((page) =>
        project
          .tree(page)
          .elements.filter((e) => e.startTag && sameList(e, names))
          .map((e) => project.sourceOf(page, e.id)),
      )
      .filter((s) => s !== source),
  ]
}

/** One change of list on each of these elements, as one edit. */
export function onLists(
  project: Project,
  sources: readonly string[],
  make: (list: string) => { ok: true; change: ListChange } | Refused,
): { changes: PlannedEdit['changes']; at: number; preview: PreviewPlan[]; path: string; tag: string } | Refused {
  const byPath = new Map<string, Splice[]>()
  const preview: PreviewPlan[] = []
  for (const source of sources) {
    const found = editableElement(project, source)
    if (!found.ok) return found
    const made = make(attribute(found.element, 'class') ?? '')
    if (!made.ok) return made
    const { plan, elsewhere, value, having } = changeAttribute(found.tree, found.element, made.change)
    if (!plan.ok) return plan
    const readOnly = elsewhere.flatMap(({ path }) => project.readOnly(path) ?? []).at(0)
    if (readOnly !== undefined) return refuse('read-only', readOnly)
    for (const { path, splices } of [{ path: found.path, splices: plan.splices }, ...elsewhere])
      byPath.set(path, [...(byPath.get(path) ?? []), ...splices])
    const [was, is] = [attribute(found.element, 'class') ?? '', value ?? ''].map((list) => readClassList(list).map((c) => c.name))
    preview.push({
      op: 'classes',
      source,
      value,
      held: [],
      gone: was.filter((n) => !is.includes(n)),
      come: is.filter((n) => !was.includes(n)),
      having,
    })
  }
  // What several take from one place changes there once.
  const once = (splices: readonly Splice[]) => [...new Map(splices.map((s) => [`${s.from} ${s.to} ${s.insert}`, s])).values()]
  const all = [...byPath].map(([path, splices]) => ({ path, splices: normalizeSplices(once(splices)) }))
  const first = editableElement(project, sources[0])
  if (!first.ok) return first
  const changes = all.some((c) => c.splices.length > 0) ? all.filter((c) => c.splices.length > 0) : all
  const own = changes.find((c) => c.path === first.path)
  if (!own) {
    // All of it stands in other files.
    const { path, splices } = changes[0]
    return { changes, at: mapOffset(splices, splices[0].from, 'before'), preview, path, tag: first.element.tag }
  }
  const tag = first.element.startTag
  // A component's class may stand elsewhere in its file.
  const isElsewhere = tag && own.splices.length > 0 && (own.splices[0].from < tag.from || own.splices[0].from > tag.to)
  return {
    changes,
    at: isElsewhere ? mapOffset(own.splices, own.splices[0].from, 'before') : mapOffset(own.splices, tag?.from ?? 0, 'after'),
    preview,
    path: first.path,
    tag: first.element.tag,
  }
}

export const labelFor = (tag: string, sources: readonly string[]): string =>
  sources.length > 1 ? `class of ${sources.length} elements` : `class of <${tag}>`

// Where the tag of an element is once changes are made.
function tagIn(project: Project, source: string, changes: PlannedEdit['changes']): number {
  const { path, element } = project.element(source)!
  return mapOffset(changes.find((c) => c.path === path)?.splices ?? [], element.startTag?.from ?? 0, 'after')
}

/** Properties given values, or taken out with null, by classes of a list. */
export function planClassList(
  project: Project,
  aim: ClassListRef,
  wishes: readonly ClassWish[],
  important: boolean,
): PlannedEdit | Refused {
  const vocabulary = vocabulariesOf(project)[aim.vocabulary]
  if (!vocabulary) return refuse('not-found', 'The classes of this project are still being read.')
  const sources = elementsOf(project, aim)
  if ('ok' in sources) return sources
  let told: ClassPlan | null = null
  const made = onLists(project, sources, (list) => {
    const plan = planClasses(vocabulary, list, aim.variant, important, wishes)
    if (plan.ok) told ??= plan
    return plan
  })
  if ('ok' in made) return made
  const changes = withTaking(project, made.changes, aim.taking)
  if ('ok' in changes) return changes
  const { removed, added, moved, meant } = told! as ClassPlan
  if (removed.length === 0 && added.length === 0 && wishes.some((w) => w.value === null))
    return refuse('not-found', `No class of the list sets ${wishes[0].property}.`)
  const held = added.flatMap((name) => {
    const c = vocabulary.read(name)
    return c ? [...vocabulary.effect(c)].filter(([longhand]) => !longhand.includes('|') && !longhand.startsWith('--')) : []
  })
  return {
    ok: true,
    changes,
    path: made.path,
    name: wishes.map((w) => w.property).join(', '),
    before: removed.join(' ') || null,
    after: added.join(' ') || (removed.length ? 'removed' : 'as it is'),
    at: aim.taking ? tagIn(project, aim.source, changes) : made.at,
    selectors: [],
    ...(moved.length > 0 && { moves: moved }),
    ...(meant && {
      meant: meant.flatMap(({ property, value }) => (value === null ? [] : [{ name: property, value }])),
    }),
    label: labelFor(made.tag, sources) + (aim.taking ? ', which takes className now' : ''),
    element: aim.source,
    part: 'classes',
    preview: made.preview.map((op) => (op.op === 'classes' ? { ...op, held } : op)),
  }
}

// The classes of a list that go for a new one: those that would be without effect beside it or say what it says, and, where
// the others would keep it from changing anything, these too.
// While a class is walked to `fresh`, only the first do: the next step may let them have an effect.
function replacedBy(project: Project, names: readonly string[], fresh: string, isWalked: boolean): string[] {
  return vocabulariesOf(project).flatMap((v) => {
    const b = v.read(fresh)
    if (!b) return []
    const theirs = setsSlots(b)
    const within = names.flatMap((name) => {
      const a = v.read(name)
      if (!a || a.name === b.name || a.important !== b.important || !sameVariant(a.variant, b.variant)) return []
      const own = setsSlots(a)
      const isWithin =
        own.slots.size > 0 &&
        [...own.slots].every((slot) => theirs.slots.has(slot)) &&
        [...own.yields].every((l) => theirs.yields.has(l) || theirs.slots.has(l))
      return isWithin ? [{ name, a, slots: own.slots }] : []
    })
    const says = v.effect(b)
    const same = within.filter(({ a }) => [...v.effect(a)].every(([longhand, value]) => says.get(longhand) === value))
    // One that sets less and comes after it decides that.
    const decides = within.filter(({ a, slots }) => {
      const order = v.order([a.name, b.name])
      return slots.size < theirs.slots.size && order.get(a.name)! > order.get(b.name)!
    })
    if (isWalked) return within.filter((w) => !decides.includes(w)).map((w) => w.name)
    const stays = decides.filter((d) => !same.includes(d))
    const settled = new Set([...stays, ...same].flatMap((x) => [...x.slots]))
    const isIdle = stays.length > 0 && [...theirs.slots].every((slot) => settled.has(slot))
    return within.filter((w) => isIdle || !stays.includes(w)).map((w) => w.name)
  })
}

/** Classes put in and taken out by name. */
export function planChangeClasses(project: Project, { sources, remove, add: asked }: ClassesIntent): PlannedEdit | Refused {
  const named = asked.map((a) => ({ ...a, name: vocabulariesOf(project).reduce((name, v) => v.meant(name), a.name) }))
  const add = named.filter((a, i) => named.findIndex((b) => b.name === a.name) === i)
  const bad = add.find((a) => /[\s\0]/.test(a.name) || a.name === '')
  if (bad) return refuse('bad-name', `“${bad.name}” cannot be the name of a class.`)
  const replaced = new Set<string>()
  const made = onLists(project, sources, (list) => {
    const names = readClassList(list).map((c) => c.name)
    const fresh = add.filter((a) => !names.includes(a.name) || remove.includes(a.name))
    // What a new class leaves without effect goes, and it stands in that one's place.
    const dead = fresh.map((a) =>
      replacedBy(
        project,
        names.filter((n) => !add.some((x) => x.name === n)),
        a.name,
        a.instead !== undefined,
      ),
    )
    for (const name of dead.flat()) replaced.add(name)
    const gone = names.flatMap((n, i) => (remove.includes(n) || dead.flat().includes(n) ? [i] : []))
    return {
      ok: true,
      change: {
        remove: gone,
        add: fresh.map(({ name, instead, after }, i) => {
          const place = instead !== undefined && names.includes(instead) ? instead : dead[i][0]
          if (place !== undefined) return { name, after: names.indexOf(place) }
          return { name, after: after ? names.findLastIndex((n) => after.includes(n)) : names.length - 1 }
        }),
      },
    }
  })
  if ('ok' in made) return made
  if (made.changes.every((c) => c.splices.length === 0)) return refuse('not-found', 'The list is like that already.')
  return {
    ok: true,
    changes: made.changes,
    path: made.path,
    name: 'class',
    before: [...new Set([...remove, ...replaced])].join(' ') || null,
    after: add.map((a) => a.name).join(' ') || 'removed',
    at: made.at,
    selectors: [],
    label: labelFor(made.tag, sources),
    element: sources[0],
    part: 'classes',
    preview: made.preview,
    props: longhandsOf(project, [...remove, ...replaced, ...add.map((a) => a.name)]),
  }
}

// What the classes give the element itself; variables and what is inside it are not read back.
function longhandsOf(project: Project, names: readonly string[]): string[] {
  const out = new Set<string>()
  for (const v of vocabulariesOf(project)) {
    for (const name of names) {
      const c = v.read(name)
      if (c) for (const longhand of v.effect(c).keys()) if (!/^--|\|/.test(longhand)) out.add(longhand)
    }
  }
  return [...out]
}
