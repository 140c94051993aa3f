import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

async function fill(studio: Studio, label: string, text: string, ...end: string[]): Promise<void> {
  const field = await studio.driver.findElement(By.css(`section[aria-label=Element] [aria-label="${label}"]`))
  await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, ...end)
}

const lineOf = async (studio: Studio, path: string, has: string) =>
  (await studio.sourceNow(path))
    .split('\n')
    .find((l) => l.includes(has))
    ?.trim()

test('an attribute is changed, added and removed; a text is changed where it stands; nothing is loaded again', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.goTo('/fares.html')
  await studio.inPage('window.notLoadedAgain = true')
  await studio.pick('.fare .button')
  await studio.press('Element')
  await studio.driver.sleep(400)
  const before = await studio.sourceNow('fares.html')
  await studio.edit(() => fill(studio, 'New attribute', 'title="One way, or back"', Key.ENTER))
  expect(await lineOf(studio, 'fares.html', 'One way')).toMatch(/^<(a|button)[^>]* title="One way, or back">/)
  expect(await studio.inPage('return document.querySelector(".fare .button").title')).toBe('One way, or back')
  await studio.edit(() => fill(studio, 'title of the element', 'Both ways', Key.ENTER))
  expect(await studio.inPage('return document.querySelector(".fare .button").title')).toBe('Both ways')
  await studio.edit(() => studio.pressNamed('Remove title'))
  expect(await studio.sourceNow('fares.html')).toBe(before)
  await studio.edit(() => fill(studio, 'Text 1', 'Take it & go', Key.chord(Key.CONTROL, Key.ENTER)))
  expect(await lineOf(studio, 'fares.html', 'Take it')).toContain('>Take it & go<')
  expect(await studio.inPage('return document.querySelector(".fare .button").textContent')).toBe('Take it & go')
  await studio.undo()
  await studio.until('the text as it was', () =>
    studio.inPage<boolean>('return document.querySelector(".fare .button").textContent !== "Take it & go"'),
  )
  expect(await studio.sourceNow('fares.html')).toBe(before)
  expect(await studio.inPage('return window.notLoadedAgain')).toBe(true)
})

test('the tag changes in both tags, and a tree that would be another is refused with the reason', async () => {
  const studio = getStudio()
  await studio.pick('.fare h2')
  await studio.driver.sleep(300)
  await studio.edit(async () => {
    await fill(studio, 'Tag name', 'h3', Key.ENTER)
    // The rules that would not match any more are told first.
    await studio.press('Change it')
  })
  expect(await lineOf(studio, 'fares.html', 'Day return')).toBe('<h3>Day return</h3>')
  await studio.until('the heading on the page', () => studio.inPage<boolean>('return document.querySelector(".fare h3") !== null'))
  await studio.undo()
  await studio.until('the heading as it was', () => studio.inPage<boolean>('return document.querySelector(".fare h3") === null'))
  await studio.pick('.fare', 0.5, 0.03)
  await studio.driver.sleep(400)
  const before = await studio.sourceNow('fares.html')
  await fill(studio, 'Tag name', 'p', Key.ENTER)
  await studio.until('the reason beside the field', async () =>
    /It cannot be <p> here: <p> holds text and what stands in it only, and <h2> is a block/.test(
      await (await studio.driver.findElement(By.css('body'))).getText(),
    ),
  )
  expect(await studio.sourceNow('fares.html')).toBe(before)
})

test('each attribute has the control that it takes; names change in place; ARIA is by role', async () => {
  const studio = getStudio()
  await studio.goTo('/')
  await studio.pick('main img')
  await studio.driver.sleep(400)
  const before = await studio.sourceNow('index.html')
  const line = () => lineOf(studio, 'index.html', '<img')
  await studio.edit(() => fill(studio, 'New attribute', 'srcset="img/boat.svg 1x"', Key.ENTER))
  await studio.edit(() => fill(studio, 'Another picture of srcset', 'img/boat.svg?2 2x', Key.ENTER))
  expect(await line()).toContain('srcset="img/boat.svg 1x, img/boat.svg?2 2x"')
  await studio.edit(() => fill(studio, 'For picture 2 of srcset', '3x', Key.ENTER))
  await studio.edit(() => studio.pressNamed('Remove picture 1 of srcset'))
  expect(await line()).toContain('srcset="img/boat.svg?2 3x"')
  await studio.edit(() => fill(studio, 'Name of srcset', 'data-srcset', Key.ENTER))
  expect(await line()).toContain('data-srcset="img/boat.svg?2 3x"')
  expect(await studio.inPage('return document.querySelector("main img").srcset')).toBe('')
  // One that is there already cannot be its name.
  await fill(studio, 'Name of data-srcset', 'alt', Key.ENTER)
  expect(await line()).toContain('data-srcset=')
  await fill(studio, 'Name of data-srcset', '', Key.ESCAPE)
  await studio.edit(() => fill(studio, 'New attribute', 'hidden', Key.ENTER))
  expect(await line()).toMatch(/ hidden>$/)
  await studio.edit(async () => (await studio.driver.findElement(By.css('input[aria-label="hidden of the element"]'))).click())
  await studio.edit(() => fill(studio, 'New attribute', 'loading=lazy', Key.ENTER))
  await studio.edit(() => studio.choose('loading of the element', 'eager'))
  expect(await line()).toMatch(/ loading="eager">$/)
  const offered = await studio.driver.executeScript<string[]>(
    'return [...document.getElementById(document.querySelector("[aria-label=\'New attribute\']").getAttribute("list")).options].map((o) => o.value)',
  )
  expect(offered).toEqual(expect.arrayContaining(['decoding', 'aria-describedby', 'data-']))
  expect(offered).not.toContain('aria-checked')
  await studio.edit(() => fill(studio, 'New attribute', 'aria-checked=true', Key.ENTER))
  expect(await (await studio.driver.findElement(By.css('section[aria-label=Element]'))).getText()).toContain(
    'aria-checked says nothing for the role img',
  )
  while ((await studio.ledger()).length) await studio.undo()
  expect(await studio.sourceNow('index.html')).toBe(before)
})
