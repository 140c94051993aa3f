/** What {@link interleave} is played on in Chromium: its own storage, and an origin-private folder (File System §3). */
import { build } from 'esbuild'
import { openBrowser } from '../tests/support/browser'
import { serveFiles } from '../tests/support/static-server'
import type { Act } from './interleave-acts'

/** Longest that one run takes; ms. */
const LONGEST = 120_000

export async function playground() {
  const bundle = await build({
    entryPoints: ['proof/interleave-page.ts'],
    bundle: true,
    format: 'esm',
    write: false,
    logLevel: 'warning',
  })
  const server = await serveFiles(
    new Map([
      ['index.html', '<!doctype html><title>Interleave</title><script type="module" src="page.js"></script>'],
      ['page.js', bundle.outputFiles[0].text],
    ]),
  )
  const driver = await openBrowser()
  await driver.driver.manage().setTimeouts({ script: LONGEST })
  await driver.driver.get(`${server.url}/index.html`)
  return {
    play: (acts: readonly Act[]): Promise<string | null> =>
      driver.driver.executeAsyncScript<string | null>(
        'const [acts, done] = arguments; window.playing.then((play) => play(acts)).then(done, (e) => done(String(e)))',
        acts,
      ),
    close: async () => {
      await driver.close()
      server.stop()
    },
  }
}
