import { readdir, readFile } from 'node:fs/promises'
import { join, relative, sep } from 'node:path'
import { zipOf } from '@/storage/archive'

/** A sample project of ours as a zip; the interface imports it like any other. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params
  if (!/^[a-z][a-z-]*$/.test(name)) return new Response('No such sample', { status: 404 })
  const root = join(/* turbopackIgnore: true */ process.cwd(), 'demo', name)
  const entries = await readdir(root, { recursive: true, withFileTypes: true }).catch(() => null)
  if (!entries) return new Response('No such sample', { status: 404 })
  const files = await Promise.all(entries.filter((e) => e.isFile()).map(async (e) => {
    const full = join(e.parentPath, e.name)
    return { path: relative(root, full).split(sep).join('/'), bytes: new Uint8Array(await readFile(full)) }
  }))
  const zip = await zipOf(files.sort((a, b) => a.path.localeCompare(b.path)))
  return new Response(zip.buffer as ArrayBuffer, { headers: { 'content-type': 'application/zip', 'cache-control': 'no-store' } })
}
