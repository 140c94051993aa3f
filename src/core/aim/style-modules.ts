import { modulesIn, type SheetRef } from '../project'
import type { ElementCascade } from './element-cascade'

/** A style module that a file takes classes from. */
export interface ImportedStyles {
  /** What the file calls it. */
  readonly styles: string
  readonly ref: SheetRef
}

const known = new WeakMap<ElementCascade, Map<string, readonly ImportedStyles[]>>()

/**
 * The style modules that a file takes classes from, of those that the page has and that may be written to (CSS Modules). The
 * same for every property of one element.
 */
export function styleModulesOf(cascade: ElementCascade, path: string): readonly ImportedStyles[] {
  let byPath = known.get(cascade)
  if (!byPath) known.set(cascade, (byPath = new Map()))
  let styles = byPath.get(path)
  if (!styles) byPath.set(path, (styles = read(cascade, path)))
  return styles
}

function read({ project, evidence: { sheets } }: ElementCascade, path: string): readonly ImportedStyles[] {
  const modules = modulesIn(project, path)
  return sheets.flatMap((key) => {
    const ref = project.sheet(key)
    const module = ref && project.isEditable(ref) ? modules.find((m) => m.path === ref.path) : undefined
    return ref && module ? [{ styles: module.name, ref }] : []
  })
}
