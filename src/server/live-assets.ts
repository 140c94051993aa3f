import { createHash } from 'node:crypto'
import { readFile } from 'node:fs/promises'
import type { ServerResponse } from 'node:http'
import { join } from 'node:path'
import { ourPage } from '../live/our-page'
import { OWN_PATH } from '../live/protocol'
import type { Hosts } from './hosts'

const SCRIPTS = new Map([
  ['agent.js', 'agent.js'],
  ['findings.js', 'findings.js'],
  ['host.js', 'host.js'],
  ['picture.js', 'picture.js'],
  ['sw.js', 'service-worker.js'],
])

const scriptFile = (root: string, name: string): string => join(root, 'build', 'live', name)

function html(response: ServerResponse, status: number, body: string, headers: Readonly<Record<string, string>> = {}): void {
  response.writeHead(status, { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store', ...headers }).end(body)
}

/** What a live origin serves itself: the host frame, the service worker and the agent, from `root`. Files come from the worker. */
export async function serveLiveAsset(root: string, hosts: Hosts, url: URL, response: ServerResponse): Promise<void> {
  const asset = url.pathname.startsWith(OWN_PATH) ? url.pathname.slice(OWN_PATH.length) : null
  const script = asset === null ? undefined : SCRIPTS.get(asset)
  if (script) {
    const code = await readFile(scriptFile(root, script))
    response
      .writeHead(200, {
        'content-type': 'text/javascript; charset=utf-8',
        'cache-control': 'no-cache',
        'service-worker-allowed': '/',
      })
      .end(code)
  } else if (asset === 'host') {
    const studio = url.searchParams.get('studio') ?? ''
    if (!hosts.isInterface(studio))
      return html(response, 400, ourPage('This address is for Steady Brush itself', []), {
        'content-security-policy': "frame-ancestors 'none'",
      })
    const worker = createHash('sha256')
      .update(await readFile(scriptFile(root, 'service-worker.js')))
      .digest('hex')
      .slice(0, 16)
    // An origin has no character that ends an attribute or a header (URL §4.4).
    html(
      response,
      200,
      `<!doctype html><html lang="en" data-studio="${studio}" data-worker="${worker}"><meta charset="utf-8"><title>Steady Brush host</title><script src="${OWN_PATH}host.js"></script></html>`,
      { 'content-security-policy': `frame-ancestors ${studio}` },
    )
  } else {
    html(
      response,
      404,
      ourPage('This page is not published yet', [
        'Pages at this address are served by Steady Brush while a project is open in it.',
        'Open the project in Steady Brush, then load this address again.',
      ]),
    )
  }
}
