import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { zipSync } from 'fflate'
import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()
const bytes = (text: string) => new TextEncoder().encode(text)

const listOf = (studio: Studio, selector: string) => studio.inPage<string>('return document.querySelector(arguments[0]).className', selector)
const lineWith = async (studio: Studio, path: string, has: string) => (await studio.sourceNow(path)).split('\n').find((l) => l.includes(has))?.trim()

/** Puts the keyboard on a class of the list in Aim. */
async function onClass(studio: Studio, name: string): Promise<void> {
  const row = await studio.until(`the class ${name}`, () => studio.driver.findElement(By.css(`[data-testid=class-row][data-name="${name}"]`)))
  await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "nearest" }); arguments[0].focus()', row)
}

const stateOf = (studio: Studio, name: string) => studio.driver.executeScript<string | null>('return document.querySelector(`[data-testid=class-row][data-name="${arguments[0]}"]`)?.dataset.state ?? null', name)

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

  test('a side gets classes of its own, at the step of the theme, and folds again', async () => {
    const studio = getStudio()
    const before = await studio.sourceNow('index.html')
    expect(await studio.edit(() => studio.type('padding-left', '20px'))).toMatch(/padding-left p-4 py-4 pr-4 pl-5 reach 1/)
    expect(await lineWith(studio, 'index.html', 'pl-5')).toBe('<li class="rounded-hull border border-sea/20 bg-white py-4 pr-4 pl-5 shadow-sm hover:shadow-md">')
    expect(await studio.computed('main li', 'padding')).toBe('16px 16px 16px 20px')
    await studio.edit(() => studio.type('padding-left', '16px'))
    expect(await studio.sourceNow('index.html')).toBe(before)
    // Pulled, it settles on the theme's own length between the steps of the spacing.
    await studio.pull('padding-top', 9)
    expect(await listOf(studio, 'main li')).toContain('px-4 pt-rail pb-4')
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
    await studio.edit(() => studio.type('padding', '24px'))
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

  test('each class says what it does; families are walked on the page, classes switched, added and pasted', async () => {
    const studio = getStudio()
    await studio.pick('main li', 0.5, 0.05)
    await onClass(studio, 'rounded-hull')
    expect(await stateOf(studio, 'p-4')).toBe('wins')
    expect(await stateOf(studio, 'hover:shadow-md')).toBe('waits')
    await onClass(studio, 'shadow-sm')
    await studio.until('a later step on the page', async () => {
      await studio.key(Key.ARROW_RIGHT)
      return (await listOf(studio, 'main li')).includes(' shadow-md')
    })
    // Nothing is written before it is kept.
    expect(await lineWith(studio, 'index.html', 'Maud') && (await studio.sourceNow('index.html'))).not.toContain('bg-white p-4 shadow-md')
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
    await studio.until('what answers', () => studio.driver.executeScript<boolean>('return document.querySelector("#classes-found [aria-selected=true]")?.innerText.startsWith("bg-foam")'))
    await studio.edit(() => add.sendKeys(Key.ENTER))
    // Two classes set the colour now: one of them does nothing.
    await studio.until('the dead one told', async () => [await stateOf(studio, 'bg-white'), await stateOf(studio, 'bg-foam')].sort().join() === 'loses,wins')
    await studio.edit(() => studio.driver.executeScript(`
      const field = document.querySelector('input[aria-label="Add classes"]'), data = new DataTransfer()
      data.setData('text/plain', 'class="gap-2 no-such-thing"'); field.focus()
      field.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))`))
    expect(await listOf(studio, 'main li')).toMatch(/ gap-2 no-such-thing$/)
    await studio.until('the unknown one marked', async () => (await stateOf(studio, 'no-such-thing')) === 'unknown')
    // What replaces the colour leaves none of the two behind.
    await studio.driver.sleep(400)
    await studio.edit(() => studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.edits.commit("background-color", "#b23c26").then(done)'))
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
    expect(await studio.sourceNow('swap.html')).toContain('class="rounded-full bg-sea pr-4 pl-6 py-2\n                 text-sm font-medium text-white\n')
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
    await studio.edit(() => studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.edits.commit("padding-top", "12px").then(done)'))
    const html = await studio.sourceNow('index.html')
    expect(html.match(/<td class="px-4 pt-3 pb-2">/g)).toHaveLength(9)
    expect((await studio.ledger())[0]).toContain('reach 9')
    await studio.undo()
    await studio.pick('main li h2')
    await studio.press('Make one…')
    const name = await studio.driver.findElement(By.css('input[aria-label="Name of the new class"]'))
    await studio.edit(() => name.sendKeys('person', Key.ENTER))
    expect((await studio.sourceNow('index.html')).match(/<h2 class="person">/g)).toHaveLength(4)
    expect(await studio.sourceNow('src/crew.css')).toContain('@layer components {\n  .person {\n    @apply text-lg font-semibold;\n  }\n}\n')
    expect(await studio.computed('main li h2', 'font-size')).toBe('18px')
    await studio.undo()
    expect(await studio.sourceNow('src/crew.css')).not.toContain('person')
  })

  test('the index is kept: opened again, it is there at once', async () => {
    const studio = getStudio()
    await studio.driver.navigate().refresh()
    await studio.ready()
    await studio.pick('main li', 0.5, 0.05)
    expect(await studio.classWrites()).toBe('p-4')
    expect(await studio.driver.executeAsyncScript('const done = arguments[0]; const r = indexedDB.open("steady-brush"); r.onsuccess = () => { const g = r.result.transaction("vocabularies").objectStore("vocabularies").count(); g.onsuccess = () => done(g.result) }')).toBe(1)
  })
})

test('helper classes of a project’s own sheet are a vocabulary too, and a tape settles on them alone', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  const helpers = [1, 2, 3, 4].map((n) => `.mb-${n} { margin-bottom: ${n * 8}px; }`).join('\n')
  const file = join(mkdtempSync(join(tmpdir(), 'steady-')), 'pier.zip')
  writeFileSync(file, zipSync({
    'index.html': bytes('<!DOCTYPE html>\n<link rel="stylesheet" href="pier.css">\n<div class="pier mb-1">Old Pier</div>\n<p>Next</p>\n'),
    'pier.css': bytes(`.pier { padding: 20px; background: #e8f1f0; }\n${helpers}\n`),
  }))
  await studio.importZip(file)
  await studio.until('the project', () => studio.driver.executeScript<boolean>('return document.title.startsWith("pier")'))
  await studio.ready()
  await studio.pick('.pier')
  await studio.pull('margin-bottom', 85)
  expect(await lineWith(studio, 'index.html', 'Old Pier')).toMatch(/^<div class="pier mb-3">Old Pier<\/div>$/)
  // What no class gives goes where it would go without them.
  await studio.edit(() => studio.type('margin-bottom', '5px'))
  expect(await studio.sourceNow('index.html')).toContain('<div class="pier mb-3" style="margin-bottom: 5px">')
  expect(await studio.sourceNow('pier.css')).toContain('.mb-3 { margin-bottom: 24px; }')
  expect((await studio.ledger())[0]).toMatch(/margin-bottom .*5px reach 1 ✓/)
  await studio.undo()
  await studio.edit(() => studio.type('padding-left', '30px'))
  expect(await studio.sourceNow('pier.css')).toContain('.pier { padding: 20px 20px 20px 30px;')
})
