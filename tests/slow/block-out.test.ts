import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser } from '../support/studio'

const getStudio = useStudioBrowser()

test('a layout drawn over an empty box becomes landmarks and one rule with areas, also narrow; undo takes all of it back', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.goTo('/notices.html')
  await studio.pick('footer', 0.98, 0.9)
  await studio.key('i')
  await studio.press('Section or landmark')
  const dialog = await studio.driver.findElement(By.css('[role=dialog]'))
  await (await dialog.findElement(By.css('select'))).sendKeys('div')
  await (await dialog.findElement(By.css('input[type=text]'))).sendKeys(Key.chord(Key.CONTROL, 'a'), Key.DELETE)
  await studio.press('Before')
  await studio.edit(() => studio.press('Insert'))
  const [html, css] = [await studio.sourceNow('notices.html'), await studio.sourceNow('css/pages.css')]

  await studio.key('g')
  const canvas = await studio.test('block-out-canvas')
  await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', canvas)
  await studio.driver.sleep(300)
  const { x, y, width, height } = await canvas.getRect()
  const draw = (from: readonly [number, number], to: readonly [number, number]) => {
    const at = ([u, v]: readonly [number, number]) => ({
      x: Math.round(x + width * u),
      y: Math.round(y + height * v),
      duration: 60,
    })
    return studio.driver
      .actions({ async: true })
      .move(at(from))
      .press()
      .move(at([(from[0] + to[0]) / 2, (from[1] + to[1]) / 2]))
      .move(at(to))
      .release()
      .perform()
  }
  const regions = () =>
    studio.driver.executeScript<string[]>(
      'return window.steadyProof.state().drawing.regions.map((r) => `${r.name} ${r.tag} ${r.column}-${r.columnEnd} ${r.row}-${r.rowEnd}`)',
    )
  await draw([0.1, 0.1], [0.9, 0.15])
  await draw([0.1, 0.45], [0.6, 0.55])
  // It would share cells with the second.
  await draw([0.5, 0.5], [0.95, 0.55])
  await draw([0.9, 0.45], [0.92, 0.5])
  expect(await regions()).toEqual(['Header header 1-5 1-2', 'Section section 1-4 2-3', 'Aside aside 4-5 2-3'])
  // Dragged a row down, and by its lines back up.
  await draw([0.9, 0.5], [0.9, 0.8])
  expect((await regions())[2]).toBe('Aside aside 4-5 3-4')
  const end = await studio.driver.findElement(By.css('input[aria-label="First row line of Aside"]'))
  await end.sendKeys(Key.chord(Key.CONTROL, 'a'), '2')
  expect((await regions())[2]).toBe('Aside aside 4-5 2-4')
  const name = await studio.driver.findElement(By.css('input[aria-label="Name of region 2"]'))
  await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Tides')
  await studio.until('the rules shown', async () => (await studio.text('block-out-text')).includes('"tides tides tides aside"'))

  await studio.edit(() => studio.press('Write the layout'))
  const now = await studio.sourceNow('notices.html')
  expect(now).toContain(
    '  <div class="layout">\n    <header></header>\n    <section class="tides"></section>\n    <aside></aside>\n  </div>\n',
  )
  const sheet = await studio.sourceNow('css/pages.css')
  expect(sheet).toContain(
    '.layout {\n  display: grid;\n  grid-template-columns: repeat(4, 1fr);\n  grid-auto-rows: minmax(4rem, auto);\n  grid-template-areas:\n    "header header header header"\n    "tides tides tides aside"\n    ". . . aside";\n  gap: 1rem;\n}\n',
  )
  expect(sheet).toContain('"header"\n      "tides"\n      "aside";')
  const shown = () => studio.inPage<string>('return getComputedStyle(document.querySelector(".layout")).gridTemplateAreas')
  expect(await shown()).toBe('"header header header header" "tides tides tides aside" ". . . aside"')
  const setWidth = (width: number | null) => studio.driver.executeScript('return window.steadyProof.session.setWidth(arguments[0])', width)
  await setWidth(480)
  await studio.until('one column', async () => (await shown()) === '"header" "tides" "aside"')
  await setWidth(null)
  await studio.undo()
  expect([await studio.sourceNow('notices.html'), await studio.sourceNow('css/pages.css')]).toEqual([html, css])
})
