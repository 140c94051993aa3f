import type { ElementTree } from '../language'
import { fileNamed } from '../text'

/** What the file at `path` calls a style module, by the path of that; none where it does not import it as an object (CSS Modules). */
export const namesOfModule = (tree: ElementTree, path: string, sheet: string): readonly string[] =>
  (tree.styleModules?.() ?? []).filter(({ from }) => isImported(sheet, from, path)).map(({ name }) => name)

// By its place beside the file, or, where a name of the bundler's stands for a folder (`@/Card.module.css`), by how it ends.
const isImported = (sheet: string, from: string, path: string): boolean =>
  from.startsWith('.') ? sheet === fileNamed(from, path) : `/${sheet}`.endsWith(`/${from.replace(/^[@~#][\w-]*\//, '')}`)
