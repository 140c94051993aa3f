import { isRootRule, resolvedSelectors } from '../css'
import type { RulePlace } from './compiled-rules'
import type { Project } from './project'

/** Pseudo-elements, which no `:is()` takes (Selectors 4 §17.1). */
const PART = /(?<!\\)::?(?:before|after|first-line|first-letter)\b|(?<!\\)::[\w-]+(?:\([^)]*\))?/g

/** What a custom property defined in `definition` reaches: the elements of its rule, and those in them with rules that use it. */
export function reachOfToken(project: Project, definition: RulePlace, name: string): string[] {
  const scope = resolvedSelectors(definition.site)
  const users = project.tokenUsers(name).flatMap((site) => resolvedSelectors(site).map((s) => s.replace(PART, '')))
  // What is defined at the root reaches only what uses it: the root itself shows nothing of it.
  if (isRootRule(definition.site)) return [...new Set(users)]
  return [...new Set([...scope, ...users.map((u) => `:is(${scope.join(', ')}) :is(${u})`)])]
}
