import { existsSync, readFileSync } from 'node:fs'
import { afterAll, afterEach, beforeAll, expect, inject, onTestFailed } from 'vitest'
import { openBrowser, saveFailure, uncaughtErrors, type BrowserOptions } from './browser'
import { Studio } from './studio-driver'

export { Studio } from './studio-driver'

/** A browser for the tests of a file, and a picture of it for each test that fails. */
export function useStudioBrowser(options: BrowserOptions = {}): () => Studio {
  let studio: Studio | null = null
  beforeAll(async () => {
    studio = new Studio(await openBrowser(options), inject('appUrl'))
  })
  // What a user would never hear of is no reason for nothing to be done about it.
  afterEach(async ({ task }) => {
    if (studio && task.result?.state !== 'fail') expect(await uncaughtErrors(studio.driver, inject('appUrl'))).toEqual([])
  })
  afterAll(async () => {
    await studio?.browser.close()
  })
  return () => {
    onTestFailed(async ({ task }) => {
      const file = await saveFailure(studio!.driver, task.name).catch(String)
      console.error(
        `What the browser showed: ${file}`,
        existsSync(file) ? readFileSync(file.replace(/png$/, 'log'), 'utf8').slice(0, 4000) : '',
      )
    })
    return studio!
  }
}
