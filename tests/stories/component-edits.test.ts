import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { By, Key, until } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { openBrowser, type OpenedBrowser } from '../support/browser'
import { deskInGit, linkPackages } from '../support/desk-copy'
import { startApp, type RunningApp } from '../support/server'
import { Studio } from '../support/studio-driver'

let folder: string
let app: RunningApp
let browser: OpenedBrowser
let studio: Studio
const read = (path: string): string => readFileSync(join(folder, path), 'utf8')
let git: (...args: string[]) => string

beforeAll(async () => {
  ;({ folder, git } = deskInGit())
  linkPackages(folder)
  app = await startApp({}, folder)
  browser = await openBrowser()
  studio = new Studio(browser, app.url)
  await studio.driver.get(app.address)
  await studio.ready()
  await studio.driver.get(`${app.url}/?proof`)
  await studio.ready()
  await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".crossing") !== null'))
})
afterAll(async () => {
  await browser.close()
  app.stop()
  rmSync(folder, { recursive: true })
})

const htmlOf = (selector: string) =>
  studio.inPage<string>(
    'return document.querySelector(arguments[0]).outerHTML.replace(/ (data-steady-[a-z]+|style)="[^"]*"/g, "")',
    selector,
  )
const status = () => studio.text('status')
const typeOnPage = async (selector: string, text: string) => {
  await studio.pick(selector)
  await studio.key(Key.ENTER)
  await studio.until('typing', () => studio.inPage<boolean>('return document.activeElement?.isContentEditable === true'))
  await studio.driver.actions().sendKeys(text).perform()
  await studio.driver.actions().sendKeys(Key.ENTER).perform()
}
/** Has the edits of a property land at the place of that name, once it is known. */
const choosePlace = (property: string, label: string) =>
  studio.until(`the place ${label}`, () =>
    studio.driver.executeAsyncScript<boolean>(
      `const { session, state } = window.steadyProof, [property, label, done] = arguments
      session.selection.needAims([property]).then(() => {
        const at = state().picked.aims.get(property)?.candidates.findIndex((c) => c.label === label) ?? -1
        if (at < 0) return session.selection.refresh().then(() => done(false))
        session.selection.touch(property)
        session.selection.chooseAim(property, at)
        done(true)
      })`,
      property,
      label,
    ),
  )
const classBox = (name: string) => studio.driver.findElement(By.css(`input[aria-label="${name} is in the list"]`))

describe('the tags of components', () => {
  test('a text is typed where it stands, and the page’s state stays; nothing is written before it is saved', async () => {
    await studio.inPage('window.mark = 1; document.querySelector(".call").click()')
    expect(await studio.edit(() => typeOnPage('h1', 'Boats & crossings'))).toMatch(/Today\.tsx:\d+ text Crossings today .*reach 1/)
    expect(await htmlOf('h1')).toBe('<h1>Boats &amp; crossings</h1>')
    expect(await studio.inPage('return [window.mark, document.querySelector(".call").textContent]')).toEqual([1, 'Called 1 times'])
    expect(git('status', '--porcelain')).toBe('')
    await studio.undo()
    await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
    expect(await htmlOf('h1')).toBe('<h1>Crossings today</h1>')
  })

  test('a text that comes from data is changed in the one literal that says it, and the page draws it again', async () => {
    const before = await studio.sourceNow('src/data.ts')
    expect(await studio.edit(() => typeOnPage('.crossing-time', '07:35'))).toMatch(/data\.ts:\d+ text 07:10 07:35 .*✓/)
    expect(await htmlOf('.crossing-time')).toBe('<time class="crossing-time">07:35</time>')
    expect(await studio.inPage('return window.mark')).toBe(1)
    await studio.undo()
    await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
    expect(await studio.sourceNow('src/data.ts')).toBe(before)
    await studio.until('as before', async () => (await htmlOf('.crossing-time')).includes('07:10'))
  })

  test('a text that no literal says is not written, and that is said', async () => {
    await typeOnPage('.call', 'Called often')
    await studio.until('why not', async () => /comes from data, and no literal of the project says it/.test(await status()))
    expect(await htmlOf('.call')).toContain('Called 1 times')
    expect(await studio.ledger()).toEqual([])
  })

  test('a value lands in the class list of its tag, and reaches all elements of that tag', async () => {
    await studio.inPage('[...document.querySelectorAll("nav a")].find((a) => a.textContent === "Tides").click()')
    await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".tide") !== null'))
    await studio.inPage('document.querySelector(".advice").click()')
    await studio.pick('.tide', 0.3, 0.5)
    await studio.until('its vocabulary', async () => (await studio.text('aim-label')) === 'class list')
    expect(await studio.text('reach')).toContain('at least 4, counted on this page')
    expect(await studio.edit(() => studio.type('padding-top', '20px'))).toMatch(/Tides\.tsx:\d+ padding-top pt-5 reach 4 ✓/)
    expect(await htmlOf('.tide')).toContain('class="tide flex items-center gap-4 rounded-md bg-white p-3 pt-5"')
    expect(await studio.computed('.tide', 'padding-top')).toBe('20px')
    // What the page was in is kept.
    expect(await studio.inPage('return [window.mark, document.querySelector(".advice").textContent]')).toEqual([1, 'Hide the advice'])
  })

  test('a class that only one variant gives says so, and is changed there alone', async () => {
    await studio.pick('.mark')
    const row = studio.driver.findElement(By.css('[data-testid="class-row"][data-name="bg-foam"]'))
    expect(await (await row).getText()).toContain('where tone is low')
    const box = await classBox('bg-foam')
    expect(await studio.edit(() => studio.driver.executeScript('arguments[0].click()', box))).toMatch(/Mark\.tsx:5 class bg-foam removed/)
    expect(await studio.inPage('return [...document.querySelectorAll(".mark")].map((e) => e.className.replace(/.*text-sm /, ""))')).toEqual(
      ['text-deep ml-auto', 'bg-deep text-foam ml-auto', 'text-deep ml-auto', 'bg-deep text-foam ml-auto'],
    )
    // A value that takes the place of such a class is not put on the others, which React does not draw again for it.
    expect(await studio.edit(() => studio.commit('color', '#123456'))).toMatch(/Mark\.tsx:5 color text-deep text-\[#123456\]/)
    expect(await studio.inPage('return [...document.querySelectorAll(".mark")].map((e) => e.className.replace(/.*text-sm /, ""))')).toEqual(
      ['text-[#123456] ml-auto', 'bg-deep text-foam ml-auto', 'text-[#123456] ml-auto', 'bg-deep text-foam ml-auto'],
    )
    await studio.undo()
  })

  test('an attribute is written as JSX has it', async () => {
    await studio.pick('.lead')
    await (await studio.test('section-Element')).click()
    const field = await studio.until('the field', () =>
      studio.driver.findElements(By.css('[aria-label="New attribute"]')).then((found) => found[0] ?? null),
    )
    await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
    expect(await studio.edit(() => field.sendKeys('tabindex=0', Key.ENTER))).toMatch(/Tides\.tsx:\d+ tabindex/)
    expect(await htmlOf('.lead')).toContain('tabindex="0"')
  })

  test('a tag is duplicated, taken out and dragged where its file says it, for all elements that it makes; the state stays', async () => {
    const texts = (selector: string) =>
      studio.inPage<string[]>('return [...document.querySelectorAll(arguments[0])].map((e) => e.textContent)', selector)
    const before = await studio.sourceNow('src/pages/Tides.tsx')
    await studio.pick('.tide time')
    expect(await studio.edit(() => studio.key('2'))).toMatch(/Tides\.tsx:\d+ time\.w-16 duplicated reach 4 ✓/)
    expect((await texts('.tide time')).length).toBe(8)
    expect(await studio.edit(() => studio.key(Key.DELETE))).toMatch(/Tides\.tsx:\d+ time\.w-16 deleted reach 4 ✓/)
    expect((await texts('.tide time')).length).toBe(4)
    await studio.pick('h1', 0.02, 0.5)
    const label = await studio.test('picked-label')
    const to = await studio.pointOver('.lead', 0.5, 0.9)
    await studio.driver
      .actions({ async: true })
      .move({ origin: label })
      .press()
      .move({ origin: label, x: 8, y: 4, duration: 40 })
      .move({ ...to, duration: 150 })
      .perform()
    await studio.until('the words', async () => (await studio.text('drop-words')) === 'after p.lead in div.tides')
    expect(await studio.edit(() => studio.driver.actions({ async: true }).release().perform())).toMatch(
      /h1\.text-3xl moved after p\.lead .*✓/,
    )
    expect(await studio.inPage('return [window.mark, document.querySelector(".lead").nextElementSibling.localName]')).toEqual([1, 'h1'])
    for (let i = 0; i < 3; i++) await studio.undo()
    await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
    expect(await studio.sourceNow('src/pages/Tides.tsx')).toBe(before)
    await studio.until('the page as before', () =>
      studio.inPage<boolean>(
        'return document.querySelector("h1").nextElementSibling.matches(".lead") && document.querySelectorAll(".tide time").length === 4',
      ),
    )
  })

  test('loaded again, the page has what is not saved', async () => {
    await studio.inPage('location.reload()')
    await studio.until('loaded again', async () => (await studio.inPage('return window.mark ?? null')) === null)
    await studio.ready()
    await studio.until('the edit', async () => (await studio.computed('.tide', 'padding-top')) === '20px')
    expect(git('status', '--porcelain')).toBe('')
  })

  test('what another program changes in the same file is on the page with it', async () => {
    writeFileSync(join(folder, 'src/pages/Tides.tsx'), read('src/pages/Tides.tsx').replace("'Low water'", "'Slack water'"))
    await studio.until('its word', async () => (await htmlOf('.mark')).includes('Slack water'))
    expect(await studio.computed('.tide', 'padding-top')).toBe('20px')
    expect(read('src/pages/Tides.tsx')).not.toContain('pt-5')
  })

  test('saved, the files have it as though typed, and the page is neither loaded nor drawn again for it', async () => {
    await studio.inPage(
      'window.mark = 2; window.drawn = 0; new MutationObserver((l) => (window.drawn += l.length)).observe(document.querySelector("#root"), { subtree: true, childList: true, attributes: true, attributeFilter: ["class", "data-steady-tag"] })',
    )
    await (await studio.test('save')).click()
    await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
    await (await studio.test('save-now')).click()
    await studio.until('saved', async () => (await studio.ledger()).length === 0)
    expect(
      git('diff', '-U0')
        .split('\n')
        .filter((l) => /^[-+] /.test(l) && !/(Low|Slack) water/.test(l)),
    ).toEqual([
      '-      <p className="lead text-lg text-slate-600">Heights are in metres above chart datum.</p>',
      '+      <p className="lead text-lg text-slate-600" tabIndex={0}>Heights are in metres above chart datum.</p>',
      '-          <li key={t.at} className="tide flex items-center gap-4 rounded-md bg-white p-3">',
      '+          <li key={t.at} className="tide flex items-center gap-4 rounded-md bg-white p-3 pt-5">',
      "-  low: 'bg-foam text-deep',",
      "+  low: 'text-deep',",
    ])
    expect(git('status', '--porcelain').trim().split('\n')).toEqual(['M src/pages/Tides.tsx', ' M src/parts/Mark.tsx'])
    // Its own server has seen the files change by now.
    await studio.until('the sheet of its server', async () => (await studio.computed('.tide', 'padding-top')) === '20px')
    expect(await studio.inPage('return [window.mark, window.drawn]')).toEqual([2, 0])
  })

  test('where a component is used elsewhere too, a value that it does not set lands where it is used', async () => {
    const file = 'src/pages/Tides.tsx'
    writeFileSync(join(folder, file), read(file).replace('      <ul', '      <Mark tone="high">Springs</Mark>\n      <ul'))
    await studio.until('the other', () => studio.inPage<boolean>('return document.querySelectorAll(".mark").length === 5'))
    await studio.pick('.tide .mark')
    expect(await studio.text('usage')).toContain('one of 2 usages in 1 file')
    expect(await studio.edit(() => studio.type('margin-top', '8px'))).toMatch(/Tides\.tsx:\d+ margin-top mt-2 reach 4 ✓/)
    expect(await studio.inPage('return [...document.querySelectorAll(".mark")].map((e) => getComputedStyle(e).marginTop)')).toEqual([
      '0px',
      ...Array<string>(4).fill('8px'),
    ])
    expect((await studio.sourceNow(file)).match(/<Mark [^>]*>/g)).toEqual([
      '<Mark tone="high">',
      `<Mark tone={t.isHigh ? 'high' : 'low'} className="ml-auto mt-2">`,
    ])
  })

  test('what one use of a component gives it is changed there, by what the component takes', async () => {
    const file = 'src/pages/Tides.tsx'
    await studio.pick('.tides > .mark')
    const section = await studio.test('section-Element')
    if ((await section.getAttribute('aria-expanded')) === 'false') await section.click()
    const tone = () => studio.driver.wait(until.elementLocated(By.css('select[aria-label="tone of the component"]')), 10_000)
    expect((await (await tone()).getText()).split('\n').map((t) => t.trim())).toEqual(['not given', 'high', 'low'])
    await studio.inPage('window.mark = 2')
    expect(await studio.edit(() => studio.choose('tone of the component', 'low'))).toMatch(/Tides\.tsx:\d+ tone high low .*reach 1/)
    expect(await studio.sourceNow(file)).toContain('<Mark tone="low">Springs</Mark>')
    // Its class list is that of the other tone, and the page was not loaded for it.
    expect(
      await studio.inPage('return [window.mark, document.querySelector(".tides > .mark").matches(".text-deep:not(.bg-deep)")]'),
    ).toEqual([2, true])
    await studio.undo()
    await studio.until('as before', () => studio.inPage<boolean>('return document.querySelector(".tides > .mark").matches(".bg-deep")'))
    // What is worked out while the page runs is said as it is written.
    await studio.pick('.tide .mark')
    await studio.until('its own', async () => (await studio.text('usage-properties')).includes("{t.isHigh ? 'high' : 'low'}"))
    expect(await studio.text('usage-properties')).toMatch(/Properties of this Mark\s+Tides\.tsx:\d+, 4 elements/)
  })

  test('an element of a list is moved past its neighbour in the list that the project writes out', async () => {
    const data = read('src/data.ts')
    const said = () => studio.inPage<string[]>('return [...document.querySelectorAll(".tide time")].map((e) => e.textContent)')
    const [first, second, ...rest] = await said()
    await studio.pick('.tide', 0.5, 0.05)
    const row = await studio.edit(() => studio.driver.actions().keyDown(Key.ALT).sendKeys(Key.ARROW_DOWN).keyUp(Key.ALT).perform())
    expect(row).toMatch(/data\.ts:\d+ order 1 of 4 2 of 4/)
    expect(await said()).toEqual([second, first, ...rest])
    const lines = data.split('\n')
    const at = lines.findIndex((l) => l.includes(`'${first}'`))
    ;[lines[at], lines[at + 1]] = [lines[at + 1], lines[at]]
    expect(await studio.sourceNow('src/data.ts')).toBe(lines.join('\n'))
    // What was moved stays chosen, and goes back the same way.
    await studio.edit(() => studio.driver.actions().keyDown(Key.ALT).sendKeys(Key.ARROW_UP).keyUp(Key.ALT).perform())
    expect([await said(), await studio.sourceNow('src/data.ts')]).toEqual([[first, second, ...rest], data])
    for (let i = 0; i < 2; i++) await studio.undo()
  })

  test('a picture that a file imports is another one with its import', async () => {
    const file = 'src/pages/Tides.tsx'
    const before = read(file)
    // A smaller one would stand in the page itself, without an address.
    const picture = (width: number) =>
      `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="10"><path d="${'M0 0h9v9z'.repeat(1000)}"/></svg>\n`
    writeFileSync(join(folder, 'src/pages/flag.svg'), picture(30))
    writeFileSync(join(folder, 'src/pages/tug-small.svg'), picture(50))
    writeFileSync(
      join(folder, file),
      before
        .replace('import { Mark }', "import flag from './flag.svg'\nimport { Mark }")
        .replace('      <ul', '      <img className="flag" src={flag} alt="" />\n      <ul'),
    )
    await studio.until('the import', async () => (await studio.sourceNow(file)).includes('{flag}'))
    const width = () => studio.inPage<number>('return document.querySelector(".flag")?.naturalWidth ?? 0')
    await studio.until('the picture', async () => (await width()) === 30)
    // The server may draw the page once more for the files that came.
    await studio.until('it is chosen', () => studio.pick('.flag').then(() => true))
    const row = await studio.edit(async () => {
      const field = await studio.driver.wait(until.elementLocated(By.css('input[aria-label="src of the element"]')), 10_000)
      expect(await field.getAttribute('value')).toBe('./flag.svg')
      await studio.retype(field, './tug-small.svg', Key.ENTER)
    })
    expect(row).toMatch(/Tides\.tsx:\d+ src \.\/flag\.svg \.\/tug-small\.svg/)
    const after = await studio.sourceNow(file)
    expect(after).toContain("import tugSmall from './tug-small.svg'\nimport { Mark }")
    expect(after).toContain('src={tugSmall}')
    await studio.until('the other picture', async () => (await width()) === 50)
    await studio.undo()
    await studio.until('as before', async () => (await width()) === 30)
    writeFileSync(join(folder, file), before)
    for (const name of ['flag', 'tug-small']) rmSync(join(folder, `src/pages/${name}.svg`))
    await studio.until('without it', async () => !(await studio.sourceNow(file)).includes('{flag}'))
  })

  test('a class that a file imports is changed where it is written, on the page before it is saved', async () => {
    const [file, words] = ['src/pages/Tides.tsx', 'src/pages/words.ts']
    const before = read(file)
    const list = "'lead text-lg text-slate-600'"
    writeFileSync(join(folder, words), `/** Texts that stand out. */\nexport const lead = ${list}\n`)
    writeFileSync(
      join(folder, file),
      before
        .replace('import { Mark }', "import { lead } from './words'\nimport { Mark }")
        .replace(/className="lead [^"]*"/, 'className={lead}'),
    )
    await studio.until('the file', async () => (await studio.sourceNow(words)).includes(list))
    await studio.until('the import', async () => (await studio.sourceNow(file)).includes('{lead}'))
    await studio.until('its text', () => studio.inPage<boolean>('return document.querySelector(".lead") !== null'))
    await studio.pick('.lead')
    await choosePlace('font-size', 'class list')
    await studio.until('its place', async () => (await studio.text('aim-place')).includes('words.ts:2'))
    expect(await studio.text('aim-imported')).toBe('imported from words.ts: whatever else takes it from there changes too')
    expect(await studio.edit(() => studio.commit('font-size', '20px'))).toMatch(/words\.ts:2 font-size text-lg text-xl reach 1 ✓/)
    expect(await studio.computed('.lead', 'font-size')).toBe('20px')
    expect(await studio.sourceNow(words)).toContain("export const lead = 'lead text-xl text-slate-600'")
    // What only comes is the element's own, and stands beside it.
    expect(await studio.edit(() => studio.commit('margin-top', '8px'))).toMatch(/Tides\.tsx:\d+ margin-top mt-2 reach 1 ✓/)
    expect(await studio.sourceNow(file)).toContain('className={`${lead} mt-2`}')
    await studio.undo()
    await studio.undo()
    await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
    expect(await studio.sourceNow(words)).toContain(list)
    await studio.until('as before', async () => (await studio.computed('.lead', 'font-size')) === '18px')
    writeFileSync(join(folder, file), before)
    rmSync(join(folder, words))
    await studio.until('without it', async () => !(await studio.sourceNow(file)).includes('{lead}'))
  })

  test('a component that takes no classes is made to, where one use of it alone is chosen, as one edit', async () => {
    const file = 'src/pages/Tides.tsx'
    const card = 'src/parts/Card.tsx'
    const [before, definition] = [read(file), read(card)]
    writeFileSync(
      join(folder, file),
      before
        .replace('import { Mark }', "import { Card } from '../parts/Card'\nimport { Mark }")
        .replace('      <ul', '      <Card title="Springs" />\n      <Card title="Neaps" tone="strong" />\n      <ul'),
    )
    await studio.until('the cards', () => studio.inPage<boolean>('return document.querySelectorAll(".card").length === 2'))
    const used = await studio.sourceNow(file)
    await studio.pick('.card-strong', 0.98, 0.1)
    await choosePlace('margin-top', 'class list of this Card')
    await studio.until('what it will touch', async () =>
      /Card takes no className yet: the edit has it take one and pass it on \(Card\.tsx:\d+\)/.test(await studio.text('aim-taking')),
    )
    expect(await studio.edit(() => studio.commit('margin-top', '16px'))).toMatch(/Tides\.tsx:\d+ margin-top mt-4 reach 1 ✓/)
    const margins = () =>
      studio.inPage<string[]>('return [...document.querySelectorAll(".card")].map((e) => getComputedStyle(e).marginTop)')
    expect((await margins()).at(1)).toBe('16px')
    expect((await margins()).at(0)).not.toBe('16px')
    expect(await studio.sourceNow(file)).toBe(used.replace('tone="strong" />', 'tone="strong" className="mt-4" />'))
    expect(await studio.sourceNow(card)).toBe(
      definition
        .replace('  readonly children?: ReactNode\n', '  readonly children?: ReactNode\n  readonly className?: string\n')
        .replace('note, children }', 'note, children, className }')
        .replace('`card card-${tone}`', "`card card-${tone} ${className ?? ''}`"),
    )
    // Another value goes to the same place: the component takes classes by now.
    expect(await studio.edit(() => studio.commit('margin-top', '24px'))).toMatch(/Tides\.tsx:\d+ margin-top mt-4 mt-6 reach 1 ✓/)
    await studio.undo()
    await studio.undo()
    await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
    expect([await studio.sourceNow(file), await studio.sourceNow(card)]).toEqual([used, definition])
    // A class with a rule of its own, for this use alone.
    await choosePlace('margin-top', '.card-alt of this Card')
    expect(await studio.edit(() => studio.commit('margin-top', '20px'))).toMatch(/Card\.css:\d+ margin-top 20px reach 1 ✓/)
    expect((await margins()).map((m) => m === '20px')).toEqual([false, true])
    expect(await studio.sourceNow(file)).toBe(used.replace('tone="strong" />', 'tone="strong" className="card-alt" />'))
    expect(await studio.sourceNow('src/parts/Card.css')).toContain('\n.card-alt {\n  margin-top: 20px;\n}\n')
    await studio.undo()
    await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
    expect([await studio.sourceNow(file), await studio.sourceNow(card)]).toEqual([used, definition])
    writeFileSync(join(folder, file), before)
    await studio.until('no card', () => studio.inPage<boolean>('return document.querySelectorAll(".card").length === 0'))
  })

  test('a new class of a module is its rule and its member, and another name for it goes to both', async () => {
    const [chart, sheet] = ['src/parts/SeatChart.tsx', 'src/parts/SeatChart.module.css']
    const now = async () => [await studio.sourceNow(chart), await studio.sourceNow(sheet)]
    const before = await now()
    await studio.goTo('/')
    await studio.until('the chart', () => studio.inPage<boolean>('return document.querySelector("svg") !== null'))
    await studio.pick('svg', 0.5, 0.995)
    await studio.driver.executeScript(`
      const { session, state } = window.steadyProof, at = state().picked.aims.get('margin-top').candidates
      session.selection.touch('margin-top')
      session.selection.chooseAim('margin-top', at.findIndex((c) => c.ref.kind === 'new-class'))`)
    expect(await studio.edit(() => studio.type('margin-top', '9px'))).toMatch(/SeatChart\.module\.css:8 margin-top 9px reach 1 ✓/)
    expect(await now()).toEqual([
      before[0].replace('{styles.chart}', '{`${styles.chart} ${styles.chartAlt}`}'),
      before[1].replace('  height: 120px;\n}\n', '  height: 120px;\n}\n\n.chartAlt {\n  margin-top: 9px;\n}\n'),
    ])
    // What it is on the page is the compiler's, and the next edit lands in the rule that is there now.
    expect(await studio.inPage('return document.querySelector("svg").getAttribute("class")')).toMatch(/^_chart_\S+ _chartAlt_\S+$/)
    expect(await studio.edit(() => studio.type('margin-bottom', '3px'))).toMatch(/SeatChart\.module\.css:9 margin-bottom 3px reach 1 ✓/)
    // Another name for it.
    await studio.driver.executeAsyncScript(
      `const [sheet, done] = arguments
      window.steadyProof.session.making.everywhere({ kind: 'rename-class', from: 'chartAlt', to: 'seats', module: sheet }, 1).then(done)`,
      sheet,
    )
    expect((await studio.ledger())[0]).toMatch(/class chartAlt seats reach 1 ✓/)
    expect((await now())[0]).toContain('{`${styles.chart} ${styles.seats}`}')
    expect((await now())[1]).toContain('.seats {\n  margin-top: 9px;\n  margin-bottom: 3px;\n}')
    expect(await studio.computed('svg', 'margin-top')).toBe('9px')
    for (let i = 0; i < 3; i++) await studio.undo()
    await studio.driver.executeAsyncScript('window.steadyProof.session.writing.atRest().then(arguments[0])')
    expect(await now()).toEqual(before)
    await studio.until('as before', async () =>
      /^_chart_\S+$/.test(await studio.inPage<string>('return document.querySelector("svg").getAttribute("class")')),
    )
    expect(await studio.computed('svg', 'margin-top')).toBe('0px')
    expect(git('diff', '--', chart, sheet)).toBe('')
  })

  test('a module with animations, and with classes that are of all pages, is edited as any other', async () => {
    const sheet = 'src/parts/SeatChart.module.css'
    const before = await studio.sourceNow(sheet)
    const more = `
.taken {
  animation: rise 2s infinite alternate;
}

@keyframes rise {
  from {
    opacity: 0.5;
  }
}

:global(.card) > .chart {
  outline-offset: 1px;
}
`
    writeFileSync(join(folder, sheet), before + more)
    const animation = () =>
      studio.inPage<string>('return getComputedStyle(document.querySelector("svg rect:nth-of-type(2)")).animationName')
    await studio.until('the animation', async () => /^_rise_/.test(await animation()))
    await studio.pick('svg rect:nth-of-type(2)', 0.5, 0.5)
    await choosePlace('animation-duration', '.taken')
    expect(await studio.edit(async () => studio.commit('animation-duration', '3s'))).toMatch(
      /SeatChart\.module\.css:\d+ animation-duration 2s 3s reach 4 ✓/,
    )
    expect(await animation()).toMatch(/^_rise_/)
    await studio.pick('svg', 0.5, 0.995)
    await choosePlace('outline-offset', ':global(.card) > .chart')
    expect(await studio.edit(async () => studio.commit('outline-offset', '3px'))).toMatch(
      /SeatChart\.module\.css:\d+ outline-offset 1px 3px reach 1 ✓/,
    )
    expect(await studio.sourceNow(sheet)).toBe(before + more.replace('rise 2s', 'rise 3s').replace('offset: 1px', 'offset: 3px'))
    await studio.undo()
    await studio.undo()
    writeFileSync(join(folder, sheet), before)
    await studio.until('as before', async () => (await animation()) === 'none')
  })
})
