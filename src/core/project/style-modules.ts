import type { ElementTree } from '../language'
import { fileNamed, type Splice } from '../text'

/** What the file at `path` calls a style module, by the path of that; none where it does not import it as an object (CSS Modules). */
export const namesOfModule = (tree: ElementTree, path: string, sheet: string): readonly string[] =>
  (tree.styleModules?.() ?? []).filter(({ from }) => isImported(sheet, from, path)).map(({ name }) => name)

/** What renames a class of a style module wherever the file at `path` takes it from there. */
export const memberRenames = (tree: ElementTree, path: string, sheet: string, from: string, to: string): Splice[] =>
  namesOfModule(tree, path, sheet).flatMap((name) => tree.renameMember?.(name, from, to) ?? [])

// By its place beside the file, or, where a name of the bundler's stands for a folder (`@/Card.module.css`), by how it ends.
const isImported = (sheet: string, from: string, path: string): boolean =>
  from.startsWith('.') ? sheet === fileNamed(from, path) : `/${sheet}`.endsWith(`/${from.replace(/^[@~#][\w-]*\//, '')}`)
