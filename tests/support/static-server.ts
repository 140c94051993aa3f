import { createServer } from 'node:http'
import { mimeType } from '../../src/live/mime'

/** A bare server of files in memory: what a page looks like without us. */
export async function serveFiles(files: ReadonlyMap<string, Uint8Array | string>): Promise<{ url: string; stop(): void }> {
  const server = createServer((request, response) => {
    const path = decodeURIComponent(new URL(request.url!, 'http://x').pathname).slice(1)
    const name = path === '' || path.endsWith('/') ? `${path}index.html` : path
    const body = files.get(name)
    if (body === undefined) {
      response.writeHead(404).end()
      return
    }
    response.writeHead(200, { 'content-type': mimeType(name), 'cache-control': 'no-store' }).end(body)
  })
  await new Promise<void>((done) => server.listen(0, done))
  const { port } = server.address() as { port: number }
  return { url: `http://localhost:${port}`, stop: () => void server.close() }
}
