import { isStyleModule } from '../css'
import { fileNamed, type Splice } from '../text'
import { aliased } from './imports'
import type { Project } from './project'

/** A style module that a file takes classes from. */
export interface ImportedModule {
  /** What the file calls it. */
  readonly name: string
  /** The file that it is. */
  readonly path: string
}

/** The style modules that the file at `path` imports as objects (CSS Modules). */
export const modulesIn = (project: Project, path: string): readonly ImportedModule[] =>
  (project.tree(path).styleModules?.() ?? []).flatMap(({ name, from }) => {
    const sheet = moduleNamed(project, from, path)
    return sheet === null ? [] : [{ name, path: sheet }]
  })

/** What renames a class of a style module wherever the file at `path` takes it from there. */
export function memberRenames(project: Project, path: string, module: string, from: string, to: string): Splice[] {
  const tree = project.tree(path)
  const objects = modulesIn(project, path).filter((m) => m.path === module)
  const taken = (tree.takenMembers?.() ?? []).filter((m) => m.member === from && moduleNamed(project, m.from, path) === module)
  return [
    ...objects.flatMap(({ name }) => tree.renameMember?.(name, from, to) ?? []),
    ...taken.flatMap((m) => tree.renameTaken?.(m, to) ?? []),
  ]
}

/**
 * The style module that an import of the file at `path` names: by its place beside the file, or, where a name of the
 * bundler's stands for a folder (`@/Card.module.css`), the one that ends so. Of several, the one that the compiler's
 * configuration leads to; null where that does not tell them apart.
 */
function moduleNamed(project: Project, from: string, path: string): string | null {
  if (from.startsWith('.')) return fileNamed(from, path)
  const rest = from.replace(/^[@~#][\w-]*\//, '')
  const ending = project.writtenPaths().filter((p) => isStyleModule(p) && `/${p}`.endsWith(`/${rest}`))
  if (ending.length < 2) return ending[0] ?? null
  return ending.find((p) => aliased(project, from).includes(p)) ?? null
}
