import type { AimRef, NewRuleRef } from '../aim'
import {
  appendRule,
  atHead,
  blockText,
  decidingDeclaration,
  declarationRuns,
  declarationsOf,
  escapeName,
  inHouseSpelling,
  insertRuleAfter,
  insertUnder,
  isCutInText,
  isShorthand,
  isWholeValue,
  longhandsOf,
  nestedSuffix,
  nestingHabit,
  nestRule,
  partOfShorthand,
  placeUnder,
  prependRule,
  refuse,
  removeDeclaration,
  resolvedSelectors,
  ruleText,
  setDeclaration,
  setImportant,
  setSelector,
  splitSelectors,
  switchedOff,
  switchOff,
  switchOn,
  takenDeclarations,
  topIndent,
  textOf,
  type Comment,
  type Declaration,
  type EditPlan,
  type NewRule,
  type Refused,
  type RuleSite,
} from '../css'
import { classesOf } from '../language'
import type { Project, RulePlace, SheetRef } from '../project'
import { mapOffset } from '../text'
import type {
  AddRuleIntent,
  DeclarationIntent,
  MakeTokenIntent,
  PlannedEdit,
  PreviewPlan,
  RuleAim,
  SelectorIntent,
  SetIntent,
} from './intent'
import { addClassTo } from './plan-classes'
import { withTaking } from './plan-taking'
import { editableElement, editableSheet, inFile, labelOf, onPages, ruleAfter, ruleOf } from './target'

/** A value in a rule that is there. */
export function planRule(project: Project, asked: SetIntent, aim: RuleAim): PlannedEdit | Refused {
  const ref = editableSheet(project, aim.sheet)
  if ('ok' in ref) return ref
  // A value may begin on a line of its own.
  const value = /^[\r\n]/.test(asked.value) ? asked.value.trimEnd() : asked.value.trim()
  const intent = { ...asked, value: asked.name.startsWith('--') ? value : inHouseSpelling(value, ref.style) }
  const site = ref.sheet.site(aim.rule)
  const plan = setDeclaration(site, ref.style, intent, project.knowledge)
  if (!plan.ok) return plan
  const after = ruleAfter(site, plan.splices)
  const shown = onPages(project, ref, site, intent.name)
  const set = shown.site === site ? plan : setDeclaration(shown.site, shown.ref.style, intent, project.knowledge)
  return {
    ok: true,
    changes: inFile(ref, plan.splices),
    path: ref.path,
    name: intent.name,
    before: currentOf(site, intent.name, project),
    after: intent.value.trim(),
    at: declaredAt(ref, site, after, intent.name),
    selectors: resolvedSelectors(site),
    label: labelOf(site),
    preview: [rulePreview(shown, set, (site) => (isNormal(site, intent.name) ? { name: intent.name, value: intent.value.trim() } : null))],
  }
}

type RulePreview = Extract<PreviewPlan, { op: 'rule' }>

function rulePreview({ ref, site }: RulePlace, plan: EditPlan, set: (after: RuleSite) => RulePreview['set']): RulePreview {
  const after = plan.ok ? ruleAfter(site, plan.splices) : site
  return {
    op: 'rule',
    sheet: ref.key,
    rule: site.rule.id,
    runs: declarationRuns(after),
    was: isCutInText(site) ? declarationRuns(site) : null,
    set: set(after),
  }
}

/** The value that `name` has in the rule now, as written; what cannot be read out of a shorthand is given with it. */
function currentOf(site: RuleSite, name: string, project: Project): string | null {
  const longhands = longhandsOf(name)
  const d = decidingDeclaration(takenDeclarations(site.statement.text, site.rule, project.knowledge), longhands[0])
  if (!d) return null
  const value = textOf(site, d.value)
  if (d.name === name) return value
  return (longhands.length === 1 && isShorthand(d.name) ? partOfShorthand(d.name, value, name) : null) ?? `${d.name}: ${value}`
}

const isNormal = (site: RuleSite, name: string): boolean =>
  longhandsOf(name).every((l) => decidingDeclaration(declarationsOf(site.rule), l)?.important === null)

function declaredAt(ref: SheetRef, site: RuleSite, after: RuleSite, name: string): number {
  const d = decidingDeclaration(declarationsOf(after.rule), longhandsOf(name)[0])
  return ref.base + site.statement.start + site.rule.span.from + (d ? d.span.from : 0)
}

export const DECLARATION_WORDS: Readonly<Record<DeclarationIntent['kind'], string>> = {
  remove: 'removed',
  'switch-off': 'off',
  'switch-on': 'on',
  'make-important': '!important',
  'make-normal': 'normal',
}

/** A declaration of a rule removed, switched, or made important. */
export function planDeclaration(project: Project, intent: DeclarationIntent, aim: RuleAim): PlannedEdit | Refused {
  const ref = editableSheet(project, aim.sheet)
  if ('ok' in ref) return ref
  const site = ref.sheet.site(aim.rule)
  const { plan, declaration: d } = changeDeclaration(project, intent, { ref, site })
  if (!plan.ok) return plan
  const shown = onPages(project, ref, site, intent.name)
  const change = shown.site === site ? plan : changeDeclaration(project, intent, shown).plan
  const written = (x: Declaration) => `${x.name}: ${textOf(site, { from: x.value.from, to: x.span.to })}`
  return {
    ok: true,
    changes: inFile(ref, plan.splices),
    path: ref.path,
    name: intent.name,
    before: intent.kind === 'switch-on' ? 'off' : written(d!),
    after: DECLARATION_WORDS[intent.kind],
    did: intent.kind,
    at: mapOffset(inFile(ref, plan.splices)[0].splices, ref.base + site.statement.start + site.rule.span.from, 'after'),
    selectors: resolvedSelectors(site),
    label: labelOf(site),
    preview: [rulePreview(shown, change, () => null)],
  }
}

function changeDeclaration(
  project: Project,
  intent: DeclarationIntent,
  { ref, site }: RulePlace,
): { plan: EditPlan; declaration: Declaration | null } {
  const list = declarationsOf(site.rule)
  const comments = site.rule.children.filter((c): c is Comment => c.kind === 'comment')
  const d = decidingDeclaration(takenDeclarations(site.statement.text, site.rule, project.knowledge), longhandsOf(intent.name)[0])
  const off = comments.findLastIndex((c) => switchedOff(site.statement.text, c)?.name === intent.name)
  const index = d ? list.indexOf(d) : -1
  const plan =
    intent.kind === 'switch-on'
      ? off < 0
        ? refuse('not-found', `The rule has no ${intent.name} to switch on.`)
        : switchOn(site, off)
      : !d
        ? refuse('not-found', `The rule has no ${intent.name} to change.`)
        : intent.kind === 'remove'
          ? removeDeclaration(site, index)
          : intent.kind === 'switch-off'
            ? switchOff(site, index)
            : setImportant(site, ref.style, index, intent.kind === 'make-important')
  return { plan, declaration: d }
}

/** A value in a rule that is not there yet. */
export function planNewRule(project: Project, intent: SetIntent, aim: NewRuleRef): PlannedEdit | Refused {
  const ref = editableSheet(project, aim.sheet)
  if ('ok' in ref) return ref
  const value = intent.name.startsWith('--') ? intent.value.trim() : inHouseSpelling(intent.value.trim(), ref.style)
  if (!isWholeValue(intent.name, value)) return refuse('bad-value', `“${intent.value}” cannot stand as the value of ${intent.name}.`)
  const rule: NewRule = {
    selector: aim.selector,
    declarations: [{ name: intent.name, value, important: intent.important }],
  }
  const made = placeRule(ref, aim, rule)
  if (!made.plan.ok) return made.plan
  const [{ from, insert }] = made.plan.splices
  return {
    ok: true,
    changes: inFile(ref, made.plan.splices),
    path: ref.path,
    name: intent.name,
    before: null,
    after: value,
    at: ref.base + from + insert.lastIndexOf(`${intent.name}${ref.style.beforeColon}:`),
    selectors: made.selectors,
    label: aim.under ? `${aim.selector} @media ${aim.under}` : aim.selector,
    preview: [insertOnPages(project, ref, made.preview)],
  }
}

/** A rule with all that it declares. */
export function planAddRule(project: Project, { sheet, selector, declarations, under }: AddRuleIntent): PlannedEdit | Refused {
  const ref = editableSheet(project, sheet)
  if ('ok' in ref) return ref
  const wrong = declarations.find((d) => !isWholeValue(d.name, d.value))
  if (wrong) return refuse('bad-value', `“${wrong.value}” cannot stand as the value of ${wrong.name}.`)
  const rule: NewRule = {
    selector,
    declarations: declarations.map((d) => ({ ...d, value: inHouseSpelling(d.value, ref.style) })),
  }
  const made = placeRule(ref, { kind: 'new-rule', sheet, selector, under, after: under ? ruleOf(ref, selector) : null }, rule)
  if (!made.plan.ok) return made.plan
  const [{ from, insert }] = made.plan.splices
  return {
    ok: true,
    changes: inFile(ref, made.plan.splices),
    path: ref.path,
    name: 'rule',
    before: null,
    after: declarations.map((d) => `${d.name}: ${d.value.replace(/\s+/g, ' ').trim()}`).join('; '),
    at: ref.base + from + insert.lastIndexOf(selector),
    selectors: made.selectors,
    label: under ? `${selector} @media ${under}` : selector,
    preview: [insertOnPages(project, ref, made.preview)],
    props: declarations.map((d) => d.name),
  }
}

type InsertPreview = Extract<PreviewPlan, { op: 'insert' }>

// In a compiled sheet a new rule comes after what its neighbour was compiled to.
function insertOnPages(project: Project, ref: SheetRef, op: InsertPreview): InsertPreview {
  const compiled = project.generatedSheets().find((g) => g.sources.some((s) => s.key === ref.key))
  if (!compiled) return op
  const after = op.after === null ? null : onPages(project, ref, ref.sheet.site(op.after), '')
  return { ...op, sheet: compiled.ref.key, after: after && after.ref !== ref ? after.site.rule.id : null }
}

interface PlacedRule {
  readonly plan: EditPlan
  readonly preview: InsertPreview
  readonly selectors: readonly string[]
}

/** Where the file's own habit puts a rule: beside its base, nested in it, or in a block of its condition. */
function placeRule(ref: SheetRef, aim: NewRuleRef, rule: NewRule): PlacedRule {
  const { sheet, style } = ref
  const insert = (after: number | null, text: string): InsertPreview => ({
    op: 'insert',
    sheet: aim.sheet,
    after,
    text,
  })
  if (aim.layer) return placeInLayer(ref, aim, rule, aim.layer)
  const base = aim.after === null ? null : sheet.site(aim.after)
  const selectors = splitSelectors(aim.selector)
  if (base && aim.nested) return placeNested(ref, aim, rule, base)
  if (!base) {
    const block = aim.under ? blockText(style, 'media', aim.under, rule, topIndent(sheet, style)) : ruleText(style, '', rule)
    return {
      plan: aim.under ? appendBlock(ref, block) : appendRule(sheet, style, rule),
      preview: insert(null, block),
      selectors,
    }
  }
  const habit = nestingHabit(sheet)
  const suffix = base.rule.kind === 'style' ? nestedSuffix(base, aim.selector) : null
  const top = (base.parents[0] ?? base.rule).id
  const resolved =
    base.parents.length && base.rule.kind === 'style' ? resolvedSelectors(base) : splitSelectors(textOf(base, base.rule.prelude))
  if (aim.under) {
    const flat = suffix === null ? aim.selector : resolved.map((s) => s + suffix).join(', ')
    if (habit.conditions && suffix !== null) {
      const nested: NewRule = { ...rule, selector: atHead(style, 'media', aim.under) }
      // A state in a condition would need two levels; the selector is written out instead.
      if (suffix === '')
        return {
          plan: nestRule(base, style, nested),
          preview: insert(top, blockText(style, 'media', aim.under, { ...rule, selector: flat })),
          selectors: resolved,
        }
    }
    const whole: NewRule = { ...rule, selector: flat }
    const place = placeUnder(sheet, base, 'media', aim.under)
    const preview =
      place.kind === 'after'
        ? insert(place.rule.rule.id, ruleText(style, '', whole))
        : insert(place.kind === 'empty' ? place.block.rule.id : place.after.rule.id, blockText(style, 'media', aim.under, whole))
    return {
      plan: insertUnder(sheet, base, style, 'media', aim.under, whole),
      preview,
      selectors: splitSelectors(flat),
    }
  }
  if (habit.states && suffix) {
    const nested: NewRule = { ...rule, selector: `&${suffix}` }
    const all = resolved.map((s) => s + suffix)
    return {
      plan: nestRule(base, style, nested),
      preview: insert(
        base.rule.id,
        ruleText(style, '', {
          ...rule,
          selector: base.parents.some((p) => p.kind === 'style') ? aim.selector : all.join(', '),
        }),
      ),
      selectors: all,
    }
  }
  return {
    plan: insertRuleAfter(sheet, base, style, rule),
    preview: insert(base.rule.id, ruleText(style, '', rule)),
    selectors: suffix === null ? selectors : resolved.map((s) => s + suffix),
  }
}

/** Selectors as they read in a rule with others, without its nesting. */
const within = (outer: readonly string[], inner: string): string[] =>
  splitSelectors(inner).flatMap((s) =>
    outer.map((o) => (s.includes('&') ? s.replaceAll('&', /[\s>+~,]/.test(o) ? `:is(${o})` : o) : `${o} ${s}`)),
  )

// As the last thing in the block of a rule.
function placeNested({ style }: SheetRef, aim: NewRuleRef, rule: NewRule, base: RuleSite): PlacedRule {
  const selectors = within(resolvedSelectors(base), aim.selector)
  const flat: NewRule = { ...rule, selector: selectors.join(', ') }
  const text = aim.under ? blockText(style, 'media', aim.under, flat) : ruleText(style, '', flat)
  const plan = aim.under
    ? refuse('not-allowed', 'A nested rule under a condition is two levels deep: choose the condition for a rule that is not nested.')
    : nestRule(base, style, rule)
  return {
    plan,
    selectors,
    preview: { op: 'insert', sheet: aim.sheet, after: (base.parents[0] ?? base.rule).id, text },
  }
}

// Behind the last rule of a layer at the top level, in a new block where the sheet has none (CSS Cascade 5 §6.4.2).
function placeInLayer(ref: SheetRef, aim: NewRuleRef, rule: NewRule, layer: string): PlacedRule {
  const { sheet, style } = ref
  const selectors = splitSelectors(aim.selector)
  const isLayer = (p: RuleSite['rule'], site: RuleSite) => p.kind === 'at' && p.name === 'layer' && textOf(site, p.prelude).trim() === layer
  const last = [...sheet.rules()].findLast(
    (site) => site.rule.kind === 'style' && site.rule.closed && site.parents.length === 1 && isLayer(site.parents[0], site),
  )
  if (last) return placeRule(ref, { ...aim, layer: undefined, after: last.rule.id }, rule)
  const own = aim.under ? blockText(style, 'media', aim.under, rule) : ruleText(style, '', rule)
  const eol = style.minified ? '' : style.lineEnd
  const indent = topIndent(sheet, style)
  const inner = style.minified
    ? own
    : own
        .split(style.lineEnd)
        .map((line) => (line === '' ? line : indent + style.indent + line))
        .join(style.lineEnd)
  const block = `${atHead(style, 'layer', layer)}${style.beforeBrace}{${eol}${inner}${eol}${indent}}`
  return {
    plan: appendBlock(ref, block),
    preview: { op: 'insert', sheet: aim.sheet, after: null, text: block },
    selectors,
  }
}

function appendBlock(ref: SheetRef, text: string): EditPlan {
  const last = ref.sheet.text.trimEnd().length
  const { style } = ref
  return {
    ok: true,
    splices: [
      {
        from: last,
        to: last,
        insert: (style.minified ? '' : (last === 0 ? '' : style.lineEnd.repeat(style.blankLines + 1)) + topIndent(ref.sheet, style)) + text,
      },
    ],
  }
}

/** A class of its own for an element: its name in the class list, and a rule with the value. */
export function planNewClass(project: Project, intent: SetIntent, aim: Extract<AimRef, { kind: 'new-class' }>): PlannedEdit | Refused {
  const found = editableElement(project, aim.source)
  if (!found.ok) return found
  if (aim.name === '' || /[\s\0]/.test(aim.name)) return refuse('bad-name', `“${aim.name}” cannot be the name of a class.`)
  const rule = planNewRule(project, intent, {
    kind: 'new-rule',
    sheet: aim.sheet,
    after: aim.after,
    selector: `.${escapeName(aim.name)}`,
    under: '',
  })
  if (!rule.ok) return rule
  const list = [...classesOf(found.element), aim.name]
  const html =
    aim.styles === undefined
      ? addClassTo(found.tree, found.element, aim.name)
      : (found.tree.addMember?.(found.element, aim.styles, aim.name) ??
        refuse('not-allowed', 'Its file takes no class from a style module.'))
  if (!html.ok) return html
  // A `<style>` element's sheet stands in the page's own file.
  const same = rule.path === found.path
  const [css] = rule.changes
  const changes = same
    ? [{ path: rule.path, splices: [...css.splices, ...html.splices].sort((a, b) => a.from - b.from) }]
    : [...rule.changes, { path: found.path, splices: html.splices }]
  const all = withTaking(project, changes, aim.taking)
  if ('ok' in all) return all
  return {
    ...rule,
    // The page has another name for a class of a module once that is compiled.
    ...(aim.styles !== undefined && { selectors: [] }),
    changes: all,
    at: same ? mapOffset(html.splices, css.splices[0].from, 'before') + (rule.at - css.splices[0].from) : rule.at,
    preview: [
      ...rule.preview,
      { op: 'classes', source: aim.source, value: list.join(' '), held: [], gone: [], come: [aim.name], having: null },
    ],
  }
}

/** Another selector list for a rule. */
export function planSelector(project: Project, intent: SelectorIntent): PlannedEdit | Refused {
  const ref = editableSheet(project, intent.aim.sheet)
  if ('ok' in ref) return ref
  const site = ref.sheet.site(intent.aim.rule)
  const plan = setSelector(site, intent.selector)
  if (!plan.ok) return plan
  return {
    ok: true,
    changes: inFile(ref, plan.splices),
    path: ref.path,
    name: 'selector',
    before: labelOf(site),
    after: intent.selector.trim(),
    at: ref.base + site.statement.start + site.rule.span.from,
    selectors: resolvedSelectors(ruleAfter(site, plan.splices)),
    label: labelOf(site),
    preview: [],
  }
}

/** The root rule that new tokens go to: the one that defines most of them; null where the project has none. */
function tokenHome(project: Project): { ref: SheetRef; site: RuleSite } | null {
  let best: { ref: SheetRef; site: RuleSite; count: number } | null = null
  for (const ref of project.allSheets()) {
    if (!project.isEditable(ref)) continue
    for (const site of ref.sheet.rules()) {
      const prelude = textOf(site, site.rule.prelude).trim()
      const isHome = site.rule.kind === 'style' ? /^(:root|html)$/.test(prelude) : site.rule.name === 'theme' && prelude === ''
      if (!isHome || !site.rule.closed || site.parents.some((p) => p.kind === 'style' || p.name !== 'layer')) continue
      const count = declarationsOf(site.rule).filter((d) => d.name.startsWith('--')).length
      if (!best || count > best.count) best = { ref, site, count }
    }
  }
  return best
}

/** The value of a declaration becomes a token: defined beside the others, used where it stood. */
export function planMakeToken(project: Project, intent: MakeTokenIntent): PlannedEdit | Refused {
  const ref = editableSheet(project, intent.aim.sheet)
  if ('ok' in ref) return ref
  const name = intent.token.startsWith('--') ? intent.token : `--${intent.token}`
  if (!/^--[\w-]+$/.test(name) || name === '--') return refuse('bad-name', `“${intent.token}” cannot be the name of a token.`)
  if (project.definesVariable(name)) return refuse('bad-name', `The project has a token ${name} already.`)
  const site = ref.sheet.site(intent.aim.rule)
  const value = currentOf(site, intent.name, project)
  if (value === null || /^[\w-]+: /.test(value)) return refuse('not-found', `The rule has no ${intent.name} of its own.`)
  const use = planRule(project, { kind: 'set', aim: intent.aim, name: intent.name, value: `var(${name})` }, intent.aim)
  if (!use.ok) return use
  const home = tokenHome(project)
  const define = home
    ? planRule(
        project,
        { kind: 'set', aim: { kind: 'rule', sheet: home.ref.key, rule: home.site.rule.id }, name, value },
        { kind: 'rule', sheet: home.ref.key, rule: home.site.rule.id },
      )
    : defineAtTop(project, ref, name, value)
  if (!define.ok) return define
  const same = define.path === use.path
  const changes = same
    ? [
        {
          path: use.path,
          splices: [...define.changes[0].splices, ...use.changes[0].splices].sort((a, b) => a.from - b.from),
        },
      ]
    : [...define.changes, ...use.changes]
  return {
    ...use,
    changes,
    before: value,
    after: `var(${name})`,
    at: same ? mapOffset(define.changes[0].splices, use.changes[0].splices[0].from, 'after') : use.at,
    preview: [...define.preview, ...use.preview],
  }
}

// A project without a root rule gets one at the top of the sheet, after what has to lead it.
function defineAtTop(project: Project, ref: SheetRef, name: string, value: string): PlannedEdit | Refused {
  const { sheet, style } = ref
  const rule: NewRule = { selector: ':root', declarations: [{ name, value }] }
  const plan = prependRule(sheet, style, rule)
  if (!plan.ok) return plan
  return {
    ok: true,
    changes: inFile(ref, plan.splices),
    path: ref.path,
    name,
    before: null,
    after: value,
    at: ref.base + plan.splices[0].from,
    selectors: [':root'],
    label: ':root',
    preview: [insertOnPages(project, ref, { op: 'insert', sheet: ref.key, after: null, text: ruleText(style, '', rule) })],
  }
}
