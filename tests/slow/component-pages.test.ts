import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { By, Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { openBrowser, type OpenedBrowser } from '../support/browser'
import { deskInGit, linkPackages } from '../support/desk-copy'
import { freePort, startApp, type RunningApp } from '../support/server'
import { Studio } from '../support/studio-driver'

let folder: string
let app: RunningApp
let browser: OpenedBrowser
let studio: Studio
const read = (path: string): string => readFileSync(join(folder, path), 'utf8')
let git: (...args: string[]) => string
const lineOf = (path: string, text: string): number =>
  read(path)
    .split('\n')
    .findIndex((l) => l.includes(text)) + 1

beforeAll(async () => {
  ;({ folder, git } = deskInGit())
  app = await startApp({}, folder)
  browser = await openBrowser()
  studio = new Studio(browser, app.url)
})
afterAll(async () => {
  await browser.close()
  app.stop()
  rmSync(folder, { recursive: true })
})

const shown = (selector: string, property: string) => studio.computed(selector, property)
const madeOf = async (selector: string, dx = 0.5, dy = 0.5) => {
  await studio.pick(selector, dx, dy)
  return (await studio.text('made')).split('\n').slice(0, 2).join(' ')
}

describe('a project of components on Vite', () => {
  test('whose packages are not installed says so, and what to do', async () => {
    await studio.driver.get(app.address)
    expect(await studio.text('live-fault')).toMatch(/packages of this project are not installed[^]*npm install/)
    // Packages that are there afterwards are found.
    linkPackages(folder)
    await studio.press('Try again')
    await studio.ready()
    await studio.driver.get(`${app.url}/?proof`)
    await studio.ready()
    await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".crossing") !== null'))
  })

  test('each element leads to the tag that made it, and to the components that led there', async () => {
    expect(await madeOf('.crossing:nth-child(2)', 0.05, 0.96)).toBe(
      `App › Today › <li> 2 of 4 Today.tsx:${lineOf('src/pages/Today.tsx', '<li')}`,
    )
    expect(await madeOf('.card-note', 0.1, 0.5)).toBe(`App › Today › Card › <p> Card.tsx:${lineOf('src/parts/Card.tsx', '<p className')}`)
    // The component that it is of, and where just this one of it is used.
    expect((await studio.text('usage')).replace(/\s+/g, ' ')).toBe(
      `this Card, one of 4 usages in 3 files Today.tsx:${lineOf('src/pages/Today.tsx', '<Card')}`,
    )
    await (await studio.test('made-place')).click()
    expect(await studio.markedLine()).toContain('{note && <p className="card-note">{note}</p>}')
    expect(await studio.text('reach')).toContain('at least 1, counted on this page')
    // A component's name chooses the first element that it shows.
    await (await studio.driver.findElement(By.xpath('//nav[@aria-label="Components"]//button[.="Card"]'))).click()
    await studio.until('the card', async () => /<section>/.test(await studio.text('made')))
  })

  test('the outline says which components elements are the outermost of', async () => {
    await studio.key('o')
    const rows = await studio.until('its rows', async () => {
      const found = await studio.driver.executeScript<[component: string, tag: string][]>(
        'return [...document.querySelectorAll("[role=treeitem] small[data-kind=component]")].map((e) => [e.textContent, e.nextElementSibling.textContent])',
      )
      return found.length > 2 ? found : null
    })
    expect(rows).toContainEqual(['App', 'div'])
    expect(rows).toContainEqual(['Card', 'section'])
    await studio.key('o')
  })

  test('the caret in a component’s file chooses the element of the tag that it stands in', async () => {
    // What says how far something is read lies over the last lines of Source.
    await studio.until('nothing being read', () =>
      studio.driver.executeScript<boolean>(
        'return document.querySelector("[data-testid=vocabulary-progress], [data-testid=reading-folder]") === null',
      ),
    )
    await (
      await studio.driver.findElement(By.xpath('//*[contains(concat(" ", @class, " "), " cm-line ")]//span[contains(., "card-note")]'))
    ).click()
    await studio.until('the note', async () => /<p>/.test(await studio.text('made')))
    expect(await studio.text('made-place')).toMatch(/^Card\.tsx:/)
  })

  test('an edit of style lands in its rule, is shown with the state of the page kept, and is on the page after it is loaded again', async () => {
    await studio.inPage('window.mark = 1; document.querySelector(".call").click()')
    await studio.inPage('document.querySelector(".call").click()')
    await studio.pick('.crossing', 0.05, 0.96)
    expect(await studio.edit(() => studio.type('padding-top', '14px'))).toMatch(/Today\.css:\d+ padding-top .*14px reach 4/)
    expect(await shown('.crossing', 'padding-top')).toBe('14px')
    expect(git('status', '--porcelain')).toBe('')
    expect(await studio.inPage('return [window.mark, document.querySelector(".call").textContent]')).toEqual([1, 'Called 2 times'])
    await studio.inPage('location.reload()')
    await studio.until('loaded again', async () => (await studio.inPage('return window.mark ?? null')) === null)
    await studio.ready()
    await studio.until('the edit', async () => (await shown('.crossing', 'padding-top')) === '14px')
    // What was chosen is chosen again.
    await studio.until('the choice', async () => (await studio.text('made')).includes('<li> 1 of 4'))
  })

  test('saved, it is in the file as though typed, and the page is not loaded for it', async () => {
    await studio.inPage('window.mark = 2')
    await (await studio.test('save')).click()
    await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
    await (await studio.test('save-now')).click()
    await studio.until('saved', async () => (await studio.ledger()).length === 0)
    expect(
      git('diff', '-U0')
        .split('\n')
        .filter((l) => /^[-+] /.test(l)),
    ).toEqual(['-  padding: var(--space-2) 0;', '+  padding: 14px 0 var(--space-2);'])
    expect(git('status', '--porcelain')).toBe(' M src/pages/Today.css\n')
    expect(await studio.inPage('return window.mark')).toBe(2)
    await studio.pick('.crossing', 0.05, 0.96)
    // And edited again, on the sheet that the server's own update has put there.
    await studio.edit(() => studio.type('padding-top', '18px'))
    expect(await shown('.crossing', 'padding-top')).toBe('18px')
  })

  test('what is changed in another program comes by the server’s own update; its tags are found where they stand now', async () => {
    writeFileSync(
      join(folder, 'src/pages/Today.tsx'),
      read('src/pages/Today.tsx')
        .replace('export function Today() {', '// The first page.\nexport function Today() {')
        .replace('Crossings today', 'Crossings now'),
    )
    await studio.until(
      'the heading',
      async () => (await studio.inPage('return document.querySelector("h1").textContent')) === 'Crossings now',
    )
    expect(await studio.inPage('return window.mark')).toBe(2)
    await studio.until(
      'its place',
      async () => (await madeOf('.crossing', 0.05, 0.96)) === `App › Today › <li> 1 of 4 Today.tsx:${lineOf('src/pages/Today.tsx', '<li')}`,
    )
    expect(await shown('.crossing', 'padding-top')).toBe('18px')
  })

  test('a change of its settings begins the server again, and the page is there as before', async () => {
    writeFileSync(join(folder, 'vite.config.ts'), `${read('vite.config.ts')}\n// Nothing more.\n`)
    await studio.until('begun again', async () => (await studio.inPage('return window.mark ?? null')) === null)
    await studio.ready()
    writeFileSync(join(folder, 'src/pages/Today.tsx'), read('src/pages/Today.tsx').replace('Crossings now', 'Boats now'))
    await studio.until('the heading', async () => (await studio.inPage('return document.querySelector("h1")?.textContent')) === 'Boats now')
    expect(await madeOf('.crossing', 0.05, 0.96)).toBe(`App › Today › <li> 1 of 4 Today.tsx:${lineOf('src/pages/Today.tsx', '<li')}`)
  })

  test('a rule of a module is edited by the name that its source has, and no name that a compiler made is written', async () => {
    await studio.pick('svg', 0.5, 0.995)
    expect(await studio.text('aim-label')).toBe('.chart')
    const labels = await studio.driver.executeScript<string[]>(
      'return [...window.steadyProof.state().picked.aims.values()].flatMap((a) => a.candidates.map((c) => `${c.label} ${c.path}`))',
    )
    expect(labels.filter((l) => /_chart|_[a-z]+_\w{4,}_\d/.test(l))).toEqual([])
    // A rule that is not there yet goes to no module but beside one of it.
    expect(labels.filter((l) => l.includes('.module.css') && !/^(\.chart|--)/.test(l))).toEqual([])
    const save = async () => {
      await (await studio.test('save')).click()
      await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
      await (await studio.test('save-now')).click()
      await studio.until('saved', async () => (await studio.ledger()).length === 0)
    }
    await studio.unfold('Size')
    expect(await studio.edit(() => studio.type('height', '150px'))).toMatch(/SeatChart\.module\.css:\d+ height 120px 150px reach 1/)
    expect(await shown('svg', 'height')).toBe('150px')
    await save()
    expect(read('src/parts/SeatChart.module.css')).toContain('.chart {\n  display: block;\n  width: 100%;\n  height: 150px;\n}')
    // The compiler may give it another name with each text; what follows is as before.
    await studio.driver.sleep(1000)
    await studio.pick('svg', 0.5, 0.995)
    await studio.edit(() => studio.type('height', '140px'))
    expect(await shown('svg', 'height')).toBe('140px')
    await studio.inPage('location.reload()')
    await studio.driver.sleep(300)
    await studio.ready()
    await studio.until('it again', async () => (await shown('svg', 'height')) === '140px')
  })

  test('a route is followed; a component in several places is told apart by what led there', async () => {
    await studio.inPage('document.querySelector("nav a[href=\'/fares\']").click()')
    await studio.until('the fares', () => studio.inPage<boolean>('return document.querySelectorAll(".card").length === 5'))
    await studio.until(
      'its address',
      async () =>
        (await (await studio.driver.findElement(By.css('input[aria-label="Address of the page"]'))).getAttribute('value')) === '/fares',
    )
    expect(await madeOf('.card', 0.02, 0.5)).toBe(
      `App › Fares › Card › <section> 1 of 5 Card.tsx:${lineOf('src/parts/Card.tsx', '<section')}`,
    )
    expect((await studio.text('usage')).replace(/\s+/g, ' ')).toContain(`Fares.tsx:${lineOf('src/pages/Fares.tsx', '<Card key')}`)
    expect(await madeOf('main > .card', 0.005, 0.5)).toContain('5 of 5')
    expect((await studio.text('usage')).replace(/\s+/g, ' ')).toContain(`Fares.tsx:${lineOf('src/pages/Fares.tsx', 'Children')}`)
    expect(await madeOf('.price', 0.5, 0.5)).toBe(`App › Fares › <b> 1 of 4 Fares.tsx:${lineOf('src/pages/Fares.tsx', '<b')}`)
  })

  test('what the server prints is shown, its places lead to Source, and it is started again when that is asked for', async () => {
    const good = read('src/pages/Fares.tsx')
    writeFileSync(join(folder, 'src/pages/Fares.tsx'), good.replace('<h1>Fares</h1>', '<h1>Fares</h2>'))
    const open = async () => {
      await (await studio.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
      await studio.menuItem('Its development server')
    }
    await open()
    expect(await studio.text('server-state')).toMatch(
      /^It runs at http:\/\/127\.0\.0\.1:\d+, from the project’s own packages and settings\.$/,
    )
    const place = await studio.until('the place of the fault', () =>
      studio.driver.findElement(By.xpath('//pre[@aria-label="What it printed"]//button[contains(., "Fares.tsx:")]')),
    )
    await place.click()
    await studio.until('its line', async () => /Fares|div|<>/.test(await studio.markedLine()))
    writeFileSync(join(folder, 'src/pages/Fares.tsx'), good)
    await open()
    const before = await studio.text('server-state')
    await studio.press('Start it again')
    await studio.until('another start', async () => (await studio.driver.findElements(By.css('main[data-connected]'))).length === 0)
    await studio.ready()
    await studio.until('the page', () => studio.inPage<boolean>('return document.querySelector(".card") !== null'))
    await open()
    expect(await studio.until('its address', async () => studio.text('server-state'))).not.toBe(before)
    await studio.key(Key.ESCAPE)
    await studio.until('the dialog closed', async () => (await studio.driver.findElements(By.css('[role=dialog]'))).length === 0)
    // What another program wrote is nothing that a save would write.
    expect(await studio.driver.executeScript<string[]>('return window.steadyProof.state().ledger.changed')).toEqual([
      'src/parts/SeatChart.module.css',
    ])
    // Shown where it was.
    expect(await studio.inPage('return location.pathname')).toBe('/fares')
  })

  test('a server that ends is told, and started again; one that runs already is shown by its address', async () => {
    const card = join(folder, 'src/parts/Card.tsx')
    const running = execFileSync('pgrep', ['-f', 'vite-child.mjs'], { encoding: 'utf8' })
    for (const pid of running.trim().split('\n')) {
      const cwd = execFileSync('readlink', [`/proc/${pid}/cwd`], { encoding: 'utf8' }).trim()
      if (cwd === folder) process.kill(Number(pid), 'SIGKILL')
    }
    await studio.until('what happened', async () => /Vite \S+ does not run[^]*ended/.test(await studio.text('live-fault')))
    const giveAddress = async (address: string) => {
      await studio.retype(await studio.driver.findElement(By.css('[data-testid=live-fault] input')), address)
      await studio.press('Show its page')
    }
    await giveAddress('http://brinewick.example')
    await studio.until('why not', async () => /not on this machine/.test(await studio.text('live-fault')))
    const start = (at: number): ChildProcess =>
      spawn(process.execPath, ['node_modules/vite/bin/vite.js', '--port', String(at), '--strictPort', '--host', '127.0.0.1'], {
        cwd: folder,
        stdio: 'ignore',
      })
    const port = await freePort()
    let own = start(port)
    try {
      await studio.until('it answers', async () => (await fetch(`http://127.0.0.1:${port}`)).ok)
      await giveAddress(`http://127.0.0.1:${port}`)
      await studio.ready()
      await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".card") !== null'))
      // Its modules get their stamps on their way to the page.
      await studio.pick('.card', 0.005, 0.5)
      expect(await studio.text('made')).toContain('Card')
      // What only the server can show is written at once, and written back by undo.
      const before = readFileSync(card, 'utf8')
      await studio.driver.executeAsyncScript(
        `const { session, state } = window.steadyProof
        session.edits
          .onElement({ kind: 'set-attribute', source: state().picked.report.info.source, name: 'title', value: 'At the quay' })
          .then(arguments[0])`,
      )
      expect(await studio.inPage('return document.querySelector(".card").title')).toBe('At the quay')
      expect(readFileSync(card, 'utf8')).toBe(before.replace('card-${tone}`}', 'card-${tone}`} title="At the quay"'))
      expect(await studio.driver.executeScript('return window.steadyProof.state().status.text')).toMatch(/^Written to the folder at once/)
      await studio.driver.executeAsyncScript("window.steadyProof.session.timeline.step('undo').then(arguments[0])")
      await studio.until('written back', () => Promise.resolve(readFileSync(card, 'utf8') === before))
      await studio.until('as before', () => studio.inPage<boolean>('return document.querySelector(".card").title === ""'))
      // Rules are laid on the page as anywhere, until they are saved.
      await studio.pick('.card', 0.005, 0.5)
      expect(await studio.edit(() => studio.type('padding-left', '24px'))).toMatch(/Card\.css:\d+ padding-left .*24px reach/)
      expect(readFileSync(card.replace('.tsx', '.css'), 'utf8')).not.toContain('24px')
      // It is gone, and runs at another port then.
      own.kill()
      await studio.until('what happened', async () => /does not run any more[^]*Nothing answers/.test(await studio.text('live-fault')))
      const other = await freePort()
      own = start(other)
      await studio.until('it answers', async () => (await fetch(`http://127.0.0.1:${other}`).catch(() => null))?.ok === true)
      await giveAddress(`http://127.0.0.1:${other}`)
      await studio.ready()
      await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".card") !== null'))
      // And comes back where it was.
      own.kill()
      await studio.until('what happened', async () => /Nothing answers/.test(await studio.text('live-fault')))
      own = start(other)
      await studio.ready()
      await studio.until('its page', () => studio.inPage<boolean>('return document.querySelector(".card") !== null'))
      await studio.pick('.card', 0.005, 0.5)
      expect(await studio.text('made')).toContain('Card')
    } finally {
      own.kill()
    }
  })
})
