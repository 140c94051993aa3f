import { readdir, readFile } from 'node:fs/promises'
import { join, relative, sep } from 'node:path'
import { packFiles } from '@/folder'

/** A sample project of ours: the list of its paths as JSON, and its files in that order, packed. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params
  if (!/^[a-z][a-z-]*$/.test(name)) return new Response('No such sample', { status: 404 })
  const root = join(/* turbopackIgnore: true */ process.cwd(), 'demo', name)
  const entries = await readdir(root, { recursive: true, withFileTypes: true }).catch(() => null)
  if (!entries) return new Response('No such sample', { status: 404 })
  const paths = entries
    .filter((e) => e.isFile())
    .map((e) => relative(root, join(e.parentPath, e.name)))
    .sort((a, b) => a.localeCompare(b))
  const files = await Promise.all(paths.map((path) => readFile(join(root, path))))
  const list = new TextEncoder().encode(JSON.stringify(paths.map((path) => path.split(sep).join('/'))))
  return new Response(packFiles([list, ...files]), {
    headers: { 'content-type': 'application/octet-stream', 'cache-control': 'no-store' },
  })
}
