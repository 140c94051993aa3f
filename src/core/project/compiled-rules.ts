import { declarationsOf, escapeName, isRootRule, resolvedSelectors, textOf, valueOf, type RuleSite } from '../css'
import type { Project } from './project'
import type { SheetRef } from './sheet-ref'

/** A rule, and the sheet it stands in. */
export interface RulePlace {
  readonly ref: SheetRef
  readonly site: RuleSite
}

interface Ties {
  readonly of: number
  /** By sheet and rule of the compiled sheet, the rule that was compiled; and the other way. */
  readonly source: ReadonlyMap<string, RulePlace>
  readonly compiled: ReadonlyMap<string, RulePlace>
}

const ties = new WeakMap<Project, Ties>()

const idOf = (ref: SheetRef, site: RuleSite): string => `${ref.key} ${site.rule.id}`

const plain = (text: string): string => text.replace(/\s+/g, ' ').trim()

// What a rule applies to and when: a compiler leaves that as it is, whatever it does with layers.
function keyOf(site: RuleSite): string {
  const conditions = site.parents.flatMap((p) =>
    p.kind === 'at' && p.name !== 'layer' ? [`@${p.name} ${plain(textOf(site, p.prelude))}`] : [],
  )
  return [
    ...conditions,
    ...(isUtility(site) ? [`.${escapeName(textOf(site, site.rule.prelude).trim())}`] : resolvedSelectors(site).map(plain)),
  ].join('\n')
}

// `@utility plate` is compiled to a rule of `.plate`.
const isUtility = (site: RuleSite): boolean =>
  site.rule.kind === 'at' && site.rule.name === 'utility' && /^[\w-]+$/.test(textOf(site, site.rule.prelude).trim())

function byKey(ref: SheetRef, into: Map<string, RulePlace[]>, wanted: (key: string) => boolean): void {
  for (const site of ref.sheet.rules()) {
    if (site.rule.kind !== 'style' && !isUtility(site)) continue
    const key = keyOf(site)
    if (!wanted(key)) continue
    const there = into.get(key)
    if (there) there.push({ ref, site })
    else into.set(key, [{ ref, site }])
  }
}

/** Whether a compiled rule says all that the source rule says in plain declarations. */
function says(compiled: RulePlace, source: RulePlace): boolean {
  const names = new Set(declarationsOf(compiled.site.rule).map((d) => d.name))
  // A function of the compiler's own gives another value, but of the same property.
  return declarationsOf(source.site.rule).every((d) => names.has(d.name) || !valueOf(source.site, d).trim())
}

function tiesOf(project: Project): Ties {
  const known = ties.get(project)
  if (known?.of === project.ruleRevision) return known
  const source = new Map<string, RulePlace>()
  const compiled = new Map<string, RulePlace>()
  for (const { ref, sources } of project.generatedSheets()) {
    const written = new Map<string, RulePlace[]>()
    for (const s of sources) byKey(s, written, () => true)
    const made = new Map<string, RulePlace[]>()
    byKey(ref, made, (key) => written.has(key))
    for (const [key, rules] of written) {
      const fit = (made.get(key) ?? []).filter((m) => rules.some((r) => says(m, r)))
      // What a compiler adds of its own stands before what it was given.
      const last = fit.slice(-rules.length)
      if (last.length < rules.length) continue
      for (const [i, r] of rules.entries()) {
        source.set(idOf(last[i].ref, last[i].site), r)
        compiled.set(idOf(r.ref, r.site), last[i])
      }
    }
  }
  const read = { of: project.ruleRevision, source, compiled }
  ties.set(project, read)
  return read
}

/** The rule that a rule of a compiled sheet was compiled from; null where none of the sources has it as it is. */
export const sourceOfRule = (project: Project, ref: SheetRef, site: RuleSite): RulePlace | null =>
  ref.generated === null ? null : (tiesOf(project).source.get(idOf(ref, site)) ?? null)

/** The rule of a compiled sheet in which pages have what a rule of its sources says of `property`; null where they have the rule itself. */
export function compiledRule(project: Project, ref: SheetRef, site: RuleSite, property: string): RulePlace | null {
  const found = tiesOf(project).compiled.get(idOf(ref, site))
  if (found || !(site.rule.kind === 'at' && site.rule.name === 'theme')) return found ?? null
  for (const { ref: made, sources } of project.generatedSheets()) {
    if (!sources.some((s) => s.key === ref.key)) continue
    for (const root of made.sheet.rules())
      if (isRootRule(root) && declarationsOf(root.rule).some((d) => d.name === property)) return { ref: made, site: root }
  }
  return null
}
