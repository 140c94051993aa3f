import { modulesIn, type Project, type SheetRef } from '../project'
import type { Evidence } from './evidence'

/** A style module that a file takes classes from. */
export interface ImportedStyles {
  /** What the file calls it. */
  readonly styles: string
  readonly ref: SheetRef
}

/** The style modules that the file of an element takes classes from, of those that the page has and that may be written to (CSS Modules). */
export const styleModulesOf = (
  { path }: NonNullable<ReturnType<Project['element']>>,
  { sheets }: Pick<Evidence, 'sheets'>,
  project: Project,
): readonly ImportedStyles[] => {
  const modules = modulesIn(project, path)
  return sheets.flatMap((key) => {
    const ref = project.sheet(key)
    const module = ref && project.isEditable(ref) ? modules.find((m) => m.path === ref.path) : undefined
    return ref && module ? [{ styles: module.name, ref }] : []
  })
}
