import { cpSync, mkdtempSync, readFileSync } from 'node:fs'
import { execFileSync } from 'node:child_process'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { unzipSync } from 'fflate'
import { By, until } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { fetchSite } from '../../scripts/fetch-sites'
import { useStudioBrowser } from '../support/studio'

const getStudio = useStudioBrowser()

interface Case {
  readonly name: string
  readonly folder: () => string
  readonly page: string
  readonly steps: readonly {
    readonly pick: string
    readonly dx?: number
    readonly dy?: number
    readonly property: string
    readonly value: string
    readonly aim?: string
  }[]
}

const copyOf = (folder: string, leave: RegExp): string => {
  const root = join(mkdtempSync(join(tmpdir(), 'steady-real-')), 'site')
  cpSync(folder, root, { recursive: true, filter: (f) => !leave.test(f) })
  return root
}

const CASES: readonly Case[] = [
  {
    name: 'html5-boilerplate',
    folder: () => copyOf(join(fetchSite('html5-boilerplate@9'), 'dist'), /package\.json$/),
    page: '/',
    steps: [{ pick: 'p', property: 'padding-left', value: '12px' }],
  },
  {
    name: 'startbootstrap-sb-admin-2',
    folder: () => copyOf(fetchSite('startbootstrap-sb-admin-2@4'), /^$/),
    page: '/cards.html',
    steps: [
      { pick: '.card-body', dx: 0.98, property: 'padding-left', value: '30px' },
      { pick: '.h3.mb-0', property: 'font-size', value: '2rem' },
      { pick: '.topbar', dx: 0.5, dy: 0.9, property: 'margin-bottom', value: '10+6', aim: '.mb-4,.my-4' },
    ],
  },
]

test.each(CASES)(
  'a site nobody here wrote runs through the whole story: $name',
  async ({ folder, page, steps }) => {
    const studio = getStudio()
    await studio.open()
    const root = folder()
    await studio.importFolder(root)
    await studio.until('the project', () => studio.driver.executeScript<boolean>('return document.title.startsWith("site")'))
    await studio.ready()
    if (page !== '/') await studio.goTo(page)
    let edits = 0
    for (const step of steps) {
      await studio.pick(step.pick, step.dx, step.dy)
      // The class is one of a scale, so the default is another class of it; the rule itself is chosen by hand.
      if (step.aim) {
        await (await studio.tape(step.property)).sendKeys('')
        expect(await studio.text('aim-label')).toBe('class list')
        await studio.press('other place')
        await (
          await studio.driver.wait(until.elementLocated(By.xpath(`//*[@data-testid="candidate"][contains(., "${step.aim}")]`)), 15_000)
        ).click()
      }
      await studio.type(step.property, step.value)
      edits++
      await studio.until(`edit ${edits}`, async () => (await studio.ledger()).length === edits)
      expect(await studio.verdict(), (await studio.ledger())[0]).toBe('holds')
    }
    await studio.pull('padding-top', 20)
    edits++
    const patch = (await studio.take('as a patch')).bytes.toString('utf8')
    const zipped = unzipSync(new Uint8Array((await studio.take('as a zip')).bytes))
    execFileSync('git', ['-c', 'core.autocrlf=false', 'apply', '--unsafe-paths', '-'], { cwd: root, input: patch })
    for (const [path, bytes] of Object.entries(zipped)) expect(readFileSync(join(root, path)).equals(Buffer.from(bytes)), path).toBe(true)
    for (let i = 0; i < edits; i++) await studio.undo()
    expect(await studio.ledger()).toEqual([])
  },
  240_000,
)
