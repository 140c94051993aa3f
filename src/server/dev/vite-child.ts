/**
 * Runs a project's own Vite, with the project as working directory: `node vite-child.mjs <cache folder>`. What it has to say
 * goes to the parent process as a message.
 */
import { createRequire } from 'node:module'
import { createHash } from 'node:crypto'
import { mkdir, readFile, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { pathToFileURL } from 'node:url'
import { isPreprocessed } from '../../core/css'
import { isJsxPath } from '../../core/jsx'
import { tellParent, type ToChild } from './child-messages'
import { freePort } from './free-port'
import { JSX_RUNTIME, JSX_RUNTIME_CODE } from './jsx-runtime'
import { stamped } from './stamped'
import { tellVuePlaces } from './vue-places'

/** As much of Vite's public interface as is used (its JavaScript API). */
interface Vite {
  createServer(config: object): Promise<ViteServer>
}
interface ViteServer {
  readonly watcher: { emit(event: 'change', file: string): boolean }
  listen(): Promise<unknown>
  readonly config: { readonly base: string }
  readonly httpServer: { address(): { port: number } | string | null } | null
}

const root = process.cwd().replaceAll('\\', '/')

// A name with a zero byte is no file's (Rollup's convention for modules that a plugin makes).
const OWN_RUNTIME = '\0steady-brush:jsx-dev-runtime'

/** Texts that stand in the place of files, and what the page was given of files last, by their absolute paths. */
const unsaved = new Map<string, string>()
const served = new Map<string, string>()

/** The file of the project that a module is; null where it is none of its own. */
function ownFile(id: string): string | null {
  const [file, query] = id.replaceAll('\\', '/').split(/[?#]/)
  return query === undefined && file.startsWith(`${root}/`) && !file.includes('/node_modules/') ? file : null
}

interface ModuleNode {
  readonly id: string | null
  readonly importers: ReadonlySet<ModuleNode>
}

interface HotUpdate {
  readonly file: string
  readonly modules: readonly ModuleNode[]
}

// A sheet that a compiler makes out of a script's text, and so counts among what imports it, is still to come again. For a
// file that only such a compiler looked at, and that nothing imports any more, Vite would load the whole page again: as for
// one that stood beside a file for as long as that was saved.
async function withoutShown({ file, modules }: HotUpdate): Promise<ModuleNode[]> {
  const isUnsaved = file.startsWith(scratch.replaceAll('\\', '/'))
  const used = modules.filter(({ id, importers }) => id !== null || importers.size > 0)
  if (!isUnsaved && !(await isShownAlready(file))) return used
  const sheets = modules.flatMap((m) => [...m.importers].filter(({ id }) => /\.(css|pcss|postcss)$/.test(id ?? '')))
  return [...new Set([...sheets, ...used.filter(({ id }) => id === null)])]
}

async function isShownAlready(file: string): Promise<boolean> {
  const shown = served.get(file)
  return shown !== undefined && (unsaved.get(file) ?? (await readFile(file, 'utf8').catch(() => null))) === shown
}

/** Where unsaved texts are written for compilers that look for class names in files by themselves. */
const scratch = join(process.argv[2], 'unsaved')

/** An empty sheet that is as new as the newest unsaved text of a sheet. */
const NEWEST = join(process.argv[2], 'newest.css')

/** Has Tailwind CSS look for class names in unsaved texts too: it reads files past the server. */
const sources = {
  name: 'steady-brush:sources',
  transform: {
    // Before the package's own plugin reads it.
    order: 'pre' as const,
    handler(code: string, id: string): { code: string; map: null } | null {
      const isInput = ownFile(id)?.endsWith('.css') && /@import\s+(url\(\s*)?["']tailwindcss/.test(code)
      if (!isInput) return null
      // Version 4 reads its input again only where a file that it comes from is newer: this one is with each unsaved text of it.
      const [folder, newest] = [scratch, NEWEST].map((path) => path.replaceAll('\\', '/'))
      return { code: `@import ${JSON.stringify(newest)};\n${code}\n@source ${JSON.stringify(`${folder}/*`)};`, map: null }
    },
  },
}

const scratchFile = (file: string): string => join(scratch, `${createHash('sha256').update(file).digest('hex').slice(0, 24)}.tsx`)

/** Stamps the tags of the project's own components; what cannot be read is left to the project's own plugins to say. */
const stamps = {
  name: 'steady-brush:stamps',
  enforce: 'pre' as const,
  // With a change of its settings it begins again, with another watcher.
  configureServer(server: ViteServer): void {
    running = server
  },
  configResolved({ plugins }: { readonly plugins: Parameters<typeof tellVuePlaces>[0] }): void {
    tellVuePlaces(plugins, root)
  },
  resolveId(id: string, importer: string | undefined): string | null {
    return id === JSX_RUNTIME && importer !== OWN_RUNTIME && !importer?.includes('/node_modules/') ? OWN_RUNTIME : null
  },
  async load(id: string): Promise<string | null> {
    if (id === OWN_RUNTIME) return JSX_RUNTIME_CODE
    const file = ownFile(id)
    if (file === null) return null
    const text = unsaved.get(file) ?? null
    const isSource = /\.([cm]?[jt]sx?|json|css)$/i.test(file) || isPreprocessed(file)
    const shown = text ?? (isSource ? await readFile(file, 'utf8').catch(() => null) : null)
    if (shown !== null) served.set(file, shown)
    return text
  },
  // A save that brings what is shown already, and a file that is not shown as it is on the disk, change nothing on the page.
  hotUpdate: withoutShown,
  // The same before version 6.
  handleHotUpdate: withoutShown,
  transform: {
    // Before any plugin of the project has changed the text that tags are counted in.
    order: 'pre' as const,
    handler(code: string, id: string): { code: string; map: null } | null {
      const file = ownFile(id)
      return file === null || !isJsxPath(file) ? null : { code: stamped(code, file.slice(root.length + 1)), map: null }
    },
  },
}

let running: ViteServer | null = null

try {
  const [, , cacheDir] = process.argv
  await mkdir(scratch, { recursive: true })
  await writeFile(NEWEST, '/**/')
  const entry = createRequire(join(process.cwd(), 'package.json')).resolve('vite')
  const vite = (await import(pathToFileURL(entry).href)) as Vite
  const server = await vite.createServer({
    root: process.cwd(),
    // Nothing is written into the project.
    cacheDir,
    clearScreen: false,
    plugins: [sources, stamps],
    // A port of its own, on this machine alone, whatever the project's own settings say; the same after it begins again.
    server: { host: '127.0.0.1', port: await freePort(), strictPort: true, open: false },
  })
  await server.listen()
  const address = server.httpServer?.address()
  if (!address || typeof address === 'string') throw new Error('It listens on no port.')
  tellParent({ is: 'running', port: address.port, base: server.config.base, root })
} catch (error) {
  tellParent({ is: 'failed', why: error instanceof Error ? error.message : String(error) })
  process.exit(1)
}
process.on('message', (asked: ToChild) => void show(asked))

async function show({ id, files, alone }: ToChild): Promise<void> {
  const texts = new Map(files.map(({ path, text }) => [`${root}/${path}`, text]))
  const others = alone ? [...unsaved.keys()].filter((file) => !texts.has(file)) : []
  for (const file of others) unsaved.delete(file)
  for (const [file, text] of texts) unsaved.set(file, text)
  await Promise.all([
    ...others.map((file) => rm(scratchFile(file), { force: true })),
    ...[...texts].map(([file, text]) => writeFile(scratchFile(file), text)),
  ])
  if ([...texts.keys(), ...others].some((file) => file.endsWith('.css'))) await writeFile(NEWEST, '/**/')
  // What no page has asked for need not come again, and what is its settings is not to begin the server again.
  for (const file of [...texts.keys(), ...others])
    if (served.has(file) && !(await isShownAlready(file))) running?.watcher.emit('change', file)
  tellParent({ is: 'shown', id })
}
// It ends with what started it.
process.on('disconnect', () => process.exit(0))
