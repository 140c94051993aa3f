import { readFile } from 'node:fs/promises'
import { join } from 'node:path'

const SHEETS = new Set(['index.css', 'preflight.css', 'theme.css', 'utilities.css'])

/** A style sheet of the installed Tailwind CSS package, for inputs that import it. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params
  if (!SHEETS.has(name)) return new Response('No such sheet', { status: 404 })
  const text = await readFile(join(/* turbopackIgnore: true */ process.cwd(), 'node_modules/tailwindcss', name), 'utf8')
  return new Response(text, { headers: { 'content-type': 'text/css; charset=utf-8', 'cache-control': 'max-age=86400' } })
}
