import { readFileSync } from 'node:fs'
import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const FILES = Object.fromEntries(
  ['index.html', 'site.css', 'a.svg', 'other.html'].map((path) => [path, readFileSync(`tests/sites/harbour/${path}`, 'utf8')]),
)

interface Place {
  readonly label: string
  readonly kind: string
  readonly wins: boolean
  readonly elsewhere: boolean
  readonly overridden: readonly string[]
  readonly reach: number | null
}

/** Where an edit of a property of the first element that a selector matches would land by default. */
async function placeOf(studio: Studio, selector: string, property: string): Promise<Place | null> {
  return studio.driver.executeAsyncScript<Place | null>(
    `
    const [selector, property, done] = arguments, p = window.steadyProof, { selection } = p.session
    ;(async () => {
      const [node] = await selection.find(selector)
      await selection.pick(node)
      await selection.needAims([property])
      selection.touch(property)
      await new Promise((r) => setTimeout(r, 150))
      const c = window.steadyProof.currentAim(property)
      return c && { label: c.label, kind: c.ref.kind, wins: c.wins, elsewhere: c.elsewhere, overridden: c.overridden.map((o) => o.condition), reach: c.reach ?? p.state().fresh.get(c.ref.selector) ?? null }
    })().then(done, (e) => done({ label: String(e && e.stack || e) }))`,
    selector,
    property,
  )
}

const commit = (
  studio: Studio,
  property: string,
  value: string,
): Promise<{ verdict: string; example: string; except: string; label: string }> =>
  studio.driver.executeAsyncScript(
    `
  const [property, value, done] = arguments, p = window.steadyProof
  p.session.edits.commit(property, value).then(() => {
    const row = p.state().ledger.rows.at(-1)
    done({ verdict: row?.verdict.state, example: row?.verdict.example ?? p.state().status?.text ?? '', except: row?.verdict.except ?? '', label: row?.label })
  })`,
    property,
    value,
  )

const undo = (studio: Studio): Promise<void> =>
  studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.timeline.step("undo").then(done)')
const setWidth = async (studio: Studio, width: number | null): Promise<void> => {
  await studio.driver.executeScript('window.steadyProof.session.setWidth(arguments[0])', width)
  await studio.driver.sleep(300)
}
const run = (studio: Studio, script: string): Promise<unknown> =>
  studio.driver.executeAsyncScript(
    `const done = arguments[0], p = window.steadyProof; (async () => { ${script} })().then((v) => done(v ?? null), (e) => done(String(e)))`,
  )

describe('where edits land', () => {
  test('an element with a shadow tree says that what it shows is no element of the files, and is edited itself', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.importSite('tide clock', {
      'index.html':
        '<!DOCTYPE html>\n<link rel="stylesheet" href="clock.css">\n<tide-clock class="clock">Low water</tide-clock>\n<script>customElements.define("tide-clock", class extends HTMLElement { connectedCallback() { this.attachShadow({ mode: "open" }).innerHTML = "<p part=face>Next: <b>14:20</b></p><slot></slot>" } })</script>\n',
      'clock.css': '.clock {\n  display: block;\n  padding: 8px;\n  color: teal;\n}\n',
    })
    await studio.ready()
    await studio.pick('tide-clock', 0.05, 0.3)
    expect(await studio.text('shadow-tree')).toMatch(/its shadow tree, of 3 elements/)
    expect(await studio.edit(() => studio.type('padding', '12px'))).toMatch(/clock\.css:3 padding 8px 12px reach 1 ✓/)
    await undo(studio)
  })

  test('a rule for its like comes before a style attribute, at every width the same', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.importSite('harbour', FILES)
    await studio.ready()
    for (const width of [480, 700, 1064]) {
      await setWidth(studio, width)
      const labels = await studio.driver.executeAsyncScript<string[]>(
        `
        const [asked, done] = arguments, { selection } = window.steadyProof.session
        ;(async () => {
          const out = []
          for (const [selector, property] of asked) {
            const [node] = await selection.find(selector)
            await selection.pick(node)
            await selection.needAims([property])
            out.push(window.steadyProof.currentAim(property)?.label)
          }
          return out
        })().then(done)`,
        [
          ['.hero h1', 'padding-top'],
          ['td', 'padding-left'],
          ['td.num', 'color'],
          ['.field input', 'padding-top'],
          ['body', 'color'],
          ['main', 'padding-top'],
          ['header h1', 'color'],
          ['.menu a', 'color'],
          ['.card p', 'color'],
        ],
      )
      expect([width, ...labels]).toEqual([
        width,
        '.hero h1',
        '.prices td',
        '.num',
        '.field input',
        'body',
        'main',
        '.top h1',
        '.menu a',
        '.card p',
      ])
    }
    // The element's own width decides nothing about where it goes; what decides at some widths is named, and offered.
    await setWidth(studio, 1064)
    expect(await placeOf(studio, '.hero', 'padding-top')).toMatchObject({
      label: '.hero',
      kind: 'rule',
      elsewhere: true,
      overridden: ['@media (width >= 1000px)'],
    })
    expect(await studio.text('aim-sizes')).toMatch(/^Not at this size: \(width >= 1000px\) sets 30px/)
    // A rule for some widths is the place where it alone sets the value, which is told.
    expect(await placeOf(studio, '.hero h1', 'padding-top')).toMatchObject({
      label: '.hero h1',
      kind: 'rule',
      wins: true,
    })
    expect(await studio.text('aim')).toContain('only @media (width >= 1000px), which alone sets it')
    await setWidth(studio, 480)
    expect(await placeOf(studio, '.hero h1', 'padding-top')).toMatchObject({
      label: '.hero h1',
      kind: 'new-rule',
      wins: true,
      overridden: ['@media (width >= 1000px)'],
    })
    expect(await commit(studio, 'padding-top', '6px')).toMatchObject({ verdict: 'holds' })
    expect(await studio.sourceNow('site.css')).toContain(
      '.hero {\n  padding: 20px;\n}\n\n.hero h1 {\n  padding-top: 6px;\n}\n\n@media (width >= 1000px) {',
    )
    await undo(studio)
    await setWidth(studio, null)
  })

  test('what scripts make takes rules, tokens and new rules; the page shows them', async () => {
    const studio = getStudio()
    expect(await placeOf(studio, '.job', 'color')).toMatchObject({ label: '.job', kind: 'rule', reach: 2 })
    expect(await studio.text('not-in-source')).toMatch(
      /A script made this p: no file has its tag\. Rules and tokens can be edited for it\./,
    )
    expect(await commit(studio, 'color', 'rgb(1, 2, 3)')).toMatchObject({ verdict: 'holds', label: '.job' })
    expect(await studio.computed('.job', 'color')).toBe('rgb(1, 2, 3)')
    await undo(studio)
  })

  test('a presentation attribute is where its value comes from, and where it is edited', async () => {
    const studio = getStudio()
    expect(await placeOf(studio, '.icon path', 'fill')).toMatchObject({ label: 'fill attribute', kind: 'attribute' })
    expect(await commit(studio, 'fill', '#b23c26')).toMatchObject({ verdict: 'holds' })
    expect(await studio.sourceNow('index.html')).toContain('<path d="M2 2h20v20z" fill="#b23c26" stroke-width="2"/>')
    await placeOf(studio, '.icon path', 'stroke-width')
    expect(await commit(studio, 'stroke-width', '3px')).toMatchObject({ verdict: 'holds' })
    expect(await studio.sourceNow('index.html')).toContain('stroke-width="3"/>')
    await undo(studio)
    await undo(studio)
  })

  test('a place that was chosen holds for every property until another element is picked', async () => {
    const studio = getStudio()
    await placeOf(studio, '.card h3', 'margin-top')
    await run(
      studio,
      `const { selection } = p.session, at = p.state().picked.aims.get('margin-top'); selection.chooseAim('margin-top', at.candidates.findIndex((c) => c.ref.kind === 'inline'))`,
    )
    await run(studio, "await p.session.selection.needAims(['padding-top', 'color'])")
    expect(await commit(studio, 'padding-top', '3px')).toMatchObject({ verdict: 'holds', label: 'style of <h3>' })
    expect(await commit(studio, 'color', 'red')).toMatchObject({ label: 'style of <h3>' })
    expect(await placeOf(studio, '.card h3', 'padding-top')).toMatchObject({ kind: 'inline' })
    await placeOf(studio, '.hero p', 'color')
    expect(await placeOf(studio, '.hero p', 'padding-top')).toMatchObject({ label: '.hero p' })
    await undo(studio)
    await undo(studio)
    // A rule that is not there yet, chosen for one property, takes the next ones too, once it is written as well.
    await placeOf(studio, '#photo', 'width')
    await run(
      studio,
      `const { selection } = p.session, at = p.state().picked.aims.get('width'); selection.chooseAim('width', at.candidates.findIndex((c) => c.label === '#photo'))`,
    )
    await commit(studio, 'width', '90px')
    expect(await commit(studio, 'height', '44px')).toMatchObject({ label: '#photo' })
    expect(await studio.sourceNow('site.css')).toMatch(/#photo \{\n {2}width: 90px;\n {2}height: 44px;\n\}/)
    await undo(studio)
    await undo(studio)
  })

  test('an action on one child is about that one; all of its kind is another button', async () => {
    const studio = getStudio()
    await studio.pick('.tag:nth-of-type(2)')
    await studio.unfold('Layout')
    await studio.edit(() => studio.press('Let it take the free room'))
    expect(await studio.inPage('return [...document.querySelectorAll(".tag")].map((e) => getComputedStyle(e).flexGrow)')).toEqual([
      '0',
      '1',
      '0',
    ])
    await studio.undo()
    await studio.pick('.card:nth-of-type(2)', 0.9, 0.5)
    const sizes = () =>
      studio.inPage<string[]>('return [...document.querySelectorAll(".card")].map((e) => `${e.offsetLeft} ${e.offsetTop}`)')
    const before = await sizes()
    await studio.edit(() => studio.press('Centre it in its container'))
    const after = await sizes()
    expect(after.map((s, i) => s === before[i])).toEqual([true, false, true, true])
    expect((await studio.sourceNow('site.css')) + (await studio.sourceNow('index.html'))).not.toContain('fit-content')
    await studio.undo()
  })

  test('a card in a grid that is filled in order is moved in the order', async () => {
    const studio = getStudio()
    await setWidth(studio, 700)
    await studio.pick('.card:nth-of-type(1)', 0.9, 0.9)
    const handle = await studio.test('handle-cell')
    const to = await studio.pointOver('.card:nth-of-type(2)', 0.2, 0.1)
    await studio.driver
      .actions({ async: true })
      .move({ origin: handle })
      .press()
      .move({ x: to.x - 20, y: to.y, duration: 60 })
      .move({ ...to, duration: 60 })
      .perform()
    await studio.driver.sleep(200)
    await studio.driver.actions({ async: true }).release().perform()
    await studio.until(
      'the first card second',
      async () =>
        (await studio.inPage<string>('return [...document.querySelectorAll(".card h3")].map((e) => e.textContent).join()')) ===
        'Two,One,Three,Four',
    )
    expect(await studio.sourceNow('index.html')).not.toContain('style=')
    expect(await studio.sourceNow('site.css')).not.toContain('grid-column')
    await studio.undo()
    await setWidth(studio, null)
  })

  test('a new rule of any selector, sheet and condition is checked and counted while it is typed, and then aimed at', async () => {
    const studio = getStudio()
    await placeOf(studio, '.card', 'padding-top')
    await studio.driver.executeScript('document.activeElement?.blur()')
    await studio.key('+')
    const field = await studio.until(
      'the dialog',
      async () => (await studio.driver.findElements(By.css('[role=dialog] input[type=text]')))[0],
    )
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '.card:first-child >')
    await studio.until('a word why', async () =>
      /combinator|does not take|cannot stand|read as one rule/.test(await studio.text('rule-writes')),
    )
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '.card:nth-child(even)')
    await studio.until('two counted', async () => /It matches 2 on this page/.test(await studio.text('rule-writes')))
    await studio.driver.findElement(By.css('[aria-label="From this width, px"]')).sendKeys('600')
    await studio.driver.findElement(By.css('[aria-label="Up to this width, px"]')).sendKeys('1200')
    await studio.until('the condition', async () => /600px/.test(await studio.text('rule-writes')))
    await studio.press('Aim at it')
    expect(await commit(studio, 'padding-top', '17px')).toMatchObject({
      label: '.card:nth-child(even) @media (min-width: 600px) and (max-width: 1200px)',
    })
    expect(await studio.sourceNow('site.css')).toMatch(
      /@media \(min-width: 600px\) and \(max-width: 1200px\) \{\n {2}\.card:nth-child\(even\) \{\n {4}padding-top: 17px;\n {2}\}\n\}/,
    )
    await undo(studio)
  })

  test('counts are of the pages that use the sheet', async () => {
    const studio = getStudio()
    await placeOf(studio, 'body', 'color')
    await studio.until('the count', async () => /1 on this page, 1 in 1 page/.test(await studio.text('reach')))
  })
})

describe('a tick means what was asked for', () => {
  test('a nested container condition that holds is what decides, and what is edited shows', async () => {
    const studio = getStudio()
    const place = await placeOf(studio, '.inner', 'padding-top')
    expect(place).toMatchObject({ kind: 'rule', label: '.inner' })
    expect(await studio.driver.executeScript('return window.steadyProof.state().picked.aims.get("padding-top").written')).toBe('2px')
    const base = await commit(studio, 'padding-top', '9px')
    // Written to the base, where the container's rule decides here: told, and no tick.
    expect(base).toMatchObject({ verdict: 'differs' })
    expect(base.example).toMatch(/padding-top is 2px, from \.inner \(site\.css:\d+\), not 9px/)
    await undo(studio)
    await run(
      studio,
      `const at = p.state().picked.aims.get('padding-top'); p.session.selection.chooseAim('padding-top', at.candidates.findIndex((c) => c.conditions.length > 0))`,
    )
    expect(await commit(studio, 'padding-top', '9px')).toMatchObject({ verdict: 'holds' })
    expect(await studio.computed('.inner', 'padding-top')).toBe('9px')
    await undo(studio)
  })

  test.each<[selector: string, property: string, value: string, why: RegExp]>([
    ['.card', 'padding-top', 'var(--nope)', /--nope is not defined here, so padding-top is 0px/],
    ['.card', 'background-image', 'url("missing.png")', /The project has no file missing\.png/],
    ['.card', 'opacity', '2', /The browser takes 2 as 1/],
    ['.hero p', 'width', '900px', /max-width: 10ch \(\.hero p, site\.css:\d+\) keeps width at [\d.]+px/],
    ['.card', 'border-top-width', '3px', /border-top-style is none.*so border-top-width is 0px/],
  ])('%s { %s: %s } is flagged with the reason', async (selector, property, value, why) => {
    const studio = getStudio()
    if (property === 'width') {
      await placeOf(studio, selector, 'max-width')
      await commit(studio, 'max-width', '10ch')
    }
    await placeOf(studio, selector, property)
    const made = await commit(studio, property, value)
    expect(made).toMatchObject({ verdict: 'differs' })
    expect(made.example).toMatch(why)
    expect(await studio.text('ledger-why')).toMatch(why)
    await undo(studio)
    if (property === 'width') await undo(studio)
  })

  test('others in reach that something stronger decides are told beside the tick', async () => {
    const studio = getStudio()
    await run(
      studio,
      `await p.session.making.typed('site.css', await p.desk.current.text('site.css'), (await p.desk.current.text('site.css')) + '\\n.card:last-child {\\n  padding: 1px;\\n}\\n')`,
    )
    await placeOf(studio, '.card', 'padding-top')
    const made = await commit(studio, 'padding-top', '1.5em')
    expect(made).toMatchObject({ verdict: 'holds', label: '.card' })
    expect(made.except).toMatch(/padding-top is 1px, from \.card:last-child/)
    await undo(studio)
    await undo(studio)
  })
})
