import { refuse, removeRules, type Refused } from '../css'
import type { Project } from '../project'
import { normalizeSplices } from '../text'
import type { PlannedEdit, RemoveRulesIntent } from './intent'
import { editableSheet, inFile, labelOf } from './target'

/** Takes rules out of their sheets, with the groups that hold nothing without them. */
export function planRemoveRules(project: Project, { rules }: RemoveRulesIntent): PlannedEdit | Refused {
  const changes: { readonly path: string; readonly splices: PlannedEdit['changes'][number]['splices'] }[] = []
  let label = ''
  for (const sheet of new Set(rules.map((r) => r.sheet))) {
    const ref = editableSheet(project, sheet)
    if ('ok' in ref) return ref
    const ids = new Set(rules.filter((r) => r.sheet === sheet).map((r) => r.rule))
    const [found] = inFile(ref, removeRules(ref.sheet, ids))
    if (found.splices.length === 0) continue
    label ||= labelOf(ref.sheet.site([...ids][0]))
    const there = changes.findIndex((c) => c.path === found.path)
    if (there >= 0) changes[there] = { path: found.path, splices: normalizeSplices([...changes[there].splices, ...found.splices]) }
    else changes.push(found)
  }
  const [first] = changes
  if (!first) return refuse('not-found', 'These rules are gone already.')
  const { from } = first.splices[0]
  return {
    ok: true,
    changes,
    path: first.path,
    name: rules.length === 1 ? 'rule' : 'rules',
    before: rules.length === 1 ? label : `${rules.length} rules`,
    after: 'removed',
    at: from,
    selectors: [],
    label: rules.length === 1 ? label : 'unused rules',
    preview: [],
  }
}
