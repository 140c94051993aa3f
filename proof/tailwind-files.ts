import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { loadTailwind, type Tailwind } from '../src/core/utility/tailwind'

const HOME = dirname(createRequire(import.meta.url).resolve('tailwindcss/package.json'))

/** The design system of an input, with the package's own style sheets read from disk and its index worked out. */
export async function tailwindOf(css: string): Promise<Tailwind> {
  const system = await loadTailwind({
    css, base: '/',
    loadStylesheet: async (id, base) => {
      const name = id === 'tailwindcss' ? 'index.css' : `${id.replace(/^tailwindcss\//, '').replace(/\.css$/, '')}.css`
      return { path: name, base, content: readFileSync(join(HOME, name), 'utf8') }
    },
    loadModule: async (id) => { throw new Error(`${id} is not read here`) },
  })
  await system.buildIndex(async () => {})
  return system
}
