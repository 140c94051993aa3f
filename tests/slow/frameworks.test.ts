import { execFileSync } from 'node:child_process'
import { appendFileSync, cpSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { OpenedBrowser } from '../support/browser'
import { commitAll, leadsOf, markTags, openRendered, RULES_BY_CHILD } from '../support/marked-project'
import { linkPackagesOf } from '../support/packages'
import type { RunningApp } from '../support/server'
import type { Studio } from '../support/studio-driver'

const JSX_TAGS = /(?<=[\s(>{])<([a-z][a-z\d]*|Link)(?=[\s>])/g
const ASTRO_TAGS = /(?<=^ *|> ?|\(\s*)<(?!template|script|style|slot|html|head|meta|title|body)([a-z][a-z\d]*)(?=[\s>])/gm

interface Kind {
  readonly name: string
  readonly fixture: string
  /** What its package file says otherwise than the fixture's. */
  readonly packages?: readonly (readonly [said: string, instead: string])[]
  /** Those of its packages that are installed here, which it takes; without, all come from the registry. */
  readonly linked?: readonly string[]
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

const NEXT_16 = ['next', 'react', 'react-dom', 'typescript', '@types/react', '@types/node']

const NEXT: readonly Kind[] = (
  [
    ['Next.js 15', [], []],
    ['Next.js 16 on Turbopack', [['^15.5.0', '^16.4.0']], NEXT_16],
    [
      'Next.js 16 on webpack',
      [
        ['^15.5.0', '^16.4.0'],
        ['next dev', 'next dev --webpack'],
      ],
      NEXT_16,
    ],
  ] as const
).map(([name, packages, linked]) => ({
  name,
  packages,
  linked,
  fixture: 'harbourmaster',
  below: ['app', 'components'],
  extension: '.tsx',
  tags: JSX_TAGS,
  sheet: 'app/globals.css',
  rules: RULES_BY_CHILD,
  edits: [
    { pick: '.lead', at: [0.1, 0.5], property: 'letter-spacing', value: '1px' },
    { pick: 'article', at: [0.99, 0.05], property: 'padding-top', value: '22px' },
  ],
  rows: [/globals\.css:\d+ letter-spacing 0\.2px 1px reach 1 ✓/, /Berth\.module\.css:2 padding-top 10px 22px reach 60 ✓/],
  lines: ['-  letter-spacing: 0.2px;', '+  letter-spacing: 1px;', '-  padding: 10px;', '+  padding: 22px 10px 10px;'],
}))

// Other versions than the samples have.
const KINDS: readonly Kind[] = [
  {
    name: 'React 18 on Vite 6',
    fixture: 'pilot',
    below: ['src'],
    extension: '.jsx',
    tags: JSX_TAGS,
    sheet: 'src/base.css',
    rules: RULES_BY_CHILD,
    edits: [
      { pick: '.name', at: [0.5, 0.5], property: 'font-size', value: '30px' },
      { pick: 'main > section', at: [0.99, 0.02], property: 'padding-top', value: '22px' },
    ],
    rows: [/base\.css:\d+ font-size 24px 30px reach 1 ✓/, /Board\.module\.css:2 padding-top 12px 22px reach 2 ✓/],
    lines: ['-  font-size: 24px;', '+  font-size: 30px;', '-  padding: 12px 16px;', '+  padding: 22px 16px 12px;'],
  },
  ...NEXT,
  {
    // Its toolbar, without which its compiler says nothing of places, is off.
    name: 'Astro 5',
    fixture: 'tides',
    below: ['src'],
    extension: '.astro',
    tags: ASTRO_TAGS,
    sheet: 'src/layouts/Base.astro',
    rules: `\n<style is:global>\n${RULES_BY_CHILD}</style>\n`,
    edits: [
      { pick: '.title', at: [0.1, 0.5], property: 'margin-bottom', value: '9px' },
      { pick: '.day', at: [0.99, 0.01], property: 'padding-top', value: '22px' },
    ],
    rows: [/index\.astro:\d+ margin-bottom 4px 9px reach 1 ✓/, /Day\.astro:\d+ padding-top 12px 22px reach 2 ✓/],
    lines: ['-    padding: 12px;', '+    padding: 22px 12px 12px;', '-    margin-bottom: 4px;', '+    margin-bottom: 9px;'],
  },
]

describe.each(KINDS)('$name', ({ fixture, packages = [], linked = [], below, extension, tags, sheet, rules, edits, rows, lines }) => {
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
    const file = join(folder, 'package.json')
    writeFileSync(
      file,
      packages.reduce((text, [said, instead]) => text.replace(said, instead), readFileSync(file, 'utf8')),
    )
    if (linked.length) linkPackagesOf(folder, linked)
    else execFileSync('npm', ['install', '--no-audit', '--no-fund', '--no-package-lock'], { cwd: folder, stdio: 'ignore' })
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
    const found = await leadsOf(studio, folder, places)
    expect(found.elements).toBeGreaterThanOrEqual(200)
    expect(found.rules).toBeGreaterThanOrEqual(100)
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
