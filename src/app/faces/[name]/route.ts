import { packageFile } from '@/app/package-file'
import { BUNDLED } from '@/live/faces'
import { mimeType } from '@/live/mime'

/** A bundled font file, or the licence that goes with it. */
export async function GET(_: Request, { params }: { params: Promise<{ name: string }> }): Promise<Response> {
  const { name } = await params
  const found = BUNDLED.flatMap((f) => [...f.files, f.licence]).find((f) => f.name === name)
  if (!found) return new Response('No such face', { status: 404 })
  return new Response(await packageFile(found.from), {
    headers: { 'content-type': mimeType(name), 'cache-control': 'max-age=86400' },
  })
}
