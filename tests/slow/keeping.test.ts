import { readFileSync } from 'node:fs'
import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { openBrowser } from '../support/browser'
import { Studio, useStudioBrowser } from '../support/studio'

const getStudio = useStudioBrowser()

async function menu(studio: Studio, item: string): Promise<void> {
  await (await studio.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
  await studio.menuItem(item)
  await studio.driver.sleep(500)
}

/** Presses a button in the row of the history that says this. */
async function inHistory(studio: Studio, row: string, button: string): Promise<void> {
  const found = await studio.until(`${button} at ${row}`, async () =>
    studio.driver.findElement(
      By.xpath(`//*[@data-testid="history-row" and contains(normalize-space(.), "${row}")]//button[.="${button}"]`),
    ),
  )
  await studio.driver.executeScript('arguments[0].click()', found)
  await studio.driver.sleep(500)
}

const status = (studio: Studio) => studio.driver.executeScript<string>('return window.steadyProof.state().status?.text ?? ""')

/** A key of ours, with nothing being typed. */
async function shortcut(studio: Studio, key: string): Promise<void> {
  await studio.driver.executeScript('document.activeElement?.blur()')
  await studio.key(key)
}

/** Types a value into a row, and waits until it was read back. */
async function type(studio: Studio, property: string, value: string): Promise<void> {
  await studio.edit(() => studio.type(property, value))
  await studio.driver.sleep(200)
}

async function close(studio: Studio): Promise<void> {
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(500)
}

describe('history', () => {
  test('an edit goes from the middle, or those that stand on it are named; any point is gone to, or brought back as an edit', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.goTo('/fares.html')
    const before = await studio.sourceNow('css/pages.css')
    await studio.pick('.fare h2', 0.9)
    await type(studio, 'font-size', '21px')
    const one = await studio.sourceNow('css/pages.css')
    await studio.pick('.fare', 0.5, 0.03)
    await type(studio, 'padding-left', '33px')
    await type(studio, 'padding-left', '44px')
    const all = await studio.sourceNow('css/pages.css')
    await shortcut(studio, 'y')
    await inHistory(studio, '22px 33px', 'Take out')
    await studio.until('what stands on it', async () =>
      /It cannot go by itself: padding-left of \.fare \(edit 3\) stands on it/.test(await status(studio)),
    )
    expect(await studio.sourceNow('css/pages.css')).toBe(all)
    await inHistory(studio, '18px 21px', 'Take out')
    expect(await studio.sourceNow('css/pages.css')).toBe(all.replace('font-size: 21px', 'font-size: 18px'))
    await studio.until('it on the page', async () => (await studio.computed('.fare h2', 'font-size')) === '18px')
    expect((await studio.ledger()).join()).not.toContain('21px')
    // Its loss can be undone like any edit.
    await inHistory(studio, '33px 44px', 'Go here')
    expect(await studio.sourceNow('css/pages.css')).toBe(all)
    await inHistory(studio, '18px 21px', 'Bring back')
    expect(await studio.sourceNow('css/pages.css')).toBe(one)
    await inHistory(studio, '33px 44px', 'Go here')
    expect(await studio.sourceNow('css/pages.css')).toBe(all)
    const search = await studio.driver.findElement(By.css('input[type=search]'))
    await search.sendKeys('.fare h2')
    await studio.until(
      'one found',
      async () =>
        (await studio.driver.findElements(By.css('[data-testid=history-row]'))).length >= 1 &&
        !(await studio.text('history')).includes('33px'),
    )
    await search.clear()
    await close(studio)
    await shortcut(studio, 'y')
    await studio.driver.sleep(400)
    await inHistory(studio, '18px 21px', 'Beside')
    await studio.until('both pages', async () => {
      await studio.driver.switchTo().frame(await studio.driver.findElement(By.css('[data-testid=beside-page]')))
      try {
        return await studio.driver.executeScript<boolean>('return getComputedStyle(document.querySelector(".fare")).paddingLeft === "22px"')
      } finally {
        await studio.driver.switchTo().defaultContent()
      }
    })
    expect(await studio.computed('.fare', 'padding-left')).toBe('44px')
    await studio.inPage('document.body.style.minHeight = "3000px"; scrollTo(0, 60)')
    await studio.until('both at one place', async () => {
      await studio.driver.switchTo().frame(await studio.driver.findElement(By.css('[data-testid=beside-page]')))
      try {
        // The other page is as long as it is: it goes as far as it can.
        return await studio.driver.executeScript<boolean>(
          'return scrollY === Math.min(60, document.documentElement.scrollHeight - innerHeight)',
        )
      } finally {
        await studio.driver.switchTo().defaultContent()
      }
    })
    await studio.press('End side by side')
    while ((await studio.ledger()).length) await studio.undo()
    expect(await studio.sourceNow('css/pages.css')).toBe(before)
  })
})

describe('takes', () => {
  test('another take is begun, switched to with a key on the same spot, compared, and edits are brought from one to the other', async () => {
    const studio = getStudio()
    await studio.pick('.fare', 0.5, 0.03)
    await type(studio, 'padding-left', '30px')
    await menu(studio, 'Takes of this one')
    await (await studio.driver.findElement(By.css('input[aria-label="Name of a new take"]'))).sendKeys('Wide')
    await studio.press('Begin it')
    await studio.until('two takes', async () => (await studio.driver.findElements(By.css('[data-testid=take]'))).length === 2)
    await close(studio)
    await studio.inPage('window.notLoadedAgain = true; scrollTo(0, 50)')
    await studio.pick('.fare h2', 0.9)
    await type(studio, 'font-size', '25px')
    const wide = await studio.sourceNow('css/pages.css')
    await shortcut(studio, 'k')
    await studio.until('the first take', async () => (await studio.computed('.fare h2', 'font-size')) === '18px')
    expect(await studio.computed('.fare', 'padding-left')).toBe('30px')
    expect(await studio.inPage('return window.notLoadedAgain')).toBe(true)
    await studio.pick('.fare p', 0.5, 0.5)
    await type(studio, 'font-size', '13px')
    const first = await studio.sourceNow('css/pages.css')
    await menu(studio, 'Takes of this one')
    await studio.until('the difference', async () => /font-size: 25px[\s\S]*font-size: 18px/.test(await studio.text('takes-difference')))
    await (await studio.driver.findElement(By.xpath('//ul[@aria-label="Edits of Wide"]//label[contains(., "25px")]//input'))).click()
    await studio.press('Bring 1 into the current take')
    await studio.until(
      'it here',
      async () => (await studio.sourceNow('css/pages.css')) === first.replace('font-size: 18px', 'font-size: 25px'),
    )
    await close(studio)
    await shortcut(studio, 'k')
    await studio.until('the other', async () => (await studio.sourceNow('css/pages.css')) === wide)
    await menu(studio, 'Takes of this one')
    await studio.press('Make the current take the project')
    await studio.until('one take', async () => (await studio.driver.findElements(By.css('[data-testid=take]'))).length === 1)
    await close(studio)
    // Kept over a reload.
    await studio.open('/?proof')
    expect(await studio.sourceNow('css/pages.css')).toBe(wide)
  })
})

describe('what is taken away', () => {
  test('the changed rules, a note with reasons and wishes, as words and as data of the published schema', async () => {
    const studio = getStudio()
    const css = (await studio.take('The changed rules as CSS')).bytes.toString()
    expect(css).toBe('/* css/pages.css */\n.fare {\n  padding: 18px 22px 18px 30px;\n}\n\n.fare h2 {\n  font-size: 25px;\n}\n')
    await studio.pick('.fare h2', 0.9)
    await (await studio.test('save')).click()
    await studio.menuItem('A hand-off note')
    await (
      await studio.until('the field', async () => studio.driver.findElement(By.css('textarea[aria-label="A wish"]')))
    ).sendKeys('Shorter headings, please')
    await studio.press('Add the wish')
    await studio.until('the note', async () => /Shorter headings, please[\s\S]*<h2>/.test(await studio.text('note')))
    const text = await studio.text('note')
    expect(text).toMatch(
      /## \d\. `\.fare h2`: font-size\n\n- where: `css\/pages\.css:\d+`\n- before: `18px`\n- after: `25px`\n- why there: .+\n- reaches 6 elements; read back: holds/,
    )
    const schema = JSON.parse(readFileSync('public/schemas/hand-off-1.json', 'utf8')) as {
      required: string[]
      properties: { edits: { items: { required: string[] } } }
    }
    const note = JSON.parse(
      await studio.driver.executeAsyncScript<string>(
        'const done = arguments[0]; window.steadyProof.desk.handing.handOff().then((n) => done(n.json))',
      ),
    ) as { edits: object[]; wishes: { elements: { selector: string; file: string }[] }[] }
    expect(Object.keys(note).sort()).toEqual([...schema.required].sort())
    for (const edit of note.edits) expect(Object.keys(edit).sort()).toEqual([...schema.properties.edits.items.required].sort())
    expect(note.wishes[0].elements).toMatchObject([{ file: 'fares.html' }])
    await close(studio)
  })

  test('of one element: what was changed for it, the selector of its rule, one that is its own', async () => {
    const studio = getStudio()
    await studio.driver.executeScript('window.copied = null; navigator.clipboard.writeText = async (t) => { window.copied = t }')
    const copied = async (item: string) => {
      await studio.press('Element ▾')
      await studio.menuItem(item)
      return studio.until('the copy', () =>
        studio.driver.executeScript<string | null>('const t = window.copied; window.copied = null; return t'),
      )
    }
    await studio.pick('.fare:nth-child(2) h2', 0.9)
    expect(await copied('Copy what was changed for it')).toBe('.fare h2 {\n  font-size: 25px;\n}')
    const own = await copied('Copy a selector of its own')
    expect(
      await studio.inPage('const all = document.querySelectorAll(arguments[0]); return all.length === 1 && all[0].textContent', own),
    ).toBe('Islander')
    expect(await copied('Copy the selector of its rule')).toMatch(/^\.fare/)
  })
})

describe('projects and preferences', () => {
  test('projects have a picture, are named, begun and removed with what would be lost; all of it goes to a file and back', async () => {
    const studio = getStudio()
    await menu(studio, 'All projects')
    const cards = () => studio.driver.findElements(By.css('[data-testid=project-card]'))
    expect(await (await cards())[0].getText()).toMatch(/17 files[\s\S]*3 edits not saved|2 edits not saved/)
    expect(
      await studio.driver.executeScript('return document.querySelector("[data-testid=project-card] button").style.backgroundImage'),
    ).toContain('svg')
    await studio.press('An empty page')
    await studio.until('it open', () => studio.driver.executeScript<boolean>('return document.title.startsWith("New page")'))
    await studio.ready()
    await studio.pick('h1')
    await type(studio, 'margin-top', '9px')
    const blob = await studio.driver.executeAsyncScript<string>(
      'const done = arguments[0]; indexedDB.databases().then((d) => done(d.map((x) => x.name).join()))',
    )
    expect(blob).toContain('steady-brush')
    await menu(studio, 'All projects')
    expect(await cards()).toHaveLength(2)
    const name = await studio.driver.findElement(By.css('input[aria-label="Name of New page"]'))
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Blank', Key.ENTER)
    await studio.until('its name', async () => (await (await cards())[0].getText()).includes('1 edit not saved'))
    const backup = await studio.download(() => studio.press('All of it as one file'))
    const remove = await studio.driver.findElement(By.xpath('//*[@data-testid="project-card"][1]//button[.="Remove…"]'))
    await remove.click()
    expect(await (await studio.driver.findElement(By.css('[role=alertdialog]'))).getText()).toMatch(
      /1 edit and all of its history would be lost\. Its 2 files go with it\./,
    )
    await studio.press('Remove it')
    await studio.until('the other open', () => studio.driver.executeScript<boolean>('return document.title.startsWith("Brinewick Ferry")'))
    await studio.ready()
    await menu(studio, 'All projects')
    expect(await cards()).toHaveLength(1)
    // What is no backup changes nothing.
    await (await studio.driver.findElement(By.css('[data-testid=backup-input]'))).sendKeys(`${process.cwd()}/package.json`)
    await studio.until('the refusal', async () => /no backup of Steady Brush/.test(await status(studio)))
    await (await studio.driver.findElement(By.css('[data-testid=backup-input]'))).sendKeys(backup)
    // One of them is there still: it is asked before that one is replaced.
    await studio.until('the question', async () =>
      /project of that name already: Brinewick Ferry/.test(await (await studio.driver.findElement(By.css('body'))).getText()),
    )
    await studio.press('Replace Brinewick Ferry')
    await studio.until('both again', () =>
      studio.driver.executeAsyncScript<boolean>(
        'const done = arguments[0]; const r = indexedDB.open("steady-brush"); r.onsuccess = () => { const q = r.result.transaction("projects").objectStore("projects").getAll(); q.onsuccess = () => { r.result.close(); done(q.result.some((p) => p.name === "Blank") && q.result.length === 2) } }',
      ),
    )
    await studio.ready()
    await close(studio)
  })

  test('preferences hold for all projects or one; a damaged one falls back and is told', async () => {
    const studio = getStudio()
    await menu(studio, 'Preferences')
    const set = async (label: string, value: string) => {
      const select = await studio.driver.findElement(By.xpath(`//label[contains(., "${label}")]//select`))
      await select.sendKeys(value)
      await studio.driver.sleep(300)
    }
    await set('Theme', 'dark')
    await studio.until('the dark theme', () =>
      studio.driver.executeScript<boolean>('return getComputedStyle(document.body).backgroundColor === "rgb(20, 28, 30)"'),
    )
    await set('Theme', 'light')
    await set('Lengths that are pulled', 'rem')
    await close(studio)
    await studio.goTo('/')
    await studio.pick('h1')
    await studio.pull('margin-top', 30, Key.ALT)
    expect(await (await studio.driver.findElement(By.css('[data-testid=ledger-row]'))).getText()).toMatch(/rem/)
    await studio.driver.executeAsyncScript(
      'const done = arguments[0]; const r = indexedDB.open("steady-brush"); r.onsuccess = () => { const t = r.result.transaction("preferences", "readwrite"); t.objectStore("preferences").put({ scope: "", values: { theme: "light", units: 7, sparkle: true } }); t.oncomplete = () => { r.result.close(); done() } }',
    )
    await studio.open('/?proof')
    await studio.until('what was damaged', async () => /damaged[^:]*: units, sparkle/.test(await status(studio)))
  })

  test('a project is edited in one window; another shows it, follows it, and may take it over', async () => {
    const studio = getStudio()
    const [first] = await studio.driver.getAllWindowHandles()
    await studio.driver.switchTo().newWindow('tab')
    const [, second] = await studio.driver.getAllWindowHandles()
    await studio.open('/?proof')
    await studio.test('read-only')
    await studio.pick('h1')
    await studio.driver.executeAsyncScript(
      'const done = arguments[0]; window.steadyProof.session.edits.commit("margin-top", "55px").then(() => done())',
    )
    expect(await status(studio)).toContain('being edited in another window')
    await studio.driver.switchTo().window(first)
    await studio.driver.executeAsyncScript(
      'const done = arguments[0]; window.steadyProof.session.selection.find("h1").then((n) => window.steadyProof.session.selection.pick(n[0])).then(() => window.steadyProof.session.edits.commit("margin-top", "66px")).then(() => done())',
    )
    await studio.driver.switchTo().window(second)
    await studio.until('what was done there', async () => (await studio.computed('h1', 'margin-top')) === '66px')
    await (await studio.test('read-only')).click()
    await studio.until(
      'it here',
      async () =>
        (await studio.driver.findElements(By.css('[data-testid=read-only]'))).length === 0 &&
        studio.driver.executeScript<boolean>('return document.querySelector("main[data-connected]") !== null'),
    )
    await studio.pick('h1')
    await type(studio, 'margin-top', '77px')
    await studio.driver.switchTo().window(first)
    await studio.test('read-only')
    await studio.driver.switchTo().window(second)
    await studio.driver.close()
    await studio.driver.switchTo().window(first)
  })
})

test('what was left is what is opened: page, width, scroll, choice and panels', async () => {
  const browser = await openBrowser()
  try {
    const studio = new Studio(browser, getStudio().url)
    await studio.open('/?proof')
    await studio.goTo('/fares.html')
    await studio.press('Half')
    await studio.driver.executeScript('window.steadyProof.session.setWidth(600)')
    await shortcut(studio, 'o')
    await studio.test('outline')
    await studio.pick('.fare:nth-child(3) h2', 0.9)
    await studio.driver.sleep(600)
    const of = () =>
      studio.driver.executeScript(
        'const s = window.steadyProof.state(); return [s.address, s.width, s.outline, s.strip, s.picked?.report.info.source]',
      )
    const before = await of()
    await studio.open('/?proof')
    await studio.until('the same again', async () => JSON.stringify(await of()) === JSON.stringify(before))
    // Where the interface itself fails, it says so, and opens again with every edit.
    await studio.edit(() => studio.type('margin-bottom', '11px'))
    await studio.driver.executeScript('window.steadyProof.session.setWidth(1e15)')
    expect(await studio.text('own-fault')).toContain('Each edit that stood in the ledger is stored')
    await studio.press('Open it again')
    await studio.ready()
    await studio.until('the edit', async () => (await studio.ledger()).join().includes('11px'))
  } finally {
    await browser.close()
  }
})
