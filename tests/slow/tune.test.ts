import { By, Key, until, type WebElement } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

/** What the source lost and gained by one edit: lines that are only before, and only after. */
async function written(studio: Studio, path: string, work: () => Promise<void>): Promise<{ gone: string[]; come: string[] }> {
  const before = (await studio.sourceNow(path)).split('\n')
  await studio.edit(work)
  const after = (await studio.sourceNow(path)).split('\n')
  return {
    gone: before.filter((l) => !after.includes(l)).map((l) => l.trim()),
    come: after.filter((l) => !before.includes(l)).map((l) => l.trim()),
  }
}

/** Picks with the element in the middle of the page, clear of headers that stick. */
async function pick(studio: Studio, selector: string, dx = 0.5, dy = 0.5): Promise<void> {
  await studio.inPage('document.querySelector(arguments[0]).scrollIntoView({ block: "center", behavior: "instant" })', selector)
  await studio.pick(selector, dx, dy)
}

const radio = (studio: Studio, property: string, value: string) => async () => {
  const button = await studio.driver.findElement(By.css(`[data-testid="row-${property}"] [role=radio][data-value="${value}"]`))
  await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', button)
  await button.click()
}

const menu = async (studio: Studio, property: string) => {
  const dot = await studio.driver.findElement(By.css(`[data-testid="row-${property}"] > button[aria-haspopup=dialog]:not([class*=color])`))
  await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', dot)
  await dot.click()
  await studio.test('row-menu')
  await studio.driver.sleep(350)
}

describe('Aim in full', () => {
  test('a state is shown on the page and its edits go to its rule; a state without a rule gets one beside its base', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await pick(studio, '.button')
    await studio.choose('State', ':hover')
    expect(await studio.computed('.button', 'background-color')).toBe('rgb(8, 78, 85)')
    expect(await studio.text('aim-label')).toBe('.button:hover')
    expect(await written(studio, 'css/base.css', () => studio.type('letter-spacing', '1px'))).toEqual({
      gone: ['.button:hover { color: #fff; background-color: var(--tide-dark); }'],
      come: ['.button:hover { color: #fff; background-color: var(--tide-dark); letter-spacing: 1px; }'],
    })
    await studio.choose('State', ':focus-visible')
    expect((await written(studio, 'css/base.css', () => studio.type('letter-spacing', '2px'))).come).toEqual([
      '.button:focus-visible { letter-spacing: 2px; }',
    ])
    await studio.choose('State', '')
    expect(await studio.computed('.button', 'background-color')).not.toBe('rgb(8, 78, 85)')
  })

  test('a pseudo-element gets a rule of its own', async () => {
    const studio = getStudio()
    await studio.choose('Part', '::before')
    expect((await written(studio, 'css/base.css', () => studio.type('margin-right', '4px'))).come).toEqual([
      '.button::before { margin-right: 4px; }',
    ])
    await studio.choose('Part', '')
  })

  test('widths the project knows: the page takes a width at which they hold, and the edit goes into their block', async () => {
    const studio = getStudio()
    await pick(studio, '.wrap', 0.005, 0.5)
    await studio.choose('Widths', '(max-width: 720px)')
    expect(await studio.inPage('return innerWidth')).toBe(720)
    expect(await written(studio, 'css/base.css', () => studio.type('padding-top', '30px'))).toEqual({
      gone: ['.wrap { padding: var(--gap-4) var(--gap-3); }'],
      come: ['.wrap { padding: 30px var(--gap-3) var(--gap-4); }'],
    })
    await pick(studio, '.lead')
    await studio.choose('Widths', '(max-width: 720px)')
    expect((await written(studio, 'css/base.css', () => studio.type('font-size', '18px'))).come).toEqual(['.lead { font-size: 18px; }'])
    await studio.driver.executeScript('window.steadyProof.session.setWidth(null)')
  })

  test('a dialog that does not show is held open and tuned', async () => {
    const studio = getStudio()
    await studio.goTo('/booking.html')
    await studio.key(Key.ESCAPE)
    await studio.press('dialog#confirm')
    await studio.until('the dialog', () => studio.inPage<boolean>('return document.querySelector("#confirm").open'))
    await pick(studio, '#confirm', 0.5, 0.03)
    await studio.edit(() => studio.type('padding-left', '31px'))
    expect(await studio.computed('#confirm', 'padding-left')).toBe('31px')
    await studio.press('dialog#confirm open')
    expect(await studio.inPage('return document.querySelector("#confirm").open')).toBe(false)
  })

  test('an aim is held while other elements are chosen', async () => {
    const studio = getStudio()
    await studio.goTo('/fares.html')
    await pick(studio, '.fare', 0.5, 0.03)
    await (await studio.tape('padding-top')).sendKeys('')
    await studio.press('Hold aim')
    await pick(studio, '.fare p')
    expect(await studio.text('aim-label')).toBe('.fare')
    await studio.press('Aim held')
    expect(await studio.text('aim-label')).not.toBe('.fare')
  })
})

describe('names', () => {
  test('a rule gets another selector, and a class another name wherever it stands; every line is shown before it is written', async () => {
    const studio = getStudio()
    await studio.goTo('/fares.html')
    await pick(studio, '.fare h2')
    await studio.driver.executeScript('window.steadyProof.session.selection.touch("font-size")')
    const field = (label: string) => studio.driver.wait(until.elementLocated(By.css(`input[aria-label="${label}"]`)), 10_000)
    const shown = async (text: string) => studio.until(`told: ${text}`, async () => (await studio.text('names-writes')).includes(text))
    await studio.key('n')
    await (await field('Selector of this rule')).sendKeys(Key.chord(Key.CONTROL, 'a'), '.fare > ')
    await shown('cannot stand as a selector')
    await (await field('Selector of this rule')).sendKeys('h2')
    await shown('It matches 6 on this page now, and 6 then. 1 place in 1 file.')
    expect(await written(studio, 'css/pages.css', () => studio.press('Change the selector'))).toEqual({
      gone: ['.fare h2 { margin: 0 0 2px; font-size: 18px; }'],
      come: ['.fare > h2 { margin: 0 0 2px; font-size: 18px; }'],
    })
    const page = await studio.sourceNow('fares.html')
    await pick(studio, '.fare', 0.5, 0.9)
    await (await studio.driver.findElement(By.css('button[aria-label^="Change the selector"]'))).click()
    await (await field('Class fare')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'ticket')
    await shown('6 on this page have it.')
    await studio.edit(() => studio.press('Rename it'))
    const now = await studio.sourceNow('fares.html')
    expect(now).toBe(page.replace(/(class="[^"]*?)\bfare(?=[" ])/g, '$1ticket'))
    const sheet = await studio.sourceNow('css/pages.css')
    expect(sheet).toContain('.ticket > h2 {')
    expect(sheet).not.toMatch(/\.fare(?![\w-])/)
    expect(await studio.inPage('return document.querySelectorAll(".ticket").length')).toBe(6)
    await studio.undo()
    await studio.undo()
    expect([await studio.sourceNow('fares.html'), await studio.computed('.fare h2', 'font-size')]).toEqual([page, '18px'])
  })
})

describe('the tape and the row', () => {
  test('another unit keeps the size, a declaration is switched off and on, made important, removed and reset', async () => {
    const studio = getStudio()
    await pick(studio, '.fare h2')
    await menu(studio, 'font-size')
    expect((await written(studio, 'css/pages.css', () => studio.press('rem'))).come).toEqual([
      '.fare h2 { margin: 0 0 2px; font-size: 1.125rem; }',
    ])
    expect(await studio.computed('.fare h2', 'font-size')).toBe('18px')
    for (const [action, line] of [
      ['Switch it off', '.fare h2 { margin: 0 0 2px; /* font-size: 1.125rem; */ }'],
      ['Switch it on again', '.fare h2 { margin: 0 0 2px; font-size: 1.125rem; }'],
      ['Make it !important', '.fare h2 { margin: 0 0 2px; font-size: 1.125rem !important; }'],
      ['Remove the declaration', '.fare h2 { margin: 0 0 2px; }'],
    ]) {
      await menu(studio, 'font-size')
      expect((await written(studio, 'css/pages.css', () => studio.press(action))).come).toEqual([line])
    }
    await menu(studio, 'font-size')
    await studio.press('Back to 18px')
    await studio.until('the first size', async () => (await studio.computed('.fare h2', 'font-size')) === '18px')
  })

  test('what is typed is gone with Escape, and written once with Enter', async () => {
    const studio = getStudio()
    await pick(studio, '.fare h2')
    const field = await studio.driver.findElement(By.css('input[aria-label="font-size value"]'))
    const [shown, sheet, rows] = [
      await field.getAttribute('value'),
      await studio.sourceNow('css/pages.css'),
      (await studio.ledger()).length,
    ]
    await field.click()
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '31px', Key.ESCAPE)
    expect([
      await field.getAttribute('value'),
      await studio.driver.executeScript('return document.activeElement === arguments[0]', field),
    ]).toEqual([shown, false])
    await studio.edit(() => studio.type('font-size', '30px'))
    expect(await studio.computed('.fare h2', 'font-size')).toBe('30px')
    // One row: neither what was let go, nor the same again as the field was left.
    expect((await studio.ledger()).length).toBe(rows + 1)
    await studio.undo()
    expect(await studio.sourceNow('css/pages.css')).toBe(sheet)
  })

  test('a value becomes a token', async () => {
    const studio = getStudio()
    await pick(studio, '.fare .price')
    await menu(studio, 'font-size')
    const before = await studio.sourceNow('css/tokens.css')
    await studio.edit(async () =>
      (await studio.driver.findElement(By.css('input[aria-label="Token name for font-size"]'))).sendKeys('price-size', Key.ENTER),
    )
    expect(await studio.sourceNow('css/pages.css')).toContain('  font-size: var(--price-size);')
    expect((await studio.sourceNow('css/tokens.css')).replace(/ *--price-size: 26px;\n/, '')).toBe(before)
    expect(await studio.computed('.price', 'font-size')).toBe('26px')
    // And back, and to the token again, which is offered since it is the same size.
    await menu(studio, 'font-size')
    await studio.edit(() => studio.press('26px in place of the token'))
    expect(await studio.sourceNow('css/pages.css')).toContain('  font-size: 26px;')
    await menu(studio, 'font-size')
    await studio.edit(() => studio.press('var(--price-size), which is the same'))
    expect(await studio.sourceNow('css/pages.css')).toContain('  font-size: var(--price-size);')
  })

  test('a value without effect says why once its row is used, and one press gives it effect', async () => {
    const studio = getStudio()
    await pick(studio, '.fare', 0.5, 0.03)
    await (await studio.driver.findElement(By.css('input[aria-label="gap value"]'))).click()
    await studio.until('the reason', async () => /article is not a flex or grid container/.test(await studio.text('row-gap')))
    await studio.edit(() => studio.press('Make it a flex container'))
    expect(await studio.sourceNow('css/pages.css')).toMatch(/\.fare \{[^}]*\n  display: flex;\n/)
    await studio.undo()
  })

  test('what loses is named with the step that decided, and opens at its line', async () => {
    const studio = getStudio()
    await pick(studio, '.fare.best', 0.5, 0.03)
    await studio.unfold('Edges')
    await menu(studio, 'border-color')
    expect(await studio.text('row-menu')).toMatch(/\.fare\.best \(css\/pages\.css:\d+\) wins: its specificity is higher/)
    await studio.key(Key.ESCAPE)
  })
})

describe('on the page', () => {
  test('a handle is pulled, with Alt the other side along; Escape takes it back', async () => {
    const studio = getStudio()
    await pick(studio, '.fare', 0.5, 0.03)
    const handle = await studio.test('handle-padding-left')
    const pull = (by: number, ...held: string[]) => {
      let actions = studio.driver.actions()
      for (const k of held) actions = actions.keyDown(k)
      return actions.move({ origin: handle }).press().move({ origin: handle, x: 3, y: 0 }).move({ origin: handle, x: by, y: 0 })
    }
    await pull(9).perform()
    expect(await studio.text('handle-value')).toMatch(/^padding-left /)
    expect(await studio.computed('.fare', 'padding-left')).not.toBe('22px')
    await studio.key(Key.ESCAPE)
    await studio.driver.actions().release().perform()
    await studio.until('the padding as it was', async () => (await studio.computed('.fare', 'padding-left')) === '22px')
    const again = await studio.test('handle-padding-left')
    const { come } = await written(studio, 'css/pages.css', async () => {
      await studio.driver
        .actions()
        .keyDown(Key.ALT)
        .keyDown(Key.CONTROL)
        .move({ origin: again })
        .press()
        .move({ origin: again, x: 3, y: 0 })
        .move({ origin: again, x: 9, y: 0 })
        .release()
        .keyUp(Key.CONTROL)
        .keyUp(Key.ALT)
        .perform()
    })
    expect(come).toEqual(['padding: 18px 31px;'])
  })

  test('distances, containers without an edge, and the page as saved, while keys are held', async () => {
    const studio = getStudio()
    const now = await studio.computed('.fare', 'padding-left')
    await studio.driver.actions().keyDown('d').perform()
    await studio.test('distances')
    await studio.driver.actions().keyUp('d').perform()
    await studio.driver.actions().keyDown('b').perform()
    await studio.until('the page as saved', async () => (await studio.computed('.fare', 'padding-left')) === '22px')
    await studio.driver.actions().keyUp('b').perform()
    await studio.until('the page as it is', async () => (await studio.computed('.fare', 'padding-left')) === now)
    await studio.key('e')
    await studio.until('outlined containers', () =>
      studio.driver.executeScript<boolean>('return (window.steadyProof.state().frames.containers.length) > 3'),
    )
    await studio.key('e')
  })
})

describe('containers and their children on the page', () => {
  const drag = (studio: Studio, handle: WebElement, x: number, y: number, ...held: string[]) => {
    let actions = studio.driver.actions()
    for (const k of held) actions = actions.keyDown(k)
    actions = actions
      .move({ origin: handle })
      .press()
      .move({ origin: handle, x: Math.sign(x) * 4, y: Math.sign(y) * 4 })
      .move({ origin: handle, x, y })
    return {
      shown: () => actions.perform(),
      let: () => held.reduce((a, k) => a.keyUp(k), studio.driver.actions().release()).perform(),
    }
  }

  test('a grid shows its tracks, and one of them is pulled in its own unit', async () => {
    const studio = getStudio()
    await studio.goTo('/fares.html')
    await pick(studio, '.cards', 0.335, 0.5)
    await studio.test('container-lines')
    const track = drag(studio, await studio.test('handle-grid-template-columns-1'), 60, 0)
    await track.shown()
    expect(await studio.text('handle-value')).toMatch(/^column 1: \d+px, grid-template-columns [\d.]+fr 1fr 1fr$/)
    const { gone, come } = await written(studio, 'css/pages.css', track.let)
    expect(gone).toEqual(['grid-template-columns: repeat(3, 1fr);'])
    expect(come[0]).toMatch(/^grid-template-columns: 1\.[\d]+fr 1fr 1fr;$/)
    await studio.undo()
  })

  test('a grid without children, and a grid that is none since it is a text of an SVG, are shown as any element', async () => {
    const studio = getStudio()
    await studio.goTo('/island-map.html')
    const height = await studio.inPage<number>('return innerHeight')
    await studio.inPage(`const style = document.createElement('style'); document.head.append(style)
      style.textContent = '.place { display: grid; border: 4px solid; transform: rotate(45deg); transform-box: fill-box } .empty { display: grid; position: absolute; inset: 20px auto auto 20px; width: 90px; height: 60px }'
      document.body.insertAdjacentHTML('beforeend', '<div class="empty"></div>')`)
    await studio.pick('.empty')
    expect(await studio.text('free-room')).toBe('90 free')
    for (const [i, place] of (
      await studio.inPage<string[]>('return [...document.querySelectorAll(".place")].map((e) => e.textContent)')
    ).entries()) {
      await studio.pick(`.place:nth-of-type(${i + 1})`)
      expect([place, await studio.driver.findElements(By.css('[data-testid=status]'))]).toEqual([place, []])
    }
    expect(await studio.inPage<number>('return innerHeight')).toBe(height)
    await studio.goTo('/fares.html')
  })

  test('what the page counts for a selector is what the engine finds, for lists and scopes too', async () => {
    const studio = getStudio()
    const selectors = [
      '.fare',
      '.fare .price',
      '.cards > .fare',
      '.fare, .price',
      'h2, .fare h2',
      '.none, .fare',
      ':scope .fare',
      '.fare:has(.price)',
      '.fare + .fare',
      'article.fare',
    ]
    const counted = await studio.driver.executeAsyncScript<number[]>(
      'const [selectors, done] = arguments; window.steadyProof.session.page.ask("reach", { selectors, sheets: selectors.map(() => null) }).then(done)',
      selectors,
    )
    expect(counted).toEqual(await studio.inPage('return arguments[0].map((s) => document.querySelectorAll(s).length)', selectors))
    expect(counted[3]).toBeGreaterThan(counted[0])
  })

  test('a child is pulled to another place of the order, and over more cells for itself alone at the widths of these tracks', async () => {
    const studio = getStudio()
    await pick(studio, '.fare', 0.5, 0.03)
    const before = await studio.inPage<number>('return document.querySelectorAll(".fare")[1].getBoundingClientRect().x')
    const move = drag(studio, await studio.test('handle-cell'), 280, 20)
    await move.shown()
    await studio.test('place-target')
    expect(await studio.text('handle-value')).toMatch(/^place 2 of \d$/)
    const first = await studio.inPage<string>('return document.querySelector(".fare h2").textContent')
    await move.let()
    await studio.until(
      'it second',
      async () => (await studio.inPage<string>('return document.querySelectorAll(".fare h2")[1].textContent')) === first,
    )
    expect(await studio.inPage<number>('return document.querySelectorAll(".fare")[1].getBoundingClientRect().x')).toBeCloseTo(before, 0)
    await studio.undo()
    await pick(studio, '.fare', 0.5, 0.03)
    const css = await studio.sourceNow('css/pages.css')
    const wide = drag(studio, await studio.test('handle-span'), 260, 0)
    await wide.shown()
    await studio.edit(wide.let)
    expect(await studio.sourceNow('fares.html')).not.toContain('style=')
    expect((await studio.sourceNow('css/pages.css')).replace(css, '')).toMatch(
      /@media \(min-width: \d+px\) \{\n {2}\.fare:nth-of-type\(1\) \{ grid-column: 1 \/ span 2; grid-row: 1; \}\n/,
    )
    expect(await studio.verdict()).toBe('holds')
    await studio.undo()
  })

  test('an edge pulled near a neighbour’s settles on it', async () => {
    const studio = getStudio()
    await pick(studio, '.lead')
    const wanted = await studio.inPage<number>(
      'const l = document.querySelector(".lead").getBoundingClientRect(), c = document.querySelectorAll(".cards")[0].getBoundingClientRect(); return c.x + c.width / 2 - l.right',
    )
    const scale = await studio
      .inPage<number>('return innerWidth')
      .then(async (w) => (await (await studio.test('overlay')).getRect()).width / w)
    const edge = drag(studio, await studio.test('handle-width'), Math.round(wanted * scale) + 2, 0)
    await edge.shown()
    await studio.test('level')
    await studio.edit(edge.let)
    expect(
      await studio.inPage<number>(
        'const l = document.querySelector(".lead").getBoundingClientRect(), c = document.querySelectorAll(".cards")[0].getBoundingClientRect(); return Math.abs(c.x + c.width / 2 - l.right)',
      ),
    ).toBeLessThan(0.6)
    await studio.undo()
  })

  test('a child of a flex row is pulled to the other end of the room that is free', async () => {
    const studio = getStudio()
    await pick(studio, '.site-nav .book')
    const back = drag(studio, await studio.test('handle-place'), -60, 0)
    await back.shown()
    expect((await written(studio, 'css/base.css', back.let)).come).toEqual(['.site-nav .book { margin-left: 0; }'])
    await pick(studio, '.site-nav', 0.7, 0.5)
    await studio.test('free-room')
    await pick(studio, '.site-nav .book')
    const there = drag(studio, await studio.test('handle-place'), 250, 0)
    await there.shown()
    await studio.test('place-target')
    expect((await written(studio, 'css/base.css', there.let)).come).toEqual(['.site-nav .book { margin-left: auto; }'])
  })

  test('a gradient’s stop and its turn are pulled on the element', async () => {
    const studio = getStudio()
    await pick(studio, '.fare', 0.5, 0.03)
    await studio.edit(() => studio.press('A gradient'))
    const stop = drag(studio, await studio.test('gradient-stop-2'), 0, -54)
    await stop.shown()
    expect((await written(studio, 'css/pages.css', stop.let)).come.join()).toMatch(
      /: var\(--foam\) linear-gradient\(to bottom, rgb\(0 0 0 \/ 0%\), rgb\(0 0 0 \/ 20%\) 7\d%\)/,
    )
    const turn = drag(studio, await studio.test('gradient-turn'), 400, -240)
    await turn.shown()
    expect((await written(studio, 'css/pages.css', turn.let)).come.join()).toMatch(/linear-gradient\((75|90)deg, /)
    await studio.edit(() => studio.press('+ gradient'))
    expect(await studio.computed('.fare', 'background-image')).toMatch(/^linear-gradient\(.*\), linear-gradient\(/)
    await studio.edit(() => studio.pressNamed('Remove this layer'))
    for (let i = 0; i < 5; i++) await studio.undo()
  })
})

describe('each section writes its declarations', () => {
  test('Layout: direction, tracks, and two things in one step', async () => {
    const studio = getStudio()
    await pick(studio, '.cards', 0.335, 0.5)
    await studio.unfold('Layout')
    expect((await written(studio, 'css/pages.css', radio(studio, 'justify-items', 'center'))).come).toEqual(['justify-items: center;'])
    expect(
      (
        await written(studio, 'css/pages.css', async () => {
          const field = await studio.driver.findElement(By.css('[data-testid="row-grid-template-columns"] input[aria-label="Track 1"]'))
          await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'repeat(2, 1fr)', Key.ENTER)
        })
      ).come,
    ).toEqual(['grid-template-columns: repeat(2, 1fr);'])
    await pick(studio, '.site-nav .book')
    expect((await written(studio, 'css/base.css', () => studio.press('Let it take the free room'))).come).toEqual([
      '.site-nav .book { flex-grow: 1; margin-left: auto; }',
    ])
    await pick(studio, '.fare .button')
    await studio.edit(() => studio.press('Its row: this one at the far end'))
    expect(await studio.sourceNow('css/pages.css')).toMatch(/\.fare \{[^}]*display: flex;[^}]*align-items: center;/)
    expect(await studio.computed('.fare', 'display')).toBe('flex')
    await studio.undo()
    await studio.until('the row undone', async () => (await studio.computed('.fare', 'display')) === 'block')
  })

  test('Place: a position gives offsets their effect, and one element is brought in front of another', async () => {
    const studio = getStudio()
    await pick(studio, '.fare.best', 0.5, 0.03)
    await studio.unfold('Place')
    await studio.edit(radio(studio, 'position', 'relative'))
    expect((await written(studio, 'css/pages.css', () => studio.type('top', '-30px'))).come).toEqual(['top: -30px;'])
    await studio.edit(() => studio.type('top', '-60px'))
    await pick(studio, '.lead', 0.2, 0.1)
    expect((await written(studio, 'css/base.css', () => studio.press('Bring in front'))).come.join(' ')).toMatch(
      /z-index: 1;.*position: relative;|position: relative;.*z-index: 1;/,
    )
    expect(await studio.computed('.lead', 'z-index')).toBe('1')
    await studio.undo()
    await studio.undo()
  })

  test('Type: a face is walked to with the arrow keys, shown, and chosen', async () => {
    const studio = getStudio()
    await pick(studio, 'h1')
    await studio.press('Faces…')
    await studio.driver.sleep(500)
    const before = await studio.computed('h1', 'font-family')
    await studio.driver.executeScript('document.querySelector("[role=listbox] [role=option]").focus()')
    for (let i = 0; i < 3; i++) await studio.key(Key.ARROW_DOWN)
    await studio.until('another face', async () => (await studio.computed('h1', 'font-family')) !== before)
    const shown = await studio.computed('h1', 'font-family')
    await studio.edit(() => studio.key(Key.ENTER))
    expect(await studio.computed('h1', 'font-family')).toBe(shown)
    await studio.edit(() => studio.choose('font-weight', '800'))
    expect(await studio.computed('h1', 'font-weight')).toBe('800')
    expect(await studio.sourceNow('fares.html')).not.toContain('style=')
  })

  test('Type: a bundled face comes into the project with its files, and leaves with the edit', async () => {
    const studio = getStudio()
    await pick(studio, '.lead', 0.2, 0.1)
    await studio.press('Faces…')
    await studio.driver.sleep(500)
    const before = await studio.sourceNow('css/base.css')
    await studio.edit(() => studio.press('Source Serif 4'))
    const after = await studio.sourceNow('css/base.css')
    expect(after.match(/@font-face \{/g)).toHaveLength(before.match(/@font-face \{/g)!.length + 2)
    expect(after).toContain(
      '  src: url("../fonts/source-serif-4-normal.woff2") format("woff2");\n  font-weight: 200 900;\n  font-style: normal;\n',
    )
    expect(after).toMatch(/\.lead \{[^}]*font-family: ["']?Source Serif 4["']?, serif/)
    const files = () => studio.driver.executeScript<string[]>('return window.steadyProof.state().ledger.changed')
    expect(await files()).toEqual(
      expect.arrayContaining(['css/base.css', 'fonts/source-serif-4-italic.woff2', 'fonts/source-serif-4-license.txt']),
    )
    await studio.until('the face on the page', () =>
      studio.inPage<boolean>('return [...document.fonts].some((f) => f.family.includes("Source Serif 4") && f.status === "loaded")'),
    )
    await studio.undo()
    await studio.until('no such file', async () => !(await files()).includes('fonts/source-serif-4-italic.woff2'))
    expect(await studio.sourceNow('css/base.css')).toBe(before)
  })

  test('Colour: contrast is told and mended; a gradient is laid behind', async () => {
    const studio = getStudio()
    await studio.goTo('/fares.html')
    await pick(studio, '.fare p')
    await studio.edit(() =>
      studio.press('var(--ink-soft)').then(async () => {
        const field = await studio.driver.findElement(By.css('input[aria-label="Colour value"]'))
        await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '#9fb0b0', Key.ENTER)
      }),
    )
    expect(await studio.text('contrast')).toMatch(/is under 4\.5/)
    await studio.driver.sleep(400)
    await studio.edit(() => studio.press('passes'))
    expect(await studio.text('contrast')).toMatch(/AA/)
    await pick(studio, '.fare', 0.5, 0.03)
    expect((await written(studio, 'css/pages.css', () => studio.press('A gradient'))).come.join()).toContain('linear-gradient(')
  })

  test('Edges and Effects: a border, a shadow that is added and moved, a transition', async () => {
    const studio = getStudio()
    await pick(studio, '.fare', 0.5, 0.03)
    await studio.unfold('Edges')
    expect((await written(studio, 'css/pages.css', radio(studio, 'border-style', 'dashed'))).come).toEqual([
      'border: 1px dashed var(--mist);',
    ])
    await studio.unfold('Effects')
    expect((await written(studio, 'css/pages.css', () => studio.press('Add a shadow'))).come.join()).toMatch(
      /^(text|box)-shadow: 0 2px 6px rgb\(0 0 0 \/ 25%\);$/,
    )
    const off = await written(studio, 'css/pages.css', () => studio.pressNamed('Shadow 1 is on'))
    expect(off.come.join()).toMatch(/^(text|box)-shadow: \/\* 0 2px 6px rgb\(0 0 0 \/ 25%\) \*\/ none;$/)
    expect(await written(studio, 'css/pages.css', () => studio.pressNamed('Shadow 1 is on'))).toEqual({
      gone: off.come,
      come: off.gone,
    })
    await studio.edit(() => studio.press('Add a transition'))
    expect(await studio.sourceNow('css/pages.css')).toContain('  transition: all 200ms ease;')
  })
})

describe('many at once', () => {
  test('added with Shift, all alike, and one edit in the rule they share or one for each', async () => {
    const studio = getStudio()
    await studio.goTo('/fares.html')
    await pick(studio, '.fare:nth-of-type(1) h2')
    await studio.driver
      .actions()
      .keyDown(Key.SHIFT)
      .move(await studio.pointOver('.fare:nth-of-type(2) h2'))
      .click()
      .keyUp(Key.SHIFT)
      .perform()
    await studio.until('two chosen', async () => (await studio.text('many')).startsWith('2 chosen. They share'))
    await studio.key('t')
    await studio.until('all of its kind', async () => /^5 chosen/.test(await studio.text('many')))
    await studio.edit(() => studio.type('margin-bottom', '9px'))
    expect(await studio.sourceNow('css/pages.css')).toContain('.fare h2 { margin: 0 0 9px;')
    await pick(studio, '.fare:nth-of-type(1) .price')
    await studio.driver
      .actions()
      .keyDown(Key.SHIFT)
      .move(await studio.pointOver('.lead'))
      .click()
      .keyUp(Key.SHIFT)
      .perform()
    await studio.until('two kinds chosen', async () => /goes to 2 places/.test(await studio.text('many')))
    await studio.until('the other place named, with its file', async () =>
      /^and \.lead\s+\d+ on this page\s+\w+\.css:\d+$/.test(await studio.text('besides')),
    )
    await studio.edit(() => studio.type('margin-left', '7px'))
    expect([await studio.computed('.fare .price', 'margin-left'), await studio.computed('.lead', 'margin-left')]).toEqual(['7px', '7px'])
    await studio.undo()
    await studio.until('both undone', async () => (await studio.computed('.lead', 'margin-left')) === '0px')
  })

  test('an element goes back to what was saved, as one edit', async () => {
    const studio = getStudio()
    await studio.goTo('/notices.html')
    await pick(studio, '.notice', 0.5, 0.95)
    const before = await studio.sourceNow('css/pages.css')
    await studio.edit(() => studio.type('padding-left', '40px'))
    await studio.edit(() => studio.type('margin-top', '5px'))
    await studio.edit(() => studio.key('z'))
    expect(await studio.sourceNow('css/pages.css')).toBe(before)
    await studio.goTo('/fares.html')
  })

  test('the last edit is carried to another element by a click', async () => {
    const studio = getStudio()
    await pick(studio, '.lead')
    await studio.edit(() => studio.type('padding-left', '13px'))
    await studio.driver.executeScript('document.activeElement.blur()')
    await studio.key('c')
    await studio.edit(async () => studio.clickAt(await studio.pointOver('h1')))
    expect(await studio.computed('h1', 'padding-left')).toBe('13px')
    await studio.key(Key.ESCAPE)
  })
})
