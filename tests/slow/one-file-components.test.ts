import { appendFileSync, cpSync, mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import type { OpenedBrowser } from '../support/browser'
import { commitAll, leadsOf, markTags, openRendered, RULES_BY_CHILD } from '../support/marked-project'
import { linkPackagesOf } from '../support/packages'
import type { RunningApp } from '../support/server'
import type { Studio } from '../support/studio-driver'

describe.each([
  { kind: 'vue', packages: ['vite', 'vue', '@vitejs/plugin-vue'], part: 'Berth.vue', page: 'App.vue' },
  { kind: 'svelte', packages: ['vite', 'svelte', '@sveltejs/vite-plugin-svelte'], part: 'Berth.svelte', page: 'App.svelte' },
])('components of one file: $kind', ({ kind, packages, part, page }) => {
  let folder: string
  let app: RunningApp
  let browser: OpenedBrowser
  let studio: Studio
  /** Where each mark stands, found by searching the texts. */
  let places: ReadonlyMap<string, string>
  let git: (...args: string[]) => string
  const changedLines = () =>
    git('diff', '-U0')
      .split('\n')
      .filter((line) => /^[-+](?![-+])/.test(line))
  const state = () => studio.inPage<unknown[]>('return [window.mark, document.querySelector("button").textContent]')

  beforeAll(async () => {
    folder = realpathSync(mkdtempSync(join(tmpdir(), `mole-${kind}-`)))
    cpSync(`tests/fixtures/mole-${kind}`, folder, { recursive: true })
    linkPackagesOf(folder, packages)
    places = markTags(folder, ['src'], `.${kind}`, /^( *|.*>)<(?!template|script|style|slot)([a-z][a-z\d]*)(?=[\s>])/gm)
    writeFileSync(join(folder, 'src/data.js'), readFileSync(join(folder, 'src/data.js'), 'utf8').replace('boats: 5', 'boats: 190'))
    // A sheet of its own, whose rules are of all pages.
    writeFileSync(join(folder, 'src/children.css'), RULES_BY_CHILD)
    appendFileSync(join(folder, 'src/main.js'), "import './children.css'\n")
    git = commitAll(folder, 'Mole')
    ;({ app, browser, studio } = await openRendered(folder))
  }, 180_000)
  afterAll(async () => {
    await browser.close()
    app.stop()
    rmSync(folder, { recursive: true })
  })

  test('each element leads to the very tag that made it, and each rule that matches it to its line', async () => {
    const found = await leadsOf(studio, folder, places)
    expect(found.elements).toBeGreaterThanOrEqual(200)
    expect(found.rules).toBeGreaterThanOrEqual(100)
    await studio.pick('.head')
    expect(await studio.text('made')).toContain('Berth')
  })

  test('rules of their style blocks are edited, shown with the state of the page kept, and saved as though typed', async () => {
    await studio.inPage('window.mark = 1; document.querySelector("button").click()')
    await studio.pick('.title')
    expect(await studio.edit(() => studio.type('margin-bottom', '10px'))).toMatch(
      new RegExp(`${page}:\\d+ margin-bottom 4px 10px reach 1 ✓`),
    )
    await studio.pick('.head')
    expect(await studio.edit(() => studio.type('padding-top', '12px'))).toMatch(new RegExp(`${part}:\\d+ padding-top 12px reach 3 ✓`))
    await studio.pick('.lead', 0.2, 0.5)
    expect(await studio.edit(() => studio.type('padding-left', '22px'))).toMatch(new RegExp(`${page}:\\d+ padding-left 6px 22px reach 1 ✓`))
    await studio.pick('li')
    expect(await studio.edit(() => studio.type('line-height', '30px'))).toMatch(
      new RegExp(`${part}:\\d+ line-height 20px 30px reach 192 ✓`),
    )
    const shown = () =>
      studio.inPage<string[]>(
        'return [[".title", "marginBottom"], [".head", "paddingTop"], [".lead", "paddingLeft"], ["li", "lineHeight"]].map(([s, p]) => getComputedStyle(document.querySelector(s))[p])',
      )
    expect(await shown()).toEqual(['10px', '12px', '22px', '30px'])
    expect(await state()).toEqual([1, 'Called 1 times'])
    expect(git('status', '--porcelain')).toBe('')
    await studio.undo()
    await studio.until('undone', async () => (await studio.computed('li', 'line-height')) === '20px')
    await (await studio.test('save')).click()
    await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
    await (await studio.test('save-now')).click()
    await studio.until('saved', async () => (await studio.ledger()).length === 0)
    const step = kind === 'vue' ? '' : '  '
    expect(changedLines()).toEqual([
      `-${step}  margin-bottom: 4px;`,
      `+${step}  margin-bottom: 10px;`,
      `-${step}    padding: 6px;`,
      `+${step}    padding: 6px 6px 6px 22px;`,
      `-${step}.head { margin: 0 }`,
      `+${step}.head { margin: 0; padding-top: 12px }`,
    ])
    // The server's own update has come by now, and edits go on from it.
    await studio.until('its sheet', async () => (await shown()).join() === '10px,12px,22px,20px')
    expect(await state()).toEqual([1, 'Called 1 times'])
    await studio.pick('.title')
    expect(await studio.edit(() => studio.type('margin-bottom', '7px'))).toMatch(/margin-bottom 10px 7px reach 1 ✓/)
    await studio.inPage('location.reload()')
    await studio.until('loaded again', async () => (await studio.inPage('return window.mark ?? null')) === null)
    await studio.ready()
    await studio.until('the edit', async () => (await studio.computed('.title', 'margin-bottom')) === '7px')
    // What has no rule yet gets one in the block of its own component, by its own name.
    await studio.pick('.call')
    expect(await studio.edit(() => studio.type('padding-top', '9px'))).toMatch(new RegExp(`${page}:\\d+ padding-top 9px reach 1 ✓`))
    expect(await studio.sourceNow(`src/${page}`)).toContain(`${step}.call {\n${step}  padding-top: 9px;\n${step}}\n`)
    expect(await studio.computed('.call', 'padding-top')).toBe('9px')
  })
})
