import { refuse, resolvedSelectors, Sheet, textOf, type Refused, type RuleSite } from '../css'
import { compiledRule, type Project, type RulePlace, type SheetRef } from '../project'
import { applySplices, type Splices } from '../text'
import type { FileSplices } from './intent'

/** The sheet of an aim, when it can be written. @throws RangeError when the project has none of that key. */
export function editableSheet(project: Project, key: string): SheetRef | Refused {
  const ref = project.sheet(key)
  if (!ref) throw new RangeError(`The project has no sheet ${key}`)
  if (ref.generated !== null)
    return refuse('read-only', `${ref.path} is compiled from ${ref.generated}: it is changed there, or in class lists.`)
  const readOnly = project.readOnly(ref.path)
  return readOnly ? refuse('read-only', `${ref.path}: ${readOnly}`) : ref
}

/** An element of a file that can be written. @throws RangeError when the project has none of that source. */
export function editableElement(project: Project, source: string) {
  const found = project.element(source)
  if (!found) throw new RangeError(`The project has no element ${source}`)
  const readOnly = project.readOnly(found.path)
  return readOnly ? refuse('read-only', `${found.path}: ${readOnly}`) : { ok: true as const, ...found }
}

/** A rule as pages have it: itself, or the one it is compiled to. */
export const onPages = (project: Project, ref: SheetRef, site: RuleSite, property: string): RulePlace =>
  compiledRule(project, ref, site, property) ?? { ref, site }

/** Splices in a sheet's offsets as splices of its file. */
export const inFile = (ref: SheetRef, splices: Splices): FileSplices[] => [
  { path: ref.path, splices: splices.map((s) => ({ ...s, from: s.from + ref.base, to: s.to + ref.base })) },
]

/** The rule at `site` as it reads after splices to its own file. */
export function ruleAfter(site: RuleSite, splices: Splices): RuleSite {
  const base = site.statement.start + site.rule.span.from
  return [
    ...new Sheet(
      applySplices(
        textOf(site, site.rule.span),
        splices.map((s) => ({ ...s, from: s.from - base, to: s.to - base })),
      ),
    ).rules(),
  ][0]
}

/** The rule's selectors for the ledger; what is nested is shown without its nesting. */
export const labelOf = (site: RuleSite): string =>
  (site.parents.some((p) => p.kind === 'style')
    ? resolvedSelectors(site).join(', ')
    : textOf(site, site.rule.prelude).replace(/\s+/g, ' ')) || 'rule'

/** The last rule of a sheet that stands at the top with just this selector; null when there is none. */
export function ruleOf(ref: SheetRef, selector: string): number | null {
  let found: number | null = null
  for (const site of ref.sheet.rules())
    if (site.rule.kind === 'style' && site.rule.closed && site.parents.length === 0 && textOf(site, site.rule.prelude).trim() === selector)
      found = site.rule.id
  return found
}
