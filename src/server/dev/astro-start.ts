/**
 * Starts Astro's development server by its public interface (Programmatic Astro API), with the project as working directory:
 * `node astro-start.mjs <port>`. Its components say where their tags stand, also where the project has Astro's toolbar off,
 * which they say it for; that stays off.
 */
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'

/** As much of that interface, and of Astro's Integration API, as is used. */
interface Astro {
  dev(config: object): Promise<unknown>
}
interface Setup {
  readonly config: { readonly devToolbar: { readonly enabled: boolean } }
  updateConfig(config: object): void
}

const TOOLBAR = /\/astro\/dist\/runtime\/client\/dev-toolbar\/entrypoint\.js(\?|$)/

const withoutToolbar = {
  name: 'steady-brush:no-toolbar',
  enforce: 'pre',
  load: (id: string) => (TOOLBAR.test(id.replaceAll('\\', '/')) ? 'export {}' : undefined),
}

const placesOfTags = {
  name: 'steady-brush:places-of-tags',
  hooks: {
    'astro:config:setup': ({ config, updateConfig }: Setup) => {
      if (!config.devToolbar.enabled) updateConfig({ devToolbar: { enabled: true }, vite: { plugins: [withoutToolbar] } })
    },
  },
}

const top = process.cwd()
const { dev } = (await import(pathToFileURL(createRequire(join(top, 'package.json')).resolve('astro')).href)) as Astro
await dev({ root: top, server: { port: Number(process.argv[2]), host: '127.0.0.1' }, integrations: [placesOfTags] })
