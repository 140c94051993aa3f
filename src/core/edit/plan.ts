import type { AimRef } from '../aim'
import {
  appendRule, decidingDeclaration, declarationsOf, escapeName, inHouseSpelling, insertRuleAfter, isWholeValue, longhandsOf, partOfShorthand, refuse, removeDeclaration, renameClass, resolvedSelectors, ruleText,
  setDeclaration, setImportant, Sheet, switchedOff, switchOff, switchOn, takenDeclarations, textOf, type Comment, type Declaration, type Refused, type RuleSite, type Wanted,
} from '../css'
import { attribute, inlineStyleText, renameInClassLists, setInlineStyle } from '../html'
import type { Project, SheetRef } from '../project'
import { applySplices, mapOffset, normalizeSplices, type Splice, type Splices } from '../text'

/** A property, its value, and where it is to land. */
export interface SetIntent {
  readonly kind: 'set'
  readonly aim: AimRef
  readonly name: string
  readonly value: string
  readonly important?: boolean
}

/** Something done to the declaration that decides `name` in a rule; switching on takes the one that was switched off. */
export interface DeclarationIntent {
  readonly kind: 'remove' | 'switch-off' | 'switch-on' | 'make-important' | 'make-normal'
  readonly aim: Extract<AimRef, { kind: 'rule' }>
  readonly name: string
}

/** A class under another name, in every selector and class list of the project. */
export interface RenameClassIntent {
  readonly kind: 'rename-class'
  readonly from: string
  readonly to: string
}

/** What a gesture asks for. */
export type Intent = SetIntent | DeclarationIntent | RenameClassIntent

/** Splices to one file, in its offsets. */
export interface FileSplices {
  readonly path: string
  readonly splices: Splices
}

/** How the page can show an edit before it is written. */
export type PreviewPlan =
  | { readonly op: 'rule'; readonly sheet: string; readonly rule: number; readonly runs: readonly string[]; readonly set: { readonly name: string; readonly value: string } | null }
  | { readonly op: 'insert'; readonly sheet: string; readonly after: number | null; readonly text: string }
  | { readonly op: 'attribute'; readonly source: string; readonly name: string; readonly value: string | null }

/** An intent as splices to files, with what it does in words for the ledger. */
export interface PlannedEdit {
  readonly ok: true
  readonly changes: readonly FileSplices[]
  /** The file that the ledger names; `at` is an offset in it. */
  readonly path: string
  readonly name: string
  /** The value written for the property before; null when there was none. */
  readonly before: string | null
  readonly after: string
  /** Offset in the file after the edit of what was written, for its line. */
  readonly at: number
  /** The rule's selectors, for what it reaches; empty for a `style` attribute. */
  readonly selectors: readonly string[]
  readonly label: string
  readonly preview: readonly PreviewPlan[]
}

/** Plans an intent without changing anything. @throws RangeError when the aim is not in the project any more. */
export function planIntent(project: Project, intent: Intent): PlannedEdit | Refused {
  if (intent.kind === 'rename-class') return planRenameClass(project, intent)
  if (intent.kind !== 'set') return planDeclaration(project, intent)
  const { aim } = intent
  switch (aim.kind) {
    case 'rule': return planRule(project, intent, aim)
    case 'token': return planRule(project, { ...intent, name: aim.name }, { kind: 'rule', sheet: aim.sheet, rule: aim.rule })
    case 'new-rule': return planNewRule(project, intent, aim)
    case 'inline': return planInline(project, intent, aim.source)
  }
}

/** The sheet of an aim, when it can be written. @throws RangeError when the project has none of that key. */
function editableSheet(project: Project, key: string): SheetRef | Refused {
  const ref = project.sheet(key)
  if (!ref) throw new RangeError(`The project has no sheet ${key}`)
  const readOnly = project.readOnly(ref.path)
  return readOnly ? refuse('read-only', `${ref.path}: ${readOnly}`) : ref
}

const inFile = (ref: SheetRef, splices: Splices): FileSplices[] =>
  [{ path: ref.path, splices: splices.map((s) => ({ ...s, from: s.from + ref.base, to: s.to + ref.base })) }]

/** The rule at `site` as it reads after splices to its own file. */
function ruleAfter(site: RuleSite, splices: Splices): RuleSite {
  const base = site.statement.start + site.rule.span.from
  return [...new Sheet(applySplices(textOf(site, site.rule.span), splices.map((s) => ({ ...s, from: s.from - base, to: s.to - base })))).rules()][0]
}

function planDeclaration(project: Project, intent: DeclarationIntent): PlannedEdit | Refused {
  const ref = editableSheet(project, intent.aim.sheet)
  if ('ok' in ref) return ref
  const site = ref.sheet.site(intent.aim.rule)
  const list = declarationsOf(site.rule)
  const comments = site.rule.children.filter((c): c is Comment => c.kind === 'comment')
  const d = decidingDeclaration(takenDeclarations(site.statement.text, site.rule, project.knowledge), longhandsOf(intent.name)[0])
  const off = comments.findLastIndex((c) => switchedOff(site.statement.text, c)?.name === intent.name)
  if (intent.kind === 'switch-on' ? off < 0 : !d) return refuse('not-found', `The rule has no ${intent.name} to ${intent.kind === 'switch-on' ? 'switch on' : 'change'}.`)
  const index = d ? list.indexOf(d) : -1
  const plan =
    intent.kind === 'remove' ? removeDeclaration(site, index)
    : intent.kind === 'switch-off' ? switchOff(site, index)
    : intent.kind === 'switch-on' ? switchOn(site, off)
    : setImportant(site, ref.style, index, intent.kind === 'make-important')
  if (!plan.ok) return plan
  const written = (x: Declaration) => `${x.name}: ${textOf(site, { from: x.value.from, to: x.span.to })}`
  return {
    ok: true,
    changes: inFile(ref, plan.splices),
    path: ref.path,
    name: intent.name,
    before: intent.kind === 'switch-on' ? 'off' : written(d!),
    after: { remove: 'removed', 'switch-off': 'off', 'switch-on': 'on', 'make-important': '!important', 'make-normal': 'normal' }[intent.kind],
    at: mapOffset(inFile(ref, plan.splices)[0].splices, ref.base + site.statement.start + site.rule.span.from, 'after'),
    selectors: resolvedSelectors(site),
    label: labelOf(site),
    preview: [{ op: 'rule', sheet: intent.aim.sheet, rule: intent.aim.rule, runs: declarationRuns(ruleAfter(site, plan.splices)), set: null }],
  }
}

const labelOf = (site: RuleSite): string => textOf(site, site.rule.prelude).replace(/\s+/g, ' ') || 'rule'

/** Every use of the class: selectors in sheets and `<style>` elements, and class lists in pages. Scripts are not read. */
function planRenameClass(project: Project, { from, to }: RenameClassIntent): PlannedEdit | Refused {
  if (to === '' || /[\s\0]/.test(to)) return refuse('bad-name', `“${to}” cannot be the name of a class.`)
  if (from === to) return refuse('bad-name', 'The class has that name already.')
  const byPath = new Map<string, Splice[]>()
  const note = (path: string, splices: readonly Splice[]) => {
    if (splices.length) byPath.set(path, [...(byPath.get(path) ?? []), ...splices])
  }
  for (const ref of project.allSheets()) if (!project.readOnly(ref.path)) note(ref.path, inFile(ref, renameClass(ref.sheet, from, to))[0].splices)
  for (const page of project.pages()) if (!project.readOnly(page)) note(page, renameInClassLists(project.document(page), from, to))
  const changes = [...byPath].map(([path, splices]) => ({ path, splices: normalizeSplices(splices) }))
  if (changes.length === 0) return refuse('not-found', `The project has no class ${from}.`)
  const [first] = changes
  return { ok: true, changes, path: first.path, name: 'class', before: from, after: to, at: mapOffset(first.splices, first.splices[0].from, 'before'), selectors: [`.${escapeName(to)}`], label: `.${from}`, preview: [] }
}

function planNewRule(project: Project, intent: SetIntent, aim: Extract<AimRef, { kind: 'new-rule' }>): PlannedEdit | Refused {
  const ref = editableSheet(project, aim.sheet)
  if ('ok' in ref) return ref
  const value = inHouseSpelling(intent.value.trim(), ref.style)
  if (!isWholeValue(intent.name, value)) return refuse('bad-value', `“${intent.value}” cannot stand as the value of ${intent.name}.`)
  const rule = { selector: aim.selector, declarations: [{ name: intent.name, value, important: intent.important }] }
  const plan = aim.after === null ? appendRule(ref.sheet, ref.style, rule) : insertRuleAfter(ref.sheet, ref.sheet.site(aim.after), ref.style, rule)
  if (!plan.ok) return plan
  const [{ from, insert }] = plan.splices
  return {
    ok: true,
    changes: inFile(ref, plan.splices),
    path: ref.path,
    name: intent.name,
    before: null,
    after: value,
    at: ref.base + from + insert.lastIndexOf(intent.name),
    selectors: [aim.selector],
    label: aim.selector,
    preview: [{ op: 'insert', sheet: aim.sheet, after: aim.after, text: ruleText(ref.style, '', rule) }],
  }
}

function planRule(project: Project, asked: SetIntent, aim: Extract<AimRef, { kind: 'rule' }>): PlannedEdit | Refused {
  const ref = editableSheet(project, aim.sheet)
  if ('ok' in ref) return ref
  const intent = { ...asked, value: asked.name.startsWith('--') ? asked.value.trim() : inHouseSpelling(asked.value.trim(), ref.style) }
  const site = ref.sheet.site(aim.rule)
  const plan = setDeclaration(site, ref.style, intent, project.knowledge)
  if (!plan.ok) return plan
  const after = ruleAfter(site, plan.splices)
  const now = currentOf(site, intent.name, project)
  return {
    ok: true,
    changes: inFile(ref, plan.splices),
    path: ref.path,
    name: intent.name,
    before: now,
    after: intent.value.trim(),
    at: offsetAfter(ref, site, after, intent),
    selectors: resolvedSelectors(site),
    label: labelOf(site),
    preview: [{ op: 'rule', sheet: aim.sheet, rule: aim.rule, runs: declarationRuns(after), set: isNormal(after, intent.name) ? { name: intent.name, value: intent.value.trim() } : null }],
  }
}

/** The value that `name` has in the rule now, as written; what cannot be read out of a shorthand is given with it. */
function currentOf(site: RuleSite, name: string, project: Project): string | null {
  const longhands = longhandsOf(name)
  const d = decidingDeclaration(takenDeclarations(site.statement.text, site.rule, project.knowledge), longhands[0])
  if (!d) return null
  const value = textOf(site, d.value)
  if (d.name === name) return value
  return (longhands.length === 1 ? partOfShorthand(d.name, value, name) : null) ?? `${d.name}: ${value}`
}

const isNormal = (site: RuleSite, name: string): boolean =>
  longhandsOf(name).every((l) => decidingDeclaration(declarationsOf(site.rule), l)?.important === null)

function offsetAfter(ref: SheetRef, site: RuleSite, after: RuleSite, intent: Wanted): number {
  const d = decidingDeclaration(declarationsOf(after.rule), longhandsOf(intent.name)[0])
  return ref.base + site.statement.start + site.rule.span.from + (d ? d.span.from : 0)
}

/**
 * The rule's own declarations as the engine groups them: those before the first nested rule, then each run between
 * nested rules (CSS Nesting 1 §4.3). An at-rule has no group before its first run.
 */
export function declarationRuns(site: RuleSite): string[] {
  const runs: string[] = site.rule.kind === 'style' ? [''] : []
  let fresh = site.rule.kind !== 'style'
  for (const item of site.rule.children) {
    if (item.kind === 'style' || item.kind === 'at') fresh = true
    else if (item.kind === 'declaration') {
      if (fresh) runs.push('')
      fresh = false
      runs[runs.length - 1] += `${textOf(site, item.span)};`
    }
  }
  return runs
}

function planInline(project: Project, intent: SetIntent, source: string): PlannedEdit | Refused {
  const found = project.element(source)
  if (!found) throw new RangeError(`The project has no element ${source}`)
  const current = attribute(found.element.node, 'style')
  const plan = setInlineStyle(found.doc, found.element, intent)
  if (!plan.ok) return plan
  const text = inlineStyleText(current ?? '', intent)
  return {
    ok: true,
    changes: [{ path: found.path, splices: plan.splices }],
    path: found.path,
    name: intent.name,
    before: current,
    after: intent.value.trim(),
    at: mapOffset(plan.splices, found.element.startTag!.from, 'after'),
    selectors: [],
    label: `style of <${found.element.node.tagName}>`,
    preview: [{ op: 'attribute', source, name: 'style', value: text }],
  }
}
