import { Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser } from '../support/studio'

const getStudio = useStudioBrowser()

/** How many edits are made; a thousand by hand. */
const EDITS = Number(process.env.STEADY_FOLLOWS ?? 160)

const NAMES = ['a', 'b', 'c', 'd', 'e', 'f']
const rules = (n: number) =>
  Array.from(
    { length: n },
    (_, i) => `.${NAMES[i % 6]}${i} {\n  padding: ${i % 9}px;\n  color: #${String(i % 10).repeat(3)};\n  gap: var(--g);\n}`,
  ).join('\n\n')
const FILES = {
  'index.html': `<!DOCTYPE html>\n<html><head><title>Quay</title><link rel="stylesheet" href="plain.css"><link rel="stylesheet" href="odd.css"><link rel="stylesheet" href="lead.css"><style>\n.in { margin: 1px; }\n.in p { top: 2px; }\n</style></head>\n<body><main class="a0 in"><p class="b1">Boats</p></main></body></html>\n`,
  'plain.css': `${rules(40)}\n`,
  'odd.css': `/* A comment first. */\n@layer base {\n  .a0 { gap: 1px; }\n  @media (min-width: 300px) { .b1 { top: 1px; } }\n}\n\n.a0 {\n  color: red;\n  & p { color: blue; @media (width > 1px) { top: 3px; } }\n  left: 4px;\n}\n\n.b1:nonsense(x) { color: green; }\n.c2 { colr: green; --x: {a;b}; }\n@supports (gap: 1px) { .d3 { gap: 2px; } .e4 { gap: 3px } }\n@font-face { font-family: Quay; src: url(q.woff2); }\n@keyframes sway { from { top: 0 } to { top: 1px } }\n@container (width > 10px) { .f5 { top: 1px; } }\n.unclosed { color: red`,
  'lead.css': `@charset "utf-8";\n@import "sub.css";\n@layer one, two;\n.lead { color: red; }\n.more { color: blue; }\n`,
  'sub.css': '.sub { color: green; }\n.sub p { top: 1px; }\n',
}

/** The rules of the page's sheets, and those that the browser makes of the served files. */
const COMPARE = `
  const done = arguments[arguments.length - 1]
  // What the engine holds of a rule can be more than it says of it as text.
  const held = (r) => [[...(r.style ?? [])], ...[...(r.cssRules ?? [])].map(held)]
  const text = (list) => [...list].filter((r) => r.constructor.name !== 'CSSImportRule').map((r) => r.cssText + JSON.stringify(held(r)))
  const sheets = [...document.styleSheets].flatMap(function all(s) { return [s, ...[...s.cssRules].filter((r) => r.styleSheet).flatMap((r) => all(r.styleSheet))] })
  Promise.all(sheets.map(async (s) => {
    const source = s.href ? await (await fetch(s.href)).text() : s.ownerNode.textContent
    const fresh = new CSSStyleSheet({ baseURL: s.href ?? undefined })
    fresh.replaceSync(source)
    return [s.href ?? '<style>', text(s.cssRules), text(fresh.cssRules)]
  })).then(done)`

test('after each of many edits, undone and made again, the page has the rules that the browser makes of the served files, and rules are found', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('quay', FILES)
  await studio.ready()
  await studio.driver.manage().setTimeouts({ script: 110_000 })
  const kinds = await studio.driver.executeAsyncScript<Record<string, number>>(
    `
    const [edits, done] = arguments, { desk, session } = window.steadyProof
    let seed = 7
    const random = (n) => (seed = (seed * 1103515245 + 12345) % 2147483648) % n
    const kinds = {}
    const work = async () => {
      for (let i = 0; i < edits; i++) {
        const path = ['plain.css', 'odd.css', 'lead.css', 'sub.css', 'index.html'][random(5)]
        const text = await desk.current.text(path)
        // A rule before an import has the browser drop it (CSS Cascade 5 §2), and the sheet with it.
        const at = Math.max(random(text.length), text.indexOf('sub.css";') + 9)
        const stands = await desk.places.standsAt(path, at)
        const how = ['set', 'set', 'set', 'remove', 'add', 'selector', 'typed', 'step', 'together'][random(9)]
        const rule = stands && 'rule' in stands ? { kind: 'rule', sheet: stands.sheet, rule: stands.rule } : null
        const set = (name) => ({ kind: 'set', aim: rule, name, value: random(90) + 'px' })
        let made = null
        if (how === 'step') made = await desk.history.step(random(3) ? 'undo' : 'redo').catch(() => null)
        else if (how === 'typed' && path !== 'index.html') made = await desk.editing.typed(path, text, text.slice(0, at) + ['\\n.t' + i + ' { top: 1px }\\n', ' ', '}', '/* x */', '{'][random(5)] + text.slice(at))
        else if (rule) {
          const intent = how === 'set' ? set(['top', 'padding-left', 'margin', 'row-gap'][random(4)])
            : how === 'remove' ? { kind: 'remove', aim: rule, name: ['color', 'top', 'padding'][random(3)] }
            : how === 'selector' ? { kind: 'set-selector', aim: rule, selector: random(2) ? 'main' : '.s' + i }
            : how === 'add' ? { kind: 'add-rule', sheet: stands.sheet, selector: random(2) ? 'main' : '.n' + i, declarations: [{ name: 'top', value: '1px' }], under: random(2) ? '(min-width: 600px)' : '' }
            : { kind: 'together', intents: [set('top'), set('left')], label: 'two' }
          if (random(2)) await desk.editing.show(intent, true)
          made = await desk.editing.commit(intent, 1)
        }
        if (!made || 'ok' in made) { await desk.editing.hide(); continue }
        for (const op of made.sync) kinds[op.op] = (kinds[op.op] ?? 0) + 1
        await session.writing.updates.takeIn(made)
        await session.page.served
      }
      return kinds
    }
    work().then(done, (e) => done({ error: String(e) }))`,
    EDITS,
  )
  // Most of them went to the page as what changed of a sheet.
  expect(kinds.rules).toBeGreaterThan(kinds.sheet ?? 0)
  await studio.ready()
  const frame = await studio.test('live-page')
  await studio.driver.switchTo().frame(frame)
  const sheets = await studio.driver
    .executeAsyncScript<[string, string[], string[]][]>(COMPARE)
    .finally(() => studio.driver.switchTo().defaultContent())
  expect(sheets).toHaveLength(5)
  for (const [name, page, served] of sheets) expect([name, page]).toEqual([name, served])
  // Ties are of the rules that there are now: those that match an element are just those of its sheets.
  await studio.key(Key.ESCAPE)
  await studio.pick('main', 0.5, 0.02)
  const tied = await studio.driver.executeScript<number[]>(
    `return ['plain.css', 'lead.css', 'sub.css'].map((path) => window.steadyProof.state().picked.report.matched[0].filter((m) => m.sheet === path).length)`,
  )
  const matching = await studio.inPage<number[]>(`
    const [plain, , lead] = document.styleSheets, sub = [...lead.cssRules].find((r) => r.styleSheet).styleSheet, main = document.querySelector('main')
    return [plain, lead, sub].map((s) => [...s.cssRules].flatMap((r) => (r.cssRules && r.media && matchMedia(r.media.mediaText).matches ? [...r.cssRules] : [r])).filter((r) => r.selectorText && main.matches(r.selectorText)).length)`)
  expect(tied).toEqual(matching)
})

test('a longhand behind a shorthand with var() leaves the rest of it, shown, written, taken back and cancelled', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('pier', {
    'index.html':
      '<!DOCTYPE html>\n<html lang="en">\n<head><title>Pier</title><link rel="stylesheet" href="site.css"></head>\n<body><nav class="head"><a>Tides</a><a>Fares</a></nav></body>\n</html>\n',
    'site.css': ':root {\n  --room: 32px;\n}\n\n.head {\n  display: flex;\n  gap: var(--room);\n}\n',
  })
  await studio.ready()
  const gaps = async () => [await studio.computed('.head', 'row-gap'), await studio.computed('.head', 'column-gap')].join(' ')
  const ask = (what: string, value: string) =>
    studio.driver.executeAsyncScript(
      'const done = arguments[2]; window.steadyProof.session.edits[arguments[0]](...(arguments[1] ? ["column-gap", arguments[1]] : [])).then(() => done())',
      what,
      value,
    )
  await studio.pick('.head', 0.9, 0.5)
  await studio.edit(async () => void (await ask('commit', '5px')))
  expect(await studio.sourceNow('site.css')).toContain('gap: var(--room);\n  column-gap: 5px;')
  expect(await gaps()).toBe('32px 5px')
  await ask('previewExact', '9px')
  expect(await gaps()).toBe('32px 9px')
  await ask('cancelPreview', '')
  expect(await gaps()).toBe('32px 5px')
  await studio.undo()
  expect(await gaps()).toBe('32px 32px')
})
