import { existsSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { basename, join } from 'node:path'
import { zipSync } from 'fflate'
import { By, Key, until, type WebDriver, type WebElement } from 'selenium-webdriver'
import { Select } from 'selenium-webdriver/lib/select.js'
import type { OpenedBrowser } from './browser'

const WAIT = 30_000
/** How often what is waited for is looked at; ms. Each look is a question to the browser. */
const LOOK = 50

/**
 * The start of a script that looks at the window's own state, in it: `calm(done)` calls `done` once nothing that was asked
 * for is under way and the window is drawn. A page that hangs keeps what was asked of it under way: that is waited for
 * up to 5 s.
 */
const CALM = `
  const session = window.steadyProof?.session, latest = performance.now() + 5000
  const calm = (done) => {
    let times = 0
    const look = () => {
      times = session.selection.choices.isOver && session.writing.underWay.isOver ? times + 1 : 0
      if (times > 2 || performance.now() > latest) requestAnimationFrame(() => setTimeout(() => done(true)))
      else setTimeout(look, 10)
    }
    setTimeout(look, 10)
  }`

function expectHolds(verdict: string, why = ''): void {
  if (verdict !== 'holds') throw new Error(`The readback says: ${verdict} ${why}`)
}

/** Drives the interface as a person would: by what it shows and by pointer and keys. */
export class Studio {
  constructor(
    readonly browser: OpenedBrowser,
    readonly url: string,
  ) {}

  get driver(): WebDriver {
    return this.browser.driver
  }

  async open(query = ''): Promise<void> {
    await this.driver.get(this.url + query)
    await this.ready()
  }

  /** The page is loaded and its agent answers. */
  async ready(): Promise<void> {
    await this.driver.wait(
      until.elementLocated(By.css('main[data-connected] [data-testid=live-page]')),
      WAIT,
      'the live page did not load',
      LOOK,
    )
    const isKnown = await this.driver.executeAsyncScript<boolean>(`
      ${CALM}
      const done = arguments[0]
      if (!session) return done(false)
      // What is drawn over and beside the page comes after it.
      const isThere = () => session.page.isGreeted && document.querySelector('[data-testid=aim]') !== null
      const look = () => (isThere() || performance.now() > latest ? calm(done) : setTimeout(look, 10))
      look()`)
    if (!isKnown) await this.driver.sleep(250)
  }

  /** Nothing that was asked for is under way: choices are read, edits written and read back, and the window is drawn. What is not seen from outside is waited for by time. */
  async settled(): Promise<void> {
    const isKnown = await this.driver.executeAsyncScript<boolean>(`${CALM}; session ? calm(arguments[0]) : arguments[0](false)`)
    if (!isKnown) await this.driver.sleep(300)
  }

  test(id: string): Promise<WebElement> {
    return this.driver.wait(until.elementLocated(By.css(`[data-testid="${id}"]`)), WAIT, `nothing has the test id ${id}`)
  }

  async text(id: string): Promise<string> {
    return (await this.test(id)).getText()
  }

  /** Waits until `read` gives something true, whatever the page redraws meanwhile. */
  async until<T>(what: string, read: () => Promise<T | false | null | undefined>): Promise<T> {
    return this.driver.wait(
      async () => {
        try {
          return (await read()) || false
        } catch {
          return false
        }
      },
      WAIT,
      `waited for: ${what}`,
      LOOK,
    ) as Promise<T>
  }

  /** Opens a sample project, fresh, by what the menu of projects calls it, and waits for its vocabulary of classes if it has one. */
  async openSample(name: string): Promise<void> {
    await (await this.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
    await this.menuItem(name)
    await this.until(`the sample ${name}`, () =>
      this.driver.executeScript<boolean>('return document.title.startsWith(arguments[0])', name.split(',')[0]),
    )
    await this.ready()
    await this.until('its classes read', () =>
      this.driver.executeScript<boolean>(
        'return document.querySelector("[data-testid=vocabulary-progress]") === null && (window.steadyProof?.state().vocabulary?.share ?? 1) === 1',
      ),
    )
  }

  /** What the Aim says would be written, or is, for a class list. */
  classWrites(): Promise<string> {
    return this.text('class-writes')
  }

  async goTo(address: string): Promise<void> {
    // The field is made again when the page reports its address.
    await this.until('the address typed', async () => {
      const field = await this.driver.findElement(By.css('input[aria-label="Address of the page"]'))
      await field.click()
      await field.sendKeys(Key.chord(Key.CONTROL, 'a'), address, Key.ENTER)
      return true
    })
    await this.until(
      `the page at ${address}`,
      async () =>
        (await this.inPage<string>('return location.pathname + location.search')) === address &&
        this.inPage<boolean>('return document.readyState === "complete"'),
    )
    await this.ready()
  }

  /** Runs a script in the live page itself. */
  async inPage<T>(script: string, ...args: unknown[]): Promise<T> {
    const frame = await this.driver.findElement(By.css('[data-testid=live-page]'))
    await this.driver.switchTo().frame(frame)
    try {
      return await this.driver.executeScript<T>(script, ...args)
    } finally {
      await this.driver.switchTo().defaultContent()
    }
  }

  /**
   * A point of the window over the middle of the page's first element for `selector`, or over another spot of it, once the
   * page is laid out: what was done before may still move it. `first` is run in the page before.
   */
  async pointOver(selector: string, dx = 0.5, dy = 0.5, first = ''): Promise<{ x: number; y: number }> {
    const frame = await this.driver.findElement(By.css('[data-testid=live-page]'))
    await this.driver.switchTo().frame(frame)
    let at: { x: number; y: number; w: number }
    try {
      at = await this.driver.executeAsyncScript(
        `const [selector, dx, dy, done] = arguments
        ${first}
        let before = '', tries = 0
        const look = () => {
          const r = document.querySelector(selector).getBoundingClientRect()
          const at = { x: r.left + r.width * dx, y: r.top + r.height * dy, w: innerWidth }
          if (JSON.stringify(at) === before || ++tries > 20) return done(at)
          before = JSON.stringify(at)
          setTimeout(look, 30)
        }
        look()`,
        selector,
        dx,
        dy,
      )
    } finally {
      await this.driver.switchTo().defaultContent()
    }
    const rect = await (await this.test('overlay')).getRect()
    const scale = rect.width / at.w
    return { x: Math.round(rect.x + at.x * scale), y: Math.round(rect.y + at.y * scale) }
  }

  async clickAt(point: { x: number; y: number }): Promise<void> {
    await this.driver.actions().move(point).click().perform()
  }

  /** Picks by pointing at the element. `dx` and `dy` choose a spot that no child covers. */
  async pick(selector: string, dx = 0.5, dy = 0.5): Promise<void> {
    const point = await this.pointOver(selector, dx, dy, 'document.querySelector(selector).scrollIntoView({ block: "nearest" })')
    // The same element may be picked again: only what the page said of it is then another.
    const node = await this.driver.executeScript<string | null>(`
      window.pickedBefore = window.steadyProof?.state().picked
      return document.querySelector('[data-testid=aim]')?.dataset.node ?? null`)
    await this.clickAt(point)
    const isKnown = await this.driver.executeAsyncScript<boolean>(
      `${CALM}
      const [node, done] = arguments
      const look = () => {
        const isPicked =
          (document.querySelector('[data-testid=aim]')?.dataset.node ?? null) !== node ||
          (session && window.steadyProof.state().picked !== window.pickedBefore)
        if (!isPicked && performance.now() < latest) return setTimeout(look, 10)
        if (session) calm(done)
        else done(false)
      }
      look()`,
      node,
    )
    await this.pickedFrame()
    if (!isKnown) await this.driver.sleep(300)
  }

  /** Turns the wheel over a point of the window. */
  async scroll(x: number, y: number, dy: number): Promise<void> {
    // The published types lag behind: `scroll` is in the package since 4.2.
    const actions = this.driver.actions() as unknown as {
      scroll(x: number, y: number, dx: number, dy: number): { perform(): Promise<void> }
    }
    await actions.scroll(x, y, 0, dy).perform()
  }

  pickedFrame(): Promise<WebElement> {
    return this.test('picked-frame')
  }

  async tape(property: string): Promise<WebElement> {
    const tape = await this.driver.wait(
      until.elementLocated(By.css(`[data-testid="row-${property}"] [role=slider]`)),
      WAIT,
      `no tape for ${property}`,
    )
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', tape)
    return tape
  }

  /** Pulls a tape by screen px without letting go. */
  async startPull(property: string, by: number, ...held: string[]): Promise<void> {
    const tape = await this.tape(property)
    let actions = this.driver.actions({ async: true })
    for (const key of held) actions = actions.keyDown(key)
    await actions
      .move({ origin: tape, x: 0, y: 0 })
      .press()
      .move({ origin: tape, x: Math.sign(by) * 3, y: 0, duration: 30 })
      .move({ origin: tape, x: by, y: 0, duration: 120 })
      .perform()
    await this.driver.sleep(150)
  }

  async endPull(...held: string[]): Promise<void> {
    let actions = this.driver.actions({ async: true }).release()
    for (const key of held) actions = actions.keyUp(key)
    await actions.perform()
  }

  async pull(property: string, by: number, ...held: string[]): Promise<void> {
    const before = (await this.ledger()).length
    await this.startPull(property, by, ...held)
    await this.endPull(...held)
    await this.newestOf(before + 1)
  }

  /** Types a value into a row of Tune. */
  async type(property: string, value: string): Promise<void> {
    const field = await this.driver.wait(until.elementLocated(By.css(`input[aria-label="${property} value"]`)), WAIT)
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
    await field.click()
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER)
  }

  /** Gives a property a value where its edits land, as a control does, for one that has no row on show. */
  async commit(property: string, value: string): Promise<void> {
    await this.driver.executeAsyncScript(
      'const [property, value, done] = arguments; window.steadyProof.session.edits.commit(property, value).then(done)',
      property,
      value,
    )
  }

  /** Unfolds a section of Tune. */
  async unfold(title: string): Promise<void> {
    const button = await this.test(`section-${title}`)
    if ((await button.getAttribute('aria-expanded')) === 'true') return
    await button.click()
    await this.until(`the rows of ${title}`, () =>
      this.driver.executeScript<boolean>(
        'return document.querySelector(`section[aria-label="${arguments[0]}"] [data-testid^=row-]`) !== null',
        title,
      ),
    )
    await this.atRest(button)
  }

  /** Chooses from a list by its label. */
  async choose(label: string, value: string): Promise<void> {
    const list = await this.driver.wait(until.elementLocated(By.css(`select[aria-label="${label}"]`)), WAIT, `no list ${label}`)
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', list)
    await new Select(list).selectByValue(value)
    await this.settled()
  }

  /** Presses the button with this text, the last of them on show. */
  async press(text: string): Promise<void> {
    const button = await this.until(`a button ${text}`, async () =>
      (await this.driver.findElements(By.xpath(`//button[contains(normalize-space(.), "${text}")]`))).at(-1),
    )
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', button)
    await button.click()
  }

  /** Presses the button that has this name and no text. */
  async pressNamed(name: string): Promise<void> {
    const button = await this.driver.wait(until.elementLocated(By.css(`button[aria-label="${name}"]`)), WAIT, `no button named ${name}`)
    await this.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', button)
    await button.click()
  }

  /** Does something that makes an edit, and waits until it has been read back. */
  async edit(work: () => Promise<void>): Promise<string> {
    const before = (await this.ledger()).length
    await work()
    const { verdict, why, row } = await this.newestOf(before + 1)
    expectHolds(verdict, why)
    // What is chosen is read again after it, and Source takes it in.
    await this.settled()
    return row
  }

  // The newest row of the ledger, once that has so many and this one has been read back.
  private async newestOf(rows: number): Promise<{ verdict: string; why: string; row: string }> {
    const newest = await this.driver.executeAsyncScript<{ verdict: string; why: string; row: string } | null>(
      `
      const [wanted, wait, done] = arguments, latest = performance.now() + wait
      const look = () => {
        const rows = document.querySelectorAll('[data-testid=ledger-row]')
        const verdict = rows[0]?.querySelector('[role=img]')
        if (rows.length === wanted && verdict && verdict.getAttribute('aria-label') !== 'being read')
          return done({ verdict: verdict.getAttribute('aria-label'), why: verdict.title, row: rows[0].innerText.replace(/\\s+/g, ' ') })
        if (performance.now() > latest) return done(null)
        setTimeout(look, 10)
      }
      look()`,
      rows,
      WAIT - 5000,
    )
    if (!newest) throw new Error(`waited for: ${rows} rows in the ledger and a verdict`)
    return newest
  }

  /** The text of a file as it would be taken away now. */
  async sourceNow(path: string): Promise<string> {
    return this.driver.executeAsyncScript<string>(
      'const done = arguments[1]; window.steadyProof.desk.current.text(arguments[0]).then(done)',
      path,
    )
  }

  async ledger(): Promise<string[]> {
    return this.driver.executeScript<string[]>(
      'return [...document.querySelectorAll("[data-testid=ledger-row]")].map((r) => r.innerText.replace(/\\s+/g, " "))',
    )
  }

  /** The verdict of the newest edit, once it has been read. */
  async verdict(): Promise<string> {
    return this.until('a verdict', async () => {
      const label = await this.driver.executeScript<string>(
        'return document.querySelector("[data-testid=ledger-row] [role=img]")?.getAttribute("aria-label")',
      )
      return label !== 'being read' && label
    })
  }

  /** Types over what a field has, as a person does. The driver's own way to empty one is lost now and then, where the window is drawn at that moment. */
  async retype(field: WebElement, text: string, ...keys: string[]): Promise<void> {
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, ...keys)
  }

  async key(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform()
  }

  /** Undoes the last edit and waits until its row is gone. */
  async undo(): Promise<void> {
    // An edit that is being written has no row yet.
    await this.settled()
    const before = (await this.ledger()).length
    await this.chord(Key.CONTROL, 'z')
    await this.until('one row fewer in the ledger', async () => (await this.ledger()).length === before - 1)
  }

  async chord(...keys: string[]): Promise<void> {
    let actions = this.driver.actions()
    for (const k of keys) actions = actions.keyDown(k)
    for (const k of [...keys].reverse()) actions = actions.keyUp(k)
    await actions.perform()
    await this.settled()
  }

  computed(selector: string, property: string): Promise<string> {
    return this.inPage<string>(
      'return getComputedStyle(document.querySelector(arguments[0])).getPropertyValue(arguments[1])',
      selector,
      property,
    )
  }

  /** Does what gives a file, and where that file lands. */
  async download(work: () => Promise<void>): Promise<string> {
    const before = new Set(readdirSync(this.browser.downloads))
    await work()
    const name = await this.until('a download', async () =>
      readdirSync(this.browser.downloads).find((f) => !before.has(f) && !f.endsWith('.crdownload') && !f.startsWith('.')),
    )
    const file = join(this.browser.downloads, name)
    await this.until('the whole file', async () => existsSync(file) && readFileSync(file).length > 0)
    await this.driver.sleep(200)
    return file
  }

  /** Chooses from the Save menu and gives the file that lands. */
  async take(item: string): Promise<{ name: string; bytes: Buffer }> {
    const file = await this.download(async () => {
      await (await this.test('save')).click()
      await this.menuItem(item)
    })
    return { name: basename(file), bytes: readFileSync(file) }
  }

  async menuItem(text: string): Promise<void> {
    const item = await this.driver.wait(
      until.elementLocated(By.xpath(`//*[@role="menuitem"][contains(., "${text}")]`)),
      WAIT,
      `no menu item ${text}`,
    )
    await this.atRest(item)
    await item.click()
    // A menu that is closing takes what is clicked next.
    await this.driver.executeAsyncScript(`
      const done = arguments[0], latest = performance.now() + 500
      const look = () => (document.querySelector('[role=menu]') && performance.now() < latest ? setTimeout(look, 10) : requestAnimationFrame(() => setTimeout(done)))
      look()`)
  }

  // What is being unfolded or faded in stands where it will stay, and is whole, before it is clicked.
  private async atRest(element: WebElement): Promise<void> {
    await this.driver.executeAsyncScript(
      `
      const [element, done] = arguments, latest = performance.now() + 2000
      const moving = () => document.getAnimations().some((a) => a.playState === 'running' && a.effect?.target?.contains(element))
      let before = '', times = 0
      const look = () => {
        const { x, y, width, height } = element.getBoundingClientRect()
        const now = [x, y, width, height].join(' ')
        times = now === before && width > 0 && !moving() ? times + 1 : 0
        before = now
        if (times > 1 || performance.now() > latest) done()
        else setTimeout(look, 15)
      }
      look()`,
      element,
    )
  }

  /** Brings in a folder through the directory input. */
  async importFolder(path: string): Promise<void> {
    const input = await this.test('folder-input')
    await this.driver.executeScript('arguments[0].hidden = false', input)
    await input.sendKeys(path)
  }

  /** Brings in a site made of these files, as a zip of that name, and waits for its project. */
  async importSite(name: string, files: Readonly<Record<string, string>>): Promise<void> {
    const file = join(mkdtempSync(join(tmpdir(), 'steady-site-')), `${name}.zip`)
    writeFileSync(file, zipSync(Object.fromEntries(Object.entries(files).map(([path, text]) => [path, new TextEncoder().encode(text)]))))
    await this.importZip(file)
    await this.until(`the project ${name}`, () =>
      this.driver.executeScript<boolean>('return document.title.startsWith(arguments[0])', name),
    )
  }

  async importZip(path: string): Promise<void> {
    const input = await this.test('zip-input')
    await this.driver.executeScript('arguments[0].hidden = false', input)
    await input.sendKeys(path)
  }

  /** Text of the editor's marked line. */
  async markedLine(): Promise<string> {
    return this.until('a marked line in Source', () =>
      this.driver.executeScript<string>('return document.querySelector("[data-testid=source] [class*=marked]")?.innerText'),
    )
  }
}
