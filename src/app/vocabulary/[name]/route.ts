import { packageFile } from '@/app/package-file'

const SHEETS = new Set(['index.css', 'preflight.css', 'theme.css', 'utilities.css'])

/** A style sheet of the installed Tailwind CSS package, for inputs that import it. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params
  if (!SHEETS.has(name)) return new Response('No such sheet', { status: 404 })
  return new Response(await packageFile(`tailwindcss/${name}`), {
    headers: { 'content-type': 'text/css; charset=utf-8', 'cache-control': 'max-age=86400' },
  })
}
