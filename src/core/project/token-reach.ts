import { isRootRule, resolvedSelectors } from '../css'
import type { RulePlace } from './compiled-rules'
import type { Project } from './project'
import { staticSelector } from './reach'

/** What a custom property defined in `definition` reaches: the elements of its rule, and those in them with rules that use it. */
export function reachOfToken(project: Project, definition: RulePlace, name: string): string[] {
  const scope = resolvedSelectors(definition.site)
  // No `:is()` takes pseudo-elements (Selectors 4 §4.2).
  const users = project.tokenUsers(name).flatMap((site) => resolvedSelectors(site).flatMap((s) => staticSelector(s) ?? []))
  // What is defined at the root reaches only what uses it: the root itself shows nothing of it.
  if (isRootRule(definition.site)) return [...new Set(users)]
  return [...new Set([...scope, ...users.map((u) => `:is(${scope.join(', ')}) :is(${u})`)])]
}
