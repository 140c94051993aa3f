import { namesOfModule, type Project, type SheetRef } from '../project'
import type { Evidence } from './evidence'

/** A style module that a file takes classes from. */
export interface ImportedStyles {
  /** What the file calls it. */
  readonly styles: string
  readonly ref: SheetRef
}

/** The style modules that the file of an element takes classes from, of those that the page has and that may be written to (CSS Modules). */
export const styleModulesOf = (
  { path, tree }: NonNullable<ReturnType<Project['element']>>,
  { sheets }: Pick<Evidence, 'sheets'>,
  project: Project,
): readonly ImportedStyles[] =>
  sheets.flatMap((key) => {
    const ref = project.sheet(key)
    const [styles] = ref && project.isEditable(ref) ? namesOfModule(tree, path, ref.path) : []
    return ref && styles !== undefined ? [{ styles, ref }] : []
  })
