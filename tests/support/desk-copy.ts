import { execFileSync } from 'node:child_process'
import { cpSync, mkdtempSync, realpathSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

/** A copy of the harbour desk of its own, without its packages. */
export function copyOfDesk(): string {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'desk-')))
  cpSync('demo/brinewick-desk', folder, { recursive: true })
  return folder
}

/** The same, committed to a repository. */
export function deskInGit(): { readonly folder: string; readonly git: (...args: string[]) => string } {
  const folder = copyOfDesk()
  const git = (...args: string[]): string => execFileSync('git', ['-C', folder, ...args], { encoding: 'utf8' })
  writeFileSync(join(folder, '.gitignore'), 'node_modules\n')
  git('init', '-q')
  git('add', '-A')
  git('-c', 'user.name=Pier', '-c', 'user.email=pier@example.invalid', 'commit', '-qm', 'Desk')
  return { folder, git }
}

/** Gives a copy the packages that are installed here. */
export const linkPackages = (folder: string): void => symlinkSync(join(process.cwd(), 'node_modules'), join(folder, 'node_modules'))
