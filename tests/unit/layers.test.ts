import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative } from 'node:path'
import { expect, test } from 'vitest'

/** The folders of `src/` in order: each may import from itself and from those before it. */
const ORDER = ['core', 'agent', 'live', 'folder', 'page', 'storage', 'server', 'desk', 'studio', 'app']
/** What a folder may not import even though it comes before. */
const APART: Record<string, readonly string[]> = {
  live: ['agent'],
  folder: ['agent', 'live'],
  storage: ['agent', 'live'],
  server: ['agent', 'storage'],
  desk: ['server'],
  studio: ['server'],
  app: ['server'],
}
const CORE_ORDER = ['text', 'css', 'html', 'jsx', 'sfc', 'value', 'language', 'project', 'utility', 'cascade', 'aim', 'edit', 'theme']

const files = readdirSync('src', { recursive: true, withFileTypes: true })
  .filter((e) => e.isFile() && /\.tsx?$/.test(e.name))
  .map((e) => join(e.parentPath, e.name))

const importsOf = (file: string) => [...readFileSync(file, 'utf8').matchAll(/(?:from|import)\s*\(?\s*'([^']+)'/g)].map((m) => m[1])
const target = (file: string, spec: string) =>
  spec.startsWith('@/') ? join('src', spec.slice(2)) : spec.startsWith('.') ? join(dirname(file), spec) : null
const folder = (path: string) => relative('src', path).split('/')[0]

test('imports point down the order of the folders only', () => {
  const wrong = files.flatMap((file) =>
    importsOf(file).flatMap((spec) => {
      const to = target(file, spec)
      if (!to || !ORDER.includes(folder(file))) return []
      const [from, into] = [folder(file), folder(to)]
      return ORDER.indexOf(into) > ORDER.indexOf(from) || APART[from]?.includes(into) ? [`${file} imports ${spec}`] : []
    }),
  )
  expect(wrong).toEqual([])
})

test('within the core too, and it knows neither React nor storage nor the DOM', () => {
  const core = files.filter((f) => f.startsWith('src/core/') && !f.endsWith('.test.ts'))
  const inner = (path: string) => relative('src/core', path).split('/')[0]
  const wrong = core.flatMap((file) =>
    importsOf(file).flatMap((spec) => {
      if (/^(react|next|@mui|dexie|zustand|comlink|node:)/.test(spec)) return [`${file} imports ${spec}`]
      const to = target(file, spec)
      return to && CORE_ORDER.indexOf(inner(to)) > CORE_ORDER.indexOf(inner(file)) ? [`${file} imports ${spec}`] : []
    }),
  )
  const globals = core.filter((f) => /\b(document|window|localStorage|indexedDB)\.\w/.test(readFileSync(f, 'utf8')))
  expect([...wrong, ...globals]).toEqual([])
})

const fileOf = (path: string) => [`${path}.ts`, `${path}.tsx`, `${path}/index.ts`].find((p) => existsSync(p)) ?? null

test('no two files import each other in a circle', () => {
  const graph = new Map(files.map((file) => [file, importsOf(file).flatMap((spec) => fileOf(target(file, spec) ?? '') ?? [])]))
  // What has no import that is left is in no circle.
  for (let size = -1; size !== graph.size;) {
    size = graph.size
    for (const [file, imports] of graph) if (!imports.some((to) => graph.has(to))) graph.delete(file)
  }
  expect([...graph.keys()]).toEqual([])
})

test('a folder with an index is entered through it', () => {
  const users = [
    ...files,
    ...['proof', 'bench', 'tests'].flatMap((root) =>
      readdirSync(root, { recursive: true, withFileTypes: true })
        .filter((e) => e.isFile() && /\.tsx?$/.test(e.name))
        .map((e) => join(e.parentPath, e.name)),
    ),
  ]
  // What is loaded later is named by itself.
  const written = (file: string) => [...readFileSync(file, 'utf8').matchAll(/from\s*'([^']+)'/g)].map((m) => m[1])
  const past = users.flatMap((file) =>
    written(file).flatMap((spec) => {
      const to = target(file, spec)
      const inside = to && !existsSync(`${to}/index.ts`) && dirname(to) !== dirname(file) && fileOf(to)
      return inside && existsSync(join(dirname(to), 'index.ts')) ? [`${file} imports ${spec}`] : []
    }),
  )
  expect(past).toEqual([])
})
