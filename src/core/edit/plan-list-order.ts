import { refuse, type Refused } from '../css'
import type { Project } from '../project'
import type { ListOrderIntent, PlannedEdit } from './intent'
import { editableElement } from './target'

/** Another order of the list that elements are made of: one of its items changes places with a neighbour, where the list is written out. */
export function planListOrder(project: Project, { source, index, count, by }: ListOrderIntent): PlannedEdit | Refused {
  const found = editableElement(project, source)
  if (!found.ok) return found
  const swap = found.tree.swapInList?.(found.element, index, count, by) ?? refuse('not-allowed', 'No list makes this element.')
  if (!swap.ok) return swap
  const { path } = swap.file
  const why = project.readOnly(path)
  if (why !== null) return refuse('read-only', `${path}: ${why}`)
  return {
    ok: true,
    changes: [{ path, splices: swap.splices }],
    path,
    at: swap.splices[0].from,
    name: 'order',
    before: `${index + 1} of ${swap.length}`,
    after: `${index + by + 1} of ${swap.length}`,
    selectors: [],
    label: swap.name || 'the list that it shows',
    preview: [],
    element: source,
  }
}
