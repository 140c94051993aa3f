import { writeFileSync } from 'node:fs'
import { openBrowser } from './tests/support/browser'
import { Studio } from './tests/support/studio-driver'
const b = await openBrowser({ dark: false })
try {
  const studio = new Studio(b, 'http://localhost:4310')
  await studio.open()
  const shot = async (n: string) => writeFileSync(`/tmp/${n}.png`, await b.driver.takeScreenshot(), 'base64')
  await studio.goTo('/fares.html')
  await studio.pick('.cards', 0.335, 0.5)
  await studio.key('g')
  await studio.test('block-out-canvas')
  await studio.driver.sleep(400)
  const c = await (await studio.test('block-out-canvas')).getRect()
  const at = (x: number, y: number) => ({ x: Math.round(c.x + c.width * x), y: Math.round(c.y + c.height * y) })
  const draw = async (a: number[], z: number[]) => studio.driver.actions({ async: true }).move(at(a[0], a[1])).press().move({ ...at((a[0] + z[0]) / 2, (a[1] + z[1]) / 2), duration: 50 }).move({ ...at(z[0], z[1]), duration: 50 }).release().perform()
  await draw([0.1, 0.1], [0.9, 0.2])
  await draw([0.1, 0.5], [0.6, 0.6])
  await draw([0.9, 0.5], [0.95, 0.6])
  await studio.driver.sleep(500)
  await shot('bo1')
  await studio.press('Write the layout')
  await studio.driver.sleep(2500)
  await shot('bo2')
} finally { await b.close() }
