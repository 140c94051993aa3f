/** Builds what is not built yet, then serves Steady Brush. */
import { spawnSync } from 'node:child_process'
import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'

process.env.NEXT_TELEMETRY_DISABLED = '1'

const newest = (dir) =>
  readdirSync(dir, { recursive: true, withFileTypes: true })
    .filter((e) => e.isFile())
    .reduce((t, e) => Math.max(t, statSync(join(e.parentPath, e.name)).mtimeMs), 0)

const isBuilt = () => {
  if (!existsSync('.next/BUILD_ID') || !existsSync('build/server/main.mjs')) return false
  const built = statSync('.next/BUILD_ID').mtimeMs
  return newest('src') < built && statSync('package-lock.json').mtimeMs < built
}

if (!isBuilt()) {
  console.log('Building Steady Brush; this takes about half a minute …')
  const { status } = spawnSync('npm', ['run', '--silent', 'build'], { stdio: ['ignore', 'inherit', 'inherit'] })
  if (status !== 0) process.exit(status ?? 1)
}

await import('../bin/steady-brush.mjs')
