import type { Ignore } from 'ignore'

/** A folder or file that is left out of a project, and why. */
export interface LeftOut {
  /** From the folder that is opened, `/` between folders. */
  readonly path: string
  readonly why: 'hidden' | 'packages' | 'build output' | '.gitignore' | 'a link'
}

const BUILD = new Set(['dist', 'build', 'out', 'coverage', 'target', '_site', 'public_html'])

/** The folder in a linked folder that edits which are not saved yet are kept in. */
export const KEPT_FOLDER = '.steady-brush'

/** The rules of a `.gitignore` file, and the folder that it stands in: `''`, or its path with a `/` at the end. */
export interface IgnoreRules {
  readonly base: string
  readonly rules: Ignore
}

/** Files that other programs write beside those they have open. */
const TEMPORARY = /\.(crswap|crdownload|swp|swo|swx|tmp|temp|part|bak~)$|~$|^~\$|^#.*#$|^4913$/i

/** Why a file or folder is left out, by its name and path; null where it is not. `built`: whether the folder that is opened has a `package.json`. */
export function whyLeftOut(
  name: string,
  path: string,
  isFolder: boolean,
  built: boolean,
  rules: readonly IgnoreRules[],
): LeftOut['why'] | null {
  if (!isFolder && TEMPORARY.test(name)) return 'hidden'
  if (name.startsWith('.')) return 'hidden'
  if (name === 'node_modules') return 'packages'
  if (isFolder && built && BUILD.has(name)) return 'build output'
  const ignored = rules.some(({ base, rules: r }) => r.ignores(path.slice(base.length) + (isFolder ? '/' : '')))
  return ignored ? '.gitignore' : null
}
