import { appendRule, declarationsOf, escapeName, refuse, textOf, type NewRule, type Refused } from '../css'
import { attribute } from '../language'
import type { Project, SheetRef } from '../project'
import { inputSheet, readClassList, vocabulariesOf, type UtilityClass, type Vocabulary } from '../utility'
import type { MakeClassIntent, PlannedEdit } from './intent'
import { elementsOf, labelFor, onLists } from './plan-classes'
import { editableElement, editableSheet } from './target'

/** A class list given a name of its own: a rule that says it all, and the name in place of each use. */
export function planMakeClass(project: Project, { source, name }: MakeClassIntent): PlannedEdit | Refused {
  if (/[\s\0]/.test(name) || name === '') return refuse('bad-name', `“${name}” cannot be the name of a class.`)
  if (project.mentions(`.${escapeName(name)}`) || vocabulariesOf(project).some((v) => v.read(name)))
    return refuse('bad-name', `The project has a class ${name} already.`)
  const found = editableElement(project, source)
  if (!found.ok) return found
  const names = readClassList(attribute(found.element, 'class') ?? '').map((c) => c.name)
  const v = vocabulariesOf(project)
    .map((vocabulary) => ({ vocabulary, known: names.filter((n) => vocabulary.read(n)) }))
    .sort((a, b) => b.known.length - a.known.length)[0]
  if (!v || v.known.length < 2) return refuse('not-found', 'The list has no two utility classes to put into one.')
  const rule = v.vocabulary.isCompiled ? applyRule(project, name, v.known) : plainRule(project, v.vocabulary, name, v.known)
  if (!rule.ok) return rule
  const sources = elementsOf(project, { source, alike: true })
  if ('ok' in sources) return sources
  const made = onLists(project, sources, (list) => {
    const own = readClassList(list).map((c) => c.name)
    const gone = own.flatMap((n, i) => (v.known.includes(n) ? [i] : []))
    return { ok: true, change: { remove: gone, add: [{ name, after: gone[0] }] } }
  })
  if ('ok' in made) return made
  return {
    ok: true,
    changes: [...made.changes, { path: rule.ref.path, splices: rule.splices }],
    path: made.path,
    name: 'class',
    before: v.known.join(' '),
    after: name,
    at: made.at,
    selectors: [],
    label: labelFor(made.tag, sources),
    element: source,
    part: 'classes',
    preview: [],
    props: propsOf(v.vocabulary, v.known),
  }
}

const propsOf = (v: Vocabulary, names: readonly string[]): string[] =>
  [...new Set(names.flatMap((n) => [...v.effect(v.read(n)!).keys()]))].filter((l) => !/^--|\|/.test(l))

type RulePlan = { readonly ok: true; readonly ref: SheetRef; readonly splices: PlannedEdit['changes'][number]['splices'] } | Refused

// In the layer of components, where classes in the list still win over it.
function applyRule(project: Project, name: string, names: readonly string[]): RulePlan {
  const path = inputSheet(project)
  const ref = path === null ? null : project.sourceSheet(path)
  if (!ref) return refuse('not-found', 'The project has no style sheet that classes are compiled from, so there is nowhere to define one.')
  const { indent, lineEnd } = ref.style
  const rule = (lead: string) => `${lead}.${escapeName(name)} {${lineEnd}${lead}${indent}@apply ${names.join(' ')};${lineEnd}${lead}}`
  for (const site of ref.sheet.rules()) {
    if (
      site.rule.kind !== 'at' ||
      site.rule.name !== 'layer' ||
      !site.rule.block ||
      !site.rule.closed ||
      textOf(site, site.rule.prelude).trim() !== 'components'
    )
      continue
    const end = site.statement.start + site.rule.span.to - 1
    const before = ref.sheet.slice(0, end)
    const at = before.trimEnd().length
    return {
      ok: true,
      ref,
      splices: [{ from: at, to: at, insert: `${before.trimEnd().endsWith('{') ? '' : lineEnd}${lineEnd}${rule(indent)}` }],
    }
  }
  const at = ref.sheet.text.trimEnd().length
  return {
    ok: true,
    ref,
    splices: [
      {
        from: at,
        to: at,
        insert: `${at ? lineEnd + lineEnd : ''}@layer components {${lineEnd}${rule(indent)}${lineEnd}}`,
      },
    ],
  }
}

// After the last sheet of the project's own, with what the classes declare; what needs a condition cannot be put so.
function plainRule(project: Project, v: Vocabulary, name: string, names: readonly string[]): RulePlan {
  const classes = names.map((n) => v.read(n) as UtilityClass)
  const conditional = classes.find((c) => c.variant !== '')
  if (conditional) return refuse('bad-value', `${conditional.name} holds at times only, so it cannot go into one rule.`)
  const last = project
    .allSheets()
    .findLast((ref) => project.isEditable(ref) && [...ref.sheet.rules()].some((s) => declarationsOf(s.rule).length))
  if (!last) return refuse('not-found', 'The project has no style sheet for the class.')
  const ref = editableSheet(project, last.key)
  if ('ok' in ref) return ref
  const rule: NewRule = {
    selector: `.${escapeName(name)}`,
    declarations: classes.flatMap((c) => c.declared.map((d) => ({ name: d.name, value: d.value, important: c.important }))),
  }
  const plan = appendRule(ref.sheet, ref.style, rule)
  return plan.ok ? { ok: true, ref, splices: plan.splices.map((s) => ({ ...s, from: s.from + ref.base, to: s.to + ref.base })) } : plan
}
