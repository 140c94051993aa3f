import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { toolOf, type DevProject } from '../../folder'

async function versionOf(root: string, pack: string): Promise<string | null> {
  try {
    const path = createRequire(join(root, 'package.json')).resolve(`${pack}/package.json`)
    const { version } = JSON.parse(await readFile(path, 'utf8')) as { version?: unknown }
    return typeof version === 'string' ? version : null
  } catch {
    return null
  }
}

/** What renders the pages of a folder, by its `package.json`; null where nothing that is known does. */
export async function recogniseDevProject(root: string): Promise<DevProject | null> {
  const found = toolOf(await readFile(join(root, 'package.json'), 'utf8').catch(() => ''))
  if (!found) return null
  const version = await versionOf(root, found.pack)
  return {
    tool: found.tool,
    name: version === null ? found.name : `${found.name} ${version}`,
    isInstalled: version !== null,
    canStart: found.canStart,
  }
}
