import { execFile } from 'node:child_process'
import { readdirSync, statSync } from 'node:fs'
import { readFile, realpath, stat } from 'node:fs/promises'
import { join, sep } from 'node:path'
import { promisify } from 'node:util'
import ignore from 'ignore'
import { MOST_FILES, whyLeftOut, type IgnoreRules, type LeftOut, type ServedListing } from '../folder'

const run = promisify(execFile)

/** What git may say; bytes. */
const MOST_OUTPUT = 64 * 1024 * 1024
/** Files that are asked about before others are let in. */
const AT_ONCE = 250

/** There are more files than a project takes. */
export class TooManyFiles extends Error {
  override readonly name = 'TooManyFiles'
}

/**
 * What git ignores below a folder, by its own rules, folders with a `/` at their end; null where it is not in a repository
 * or there is no git. Nothing of the repository is run or written.
 */
async function ignoredByGit(root: string): Promise<ReadonlySet<string> | null> {
  try {
    // A repository's own settings could name a program to ask for what changed.
    const { stdout } = await run(
      'git',
      ['-c', 'core.fsmonitor=false', '-C', root, 'ls-files', '-z', '--others', '--ignored', '--exclude-standard', '--directory'],
      { maxBuffer: MOST_OUTPUT, env: { ...process.env, GIT_OPTIONAL_LOCKS: '0' } },
    )
    return new Set(stdout.split('\0').filter(Boolean))
  } catch {
    return null
  }
}

/** Whether a file may be written: none that git ignores, but for those that were asked for. */
export class Rules {
  private constructor(
    private readonly ignored: ReadonlySet<string> | null,
    private readonly include: ReadonlySet<string>,
  ) {}

  static async of(root: string, include: ReadonlySet<string>): Promise<Rules> {
    return new Rules(await ignoredByGit(root), include)
  }

  whyLeftOut(name: string, path: string, isFolder: boolean, built: boolean, above: readonly IgnoreRules[]): LeftOut['why'] | null {
    if (this.include.has(path)) return null
    const why = whyLeftOut(name, path, isFolder, built, this.ignored ? [] : above)
    return why ?? (this.ignored?.has(isFolder ? `${path}/` : path) ? '.gitignore' : null)
  }
}

/** The files below `root`, a real path, without what is no source; links that lead out of it, and links to folders, are listed as left out and not followed. @throws TooManyFiles */
export async function listFolder(root: string, include: ReadonlySet<string>): Promise<ServedListing> {
  const files: { path: string; size: number; modified: number }[] = []
  const leftOut: LeftOut[] = []
  const rules = await Rules.of(root, include)
  let built = false
  const visit = async (prefix: string, above: readonly IgnoreRules[]): Promise<void> => {
    const entries = readdirSync(join(root, prefix), { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))
    if (prefix === '') built = entries.some((e) => e.name === 'package.json')
    const own = entries.some((e) => e.name === '.gitignore' && e.isFile())
      ? [...above, { base: prefix, rules: ignore().add(await readFile(join(root, prefix, '.gitignore'), 'utf8')) }]
      : above
    const kept: string[] = []
    for (const entry of entries) {
      const path = prefix + entry.name
      const isFolder = entry.isDirectory()
      const why = rules.whyLeftOut(entry.name, path, isFolder, built, own)
      if (why) {
        if (isFolder && entry.name !== '.steady-brush') leftOut.push({ path, why })
      } else if (isFolder) await visit(`${path}/`, include.has(path) ? [] : own)
      else if (entry.isFile() || (entry.isSymbolicLink() && (await isOwnFile(root, path)))) kept.push(path)
      else if (entry.isSymbolicLink()) leftOut.push({ path, why: 'a link' })
    }
    if (files.length + kept.length > MOST_FILES)
      throw new TooManyFiles(`There are more than ${MOST_FILES} files, from “${kept[0]}” on. Nothing was opened.`)
    for (let at = 0; at < kept.length; at += AT_ONCE) {
      // Asked one by one through the pool of threads, ten thousand files take some ten times as long; others are let in between.
      await new Promise(setImmediate)
      for (const path of kept.slice(at, at + AT_ONCE)) {
        // It may have gone just now.
        const there = statSync(join(root, path), { throwIfNoEntry: false })
        if (there) files.push({ path, size: there.size, modified: Math.floor(there.mtimeMs) })
      }
    }
  }
  await visit('', [])
  return { files, leftOut }
}

// Whether a link leads to a file of the folder itself.
async function isOwnFile(root: string, path: string): Promise<boolean> {
  const real = await realpath(join(root, path)).catch(() => null)
  return real !== null && real.startsWith(root + sep) && (await stat(real)).isFile()
}
