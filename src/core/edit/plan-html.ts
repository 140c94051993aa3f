import { planDataText } from './plan-data-text'
import { decidingDeclaration, longhandsOf, parseDeclarationList, refuse, renameId, type EditPlan, type Refused } from '../css'
import { asPresentation, changeInlineStyle, inlineStyleText } from '../html'
import { attribute, type ComponentProperty } from '../language'
import type { Project } from '../project'
import { fileNamed, mapOffset, normalizeSplices, type Splice } from '../text'
import type { AttributeIntent, DeclarationIntent, PlannedEdit, RenameAttributeIntent, SetIntent, TagIntent, TextIntent } from './intent'
import { DECLARATION_WORDS } from './plan-css'
import { REFERENCES } from './plan-structure'
import { editableElement, inFile } from './target'

/** A plan for one element as an edit of its file. */
function onElement(
  project: Project,
  source: string,
  make: (found: Extract<ReturnType<typeof editableElement>, { ok: true }>) => {
    plan: EditPlan
    edit: Pick<PlannedEdit, 'name' | 'before' | 'after' | 'label' | 'preview' | 'part' | 'did'>
  },
): PlannedEdit | Refused {
  const found = editableElement(project, source)
  if (!found.ok) return found
  const { plan, edit } = make(found)
  if (!plan.ok) return plan
  const tag = found.element.startTag
  return {
    ok: true,
    changes: [{ path: found.path, splices: plan.splices }],
    path: found.path,
    at: tag ? mapOffset(plan.splices, tag.from, 'after') : 0,
    selectors: [],
    element: source,
    ...edit,
  }
}

// What the attribute gives a property now; with the shorthand's name where that sets it.
function inlineValue(text: string, name: string): string | null {
  const d = decidingDeclaration(parseDeclarationList(text), longhandsOf(name)[0])
  const value = d && text.slice(d.value.from, d.value.to)
  return value === null ? null : d!.name === name ? value : `${d!.name}: ${value}`
}

/** A declaration in a `style` attribute. */
export function planInline(project: Project, intent: SetIntent, source: string): PlannedEdit | Refused {
  return onElement(project, source, ({ tree, element }) => {
    const current = attribute(element, 'style')
    return {
      plan: tree.setInlineStyle(element, intent),
      edit: {
        name: intent.name,
        before: inlineValue(current ?? '', intent.name),
        after: intent.value.trim(),
        label: `style of <${element.tag}>`,
        part: 'style',
        preview: [{ op: 'attribute', source, name: 'style', value: inlineStyleText(current ?? '', intent) }],
      },
    }
  })
}

/** A declaration of a `style` attribute removed, switched, or made important; an attribute left empty goes too. */
export function planInlineDeclaration(project: Project, intent: DeclarationIntent, source: string): PlannedEdit | Refused {
  return onElement(project, source, ({ tree, element }) => {
    const current = attribute(element, 'style') ?? ''
    const text = changeInlineStyle(current, intent.kind, intent.name)
    return {
      plan: tree.changeInlineStyle(element, intent.kind, intent.name),
      edit: {
        name: intent.name,
        before: inlineValue(current, intent.name),
        after: DECLARATION_WORDS[intent.kind],
        label: `style of <${element.tag}>`,
        part: 'style',
        did: intent.kind,
        preview: [{ op: 'attribute', source, name: 'style', value: text === null || text.trim() === '' ? null : text }],
      },
    }
  })
}

/** An attribute set, added or removed. */
export function planAttribute(project: Project, { source, name, value, as }: AttributeIntent): PlannedEdit | Refused {
  if (as) return planProperty(project, source, name, value, as)
  if (name.toLowerCase() === 'id' && value) {
    const found = editableElement(project, source)
    if (!found.ok) return found
    const before = attribute(found.element, 'id')
    if (found.tree.elements.some((e) => e !== found.element && attribute(e, 'id') === value))
      return refuse('bad-name', `The page has another element with the id ${value}.`)
    if (before && before !== value && !/\s/.test(value)) return planRenameId(project, found, source, before, value)
  }
  return onElement(project, source, ({ tree, element }) => ({
    plan: value === null ? tree.removeAttribute(element, name) : tree.setAttribute(element, name, value),
    edit: {
      name,
      before: attribute(element, name),
      after: value ?? 'removed',
      label: `<${element.tag}>`,
      part: 'attribute',
      preview: [{ op: 'attribute', source, name, value }],
    },
  }))
}

// What a tag gives its component: what the page makes of it comes with the component.
function planProperty(
  project: Project,
  source: string,
  name: string,
  value: string | null,
  as: ComponentProperty['kind'],
): PlannedEdit | Refused {
  return onElement(project, source, ({ tree, element }) => ({
    plan: tree.setProperty?.(element, name, value, as) ?? refuse('not-allowed', `<${element.tag}> is no tag of a component.`),
    edit: {
      name,
      before: tree.givenProperties?.(element).find((p) => p.name === name)?.value ?? null,
      after: value ?? 'removed',
      label: `<${element.tag}>`,
      part: 'attribute',
      preview: [],
    },
  }))
}

/** A value in the presentation attribute that gives it. */
export function planPresentation(
  project: Project,
  intent: SetIntent,
  { source, name }: Extract<SetIntent['aim'], { kind: 'attribute' }>,
): PlannedEdit | Refused {
  const found = editableElement(project, source)
  if (!found.ok) return found
  return planAttribute(project, {
    kind: 'set-attribute',
    source,
    name,
    value: asPresentation(intent.value, attribute(found.element, name) ?? ''),
  })
}

/** An attribute under another name. */
export function planRenameAttribute(project: Project, { source, name, to }: RenameAttributeIntent): PlannedEdit | Refused {
  return onElement(project, source, ({ tree, element }) => ({
    plan: tree.renameAttribute(element, name, to),
    edit: {
      name: to,
      before: name,
      after: to,
      label: `<${element.tag}>`,
      preview: [
        { op: 'attribute', source, name, value: null },
        { op: 'attribute', source, name: to, value: attribute(element, name) ?? '' },
      ],
    },
  }))
}

// The id, and all that names it: labels and other references of its page, links from every page, and selectors.
function planRenameId(
  project: Project,
  found: Extract<ReturnType<typeof editableElement>, { ok: true }>,
  source: string,
  from: string,
  to: string,
): PlannedEdit | Refused {
  const own = found.tree.setAttribute(found.element, 'id', to)
  if (!own.ok) return own
  const byPath = new Map<string, Splice[]>([[found.path, [...own.splices]]])
  const note = (path: string, splices: readonly Splice[]) => byPath.set(path, [...(byPath.get(path) ?? []), ...splices])
  for (const page of project.pages()) {
    if (project.readOnly(page)) continue
    const tree = project.tree(page)
    for (const e of tree.elements) {
      for (const { name, value } of e.attributes) {
        const next =
          page === found.path && REFERENCES.test(name)
            ? value
                .split(/(\s+)/)
                .map((v) => (v === from ? to : v))
                .join('')
            : /^(href|usemap|xlink:href)$/.test(name) && refersTo(page, found.path, value, from)
              ? value.slice(0, value.length - from.length) + to
              : value
        if (next === value) continue
        const set = tree.setAttribute(e, name, next)
        if (set.ok) note(page, set.splices)
      }
    }
  }
  for (const ref of project.allSheets()) if (project.isEditable(ref)) note(ref.path, inFile(ref, renameId(ref.sheet, from, to))[0].splices)
  const changes = [...byPath].filter(([, s]) => s.length > 0).map(([path, splices]) => ({ path, splices: normalizeSplices(splices) }))
  return {
    ok: true,
    changes,
    path: found.path,
    name: 'id',
    before: from,
    after: to,
    at: mapOffset(changes.find((c) => c.path === found.path)!.splices, found.element.startTag!.from, 'after'),
    selectors: [],
    label: `<${found.element.tag}>`,
    element: source,
    preview: [{ op: 'attribute', source, name: 'id', value: to }],
  }
}

// A link to `#id` of the page itself, or of another page by its path.
function refersTo(page: string, target: string, href: string, id: string): boolean {
  if (!href.endsWith(`#${id}`)) return false
  const path = href.slice(0, href.length - id.length - 1)
  if (path === '') return page === target
  const resolved = fileNamed(path, page)
  return (
    resolved !== null &&
    (resolved === target || (resolved.endsWith('/') || resolved === '' ? `${resolved}index.html` : resolved) === target)
  )
}

/** Text of an element. */
export function planText(project: Project, { source, index, text, was }: TextIntent): PlannedEdit | Refused {
  const shown = project.element(source)
  const isWritten = shown && (was === undefined || shown.element.texts.includes(was))
  if (shown && !isWritten && shown.tree.tagOf) return planDataText(project, shown.path, source, was!, text)
  return onElement(project, source, ({ tree, element }) => {
    const own = tree.writtenText(element, index, was)
    return {
      plan:
        own === null
          ? refuse('not-allowed', 'The element says this text more than once. Change it in Source.')
          : tree.setText(element, own, text),
      edit: {
        name: 'text',
        before: was?.trim() ?? element.texts[index]?.trim() ?? null,
        after: text.trim(),
        label: `<${element.tag}>`,
        preview: [],
      },
    }
  })
}

/** Another tag name, in both tags. */
export function planTag(project: Project, { source, tag }: TagIntent): PlannedEdit | Refused {
  const found = project.element(source)
  const why = found?.tree.whyNotNamed(found.element, tag.toLowerCase())
  if (why) return refuse('not-allowed', `It cannot be <${tag}> here: ${why}.`)
  return onElement(project, source, ({ tree, element }) => ({
    plan: tree.setTag(element, tag),
    edit: { name: 'tag', before: element.tag, after: tag, label: `<${element.tag}>`, preview: [] },
  }))
}
