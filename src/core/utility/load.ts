import { readConfig } from './config'
import { loadTailwind, type Tailwind } from './tailwind'
import { resolvePath, type TailwindInput } from './tailwind-project'
import { VERSION_3 } from './version-3'

/** Where files come from. */
export interface TailwindFiles {
  /** The text of a file of the project; null when it has none. */
  readonly own: (path: string) => string | null
  /** A style sheet of the Tailwind CSS package, such as `theme.css`. */
  readonly library: (name: string) => Promise<string>
}

export interface LoadedTailwind {
  /** Null where the input cannot be compiled; the last note says why. */
  readonly tailwind: Tailwind | null
  /** What of the project's set-up could not be read, in words. */
  readonly notes: readonly string[]
}

/** Classes that an input applies and nobody knows are left out one by one, up to this many. */
const MOST_UNKNOWN = 60

const folderOf = (path: string): string => path.split('/').slice(0, -1).join('/')

/** Loads what a project gives Tailwind CSS to work from. Nothing of the project is run: plugins are left out and named. */
export async function openTailwind(input: TailwindInput, files: TailwindFiles): Promise<LoadedTailwind> {
  const notes = new Set<string>()
  const loadStylesheet = async (id: string, base: string) => {
    const part = /^tailwindcss(?:\/(index|theme|preflight|utilities)(?:\.css)?)?$/.exec(id)
    if (part) {
      const name = `${part[1] ?? 'index'}.css`
      return { path: name, base, content: await files.library(name) }
    }
    const path = resolvePath(base, id)
    const content = files.own(path) ?? files.own(`${path}.css`)
    if (content !== null) return { path, base: folderOf(path), content }
    // A sheet of a package that was not brought in: what it gives is missing, the rest is not.
    notes.add(`${id} is imported and not in the project`)
    return { path: id, base, content: '' }
  }
  const loadModule = async (id: string, base: string, hint: 'plugin' | 'config') => {
    const path = resolvePath(base, id)
    const text = files.own(path)
    if (hint === 'plugin') notes.add(`The plugin ${id} is not run, so its classes are not known`)
    else if (text === null) notes.add(`${id} is not in the project`)
    if (hint === 'plugin' || text === null) return { path: id, base, module: (hint === 'plugin' ? () => {} : {}) as never }
    const { config, unread } = readConfig(text)
    for (const { path: at, line } of unread) notes.add(`${path}:${line} ${at || 'the config'} is not written out, so it is not read`)
    return { path: id, base, module: config as never }
  }
  // What version 3 has and version 4 does not.
  let css = input.version === 3 ? input.css + VERSION_3 : input.css
  for (let tries = 0; ; tries++) {
    try {
      return {
        tailwind: await loadTailwind({
          css,
          version: input.version,
          base: input.path ? folderOf(input.path) : '',
          loadStylesheet,
          loadModule,
        }),
        notes: [...notes],
      }
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error)
      // A class of an older version or of a plugin that is not run: the rest of the rule is still worth having.
      const unknown = /unknown utility class `([^`]+)`/.exec(why)?.[1]
      const without = unknown === undefined || tries >= MOST_UNKNOWN ? css : withoutApplied(css, unknown)
      if (without === css) return { tailwind: null, notes: [...notes, `${input.path ?? 'Tailwind CSS'} cannot be compiled: ${why}`] }
      notes.add(`${unknown} is applied in ${input.path ?? 'the style sheet'} and not known`)
      css = without
    }
  }
}

const withoutApplied = (css: string, name: string): string =>
  css.replace(/@apply\s+([^;{}]*)(;|(?=\}))/g, (whole, list: string, end: string) => {
    const names = list.split(/\s+/).filter(Boolean)
    const left = names.filter((n) => n !== name)
    return left.length === names.length ? whole : left.length ? `@apply ${left.join(' ')}${end}` : ''
  })

/** What stands between white space and quotes in a source could be a class. */
const TOKENS = /[^\s"'`<>={}]+/g

/** All that could be a class in a source, as the package itself looks for them: letters between white space and quotes, and what class attributes hold. */
export function classTokens(text: string): Set<string> {
  const out = new Set<string>()
  for (const [token] of text.matchAll(TOKENS)) out.add(token)
  // A list may hold what ends a token elsewhere, in references too.
  for (const [, a, b] of text.matchAll(/\sclass\s*=\s*(?:"([^"]*)"|'([^']*)')/gi)) {
    for (const [name] of (a ?? b)
      .replace(/&(amp|gt|lt|quot|#39);/g, (_, r: string) => ({ amp: '&', gt: '>', lt: '<', quot: '"' })[r] ?? "'")
      .matchAll(/\S+/g))
      out.add(name)
  }
  return out
}
