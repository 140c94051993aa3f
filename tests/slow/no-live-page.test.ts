import { afterAll, beforeAll, expect, test } from 'vitest'
import { openBrowser } from '../support/browser'
import { startApp, type RunningApp } from '../support/server'
import { Studio } from '../support/studio'

let app: RunningApp
beforeAll(async () => {
  app = await startApp({ STEADY_LIVE_ORIGIN: 'http://{project}.ferry.test:{port}' })
})
afterAll(() => app.stop())

test.each([
  ['an address that does not resolve', [], /does not answer/, /STEADY_LIVE_ORIGIN/],
  ['an origin without service workers', ['--host-resolver-rules=MAP *.ferry.test 127.0.0.1'], /no service worker/, /not a secure context/],
])('%s: the interface says what is wrong and what to do, and shows no empty frame', async (_, args, title, detail) => {
  const browser = await openBrowser({ args })
  try {
    const studio = new Studio(browser, app.url)
    await studio.driver.get(app.url)
    const text = await studio.until('the fault', async () => studio.text('live-fault'))
    expect(text).toMatch(title)
    expect(text).toMatch(detail)
    expect(await studio.driver.findElements({ css: '[data-testid=live-page]' })).toEqual([])
  } finally {
    await browser.close()
  }
})
