import { cpSync, mkdtempSync, realpathSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { commitAll } from './marked-project'

/** A copy of the harbour desk of its own, without its packages. */
export function copyOfDesk(): string {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'desk-')))
  cpSync('demo/brinewick-desk', folder, { recursive: true })
  return folder
}

/** The same, committed to a repository. */
export function deskInGit(): { readonly folder: string; readonly git: (...args: string[]) => string } {
  const folder = copyOfDesk()
  writeFileSync(join(folder, '.gitignore'), 'node_modules\n')
  return { folder, git: commitAll(folder, 'Desk') }
}

/** Gives a copy the packages that are installed here. */
export const linkPackages = (folder: string): void => symlinkSync(join(process.cwd(), 'node_modules'), join(folder, 'node_modules'))
