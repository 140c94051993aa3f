import { declarationsOf, textOf } from '../css'
import type { Project } from './project'

const known = new WeakMap<Project, { readonly of: number; readonly helpers: ReadonlyMap<string, boolean> }>()

/**
 * Whether all that rules for a class alone declare is `!important`, as it is for classes that each say one thing wherever
 * they stand: `.text-primary`. Such a class is no name of what an element is.
 */
export function isHelperClass(project: Project, name: string): boolean {
  let cache = known.get(project)
  if (cache?.of !== project.ruleRevision) known.set(project, (cache = { of: project.ruleRevision, helpers: readHelpers(project) }))
  return cache.helpers.get(name) ?? false
}

function readHelpers(project: Project): Map<string, boolean> {
  const out = new Map<string, boolean>()
  for (const ref of project.allSheets()) {
    // Most sheets mark nothing so.
    if (!/!\s*important/i.test(ref.sheet.text)) continue
    for (const site of ref.sheet.rules()) {
      if (site.rule.kind !== 'style') continue
      const names = [...textOf(site, site.rule.prelude).matchAll(/(?:^|,)\s*\.(-?[a-z_][\w-]*)\s*(?=,|$)/gi)].map(([, name]) => name)
      if (names.length === 0) continue
      const list = declarationsOf(site.rule)
      const isHelper = list.length > 0 && list.every((d) => d.important !== null)
      for (const name of names) out.set(name, isHelper && (out.get(name) ?? true))
    }
  }
  return out
}
