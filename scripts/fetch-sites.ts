/** Unpacks published sites from the npm registry into `.corpus/`, as test data; nothing of them is committed. */
import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, renameSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

export const CORPUS = '.corpus'
const PACKAGES = [
  'html5-boilerplate@9',
  'startbootstrap-sb-admin-2@4',
  'bulma@1',
  'bootstrap@5',
  'foundation-sites@6',
  'tachyons@4',
  'notus-js@1',
  'flowbite-admin-dashboard@1',
]

/** Packages with the sources of components in them. */
const COMPONENTS = [
  'create-next-app@16',
  'create-vite@9',
  'create-t3-app@7',
  '@docusaurus/theme-classic@3',
  '@wordpress/components@*',
  '@wordpress/block-editor@*',
]

/** The folder of a fetched package; fetches it first when it is not there. */
export function fetchSite(spec: string): string {
  const name = spec.replace(/@[^@]*$/, '')
  const target = join(CORPUS, name.replace('/', '-'))
  if (existsSync(target)) return target
  mkdirSync(CORPUS, { recursive: true })
  const dir = mkdtempSync(join(tmpdir(), 'steady-pack-'))
  execFileSync('npm', ['pack', '--silent', spec], { cwd: dir, stdio: ['ignore', 'ignore', 'inherit'] })
  execFileSync('tar', ['xzf', readdirSync(dir).find((f) => f.endsWith('.tgz'))!], { cwd: dir })
  renameSync(join(dir, 'package'), join(process.cwd(), target))
  rmSync(dir, { recursive: true, force: true })
  return target
}

if (process.argv[1]?.endsWith('fetch-sites.ts')) {
  const asked = process.argv.slice(2)
  const specs = asked[0] === 'components' ? COMPONENTS : asked.length ? asked : PACKAGES
  for (const spec of specs) console.log(fetchSite(spec))
}
