import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Browser, Builder, logging, type WebDriver } from 'selenium-webdriver'
import chrome from 'selenium-webdriver/chrome'

export const FAILURES = 'tests/failures'

export interface OpenedBrowser {
  readonly driver: WebDriver
  /** Where downloads land. */
  readonly downloads: string
  readonly profile: string
  close(): Promise<void>
}

export interface BrowserOptions {
  readonly width?: number
  readonly height?: number
  readonly dark?: boolean
  /** A profile to open again; a new empty one when left out. */
  readonly profile?: string
  readonly args?: readonly string[]
}

/** Headless Chromium with a profile of its own. */
export async function openBrowser(options: BrowserOptions = {}): Promise<OpenedBrowser> {
  const profile = options.profile ?? mkdtempSync(join(tmpdir(), 'steady-profile-'))
  const downloads = mkdtempSync(join(tmpdir(), 'steady-downloads-'))
  const chromeOptions = new chrome.Options()
  chromeOptions.setChromeBinaryPath('/usr/bin/chromium')
  chromeOptions.addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--hide-scrollbars',
    '--force-color-profile=srgb',
    `--window-size=${options.width ?? 1280},${options.height ?? 800}`,
    `--user-data-dir=${profile}`,
    ...(options.args ?? []),
  )
  if (options.dark) chromeOptions.addArguments('--force-dark-mode')
  chromeOptions.setUserPreferences({ 'download.default_directory': downloads, 'download.prompt_for_download': false })
  const prefs = new logging.Preferences()
  prefs.setLevel(logging.Type.BROWSER, logging.Level.ALL)
  chromeOptions.setLoggingPrefs(prefs)
  const driver = await new Builder()
    .forBrowser(Browser.CHROME)
    .setChromeOptions(chromeOptions)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build()
  // The window of headless Chromium counts its own frame; the picture is to be the size asked for.
  await (driver as unknown as chrome.Driver).sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: options.width ?? 1280,
    height: options.height ?? 800,
    deviceScaleFactor: 1,
    mobile: false,
  })
  if (options.dark !== undefined) {
    await (driver as unknown as chrome.Driver).sendDevToolsCommand('Emulation.setEmulatedMedia', {
      features: [{ name: 'prefers-color-scheme', value: options.dark ? 'dark' : 'light' }],
    })
  }
  return {
    driver,
    downloads,
    profile,
    close: async () => {
      await driver.quit().catch(() => {})
      rmSync(downloads, { recursive: true, force: true })
      if (!options.profile) rmSync(profile, { recursive: true, force: true })
    },
  }
}

/** Errors of scripts of this address that nothing caught, since it was last asked. */
export async function uncaughtErrors(driver: WebDriver, address: string): Promise<string[]> {
  const entries = await driver
    .manage()
    .logs()
    .get(logging.Type.BROWSER)
    .catch(() => [])
  return entries.map((e) => e.message).filter((m) => m.includes('Uncaught') && m.startsWith(new URL(address).origin))
}

/** What the interface holds: its status, its ledger, its drafts, and where the keyboard is. */
const STATE = `
  const s = window.steadyProof?.state(), at = document.activeElement
  return JSON.stringify({ status: s?.status ?? document.querySelector('[role=status]')?.innerText, ledger: [...document.querySelectorAll('[data-testid=ledger-row]')].map((r) => r.innerText),
    drafts: s && [...s.drafts.keys()], source: s?.source, address: location.href, keyboard: at && at.tagName + ' ' + (at.getAttribute('aria-label') ?? at.className) }, null, 1)`

/** Saves what the browser shows, for a test that failed. */
export async function saveFailure(driver: WebDriver, name: string): Promise<string> {
  mkdirSync(FAILURES, { recursive: true })
  const file = join(FAILURES, `${name.replace(/[^\w-]+/g, '-').slice(0, 80)}.png`)
  writeFileSync(file, await driver.takeScreenshot(), 'base64')
  const entries = await driver
    .manage()
    .logs()
    .get(logging.Type.BROWSER)
    .catch(() => [])
  const state = await driver.executeScript<string>(STATE).catch(String)
  writeFileSync(file.replace(/png$/, 'log'), [state, ...entries.map((e) => `${e.level.name} ${e.message}`)].join('\n'))
  return file
}
