import type { TakingRef } from '../aim'
import { refuse, type Refused } from '../css'
import type { Project } from '../project'
import { normalizeSplices } from '../text'
import type { PlannedEdit } from './intent'
import { editableElement } from './target'

/** Changes with what has a component take the classes that one use of it is given; as they are where it does. */
export function withTaking(
  project: Project,
  changes: PlannedEdit['changes'],
  taking: TakingRef | undefined,
): PlannedEdit['changes'] | Refused {
  if (!taking) return changes
  const found = editableElement(project, taking.root)
  if (!found.ok) return found
  const plan = found.tree.takeClasses?.(found.element, taking.component)
  if (!plan?.ok) return plan ?? refuse('not-allowed', `${taking.component} is not written in a file of components.`)
  if (plan.splices.length === 0) return changes
  const own = changes.find((c) => c.path === found.path)
  return [...changes.filter((c) => c !== own), { path: found.path, splices: normalizeSplices([...(own?.splices ?? []), ...plan.splices]) }]
}
