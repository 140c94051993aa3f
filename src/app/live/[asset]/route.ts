import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { isLiveHost, liveOriginTemplate } from '@/live/origin'
import { ourPage } from '@/live/our-page'

const SCRIPTS = new Map([['agent.js', 'agent.js'], ['host.js', 'host.js'], ['sw.js', 'service-worker.js']])

const html = (body: string, status = 200): Response =>
  new Response(body, { status, headers: { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' } })

/** What a live origin serves itself: the host frame, the service worker and the agent. Files come from the worker. */
export async function GET(request: Request, { params }: { params: Promise<{ asset: string }> }): Promise<Response> {
  const { asset } = await params
  const script = SCRIPTS.get(asset)
  if (script) {
    const code = await readFile(join(/* turbopackIgnore: true */ process.cwd(), 'build', 'live', script))
    return new Response(new Uint8Array(code), {
      headers: { 'content-type': 'text/javascript; charset=utf-8', 'cache-control': 'no-cache', 'service-worker-allowed': '/' },
    })
  }
  if (asset === 'host') {
    const studio = new URL(request.url).searchParams.get('studio') ?? ''
    const isOrigin = /^https?:\/\/[\w.:[\]-]+$/.test(studio)
    if (!isOrigin || isLiveHost(new URL(studio).host, liveOriginTemplate())) return html(ourPage('This address is for Steady Brush itself', []), 400)
    return html(`<!doctype html><html lang="en" data-studio="${studio}"><meta charset="utf-8"><title>Steady Brush host</title><script src="/__steady/host.js"></script></html>`)
  }
  return html(ourPage('This page is not published yet', [
    'Pages at this address are served by Steady Brush while a project is open in it.',
    'Open the project in Steady Brush, then load this address again.',
  ]), 404)
}
