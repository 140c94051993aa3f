import { createServer, request } from 'node:http'
import type { AddressInfo } from 'node:net'
import { gunzipSync } from 'node:zlib'
import { openBrowser } from '../tests/support/browser'
import { startApp } from '../tests/support/server'
import { Studio } from '../tests/support/studio-driver'
import { round, type BenchRow } from './stats'

const MOST = 450
const KB = 1024

interface Script {
  /** When it was asked for, ms since the epoch; and its bytes as sent, and without compression. */
  readonly asked: number
  readonly sent: number
  readonly bare: number
}

/** Stands between the browser and the application, and keeps what is served of scripts to the interface's own address. */
function countScripts(port: number, into: Script[]) {
  return createServer((asked, answer) => {
    const at = Date.now()
    const forward = request({ host: '127.0.0.1', port, path: asked.url, method: asked.method, headers: asked.headers }, (came) => {
      answer.writeHead(came.statusCode ?? 502, came.headers)
      const parts: Buffer[] = []
      came.on('data', (part: Buffer) => parts.push(part))
      came.on('end', () => {
        const body = Buffer.concat(parts)
        const isScript = /javascript/.test(came.headers['content-type'] ?? '') && /^localhost(:|$)/.test(asked.headers.host ?? '')
        if (isScript)
          into.push({
            asked: at,
            sent: body.length,
            bare: came.headers['content-encoding'] === 'gzip' ? gunzipSync(body).length : body.length,
          })
      })
      came.pipe(answer)
    })
    forward.on('error', () => answer.destroy())
    asked.pipe(forward)
  })
}

/** Row 5 of the budgets: all scripts of the interface, its worker's too, that a new visitor's browser asks for before the first page is painted. */
export async function benchFirstLoad(): Promise<BenchRow> {
  const app = await startApp()
  const scripts: Script[] = []
  const counter = countScripts(app.port, scripts)
  await new Promise<void>((done) => counter.listen(0, done))
  // The application answers at its own address alone: the browser is led past the counter below the address.
  const to = `127.0.0.1:${(counter.address() as AddressInfo).port}`
  const own = [`localhost:${app.port}`, `*.localhost:${app.port}`]
  const browser = await openBrowser({ args: [`--host-resolver-rules=${own.map((host) => `MAP ${host} ${to}`).join(', ')}`] })
  try {
    const studio = new Studio(browser, app.url)
    await studio.open()
    const painted = await studio.inPage<number>(
      'return performance.timeOrigin + performance.getEntriesByName("first-contentful-paint")[0].startTime',
    )
    const before = scripts.filter((s) => s.asked < painted)
    const [sent, bare] = (['sent', 'bare'] as const).map((of) => before.reduce((n, s) => n + s[of], 0) / KB)
    return {
      name: `scripts of the interface asked for before the first page is painted, ${before.length} files`,
      value: round(sent, 1),
      unit: 'KB compressed',
      baseline: `the same without compression, ${round(bare, 1)} KB`,
      ratio: round(sent / bare),
      budget: `value at most ${MOST} KB`,
      ok: before.length > 0 && sent <= MOST,
    }
  } finally {
    await browser.close()
    counter.close()
    counter.closeAllConnections()
    app.stop()
  }
}
