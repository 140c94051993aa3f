import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, relative, sep } from 'node:path'
import { zipSync } from 'fflate'
import type { Studio } from '../tests/support/studio-driver'

/** The files of a folder by their path in it; hidden folders and `node_modules` are left out, as at an import. */
export function readSite(dir: string): Map<string, Uint8Array> {
  const files = new Map<string, Uint8Array>()
  for (const e of readdirSync(dir, { recursive: true, withFileTypes: true })) {
    const path = relative(dir, join(e.parentPath, e.name)).split(sep).join('/')
    if (e.isFile() && !path.split('/').some((p) => p.startsWith('.') || p === 'node_modules'))
      files.set(path, new Uint8Array(readFileSync(join(dir, path))))
  }
  return files
}

/** Opens the interface with its proof hook, brings the site in as a zip, and gives its pages. */
export async function openSite(studio: Studio, files: ReadonlyMap<string, Uint8Array>): Promise<string[]> {
  const file = join(mkdtempSync(join(tmpdir(), 'steady-proof-')), 'site.zip')
  writeFileSync(file, zipSync(Object.fromEntries(files), { level: 0 }))
  await studio.driver.manage().setTimeouts({ script: 60_000 })
  await studio.open('/?proof')
  await studio.importZip(file)
  await studio.until('the site', () =>
    studio.driver.executeScript<boolean>('return window.steadyProof?.state().project?.id.startsWith("site")'),
  )
  await studio.ready()
  return studio.driver.executeScript<string[]>('return window.steadyProof.state().project.pages')
}
