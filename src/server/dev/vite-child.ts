/**
 * Runs a project's own Vite, with the project as working directory: `node vite-child.mjs <cache folder>`. What it has to say
 * goes to the parent process as a {@link FromVite}.
 */
import { once } from 'node:events'
import { createRequire } from 'node:module'
import { createServer, type AddressInfo } from 'node:net'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { isJsxPath, stampTags } from '../../core/jsx'
import { JSX_RUNTIME, JSX_RUNTIME_CODE } from './jsx-runtime'

export type FromVite =
  { readonly is: 'running'; readonly port: number; readonly base: string } | { readonly is: 'failed'; readonly why: string }

/** As much of Vite's public interface as is used (its JavaScript API). */
interface Vite {
  createServer(config: object): Promise<ViteServer>
}
interface ViteServer {
  listen(): Promise<unknown>
  readonly config: { readonly base: string }
  readonly httpServer: { address(): { port: number } | string | null } | null
}

const root = process.cwd().replaceAll('\\', '/')

// A name with a zero byte is no file's (Rollup's convention for modules that a plugin makes).
const OWN_RUNTIME = '\0steady-brush:jsx-dev-runtime'

/** Stamps the tags of the project's own components; what cannot be read is left to the project's own plugins to say. */
const stamps = {
  name: 'steady-brush:stamps',
  enforce: 'pre' as const,
  resolveId(id: string, importer: string | undefined): string | null {
    return id === JSX_RUNTIME && importer !== OWN_RUNTIME && !importer?.includes('/node_modules/') ? OWN_RUNTIME : null
  },
  load(id: string): string | null {
    return id === OWN_RUNTIME ? JSX_RUNTIME_CODE : null
  },
  transform(code: string, id: string): { code: string; map: null } | null {
    const file = id.replace(/[?#].*$/, '').replaceAll('\\', '/')
    if (!isJsxPath(file) || !file.startsWith(`${root}/`) || file.includes('/node_modules/')) return null
    try {
      return { code: stampTags(code, file.slice(root.length + 1)), map: null }
    } catch (error) {
      if (error instanceof SyntaxError) return null
      throw error
    }
  },
}

async function freePort(): Promise<number> {
  const probe = createServer().listen(0, '127.0.0.1')
  await once(probe, 'listening')
  const { port } = probe.address() as AddressInfo
  probe.close()
  await once(probe, 'close')
  return port
}

const tell = (message: FromVite) => process.send?.(message)

try {
  const [, , cacheDir] = process.argv
  const entry = createRequire(join(process.cwd(), 'package.json')).resolve('vite')
  const vite = (await import(pathToFileURL(entry).href)) as Vite
  const server = await vite.createServer({
    root: process.cwd(),
    // Nothing is written into the project.
    cacheDir,
    clearScreen: false,
    plugins: [stamps],
    // A port of its own, on this machine alone, whatever the project's own settings say; the same after it begins again.
    server: { host: '127.0.0.1', port: await freePort(), strictPort: true, open: false },
  })
  await server.listen()
  const address = server.httpServer?.address()
  if (!address || typeof address === 'string') throw new Error('It listens on no port.')
  tell({ is: 'running', port: address.port, base: server.config.base })
} catch (error) {
  tell({ is: 'failed', why: error instanceof Error ? error.message : String(error) })
  process.exit(1)
}
// It ends with what started it.
process.on('disconnect', () => process.exit(0))
