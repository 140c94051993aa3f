import { refuse, type EditPlan, type Refused } from '../css'
import { attribute, classesOf, type ElementTree, type Place, type SourceElement } from '../language'
import type { Project } from '../project'
import { composeSplices, mapOffset, type Splices } from '../text'
import type { ElementsIntent, InsertIntent, MoveIntent, PlannedEdit, SourcePlace, WrapIntent } from './intent'
import { editableElement } from './target'

/** An element by what an author knows it by: `li.harbour`. */
export function nameOf(element: SourceElement): string {
  const id = attribute(element, 'id')
  const [first] = classesOf(element)
  return element.tag + (id ? `#${id}` : first ? `.${first}` : '')
}

/** A place in words: `before li.harbour in ul.stops`. */
export function tellPlace(tree: ElementTree, place: Place): string {
  const e = tree.element(place.element)
  const parent = tree.parentAt(place)
  if (place.where === 'first' || place.where === 'last') return `${place.where} in ${nameOf(e)}`
  return `${place.where} ${nameOf(e)}${parent ? ` in ${nameOf(parent)}` : ''}`
}

type Found = Extract<ReturnType<typeof editableElement>, { ok: true }>

function elements(
  project: Project,
  sources: readonly string[],
): { ok: true; path: string; tree: ElementTree; found: readonly Found[]; ids: readonly number[] } | Refused {
  const found: Found[] = []
  for (const source of sources) {
    const one = editableElement(project, source)
    if (!one.ok) return one
    found.push(one)
  }
  const [first] = found
  if (!first) return refuse('not-found', 'Nothing is chosen.')
  if (found.some((f) => f.path !== first.path)) return refuse('not-allowed', 'The elements stand on several pages.')
  return { ok: true, path: first.path, tree: first.tree, found, ids: found.map((f) => f.element.id) }
}

const told = (found: readonly Found[]): string => (found.length === 1 ? nameOf(found[0].element) : `${found.length} elements`)

type Told = Pick<PlannedEdit, 'name' | 'before' | 'after' | 'label'>

// `at` is where what was written stands, after it.
function edit(path: string, splices: Splices, at: number, words: Told, more: Partial<PlannedEdit> = {}): PlannedEdit {
  return {
    ok: true,
    changes: [{ path, splices }],
    path,
    at,
    selectors: [],
    preview: [],
    isElement: true,
    ...words,
    ...more,
  }
}

/** Attributes that name other elements of the page by their ids (HTML §2.3.11, WAI-ARIA 1.2 §6.2.4). */
export const REFERENCES =
  /^(for|form|list|headers|itemref|popovertarget|commandfor|aria-(activedescendant|controls|describedby|details|errormessage|flowto|labelledby|owns))$/

/** The plan with ids that came twice made others, and what refers to them within what is new. */
function withOwnIds(tree: ElementTree, plan: EditPlan): EditPlan {
  if (!plan.ok) return plan
  const after = tree.copy()
  after.apply(plan.splices)
  // What a component takes by that name is its own matter.
  const isOfPage = (e: SourceElement): boolean => /^[a-z][^.]*$/.test(e.tag)
  const fresh = after.elements.filter((e) => !tree.has(e.id) && isOfPage(e))
  const taken = new Set(after.elements.filter((e) => tree.has(e.id) && isOfPage(e)).flatMap((e) => attribute(e, 'id') ?? []))
  const renamed = new Map<string, string>()
  for (const e of fresh) {
    const id = attribute(e, 'id')
    if (!id || !taken.has(id)) continue
    const stem = id.replace(/-\d+$/, '')
    let n = 2
    while (taken.has(`${stem}-${n}`) || [...renamed.values()].includes(`${stem}-${n}`)) n++
    renamed.set(id, `${stem}-${n}`)
  }
  if (renamed.size === 0) return plan
  let { splices } = plan
  for (const e of fresh) {
    for (const { name, value } of e.attributes) {
      const next =
        name === 'id'
          ? renamed.get(value)
          : name === 'href' && value.startsWith('#') && renamed.has(value.slice(1))
            ? `#${renamed.get(value.slice(1))}`
            : REFERENCES.test(name) && value.split(/\s+/).some((v) => renamed.has(v))
              ? value
                  .split(/(\s+)/)
                  .map((v) => renamed.get(v) ?? v)
                  .join('')
              : undefined
      if (next === undefined) continue
      const set = after.setAttribute(after.element(e.id), name, next)
      if (!set.ok) return set
      splices = composeSplices(splices, set.splices, tree.text)
      after.apply(set.splices)
    }
  }
  return { ok: true, splices }
}

// Where the first element stands that the splices write or move.
function writtenAt(tree: ElementTree, splices: Splices, fallback: number): number {
  const after = tree.copy()
  after.apply(splices)
  const fresh = after.elements.find((e) => e.startTag && !tree.has(e.id))
  return fresh?.startTag?.from ?? fallback
}

export function planInsert(project: Project, { place, html, what, adds }: InsertIntent): PlannedEdit | Refused {
  const anchor = editableElement(project, place.source)
  if (!anchor.ok) return anchor
  const at: Place = { element: anchor.element.id, where: place.where }
  const plan = withOwnIds(anchor.tree, anchor.tree.insert(at, html, true))
  if (!plan.ok) return plan
  return edit(
    anchor.path,
    plan.splices,
    writtenAt(anchor.tree, plan.splices, plan.splices[0].from),
    { name: what, before: null, after: `inserted ${tellPlace(anchor.tree, at)}`, label: tellPlace(anchor.tree, at) },
    { ...(adds?.length && { adds }) },
  )
}

export function planMove(project: Project, { sources, place }: MoveIntent): PlannedEdit | Refused {
  const own = elements(project, sources)
  if (!own.ok) return own
  const anchor = editableElement(project, place.source)
  if (!anchor.ok) return anchor
  const at: Place = { element: anchor.element.id, where: place.where }
  const words: Told = {
    name: told(own.found),
    before: null,
    after: `moved ${tellPlace(anchor.tree, at)}`,
    label: tellPlace(anchor.tree, at),
  }
  if (anchor.path !== own.path) return planMoveAcross(own, anchor.path, anchor.tree, at, words)
  const plan = own.tree.move(own.ids, at)
  if (!plan.ok) return plan
  const after = own.tree.copy()
  after.apply(plan.splices)
  const moved = after.has(own.ids[0]) ? after.element(own.ids[0]).startTag!.from : writtenAt(own.tree, plan.splices, plan.splices[0].from)
  return edit(own.path, plan.splices, moved, words, { element: sources[0] })
}

function planMoveAcross(
  own: Extract<ReturnType<typeof elements>, { ok: true }>,
  path: string,
  tree: ElementTree,
  at: Place,
  words: Told,
): PlannedEdit | Refused {
  const gone = own.tree.remove(own.ids)
  const come = withOwnIds(
    tree,
    tree.insert(
      at,
      htmlOf(
        own.tree,
        own.found.map((f) => f.element),
      ),
    ),
  )
  if (!gone.ok) return gone
  if (!come.ok) return come
  return edit(path, come.splices, writtenAt(tree, come.splices, come.splices[0].from), words, {
    changes: [
      { path, splices: come.splices },
      { path: own.path, splices: gone.splices },
    ],
  })
}

/** The elements as the source has them, for a copy. */
export const htmlOf = (tree: ElementTree, list: readonly SourceElement[]): string =>
  list
    .map((e) => {
      const span = tree.spanOf(e)
      return span ? tree.text.slice(span.from, span.to) : ''
    })
    .join('\n')

export function planElements(project: Project, { kind, sources }: ElementsIntent): PlannedEdit | Refused {
  const own = elements(project, sources)
  if (!own.ok) return own
  const { tree, ids, path, found } = own
  if (kind === 'unwrap') {
    const plan = tree.unwrap(ids[0])
    if (!plan.ok) return plan
    const child = tree.elements.find((e) => e.parent === found[0].element && e.startTag)
    const at = child ? mapOffset(plan.splices, child.startTag!.from, 'after') : plan.splices[0].from
    return edit(
      path,
      plan.splices,
      at,
      { name: nameOf(found[0].element), before: null, after: 'its tags taken away', label: nameOf(found[0].element) },
      { isElement: child !== undefined },
    )
  }
  const plan = kind === 'delete' ? tree.remove(ids) : withOwnIds(tree, tree.duplicate(ids))
  if (!plan.ok) return plan
  if (kind === 'duplicate')
    return edit(path, plan.splices, writtenAt(tree, plan.splices, plan.splices[0].from), {
      name: told(found),
      before: null,
      after: 'duplicated',
      label: `after ${nameOf(found.at(-1)!.element)}`,
    })
  // Afterwards the parent is selected.
  const { parent } = found[0].element
  const at = parent?.startTag ? mapOffset(plan.splices, parent.startTag.from, 'after') : plan.splices[0].from
  return edit(
    path,
    plan.splices,
    at,
    { name: told(found), before: null, after: 'deleted', label: parent ? `in ${nameOf(parent)}` : path },
    { isElement: parent?.startTag != null },
  )
}

export function planWrap(project: Project, { sources, tag, className }: WrapIntent): PlannedEdit | Refused {
  const own = elements(project, sources)
  if (!own.ok) return own
  if (!/^[a-z][a-z0-9-]*$/.test(tag)) return refuse('bad-name', `“${tag}” cannot be the name of an element.`)
  const plan = own.tree.wrap(own.ids, tag, className ?? '')
  if (!plan.ok) return plan
  return edit(own.path, plan.splices, writtenAt(own.tree, plan.splices, plan.splices[0].from), {
    name: told(own.found),
    before: null,
    after: `wrapped in ${tag}${className ? `.${className.split(' ')[0]}` : ''}`,
    label: told(own.found),
  })
}

/** Where HTML would land, or why it cannot stand there. */
export function tellInsert(project: Project, place: SourcePlace, html: string): { readonly ok: boolean; readonly words: string } {
  const plan = planInsert(project, { kind: 'insert-html', place, html, what: '' })
  return plan.ok ? { ok: true, words: plan.label } : { ok: false, words: plan.why }
}

/** Why something cannot be put at a place, or where it would land in words. */
export function tellDrop(
  project: Project,
  sources: readonly string[],
  place: SourcePlace,
): { readonly ok: boolean; readonly words: string } {
  // Asked for with each move of a pointer: the plan itself is made when it is let go.
  const own = elements(project, sources)
  if (!project.element(place.source)) return { ok: false, words: 'The page has no such element in the source.' }
  const anchor = editableElement(project, place.source)
  if (!own.ok) return { ok: false, words: own.why }
  if (!anchor.ok) return { ok: false, words: anchor.why }
  const at: Place = { element: anchor.element.id, where: place.where }
  const isInside = anchor.path === own.path && ancestorsOf(anchor.element, at.where).some((e) => own.ids.includes(e.id))
  const why = isInside
    ? 'an element cannot be put into itself'
    : anchor.tree.whyNotAt(
        own.found.map((f) => f.element),
        at,
      )
  return why === null ? { ok: true, words: tellPlace(anchor.tree, at) } : { ok: false, words: why }
}

function ancestorsOf(element: SourceElement, where: Place['where']): SourceElement[] {
  const out: SourceElement[] = []
  for (let e: SourceElement | null = where === 'before' || where === 'after' ? element.parent : element; e; e = e.parent) out.push(e)
  return out
}
