import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const listOf = (studio: Studio, selector: string) =>
  studio.inPage<string>('return document.querySelector(arguments[0]).className', selector)
const lineWith = async (studio: Studio, path: string, has: string) =>
  (await studio.sourceNow(path))
    .split('\n')
    .find((l) => l.includes(has))
    ?.trim()

/** Puts the keyboard on a class of the list in Aim. */
async function onClass(studio: Studio, name: string): Promise<void> {
  const row = await studio.until(`the class ${name}`, () =>
    studio.driver.findElement(By.css(`[data-testid=class-row][data-name="${name}"]`)),
  )
  await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "nearest" }); arguments[0].focus()', row)
}

const stateOf = (studio: Studio, name: string) =>
  studio.driver.executeScript<string | null>(
    'return document.querySelector(`[data-testid=class-row][data-name="${arguments[0]}"]`)?.dataset.state ?? null',
    name,
  )

describe('a project styled with utility classes, without a compiled sheet', () => {
  test('it is shown as a build would show it, and new classes come without a reload', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.openSample('Brinewick crew, in utility classes')
    expect(await studio.computed('header', 'background-color')).toBe('rgb(10, 61, 69)')
    expect(await studio.computed('main > ul', 'display')).toBe('grid')
    await studio.inPage('window.notLoadedAgain = true')
    await studio.pick('main li', 0.5, 0.05)
    expect(await studio.text('aim-label')).toBe('class list')
    expect(await studio.classWrites()).toBe('p-4')
  })

  test('a side gets a class of its own, at the step of the theme, and folds again', async () => {
    const studio = getStudio()
    const before = await studio.sourceNow('index.html')
    expect(await studio.edit(() => studio.type('padding-left', '20px'))).toMatch(/padding-left pl-5 reach 1/)
    expect(await lineWith(studio, 'index.html', 'pl-5')).toBe(
      '<li class="rounded-hull border border-sea/20 bg-white p-4 pl-5 shadow-sm hover:shadow-md">',
    )
    expect(await studio.computed('main li', 'padding')).toBe('16px 16px 16px 20px')
    await studio.edit(() => studio.type('padding-left', '16px'))
    expect(await studio.sourceNow('index.html')).toBe(before)
    // Pulled, it settles on the theme's own length between the steps of the spacing.
    await studio.pull('padding-top', 9)
    expect(await listOf(studio, 'main li')).toContain('p-4 pt-rail')
    expect(await studio.computed('main li', 'padding-top')).toBe('18px')
    await studio.undo()
  })

  test('off the scale, the exact value and the nearest step are one key each', async () => {
    const studio = getStudio()
    const field = await studio.driver.findElement(By.css('input[aria-label="padding value"]'))
    await field.click()
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '13px')
    expect(await studio.text('nearest-step')).toMatch(/p-3 \(12px\)/)
    await studio.edit(() => field.sendKeys(Key.chord(Key.SHIFT, Key.ENTER)))
    expect(await listOf(studio, 'main li')).toContain(' p-3 ')
    await studio.edit(() => studio.type('padding', '13px'))
    expect(await listOf(studio, 'main li')).toContain(' p-[13px] ')
    expect(await studio.computed('main li', 'padding-left')).toBe('13px')
    await studio.undo()
    await studio.undo()
  })

  test('a state and widths become variants', async () => {
    const studio = getStudio()
    await studio.choose('State', ':hover')
    const rows = (await studio.ledger()).length
    await studio.type('padding', '24px')
    await studio.until('the edit', async () => (await studio.ledger()).length === rows + 1)
    // It is shown held, whether or not this machine has a pointer that could hover.
    await studio.until('the verdict', async () => (await studio.verdict()) === 'holds')
    expect(await listOf(studio, 'main li')).toMatch(/ p-4 shadow-sm hover:(p-6 hover:shadow-md|shadow-md hover:p-6)$/)
    await studio.choose('State', '')
    await studio.undo()
    await studio.pick('h1')
    await studio.choose('Widths', '(width >= 48rem)')
    await studio.edit(() => studio.type('font-size', '36px'))
    expect(await listOf(studio, 'h1')).toBe('text-2xl font-semibold tracking-tight md:text-4xl')
    await studio.choose('Widths', '')
    await studio.undo()
    expect(await studio.inPage('return window.notLoadedAgain')).toBe(true)
  })

  test('a theme’s token is changed where the theme defines it', async () => {
    const studio = getStudio()
    await studio.pick('header nav a', 0.1)
    await studio.unfold('Colour')
    await (await studio.driver.findElement(By.css('[data-testid=row-background-color] button'))).click()
    await studio.until('the class', async () => (await studio.classWrites()).startsWith('bg-'))
    await studio.press('Cancel')
    await studio.driver.sleep(400)
    await studio.press('other place')
    await studio.press('the token behind the value')
    await studio.edit(() =>
      studio.driver.executeAsyncScript(
        'const done = arguments[0]; window.steadyProof.session.edits.commit("background-color", "#204a70").then(done)',
      ),
    )
    expect(await studio.sourceNow('src/crew.css')).toContain('--color-sea: #204a70;')
    expect(await studio.computed('header nav a', 'background-color')).toBe('rgb(32, 74, 112)')
    // With a long list of places and classes nothing makes the window scroll, and the page move under the pointer.
    expect(
      await studio.driver.executeScript(
        'document.scrollingElement.scrollTop = 99; return [document.scrollingElement.scrollTop, document.scrollingElement.scrollHeight - innerHeight]',
      ),
    ).toEqual([0, 0])
    await studio.undo()
  })

  test('the colour scheme, what it stands in and what it holds become variants, and the page shows them', async () => {
    const studio = getStudio()
    await studio.pick('h1')
    await studio.choose('Widths', '(prefers-color-scheme: dark)')
    await studio.edit(() => studio.type('letter-spacing', '1px'))
    expect(await listOf(studio, 'h1')).toMatch(/ dark:tracking-\[1px\]$/)
    expect(await studio.computed('h1', 'letter-spacing')).toBe('1px')
    await studio.choose('Widths', '')
    expect(await studio.computed('h1', 'letter-spacing')).not.toBe('1px')
    await studio.undo()
    await studio.pick('main li h2')
    await studio.choose('State', 'li:hover &')
    await studio.edit(() => studio.type('letter-spacing', '1px'))
    expect(await listOf(studio, 'main li h2')).toMatch(/ in-\[li:hover\]:tracking-\[1px\]$/)
    expect(await studio.computed('main li h2', 'letter-spacing')).toBe('1px')
    await studio.choose('State', '')
    await studio.undo()
    await studio.goTo('/swap.html')
    await studio.pick('form', 0.5, 0.02)
    await studio.choose('State', ':has(:focus-visible)')
    await studio.edit(() => studio.type('padding', '32px'))
    expect(await listOf(studio, 'form')).toMatch(/ sm:p-6 sm:has-focus-visible:p-8$/)
    expect(await studio.computed('form', 'padding-left')).toBe('32px')
    await studio.choose('State', '')
    await studio.undo()
    await studio.goTo('/')
  })

  test('each class says what it does; families are walked on the page, classes switched, added and pasted', async () => {
    const studio = getStudio()
    await studio.pick('main li', 0.5, 0.05)
    await onClass(studio, 'rounded-hull')
    expect(await stateOf(studio, 'p-4')).toBe('wins')
    expect(await stateOf(studio, 'hover:shadow-md')).toBe('waits')
    await onClass(studio, 'shadow-sm')
    // One step on the page before the next is asked for.
    for (let list = await listOf(studio, 'main li'), steps = 0; !list.includes(' shadow-md'); steps++) {
      expect(steps).toBeLessThan(4)
      const before = list
      await studio.key(Key.ARROW_RIGHT)
      list = await studio.until('a later step on the page', async () => {
        const now = await listOf(studio, 'main li')
        return now !== before && now
      })
    }
    // Nothing is written before it is kept.
    expect((await lineWith(studio, 'index.html', 'Maud')) && (await studio.sourceNow('index.html'))).not.toContain('bg-white p-4 shadow-md')
    await studio.edit(() => studio.key(Key.ENTER))
    expect(await studio.sourceNow('index.html')).toContain('bg-white p-4 shadow-md hover:shadow-md')
    await onClass(studio, 'bg-white')
    await studio.edit(() => studio.key(' '))
    expect(await studio.computed('main li', 'background-color')).toBe('rgba(0, 0, 0, 0)')
    await onClass(studio, 'bg-white')
    await studio.edit(() => studio.key(' '))
    expect(await studio.computed('main li', 'background-color')).toBe('rgb(255, 255, 255)')
    const add = await studio.driver.findElement(By.css('input[aria-label="Add classes"]'))
    await add.sendKeys('bgfoam')
    await studio.until('what answers', () =>
      studio.driver.executeScript<boolean>(
        'return document.querySelector("#classes-found [aria-selected=true]")?.innerText.startsWith("bg-foam")',
      ),
    )
    await studio.edit(() => add.sendKeys(Key.ENTER))
    // The one that it leaves without effect goes, and it stands in its place.
    expect(await listOf(studio, 'main li')).toMatch(/ bg-foam( |$)/)
    expect(await listOf(studio, 'main li')).not.toContain('bg-white')
    await studio.edit(() =>
      studio.driver.executeScript(`
      const field = document.querySelector('input[aria-label="Add classes"]'), data = new DataTransfer()
      data.setData('text/plain', 'class="gap-2 no-such-thing"'); field.focus()
      field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))`),
    )
    expect(await listOf(studio, 'main li')).toMatch(/ gap-2 no-such-thing$/)
    await studio.until('the unknown one marked', async () => (await stateOf(studio, 'no-such-thing')) === 'unknown')
    // What replaces the colour leaves none of the two behind.
    await studio.driver.sleep(400)
    await studio.edit(() =>
      studio.driver.executeAsyncScript(
        'const done = arguments[0]; window.steadyProof.session.edits.commit("background-color", "#b23c26").then(done)',
      ),
    )
    expect(await listOf(studio, 'main li')).toMatch(/bg-buoy/)
    expect(await listOf(studio, 'main li')).not.toMatch(/bg-white|bg-foam/)
    for (let i = 0; i < 6; i++) await studio.undo()
  })

  test('at these widths another class decides, and that is the one that is changed', async () => {
    const studio = getStudio()
    await studio.goTo('/swap.html')
    await studio.pick('form', 0.5, 0.02)
    await (await studio.tape('padding-top')).sendKeys('')
    await studio.until('the class that decides', async () => (await studio.classWrites()) === 'sm:p-6')
    expect(await studio.text('aim-label')).toBe('class list, sm:')
    await studio.edit(() => studio.type('padding', '32px'))
    expect(await listOf(studio, 'form')).toMatch(/ bg-white p-4 sm:grid-cols-2 sm:p-8$/)
    await studio.undo()
  })

  test('a list over several lines keeps them', async () => {
    const studio = getStudio()
    await studio.goTo('/swap.html')
    await studio.pick('button[type=submit]')
    await studio.edit(() => studio.type('padding-left', '24px'))
    expect(await studio.sourceNow('swap.html')).toContain(
      'class="rounded-full bg-sea pr-4 pl-6 py-2\n                 text-sm font-medium text-white\n',
    )
    await studio.undo()
  })

  test('several elements, all with the same list, and one class for a list', async () => {
    const studio = getStudio()
    await studio.pick('label', 0.15, 0.1)
    const second = await studio.pointOver('label:nth-of-type(2)', 0.15, 0.1)
    await studio.driver.actions().keyDown(Key.SHIFT).move(second).click().keyUp(Key.SHIFT).perform()
    await studio.test('many')
    await studio.edit(() => studio.type('font-size', '16px'))
    expect((await studio.sourceNow('swap.html')).match(/<label class="block text-base font-medium">/g)).toHaveLength(2)
    await studio.undo()
    await studio.goTo('/')
    await studio.pick('td', 0.9)
    await (await studio.tape('padding-top')).sendKeys('')
    await studio.driver.sleep(300)
    await studio.press('other place')
    await studio.press('on all that have just it')
    await studio.edit(() =>
      studio.driver.executeAsyncScript(
        'const done = arguments[0]; window.steadyProof.session.edits.commit("padding-top", "12px").then(done)',
      ),
    )
    const html = await studio.sourceNow('index.html')
    expect(html.match(/<td class="px-4 pt-3 pb-2">/g)).toHaveLength(9)
    expect((await studio.ledger())[0]).toContain('reach 9')
    await studio.undo()
    await studio.pick('main li h2')
    await studio.press('Make one…')
    const name = await studio.driver.findElement(By.css('input[aria-label="Name of the new class"]'))
    await studio.edit(() => name.sendKeys('person', Key.ENTER))
    expect((await studio.sourceNow('index.html')).match(/<h2 class="person">/g)).toHaveLength(4)
    expect(await studio.sourceNow('src/crew.css')).toContain(
      '@layer components {\n  .person {\n    @apply text-lg font-semibold;\n  }\n}\n',
    )
    expect(await studio.computed('main li h2', 'font-size')).toBe('18px')
    // The rule stands in what the classes are compiled from, and is edited there.
    await studio.pick('main li h2')
    await (await studio.tape('font-size')).sendKeys('')
    await studio.until('the rule in the input', async () => (await studio.text('aim-place')).startsWith('crew.css'))
    await studio.edit(() => studio.type('font-size', '21px'))
    expect(await studio.sourceNow('src/crew.css')).toContain('    @apply text-lg font-semibold;\n    font-size: 21px;\n  }')
    expect(await studio.computed('main li h2', 'font-size')).toBe('21px')
    expect((await studio.ledger())[0]).toMatch(/font-size .*21px reach 4 ✓/)
    await studio.undo()
    await studio.undo()
    expect(await studio.sourceNow('src/crew.css')).not.toContain('person')
  })

  test('the index of each theme is kept: opened again, it is there at once', async () => {
    const studio = getStudio()
    await studio.driver.navigate().refresh()
    await studio.ready()
    await studio.pick('main li', 0.5, 0.05)
    await studio.until('the class that sets it', async () => (await studio.classWrites()) === 'p-4')
    expect(
      await studio.driver.executeAsyncScript(
        'const done = arguments[0]; const r = indexedDB.open("steady-brush"); r.onsuccess = () => { const g = r.result.transaction("vocabularies").objectStore("vocabularies").count(); g.onsuccess = () => done(g.result) }',
      ),
    ).toBeGreaterThanOrEqual(1)
  })
})

test('helper classes of a project’s own sheet are a vocabulary too, and a tape settles on them alone', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  const helpers = [1, 2, 3, 4].map((n) => `.mb-${n} { margin-bottom: ${n * 8}px; }`).join('\n')
  await studio.importSite('pier', {
    'index.html': '<!DOCTYPE html>\n<link rel="stylesheet" href="pier.css">\n<div class="pier mb-1">Old Pier</div>\n<p>Next</p>\n',
    'pier.css': `.pier { padding: 20px; background: #e8f1f0; }\n${helpers}\n`,
  })
  await studio.ready()
  await studio.pick('.pier')
  await studio.pull('margin-bottom', 85)
  expect(await lineWith(studio, 'index.html', 'Old Pier')).toMatch(/^<div class="pier mb-3">Old Pier<\/div>$/)
  // What no class gives goes where it would go without them.
  await studio.edit(() => studio.type('margin-bottom', '5px'))
  expect(await studio.sourceNow('index.html')).toContain('<div class="pier mb-3 pier-alt">')
  expect(await studio.sourceNow('pier.css')).toContain('.pier-alt { margin-bottom: 5px; }\n')
  expect(await studio.sourceNow('pier.css')).toContain('.mb-3 { margin-bottom: 24px; }')
  expect((await studio.ledger())[0]).toMatch(/margin-bottom .*5px reach 1 ✓/)
  await studio.undo()
  await studio.edit(() => studio.type('padding-left', '30px'))
  expect(await studio.sourceNow('pier.css')).toContain('.pier { padding: 20px 20px 20px 30px;')
})

test('dark by class where nothing is dark yet: the page is shown so, and the variant is written', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('night', {
    'index.html':
      '<!DOCTYPE html>\n<html lang="en">\n<link rel="stylesheet" href="night.css">\n<h1 class="mt-2 text-2xl">Night boat</h1>\n<p class="p-4 sm:p-12">Pier</p>\n</html>\n',
    'night.css': '@import "tailwindcss";\n@custom-variant dark (&:where(.dark, .dark *));\n',
  })
  await studio.ready()
  await studio.until('the classes', () => studio.driver.executeScript<boolean>('return window.steadyProof.state().vocabulary?.share === 1'))
  await studio.pick('h1')
  await studio.choose('Widths', '(prefers-color-scheme: dark)')
  expect(await studio.edit(() => studio.type('margin-top', '32px'))).toMatch(/dark:mt-8 reach 1/)
  expect(await studio.verdict()).toBe('holds')
  expect(await studio.computed('h1', 'margin-top')).toBe('32px')
  expect(await studio.sourceNow('index.html')).toContain('<h1 class="mt-2 text-2xl dark:mt-8">')
  // Shown for the edit alone: what is chosen next stands as it is.
  await studio.pick('p')
  await studio.until(
    'the root as it was',
    async () => !(await studio.inPage<boolean>('return document.documentElement.classList.contains("dark")')),
  )
  expect(await studio.sourceNow('index.html')).toContain('<html lang="en">')
  // What decides at this width is what is changed.
  await studio.edit(() => studio.type('padding', '40px'))
  expect(await studio.computed('p', 'padding-top')).toBe('40px')
  expect(await studio.sourceNow('index.html')).toContain('<p class="p-4 sm:p-10">')
})

test('a compiled sheet alone: its classes are used, in states too, and it is not written to', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  const sheet = `/*! tailwindcss v4.1.0 | MIT License | https://tailwindcss.com */\n@import url("http://fonts.invalid/ferry.css");\n@layer utilities {\n${[1, 2, 4, 5, 8].map((n) => `  .p-${n} { padding: ${n * 4}px; }\n  .pl-${n} { padding-left: ${n * 4}px; }`).join('\n')}\n  .text-white { color: #fff; }\n  .hover\\:text-white { &:hover { @media (hover: hover) { color: #fff; } } }\n  .hover\\:text-black { &:hover { @media (hover: hover) { color: #000; } } }\n}\n`
  await studio.importSite('built', {
    'index.html':
      '<!DOCTYPE html>\n<html lang="en">\n<link rel="stylesheet" href="out.css">\n<a class="p-4 hover:text-black" href="#">Book</a>\n</html>\n',
    'out.css': sheet,
  })
  await studio.ready()
  await studio.pick('a', 0.2, 0.2)
  await studio.edit(() => studio.type('padding-left', '20px'))
  expect(await studio.sourceNow('index.html')).toContain('<a class="p-4 pl-5 hover:text-black"')
  await studio.choose('State', ':hover')
  await studio.edit(() =>
    studio.driver.executeAsyncScript(
      'const done = arguments[0]; window.steadyProof.session.edits.commit("color", "#fff").then(() => done())',
    ),
  )
  expect(await studio.verdict()).toBe('holds')
  expect(await studio.sourceNow('index.html')).toContain('hover:text-white')
  // It is shown held, though the sheet begins with one from elsewhere that nobody may read.
  expect(await studio.computed('a', 'color')).toBe('rgb(255, 255, 255)')
  await studio.choose('State', '')
  // What no class gives is no reason to change what the next build writes again: a sheet of the page's own is made for it.
  await studio.edit(() => studio.type('padding-left', '7px'))
  expect(await studio.verdict()).toBe('holds')
  expect(await studio.computed('a', 'padding-left')).toBe('7px')
  expect(await studio.text('status')).toContain('No class in this sheet gives padding-left: 7px')
  expect(await studio.sourceNow('out.css')).toBe(sheet)
  expect(await studio.sourceNow('index.html')).toBe(
    '<!DOCTYPE html>\n<html lang="en">\n<link rel="stylesheet" href="out.css">\n<style>\n  .page-link {\n    padding-left: 7px;\n  }\n</style>\n<a class="p-4 pl-5 hover:text-white page-link" href="#">Book</a>\n</html>\n',
  )
  // The next one goes to the sheet that is there now.
  await studio.edit(() => studio.type('margin-top', '9px'))
  expect(await studio.verdict()).toBe('holds')
  expect(await studio.sourceNow('index.html')).toContain('  .page-link {\n    padding-left: 7px;\n    margin-top: 9px;\n  }')
  await studio.undo()
  await studio.undo()
  await studio.until('the sheet to be gone', async () => !(await studio.sourceNow('index.html')).includes('<style>'))
  expect(await studio.computed('a', 'padding-left')).toBe('20px')
})
