import { readFileSync } from 'node:fs'
import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser({ dark: false })
const axe = readFileSync('node_modules/axe-core/axe.min.js', 'utf8')

/** Serious faults of the interface itself; the live page is its author's. */
async function faults(studio: Studio): Promise<string[]> {
  await studio.driver.sleep(400)
  await studio.driver.executeScript(`if (!window.axe) { ${axe} }`)
  return studio.driver.executeAsyncScript<string[]>(`
    const done = arguments[0]
    axe.run({ exclude: [['iframe']] }, { iframes: false }).then((r) => done(r.violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').flatMap((v) => v.nodes.map((n) => v.id + ': ' + n.html.slice(0, 160) + ' ' + n.failureSummary.slice(0, 200)))))`)
}

test('no screen has a serious fault of accessibility', async () => {
  const studio = getStudio()
  await studio.open()
  expect(await faults(studio)).toEqual([])
  await studio.goTo('/fares.html')
  await studio.pick('.fare', 0.5, 0.03)
  await studio.pull('padding-left', 20)
  expect(await faults(studio)).toEqual([])
  await (await studio.driver.findElement(By.xpath('//button[contains(., "other place")]'))).click()
  expect(await faults(studio)).toEqual([])
  await (await studio.driver.findElement(By.css('[data-testid=row-color] button'))).click()
  expect(await faults(studio)).toEqual([])
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(300)
  await (await studio.test('save')).click()
  expect(await faults(studio)).toEqual([])
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(400)
  for (const title of ['Layout', 'Size', 'Place', 'Edges', 'Effects']) await studio.unfold(title)
  expect(await faults(studio)).toEqual([])
  await studio.press('Element')
  await studio.driver.sleep(300)
  expect(await faults(studio)).toEqual([])
  await studio.edit(() => studio.press('A gradient'))
  await studio.edit(() => studio.press('Add a shadow'))
  await studio.edit(() => studio.press('Add a transition'))
  for (const more of await studio.driver.findElements(By.xpath('//button[contains(., " more") and @aria-expanded="false"]'))) await studio.driver.executeScript('arguments[0].click()', more)
  expect(await faults(studio)).toEqual([])
  await studio.press('Faces…')
  await studio.driver.sleep(300)
  expect(await faults(studio)).toEqual([])
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(400)
  await studio.key('o')
  await studio.test('outline')
  await studio.driver.sleep(500)
  expect(await faults(studio)).toEqual([])
  await studio.key('o')
  await studio.pick('.cards', 0.335, 0.5)
  await studio.choose('State', ':hover')
  expect(await faults(studio)).toEqual([])
  await (await studio.driver.findElement(By.css('[data-testid=row-gap] > button[aria-haspopup=dialog]'))).click()
  await studio.test('row-menu')
  expect(await faults(studio)).toEqual([])
  await studio.key(Key.ESCAPE)
  await studio.driver.sleep(400)
  await (await studio.driver.findElement(By.xpath('//button[normalize-space(.)="Keys"]'))).click()
  expect(await faults(studio)).toEqual([])
})
