import { execFileSync } from 'node:child_process'
import { appendFileSync, cpSync, mkdtempSync, readFileSync, realpathSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { OpenedBrowser } from '../support/browser'
import { commitAll, markTags, openRendered } from '../support/marked-project'
import type { RunningApp } from '../support/server'
import type { Studio } from '../support/studio-driver'

const JSX_TAGS = /(?<=[\s(>{])<([a-z][a-z\d]*|Link)(?=[\s>])/g
const ASTRO_TAGS = /(?<=^ *|> ?|\(\s*)<(?!template|script|style|slot|html|head|meta|title|body)([a-z][a-z\d]*)(?=[\s>])/gm

/** Rules that are of one child each, so that there are many to be told apart; in a sheet of all pages. */
const RULES = Array.from({ length: 110 }, (_, i) => `:nth-${i % 2 ? 'last-' : ''}child(${(i >> 1) + 1}) {\n  --nth: ${i};\n}\n`).join('\n')

interface Kind {
  readonly name: string
  readonly fixture: string
  readonly below: readonly string[]
  readonly extension: string
  readonly tags: RegExp
  readonly sheet: string
  readonly rules: string
  readonly edits: readonly {
    readonly pick: string
    readonly at: readonly [number, number]
    readonly property: string
    readonly value: string
  }[]
  readonly rows: readonly RegExp[]
  readonly lines: readonly string[]
}

// Their packages come from the registry, in versions beside those that the samples have.
const KINDS: readonly Kind[] = [
  {
    name: 'React 18 on Vite 6',
    fixture: 'pilot',
    below: ['src'],
    extension: '.jsx',
    tags: JSX_TAGS,
    sheet: 'src/base.css',
    rules: RULES,
    edits: [
      { pick: '.name', at: [0.5, 0.5], property: 'font-size', value: '30px' },
      { pick: 'main > section', at: [0.99, 0.02], property: 'padding-top', value: '22px' },
    ],
    rows: [/base\.css:\d+ font-size 24px 30px reach 1 ✓/, /Board\.module\.css:2 padding-top 12px 22px reach 2 ✓/],
    lines: ['-  font-size: 24px;', '+  font-size: 30px;', '-  padding: 12px 16px;', '+  padding: 22px 16px 12px;'],
  },
  {
    name: 'Next.js 15',
    fixture: 'harbourmaster',
    below: ['app', 'components'],
    extension: '.tsx',
    tags: JSX_TAGS,
    sheet: 'app/globals.css',
    rules: RULES,
    edits: [
      { pick: '.lead', at: [0.1, 0.5], property: 'letter-spacing', value: '1px' },
      { pick: 'article', at: [0.99, 0.05], property: 'padding-top', value: '22px' },
    ],
    rows: [/globals\.css:\d+ letter-spacing 0\.2px 1px reach 1 ✓/, /Berth\.module\.css:2 padding-top 10px 22px reach 60 ✓/],
    lines: ['-  letter-spacing: 0.2px;', '+  letter-spacing: 1px;', '-  padding: 10px;', '+  padding: 22px 10px 10px;'],
  },
  {
    // Its toolbar, without which its compiler says nothing of places, is off.
    name: 'Astro 5',
    fixture: 'tides',
    below: ['src'],
    extension: '.astro',
    tags: ASTRO_TAGS,
    sheet: 'src/layouts/Base.astro',
    rules: `\n<style is:global>\n${RULES}</style>\n`,
    edits: [
      { pick: '.title', at: [0.1, 0.5], property: 'margin-bottom', value: '9px' },
      { pick: '.day', at: [0.99, 0.01], property: 'padding-top', value: '22px' },
    ],
    rows: [/index\.astro:\d+ margin-bottom 4px 9px reach 1 ✓/, /Day\.astro:\d+ padding-top 12px 22px reach 2 ✓/],
    lines: ['-    padding: 12px;', '+    padding: 22px 12px 12px;', '-    margin-bottom: 4px;', '+    margin-bottom: 9px;'],
  },
]

describe.each(KINDS)('$name', ({ fixture, below, extension, tags, sheet, rules, edits, rows, lines }) => {
  let folder: string
  let app: RunningApp
  let browser: OpenedBrowser
  let studio: Studio
  /** Where each mark stands, found by searching the texts. */
  let places: ReadonlyMap<string, string>
  let git: (...args: string[]) => string

  beforeAll(async () => {
    folder = realpathSync(mkdtempSync(join(tmpdir(), `${fixture}-`)))
    cpSync(`tests/fixtures/${fixture}`, folder, { recursive: true })
    execFileSync('npm', ['install', '--no-audit', '--no-fund', '--no-package-lock'], { cwd: folder, stdio: 'ignore' })
    places = markTags(folder, below, extension, tags)
    appendFileSync(join(folder, sheet), `\n${rules}`)
    git = commitAll(folder, fixture)
    ;({ app, browser, studio } = await openRendered(folder))
  }, 300_000)
  afterAll(async () => {
    await browser?.close()
    app?.stop()
    rmSync(folder, { recursive: true })
  })

  test('each element leads to the very tag that made it, and each rule that matches it to its line', async () => {
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
    expect(found.length).toBeGreaterThanOrEqual(200)
    expect(found.map((f) => f.place)).toEqual(marks.map((mark) => places.get(mark)))
    const texts = new Map<string, string[]>()
    const known = new Map(found.flatMap((f) => f.rules))
    for (const [place, selector] of known) {
      const [, path, line] = /^(.*):(\d+)$/.exec(place)!
      if (!texts.has(path)) texts.set(path, readFileSync(join(folder, path), 'utf8').split('\n'))
      expect([place, texts.get(path)![Number(line) - 1].trim()]).toEqual([place, `${selector} {`])
    }
    expect(known.size).toBeGreaterThanOrEqual(100)
  })

  test('rules are edited, shown with the files as they were, and saved as though typed', async () => {
    for (const [i, { pick, at, property, value }] of edits.entries()) {
      await studio.pick(pick, ...at)
      expect(await studio.edit(() => studio.type(property, value))).toMatch(rows[i])
      expect(await studio.computed(pick, property)).toBe(value)
    }
    expect(git('status', '--porcelain')).toBe('')
    await (await studio.test('save')).click()
    await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
    await (await studio.test('save-now')).click()
    await studio.until('saved', async () => (await studio.ledger()).length === 0)
    const changed = git('diff', '-U0').split('\n')
    expect(changed.filter((line) => /^[-+](?![-+])/.test(line))).toEqual(lines)
    // The server's own update, or its page loaded again, shows the same.
    for (const { pick, property, value } of edits)
      await studio.until('its sheet', async () => (await studio.computed(pick, property)) === value)
  })
})
