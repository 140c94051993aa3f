import type { SourceText } from '../language'
import { fileNamed } from '../text'

/** What may be left out at the end of an import's path, in the order in which it is looked for. */
const ENDINGS = ['', '.tsx', '.ts', '.jsx', '.js', '.mts', '.mjs', '/index.tsx', '/index.ts', '/index.jsx', '/index.js']

/** What is asked of a project. */
interface Files {
  has(path: string): boolean
  readOnly(path: string): string | null
  text(path: string): string
  textPaths(): readonly string[]
}

/** The files of a project as scripts import them. */
export class Imports {
  private readonly sources = new Map<string, SourceText>()
  private readonly found = new Map<string, string | null>()

  constructor(private readonly project: Files) {}

  /** Forgets what leads where: the project has other files. */
  forget(): void {
    this.found.clear()
  }

  /** The script that an import of the file at `from` leads to; null where that is none of the project, or ambiguous. */
  find(module: string, from: string): SourceText | null {
    const key = `${from}\0${module}`
    if (!this.found.has(key)) this.found.set(key, this.pathOf(module, from))
    const path = this.found.get(key)!
    return path === null ? null : this.sourceOf(path)
  }

  private sourceOf(path: string): SourceText {
    const { project } = this
    let source = this.sources.get(path)
    if (!source) {
      source = {
        path,
        get text() {
          return project.has(path) && project.readOnly(path) === null ? project.text(path) : ''
        },
        imported: (module) => this.find(module, path),
      }
      this.sources.set(path, source)
    }
    return source
  }

  private pathOf(module: string, from: string): string | null {
    // An address stays below the root however often it goes up; a file stands outside of the project then.
    if ((/^(?:\.\.?\/)*/.exec(module)![0].match(/\.\./g)?.length ?? 0) >= from.split('/').length) return null
    const named = module.startsWith('.') ? [fileNamed(module, from)] : aliased(this.project, module)
    for (const path of named) {
      const there = path === null ? null : this.withEnding(path)
      if (there !== null) return there
    }
    // A bundler's name for the folder of the sources; any other is a package's.
    const rest = /^[@~#]\/(.+)$/.exec(module)?.[1]
    if (rest === undefined || named.length) return null
    const ending = this.project.textPaths().filter((path) => ENDINGS.some((end) => `/${path}`.endsWith(`/${rest}${end}`)))
    return ending.length === 1 ? ending[0] : null
  }

  private withEnding(path: string): string | null {
    const has = (name: string) => this.project.has(name) && /\.[cm]?[jt]sx?$/i.test(name)
    const end = ENDINGS.find((e) => has(path + e))
    if (end !== undefined) return path + end
    // TypeScript's modules are imported by the name that they are compiled to.
    const typed = path.replace(/\.([cm]?)js(x?)$/i, '.$1ts$2')
    return [typed, typed.replace(/\.ts$/i, '.tsx')].find((name) => name !== path && has(name)) ?? null
  }
}

const CONFIGS = ['tsconfig.json', 'tsconfig.app.json', 'jsconfig.json']

/** The paths that `paths` of TypeScript's configuration has an import lead to, whatever is there. */
export function aliased(project: Pick<Files, 'has' | 'text'>, from: string): string[] {
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
