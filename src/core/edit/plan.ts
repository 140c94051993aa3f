import type { AimRef } from '../aim'
import {
  appendRule, decidingDeclaration, declarationsOf, insertRuleAfter, isWholeValue, longhandsOf, partOfShorthand, refuse, resolvedSelectors, ruleText, setDeclaration, Sheet, takenDeclarations, textOf,
  type Refused, type RuleSite, type Wanted,
} from '../css'
import { attribute, inlineStyleText, setInlineStyle } from '../html'
import type { Project, SheetRef } from '../project'
import { applySplices, mapOffset, type Splices } from '../text'

/** What a gesture asks for: a property, its value, and where it is to land. */
export interface Intent {
  readonly aim: AimRef
  readonly name: string
  readonly value: string
  readonly important?: boolean
}

/** How the page can show an edit before it is written. */
export type PreviewPlan =
  | { readonly op: 'rule'; readonly sheet: string; readonly rule: number; readonly runs: readonly string[]; readonly set: { readonly name: string; readonly value: string } | null }
  | { readonly op: 'insert'; readonly sheet: string; readonly after: number | null; readonly text: string }
  | { readonly op: 'attribute'; readonly source: string; readonly name: string; readonly value: string | null }

/** An intent as splices to one file, with what it does in words for the ledger. */
export interface PlannedEdit {
  readonly ok: true
  readonly path: string
  readonly splices: Splices
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
  const { aim } = intent
  switch (aim.kind) {
    case 'rule': return planRule(project, intent, aim)
    case 'token': return planRule(project, { ...intent, name: aim.name }, { kind: 'rule', sheet: aim.sheet, rule: aim.rule })
    case 'new-rule': return planNewRule(project, intent, aim)
    case 'inline': return planInline(project, intent, aim.source)
  }
}

function planNewRule(project: Project, intent: Intent, aim: Extract<AimRef, { kind: 'new-rule' }>): PlannedEdit | Refused {
  const ref = project.sheet(aim.sheet)
  if (!ref) throw new RangeError(`The project has no sheet ${aim.sheet}`)
  const readOnly = project.readOnly(ref.path)
  if (readOnly) return refuse('read-only', `${ref.path}: ${readOnly}`)
  const value = intent.value.trim()
  if (!isWholeValue(intent.name, value)) return refuse('bad-value', `“${intent.value}” cannot stand as the value of ${intent.name}.`)
  const rule = { selector: aim.selector, declarations: [{ name: intent.name, value, important: intent.important }] }
  const plan = aim.after === null ? appendRule(ref.sheet, ref.style, rule) : insertRuleAfter(ref.sheet, ref.sheet.site(aim.after), ref.style, rule)
  if (!plan.ok) return plan
  const [{ from, insert }] = plan.splices
  return {
    ok: true,
    path: ref.path,
    splices: plan.splices.map((s) => ({ ...s, from: s.from + ref.base, to: s.to + ref.base })),
    name: intent.name,
    before: null,
    after: value,
    at: ref.base + from + insert.lastIndexOf(intent.name),
    selectors: [aim.selector],
    label: aim.selector,
    preview: [{ op: 'insert', sheet: aim.sheet, after: aim.after, text: ruleText(ref.style, '', rule) }],
  }
}

function planRule(project: Project, intent: Intent, aim: Extract<AimRef, { kind: 'rule' }>): PlannedEdit | Refused {
  const ref = project.sheet(aim.sheet)
  if (!ref) throw new RangeError(`The project has no sheet ${aim.sheet}`)
  const readOnly = project.readOnly(ref.path)
  if (readOnly) return refuse('read-only', `${ref.path}: ${readOnly}`)
  const site = ref.sheet.site(aim.rule)
  const plan = setDeclaration(site, ref.style, intent, project.knowledge)
  if (!plan.ok) return plan
  const local = plan.splices.map((s) => ({ ...s, from: s.from - site.statement.start, to: s.to - site.statement.start }))
  const ruleBefore = textOf(site, site.rule.span)
  const inRule = local.map((s) => ({ ...s, from: s.from - site.rule.span.from, to: s.to - site.rule.span.from }))
  const ruleAfter = ruleOf(applySplices(ruleBefore, inRule))
  const now = currentOf(site, intent.name, project)
  return {
    ok: true,
    path: ref.path,
    splices: plan.splices.map((s) => ({ ...s, from: s.from + ref.base, to: s.to + ref.base })),
    name: intent.name,
    before: now,
    after: intent.value.trim(),
    at: offsetAfter(ref, site, ruleAfter, intent),
    selectors: resolvedSelectors(site),
    label: textOf(site, site.rule.prelude).replace(/\s+/g, ' ') || 'rule',
    preview: [{ op: 'rule', sheet: aim.sheet, rule: aim.rule, runs: declarationRuns(ruleAfter), set: isNormal(ruleAfter, intent.name) ? { name: intent.name, value: intent.value.trim() } : null }],
  }
}

const ruleOf = (text: string): RuleSite => [...new Sheet(text).rules()][0]

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

function planInline(project: Project, intent: Intent, source: string): PlannedEdit | Refused {
  const found = project.element(source)
  if (!found) throw new RangeError(`The project has no element ${source}`)
  const current = attribute(found.element.node, 'style')
  const plan = setInlineStyle(found.doc, found.element, intent)
  if (!plan.ok) return plan
  const text = inlineStyleText(current ?? '', intent)
  return {
    ok: true,
    path: found.path,
    splices: plan.splices,
    name: intent.name,
    before: current,
    after: intent.value.trim(),
    at: mapOffset(plan.splices, found.element.startTag!.from, 'after'),
    selectors: [],
    label: `style of <${found.element.node.tagName}>`,
    preview: [{ op: 'attribute', source, name: 'style', value: text }],
  }
}
