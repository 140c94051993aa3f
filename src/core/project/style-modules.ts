import { isStyleModule } from '../css'
import { fileNamed, type Splice } from '../text'
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
export const memberRenames = (project: Project, path: string, module: string, from: string, to: string): Splice[] =>
  modulesIn(project, path)
    .filter((m) => m.path === module)
    .flatMap(({ name }) => project.tree(path).renameMember?.(name, from, to) ?? [])

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

const CONFIGS = ['tsconfig.json', 'tsconfig.app.json', 'jsconfig.json']

// The files that `paths` of TypeScript's configuration has an import lead to.
function aliased(project: Project, from: string): string[] {
  return CONFIGS.filter((path) => project.has(path)).flatMap((path) => {
    const { baseUrl = '.', paths = {} } = compilerOptions(project.text(path))
    return Object.entries(paths).flatMap(([pattern, targets]) => {
      const [start, end = ''] = pattern.split('*')
      const isMatch = pattern.includes('*') ? from.startsWith(start) && from.endsWith(end) : from === pattern
      const middle = from.slice(start.length, from.length - end.length)
      return isMatch ? targets.flatMap((target) => fileNamed(`${baseUrl}/${target.replace('*', middle)}`, path) ?? []) : []
    })
  })
}

interface CompilerOptions {
  readonly baseUrl?: string
  readonly paths?: Readonly<Record<string, readonly string[]>>
}

// TypeScript's configuration is JSON with comments, and commas behind the last of a list.
function compilerOptions(text: string): CompilerOptions {
  const json = text
    .replace(/"(?:\\.|[^"\\])*"|\/\/[^\n]*|\/\*[^]*?\*\//g, (t) => (t.startsWith('"') ? t : ''))
    .replace(/,(\s*[}\]])/g, '$1')
  try {
    const { baseUrl, paths } = ((JSON.parse(json) as { compilerOptions?: unknown }).compilerOptions ?? {}) as Record<string, unknown>
    const isText = (value: unknown): value is string => typeof value === 'string'
    const lists = Object.entries(paths ?? {}).filter(
      (entry): entry is [string, string[]] => Array.isArray(entry[1]) && entry[1].every(isText),
    )
    return { ...(isText(baseUrl) && { baseUrl }), paths: Object.fromEntries(lists) }
  } catch {
    return {}
  }
}
