import { execFileSync } from 'node:child_process'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { By, until } from 'selenium-webdriver'
import { expect } from 'vitest'
import { openBrowser, type OpenedBrowser } from './browser'
import { startApp, type RunningApp } from './server'
import { Studio } from './studio-driver'

/**
 * Gives each tag that `tag` finds in the files below some folders a mark of its own. Gives where each stands, found by
 * searching the texts: `src/pages/Today.tsx:11`.
 */
export function markTags(folder: string, below: readonly string[], extension: string, tag: RegExp): Map<string, string> {
  const places = new Map<string, string>()
  let marks = 0
  const paths = below.flatMap((top) =>
    readdirSync(join(folder, top), { recursive: true, encoding: 'utf8' }).map((path) => `${top}/${path}`),
  )
  for (const path of paths.filter((p) => p.endsWith(extension))) {
    const text = readFileSync(join(folder, path), 'utf8').replace(tag, (found) => `${found} data-mark="m${marks++}"`)
    writeFileSync(join(folder, path), text)
    text.split('\n').forEach((line, i) => {
      for (const [, mark] of line.matchAll(/data-mark="(m\d+)"/g)) places.set(mark, `${path}:${i + 1}`)
    })
  }
  return places
}

/** Commits all files of a folder to a repository of its own. Gives what runs git there. */
export function commitAll(folder: string, message: string): (...args: string[]) => string {
  const git = (...args: string[]): string => execFileSync('git', ['-C', folder, ...args], { encoding: 'utf8' })
  git('init', '-q')
  git('add', '-A')
  git('-c', 'user.name=Pier', '-c', 'user.email=pier@example.invalid', 'commit', '-qm', message)
  return git
}

/** Opens a folder whose first page its own development server renders when it is asked for. */
export async function openRendered(
  folder: string,
): Promise<{ readonly app: RunningApp; readonly browser: OpenedBrowser; readonly studio: Studio }> {
  const app = await startApp({}, folder)
  const browser = await openBrowser()
  const studio = new Studio(browser, app.url)
  // Many elements are chosen by one script, which may take its time beside other tests.
  await studio.driver.manage().setTimeouts({ script: 110_000 })
  await studio.driver.get(app.address)
  await studio.driver.wait(until.elementLocated(By.css('main[data-connected]')), 90_000, 'its page did not load')
  await studio.driver.get(`${app.url}/?proof`)
  await studio.ready()
  return { app, browser, studio }
}

/** Rules that are of one child each, so that there are many to be told apart. */
export const RULES_BY_CHILD = Array.from(
  { length: 110 },
  (_, i) => `:nth-${i % 2 ? 'last-' : ''}child(${(i >> 1) + 1}) {\n  --nth: ${i};\n}\n`,
).join('\n')

/**
 * Picks each marked element of the page, and sees that it leads to where its mark stands, and each rule that matches it to
 * the line of its selector. Gives how many elements and how many rules that were.
 */
export async function leadsOf(
  studio: Studio,
  folder: string,
  places: ReadonlyMap<string, string>,
): Promise<{ readonly elements: number; readonly rules: number }> {
  const found = await studio.driver.executeAsyncScript<
    { readonly place: string; readonly rules: readonly (readonly [place: string, selector: string])[] }[]
  >(`
    const done = arguments[arguments.length - 1], p = window.steadyProof
    ;(async () => {
      const out = []
      // What no rule sets, so that a place is that of the rule and not of a declaration.
      p.session.selection.touch('orphans')
      for (const node of await p.session.selection.find('[data-mark]')) {
        await p.session.selection.pick(node)
        const { picked } = p.state()
        out.push({
          place: picked.tag?.ok ? picked.tag.path + ':' + picked.tag.line : String(picked.tag?.why),
          rules: picked.aims.get('orphans').candidates.filter((c) => c.ref.kind === 'rule').map((c) => [c.path + ':' + c.line, c.label]),
        })
      }
      return out
    })().then(done, (e) => done([{ place: String(e), rules: [] }]))`)
  const marks = await studio.inPage<string[]>('return [...document.querySelectorAll("[data-mark]")].map((e) => e.dataset.mark)')
  expect(found.map((f) => f.place)).toEqual(marks.map((mark) => places.get(mark)))
  const texts = new Map<string, string[]>()
  const known = new Map(found.flatMap((f) => f.rules))
  for (const [place, selector] of known) {
    const [, path, line] = /^(.*):(\d+)$/.exec(place)!
    if (!texts.has(path)) texts.set(path, readFileSync(join(folder, path), 'utf8').split('\n'))
    const there = texts
      .get(path)!
      .slice(Number(line) - 1)
      .join(' ')
      .trim()
      .replace(/\s+/g, ' ')
    expect([place, there.slice(0, selector.length + 2)]).toEqual([place, `${selector} {`])
  }
  return { elements: found.length, rules: known.size }
}
