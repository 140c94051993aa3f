import { planListOrder } from './plan-list-order'
import { decidingDeclaration, declarationsOf, longhandsOf, parseDeclarationList, refuse, type Refused } from '../css'
import { attribute } from '../language'
import { reachOfToken, type Project } from '../project'
import type { AimRef, ClassListRef } from '../aim'
import type { ClassWish } from '../utility'
import { composeSplices, mapOffset, type Splices } from '../text'
import type { Intent, PlannedEdit, PreviewPlan, RestoreIntent, SetIntent, TogetherIntent, TypedIntent } from './intent'
import { planChangeClasses, planClassList } from './plan-classes'
import { planMakeClass } from './plan-make-class'
import { planAddRule, planDeclaration, planMakeToken, planNewClass, planNewRule, planRule, planSelector } from './plan-css'
import { planElements, planInsert, planMove, planWrap } from './plan-structure'
import { planAddFace } from './plan-face'
import { planNewSheet } from './plan-new-sheet'
import { planAttribute, planPresentation, planRenameAttribute, planInline, planInlineDeclaration, planTag, planText } from './plan-html'
import { planRemoveRules } from './plan-remove-rules'
import { planRenameClass } from './plan-rename-class'
import { planRenameToken } from './plan-rename-token'

/** Plans an intent without changing anything. @throws RangeError when the aim is not in the project any more. */
export function planIntent(project: Project, intent: Intent): PlannedEdit | Refused {
  switch (intent.kind) {
    case 'set':
      return planSet(project, intent)
    case 'remove':
    case 'switch-off':
    case 'switch-on':
    case 'make-important':
    case 'make-normal':
      return intent.aim.kind === 'rule'
        ? planDeclaration(project, intent, intent.aim)
        : planInlineDeclaration(project, intent, intent.aim.source)
    case 'unset':
      return planClassList(project, intent.aim, [{ property: intent.name, value: null }], false)
    case 'make-class':
      return planMakeClass(project, intent)
    case 'change-classes':
      return planChangeClasses(project, intent)
    case 'restore':
      return planRestore(project, intent)
    case 'make-token':
      return planMakeToken(project, intent)
    case 'add-rule':
      return planAddRule(project, intent)
    case 'remove-rules':
      return planRemoveRules(project, intent)
    case 'rename-class':
      return planRenameClass(project, intent)
    case 'rename-token':
      return planRenameToken(project, intent)
    case 'set-selector':
      return planSelector(project, intent)
    case 'set-attribute':
      return planAttribute(project, intent)
    case 'rename-attribute':
      return planRenameAttribute(project, intent)
    case 'list-order':
      return planListOrder(project, intent)
    case 'set-text':
      return planText(project, intent)
    case 'set-tag':
      return planTag(project, intent)
    case 'insert-html':
      return planInsert(project, intent)
    case 'move':
      return planMove(project, intent)
    case 'delete':
    case 'duplicate':
    case 'unwrap':
      return planElements(project, intent)
    case 'wrap':
      return planWrap(project, intent)
    case 'typed':
      return planTyped(project, intent)
    case 'add-face':
      return planAddFace(project, intent)
    case 'together':
      return planTogether(project, intent)
  }
}

/** How much of what was typed the ledger shows. */
const SHOWN = 60

// Text as it is: what it makes of the file is for the page to show.
function planTyped(project: Project, { path, splices, adds }: TypedIntent): PlannedEdit | Refused {
  const readOnly = project.readOnly(path)
  if (readOnly) return refuse('read-only', `${path}: ${readOnly}`)
  const text = project.text(path)
  const short = (t: string) => (t.trim().length > SHOWN ? `${t.trim().slice(0, SHOWN)}…` : t.trim())
  return {
    ok: true,
    changes: [{ path, splices }],
    path,
    name: 'typed',
    before: short(splices.map((s) => text.slice(s.from, s.to)).join(' ')) || null,
    after: short(splices.map((s) => s.insert).join(' ')) || 'removed',
    at: splices[0]?.from ?? 0,
    selectors: [],
    label: 'in Source',
    preview: [],
    ...(adds?.length && { adds }),
  }
}

function planRestore(project: Project, { aim, name, before }: RestoreIntent): PlannedEdit | Refused {
  // What could not be read out of a shorthand was reported with the shorthand's name.
  const other = /^(-?[a-z][a-z-]*): ([^]*)$/.exec(before ?? '')
  const remove = before === null || (other !== null && decidingName(project, aim, name) !== other[1])
  if (remove) return planIntent(project, { kind: 'remove', aim, name })
  return planSet(project, { kind: 'set', aim, name: other?.[1] ?? name, value: other?.[2] ?? before! })
}

// The property of the declaration that decides `name` now: a shorthand's, or its own.
function decidingName(project: Project, aim: RestoreIntent['aim'], name: string): string | null {
  const longhand = longhandsOf(name)[0]
  if (aim.kind === 'rule') {
    const site = project.sheet(aim.sheet)?.sheet.site(aim.rule)
    return site ? (decidingDeclaration(declarationsOf(site.rule), longhand)?.name ?? null) : null
  }
  const text = attribute(project.element(aim.source)?.element, 'style') ?? ''
  return decidingDeclaration(parseDeclarationList(text), longhand)?.name ?? null
}

function planSet(project: Project, intent: SetIntent): PlannedEdit | Refused {
  const { aim } = intent
  switch (aim.kind) {
    case 'rule':
      return planRule(project, intent, aim)
    case 'token':
      return planToken(project, intent, aim)
    case 'new-rule':
      return planNewRule(project, intent, aim)
    case 'new-class':
      return planNewClass(project, intent, aim)
    case 'new-sheet':
      return planNewSheet(project, intent, aim)
    case 'inline':
      return planInline(project, intent, aim.source)
    case 'attribute':
      return planPresentation(project, intent, aim)
    case 'class-list': {
      const plan = planClassList(project, aim, [{ property: intent.name, value: intent.value }], intent.important ?? false)
      if (plan.ok || !intent.otherwise || plan.reason !== 'bad-value') return plan
      const other = planSet(project, { ...intent, aim: intent.otherwise, otherwise: undefined })
      return other.ok ? { ...other, isOtherwise: true } : other
    }
  }
}

// What shows the value is another element than the one that defines it, as a rule.
function planToken(project: Project, intent: SetIntent, aim: Extract<AimRef, { kind: 'token' }>): PlannedEdit | Refused {
  const ref = project.sheet(aim.sheet)
  const site = ref?.sheet.hasRule(aim.rule) ? ref.sheet.site(aim.rule) : null
  const plan = planRule(project, { ...intent, name: aim.name }, { kind: 'rule', sheet: aim.sheet, rule: aim.rule })
  return plan.ok && ref && site ? { ...plan, selectors: reachOfToken(project, { ref, site }, aim.name) } : plan
}

/**
 * Several intents as one edit. Each is planned on what the one before it leaves; one that is refused refuses the whole.
 */
function planTogether(project: Project, { intents, label, told }: TogetherIntent): PlannedEdit | Refused {
  const list = oneList(intents)
  if (list) {
    const plan = planClassList(
      project,
      list.aim,
      list.wishes,
      intents.some((i) => i.kind === 'set' && i.important),
    )
    if (plan.ok) return { ...plan, label }
  }
  const plans: PlannedEdit[] = []
  const total = new Map<string, { before: string; splices: Splices }>()
  /** The rules that were made for new ones: what goes there too stands in the same. */
  const fresh = new Map<string, AimRef>()
  const refused = project.trial((apply) => {
    for (const asked of intents) {
      const key = newPlace(asked)
      const there = key === null ? undefined : fresh.get(key)
      const intent = there && asked.kind === 'set' ? { ...asked, aim: there } : asked
      const plan = planIntent(project, intent)
      if (!plan.ok) return plan
      // The page does not have the new rule yet: what goes there too is shown by one more of the same place.
      const shown = there ? planIntent(project, asked) : plan
      for (const { path, splices } of plan.changes) {
        const known = total.get(path)
        const before = known?.before ?? project.text(path)
        total.set(path, { before, splices: known ? composeSplices(known.splices, splices, before) : splices })
        apply(path, splices)
      }
      plans.push(shown.ok ? { ...plan, preview: shown.preview } : plan)
      const rule = key !== null && !there ? ruleAround(project, plan.path, plan.at) : null
      if (rule) fresh.set(key!, rule)
    }
    return null
  })
  if (refused) return refused
  const [first, ...rest] = plans
  if (!first) throw new RangeError('There is nothing to do together')
  // Later splices of the same file move what the first one wrote.
  const at = rest.reduce(
    (offset, p) => p.changes.reduce((o, c) => (c.path === first.path ? mapOffset(c.splices, o, 'after') : o), offset),
    first.at,
  )
  return {
    ok: true,
    changes: [...total].map(([path, { splices }]) => ({ path, splices })),
    adds: plans.flatMap((p) => p.adds ?? []),
    path: first.path,
    name: first.name,
    before: plans.length === 1 ? first.before : null,
    after:
      plans.length === 1
        ? first.after
        : plans
            .map((p) => (p.name === first.name && p.after === first.after ? '' : `${p.name}: ${p.after}`))
            .filter(Boolean)
            .join('; ') || first.after,
    at,
    selectors: [...new Set(plans.flatMap((p) => p.selectors))],
    ...(first.isElement && { isElement: true }),
    ...(plans.some((p) => p.isOtherwise) && { isOtherwise: true }),
    ...told,
    label,
    preview: lastOf(plans.flatMap((p) => p.preview)),
  }
}

// What tells places that are not there yet apart; null for all others.
const newPlace = (intent: Intent): string | null =>
  intent.kind === 'set' && /^new-(rule|class|sheet)$/.test(intent.aim.kind) ? JSON.stringify(intent.aim) : null

/** The innermost rule around an offset of a file. */
function ruleAround(project: Project, path: string, at: number): AimRef | null {
  const ref = project.allSheets().find((s) => s.path === path && at >= s.base && at <= s.base + s.sheet.length && s.generated === null)
  const statement = ref?.sheet.statementAt(at - ref.base)
  const site =
    ref && statement
      ? [...ref.sheet.rulesOf(statement)].findLast(
          ({ rule }) =>
            rule.kind === 'style' && at - ref.base >= statement.start + rule.span.from && at - ref.base < statement.start + rule.span.to,
        )
      : undefined
  return site ? { kind: 'rule', sheet: ref!.key, rule: site.rule.id } : null
}

// Values that all land in one class list are asked of it at once, so that one class can say several.
function oneList(intents: readonly Intent[]): { aim: ClassListRef; wishes: ClassWish[] } | null {
  const wishes: ClassWish[] = []
  let aim: ClassListRef | null = null
  for (const i of intents) {
    if (
      i.kind !== 'set' ||
      i.aim.kind !== 'class-list' ||
      (aim && (aim.source !== i.aim.source || aim.variant !== i.aim.variant || aim.alike !== i.aim.alike))
    )
      return null
    aim = i.aim
    wishes.push({ property: i.name, value: i.value })
  }
  return aim && { aim, wishes }
}

// A rule or attribute that is set twice is shown as the last says: each is planned on top of those before it.
function lastOf(ops: readonly PreviewPlan[]): PreviewPlan[] {
  const keyOf = (op: PreviewPlan, i: number) =>
    op.op === 'rule'
      ? `${op.sheet} ${op.rule}`
      : op.op === 'attribute'
        ? `${op.source} ${op.name}`
        : op.op === 'classes'
          ? `${op.source} class`
          : i
  const last = new Map<string | number, PreviewPlan>()
  for (const [i, op] of ops.entries()) {
    const before = last.get(keyOf(op, i))
    last.set(
      keyOf(op, i),
      op.op === 'rule' && ops.length > 1
        ? { ...op, set: null }
        : op.op === 'classes' && before?.op === 'classes'
          ? {
              ...op,
              gone: [...before.gone, ...op.gone],
              come: [...before.come.filter((n) => !op.gone.includes(n)), ...op.come],
              // Told from the names that the page has, so by the first; where the other is about all elements, both are.
              having: op.having && before.having,
            }
          : op,
    )
  }
  return [...last.values()]
}
