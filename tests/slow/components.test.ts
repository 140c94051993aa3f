import { rmSync } from 'node:fs'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { Random } from '../../proof/random'
import type { OpenedBrowser } from '../support/browser'
import { copyOfDesk, linkPackages } from '../support/desk-copy'
import { markTags, openRendered } from '../support/marked-project'
import type { RunningApp } from '../support/server'
import type { Studio } from '../support/studio-driver'

let folder: string
let app: RunningApp
let browser: OpenedBrowser
let studio: Studio
/** Where each mark stands, found by searching the texts: `src/pages/Today.tsx:11`. */
let places: ReadonlyMap<string, string>

// The sample with a mark of its own on each tag of an element, written by looking for tags alone.
beforeAll(async () => {
  folder = copyOfDesk()
  linkPackages(folder)
  places = markTags(folder, ['src'], '.tsx', /(?<=[\s(>{])<([a-z][a-z\d]*)(?=[\s>])/g)
  ;({ app, browser, studio } = await openRendered(folder))
}, 120_000)
afterAll(async () => {
  await browser.close()
  app.stop()
  rmSync(folder, { recursive: true })
})

const inStudio = <T>(script: string, ...args: unknown[]): Promise<T> =>
  studio.driver.executeAsyncScript<T>(
    `const done = arguments[arguments.length - 1], args = [...arguments].slice(0, -1), p = window.steadyProof
    ;(async () => { ${script} })().then(done, (e) => done({ failed: String(e && e.stack || e) }))`,
    ...args,
  )

const goTo = async (route: string) => {
  await studio.inPage('[...document.querySelectorAll("nav a")].find((a) => a.pathname === arguments[0]).click()', route)
  await studio.until('the route', () => studio.inPage<boolean>('return location.pathname === arguments[0]', route))
}

test('each element leads to the very tag that made it', async () => {
  const random = new Random(11)
  let picked = 0
  for (const route of ['/', '/fares', '/bookings', '/tides']) {
    await goTo(route)
    const found = await inStudio<{ mark: string; place: string }[]>(
      `const out = []
      const all = await p.session.selection.find('#root [data-mark]')
      const share = args[0]
      for (const node of all.filter((_, i) => (i * 0.618 + share) % 1 < 0.9)) {
        await p.session.selection.pick(node)
        const { picked } = p.state()
        const { attributes } = (await p.session.page.ask('element', { source: picked.report.info.source })) ?? { attributes: [] }
        out.push({ mark: attributes.find((a) => a.name === 'data-mark')?.value ?? '', place: picked.tag?.ok ? picked.tag.path + ':' + picked.tag.line : String(picked.tag?.why) })
      }
      return out`,
      random.next(),
    )
    picked += found.length
    for (const { mark, place } of found) expect([mark, place]).toEqual([mark, places.get(mark)])
  }
  expect(picked).toBeGreaterThan(90)
}, 120_000)

test('the state of the page survives fifty edits in a row', async () => {
  await goTo('/tides')
  await studio.inPage('window.mark = 1; document.querySelector(".advice").click(); scrollTo(0, 40)')
  const random = new Random(12)
  const verdicts: string[] = []
  for (let i = 0; i < 50; i++) {
    verdicts.push(
      await inStudio<string>(
        `const [share, kind, i] = args, { selection, edits } = p.session
        const all = await selection.find('.tides *')
        await selection.pick(all[Math.floor(share * all.length)])
        const source = p.state().picked.report.info.source
        const said = await p.desk.places.elementOf(source)
        if (kind === 0 && said.texts.length) await edits.onElement({ kind: 'set-text', source, index: 0, was: said.texts[0], text: 'Text ' + i })
        else if (kind === 1) await edits.onElement({ kind: 'set-attribute', source, name: 'title', value: 'Title ' + i })
        else if (kind === 2) {
          const has = said.attributes.find((a) => a.name === 'class')?.value.split(' ').includes('italic')
          await edits.changeClasses({ kind: 'change-classes', sources: [source], remove: has ? ['italic'] : [], add: has ? [] : [{ name: 'italic' }] })
        } else {
          await selection.needAims(['padding-top'])
          await edits.commit('padding-top', (i % 9) * 4 + 1 + 'px')
        }
        return p.state().ledger.rows.at(-1).verdict.state`,
        random.next(),
        random.below(4),
        i,
      ),
    )
  }
  expect(verdicts.filter((v) => v !== 'holds')).toEqual([])
  expect(await studio.inPage('return [window.mark, document.querySelector(".tides > p:last-child") !== null]')).toEqual([1, true])
}, 240_000)
