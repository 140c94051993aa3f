import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'

/** Gives a project the packages of these names that are installed here, with all that they need: the same files by another name (hard links). */
export function linkPackagesOf(folder: string, names: readonly string[]): void {
  const wanted = new Set(names)
  for (const name of wanted) {
    const from = join('node_modules', name)
    if (!existsSync(from)) {
      wanted.delete(name)
      continue
    }
    const { dependencies = {}, optionalDependencies = {} } = JSON.parse(readFileSync(join(from, 'package.json'), 'utf8')) as {
      dependencies?: Record<string, string>
      optionalDependencies?: Record<string, string>
    }
    for (const needed of [...Object.keys(dependencies), ...Object.keys(optionalDependencies)]) wanted.add(needed)
    const to = join(folder, 'node_modules', name)
    mkdirSync(dirname(to), { recursive: true })
    execFileSync('cp', ['-al', from, to])
  }
}
