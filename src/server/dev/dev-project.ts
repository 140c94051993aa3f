import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import type { DevProject, DevTool } from '../../folder'

/** The tools that are known, the one that has others inside it first. */
const TOOLS: readonly { readonly tool: DevTool; readonly pack: string; readonly name: string; readonly canStart: boolean }[] = [
  { tool: 'next', pack: 'next', name: 'Next.js', canStart: false },
  { tool: 'astro', pack: 'astro', name: 'Astro', canStart: false },
  { tool: 'vite', pack: 'vite', name: 'Vite', canStart: true },
]

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value)

async function packageJson(path: string): Promise<Record<string, unknown> | null> {
  try {
    const value: unknown = JSON.parse(await readFile(path, 'utf8'))
    return isRecord(value) ? value : null
  } catch {
    return null
  }
}

/** The file of a project's own package that Node would load; null where it is not installed. */
export function resolvePackage(root: string, pack: string): string | null {
  try {
    return createRequire(join(root, 'package.json')).resolve(pack)
  } catch {
    return null
  }
}

async function versionOf(root: string, pack: string): Promise<string | null> {
  const path = resolvePackage(root, `${pack}/package.json`)
  const { version } = (path && (await packageJson(path))) || {}
  return typeof version === 'string' ? version : null
}

/** What renders the pages of a folder, by its `package.json`; null where nothing that is known does. */
export async function recogniseDevProject(root: string): Promise<DevProject | null> {
  const own = await packageJson(join(root, 'package.json'))
  if (!own) return null
  const packs = new Set([own.dependencies, own.devDependencies].flatMap((list) => (isRecord(list) ? Object.keys(list) : [])))
  const found = TOOLS.find(({ pack }) => packs.has(pack))
  if (!found) return null
  const version = await versionOf(root, found.pack)
  return {
    tool: found.tool,
    name: version === null ? found.name : `${found.name} ${version}`,
    isInstalled: version !== null,
    canStart: found.canStart,
  }
}
