import { resolvedSelectors, textOf } from '../css'
import { type ElementTree } from '../language'
import type { Project } from './project'
import { matcher } from './reach'

/** A rule of the project, as a person is shown it. */
export interface RuleNote {
  readonly selector: string
  readonly path: string
  /** 1-based. */
  readonly line: number
}

/** A rule whose elements would be others. */
export interface MatchChange extends RuleNote {
  /** Whether it would stop matching the element itself, or start; null where others of the page are concerned only. */
  readonly own: 'stops' | 'starts' | null
  readonly others: number
}

function* rulesOf(project: Project): Generator<RuleNote & { readonly selectors: readonly string[] }> {
  for (const ref of project.allSheets()) {
    if (ref.generated !== null) continue
    for (const site of ref.sheet.rules()) {
      if (site.rule.kind !== 'style' || site.parents.some((p) => p.kind === 'at' && p.name.endsWith('keyframes'))) continue
      yield {
        selectors: resolvedSelectors(site),
        selector: textOf(site, site.rule.prelude).replace(/\s+/g, ' '),
        path: ref.path,
        line: project.lineIn(ref, site.statement.start + site.rule.span.from),
      }
    }
  }
}

const matched = (tree: ElementTree, selectors: readonly string[]): Set<number> | null => {
  const test = matcher(tree, selectors)
  return test && new Set(tree.elements.filter((e) => test(e)).map((e) => e.id))
}

/** The rules of the project that would match other elements of the page if an element had another tag name. */
export function changedByTag(project: Project, source: string, tag: string): MatchChange[] {
  const found = project.element(source)
  const plan = found && found.tree.setTag(found.element, tag)
  if (!found || !plan?.ok) return []
  const after = found.tree.copy()
  after.apply(plan.splices)
  const { id, tag: now } = found.element
  // Only a selector that names a tag, or counts by type, can tell.
  const telling = new RegExp(`(^|[^\\w.#-])(${now}|${tag.replace(/[^\w-]/g, '')})(?![\\w-])|of-type`, 'i')
  const out: MatchChange[] = []
  for (const { selectors, selector, path, line } of rulesOf(project)) {
    if (!selectors.some((s) => telling.test(s))) continue
    const [was, is] = [matched(found.tree, selectors), matched(after, selectors)]
    if (!was || !is) continue
    const others = [...was].filter((e) => e !== id && !is.has(e)).length + [...is].filter((e) => e !== id && !was.has(e)).length
    const own = was.has(id) === is.has(id) ? null : was.has(id) ? 'stops' : 'starts'
    if (own || others) out.push({ selector, path, line, own, others })
  }
  return out
}

/** The rules whose selectors name an id. */
export const rulesWithId = (project: Project, id: string): RuleNote[] =>
  [...rulesOf(project)].filter(({ selector }) => selector.includes(`#${id}`)).map(({ selector, path, line }) => ({ selector, path, line }))
