import { By, Key } from 'selenium-webdriver'
import type { Driver } from 'selenium-webdriver/chrome'
import { describe, expect, test } from 'vitest'
import { BrowserFolder } from '../support/folder'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const PAGE =
  '<!DOCTYPE html>\n<html lang="en">\n<title>Harbour</title>\n<link rel="stylesheet" href="quay.css">\n<link rel="stylesheet" href="mast.css">\n<p class="quay">Tide</p>\n<p class="mast">Wind</p>\n</html>\n'
const QUAY = '.quay {\n  padding: 4px;\n}\n\n.quay b {\n  color: green;\n}\n\n.pier {\n  margin: 1px;\n}\n'
const MAST = '.mast {\n  padding: 6px;\n}\n'
const FILES = { 'index.html': PAGE, 'quay.css': QUAY, 'mast.css': MAST }

const status = (studio: Studio) => studio.driver.executeScript<string>('return window.steadyProof.state().status?.text ?? ""')
const inSession = (studio: Studio, what: string) =>
  studio.driver.executeAsyncScript(
    `const done = arguments[0]; Promise.resolve(window.steadyProof.session.${what}).then(() => done(), (e) => done(String(e)))`,
  )
const look = (studio: Studio) => inSession(studio, 'keeping.look()')
const save = (studio: Studio) => inSession(studio, 'keeping.save([])')

async function edit(studio: Studio, selector: string, value: string, property = 'padding-top'): Promise<void> {
  await studio.pick(selector)
  await studio.edit(() => studio.type(property, value))
}

async function inReview(studio: Studio, work: () => Promise<void>): Promise<void> {
  await studio.driver.executeScript('document.activeElement?.blur()')
  await studio.key('s')
  await studio.test('review-files')
  await work()
  await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
  await (await studio.test('save-now')).click()
  await studio.until('it written', async () => (await studio.driver.findElements(By.css('[data-testid=save-now]'))).length === 0)
}

describe('what others do to the folder', () => {
  test('undo takes back what was done here, and what another program saved stays in the folder, also where each edit is saved', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    const folder = new BrowserFolder(studio, 'harbour')
    await folder.write(FILES)
    await folder.open()
    await edit(studio, '.quay', '12px')
    await inReview(studio, async () => {})
    await folder.write({ 'quay.css': (await folder.read('quay.css')).replace('green', 'teal') })
    await look(studio)
    await studio.until('theirs here', async () => (await studio.sourceNow('quay.css')).includes('teal'))
    await studio.driver.executeScript('document.activeElement?.blur()')
    await studio.chord(Key.CONTROL, 'z')
    await studio.until('ours undone', async () => (await studio.sourceNow('quay.css')) === QUAY.replace('green', 'teal'))
    // Nothing more of ours: theirs is named, and stays.
    await studio.chord(Key.CONTROL, 'z')
    await studio.until('whose it is', async () => /quay\.css was changed by someone else/.test(await status(studio)))
    await save(studio)
    expect(await folder.read('quay.css')).toBe(QUAY.replace('green', 'teal'))
  })

  test('what came while one take was shown is in the other; what another take had saved is a row of the review that can be left out', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'harbour')
    await inSession(studio, 'keeping.show(() => window.steadyProof.desk.takes.newTake("Wide", "here"))')
    await edit(studio, '.mast', '30px')
    await inReview(studio, async () => {})
    await folder.write({ 'quay.css': QUAY.replace('green', 'navy') })
    await look(studio)
    await inSession(studio, 'keeping.nextTake()')
    await studio.until('theirs in the first take', async () => (await studio.sourceNow('quay.css')).includes('navy'))
    expect(await studio.sourceNow('mast.css')).toBe(MAST)
    // A save would take back what the other take had saved: it is said, and can be left out.
    await edit(studio, '.quay', '9px')
    await inReview(studio, async () => {
      const row = await studio.until('the row', async () =>
        studio.driver.findElement(
          By.xpath('//ul[@aria-label="Edits"]//label[contains(., "saved in another take") and contains(., "mast.css")]/input'),
        ),
      )
      expect(await studio.text('review-files')).toContain('mast.css')
      await row.click()
      await studio.until('it left out', async () => !(await studio.text('review-files')).includes('mast.css'))
    })
    expect(await folder.read('mast.css')).toBe(MAST.replace('6px', '30px 6px 6px'))
    expect(await folder.read('quay.css')).toBe(QUAY.replace('green', 'navy').replace('4px', '9px 4px 4px'))
    // Held up, the page shows what the folder has.
    await inSession(studio, 'timeline.compare(true)')
    await studio.until('as saved', async () => (await studio.computed('.mast', 'padding-top')) === '30px')
    await inSession(studio, 'timeline.compare(false)')
    await studio.until('as here', async () => (await studio.computed('.mast', 'padding-top')) === '6px')
  })

  test('a take whose file was deleted opens, and the deletion is asked about', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'harbour')
    await folder.remove('mast.css')
    await look(studio)
    await inSession(studio, 'keeping.nextTake()')
    await studio.until('the other take', async () => (await studio.sourceNow('mast.css')).includes('30px'))
    await studio.press('Both changed 1 file')
    const dialog = await studio.until('the question', async () => studio.driver.findElement(By.css('[role=dialog]')))
    await studio.until('that it was deleted', async () =>
      /mast\.css was changed here and deleted in the folder/.test(await dialog.getText()),
    )
    await (await studio.driver.findElement(By.xpath('//label[contains(., "stays deleted")]/input'))).click()
    await studio.press('Settle it')
    await studio.until('settled', () =>
      studio.driver.executeScript<boolean>('return window.steadyProof.state().ledger.conflicts.length === 0'),
    )
    await save(studio)
    await expect(folder.read('mast.css')).rejects.toThrow(/NotFound/)
    // Edited again, it is wanted.
    await edit(studio, '.mast', '31px')
    await save(studio)
    await studio.until('written', async () => (await folder.read('mast.css')) === MAST.replace('6px', '31px 6px 6px'))
  })

  test('a file that cannot be read is named and keeps no other from being saved; a folder that is gone is told', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'harbour')
    await folder.write({ 'mast.css': Uint8Array.from([0x2e, 0x6d, 0xff, 0xfe, 0x7b, 0x7d]) })
    await edit(studio, '.quay', '14px')
    await save(studio)
    await studio.until('ours saved', async () => (await folder.read('quay.css')).includes('padding: 14px 4px 4px'))
    expect(await status(studio)).toMatch(/Not written: mast\.css|mast\.css: someone else saved it so that it cannot be read/)
    await folder.write({ 'mast.css': MAST })
    await look(studio)
    await edit(studio, '.quay', '15px')
    await studio.driver.executeAsyncScript(
      'const done = arguments[0]; navigator.storage.getDirectory().then((d) => d.removeEntry("harbour", { recursive: true })).then(() => done())',
    )
    await studio.until('that it is gone', async () => /The folder harbour is not there any more\./.test(await status(studio)))
    await save(studio)
    expect(await status(studio)).toMatch(/Not saved\. The folder harbour is not there any more\. Every edit is safe here/)
    expect((await studio.ledger()).join()).toContain('15px')
  })

  test('what another program writes right before a save is merged and not overwritten', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'race')
    await folder.write(FILES)
    await folder.open()
    for (let n = 0; n < 3; n++) {
      await edit(studio, '.quay', `${20 + n}px`)
      await studio.driver.executeAsyncScript(
        `
        const [value, done] = arguments
        const work = async () => {
          const file = await (await (await navigator.storage.getDirectory()).getDirectoryHandle('race')).getFileHandle('quay.css')
          const text = await (await file.getFile()).text()
          const stream = await file.createWritable()
          await stream.write(text.replace(/margin: [^;]+/, 'margin: ' + value))
          await stream.close()
          await window.steadyProof.session.keeping.save([])
        }
        work().then(() => done(), (e) => done(String(e)))`,
        `${n}em`,
      )
      await studio.until('both', async () => {
        await save(studio)
        const text = await folder.read('quay.css')
        return text.includes(`padding: ${20 + n}px 4px 4px`) && text.includes(`margin: ${n}em`)
      })
    }
  })
})

describe('what the browser does to its storage', () => {
  test('projects that were cleared are named at the next start, and unsaved edits come back from their folder', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'cleared')
    await folder.write(FILES)
    await folder.open()
    await edit(studio, '.quay', '40px')
    await inReview(studio, async () => {})
    await edit(studio, '.mast', '41px')
    await studio.until('them kept', async () => (await folder.read('.steady-brush/unsaved.json')).includes('41px'))
    expect(await folder.read('.steady-brush/.gitignore')).toBe('*\n')
    const mine = [await studio.sourceNow('quay.css'), await studio.sourceNow('mast.css')]
    await studio.driver.executeScript('window.stop(); location.href = "about:blank"')
    await (studio.driver as Driver).sendDevToolsCommand('Storage.clearDataForOrigin', {
      origin: studio.url,
      storageTypes: 'indexeddb,cache_storage,service_workers',
    })
    await studio.driver.get(`${studio.url}/?proof`)
    const lost = await studio.until('what is gone', async () => studio.text('lost'))
    expect(lost).toMatch(/cleared\s+Its files are in the folder cleared\. It had 1 unsaved edit/)
    expect(lost).toMatch(/Brinewick Ferry\s+It was in the browser alone/)
    await studio.press('Do not show this again')
    await studio.ready()
    // Another program changed another place meanwhile.
    await folder.write({ 'mast.css': `${MAST}\n.boom { top: 0; }\n` })
    await folder.offer()
    await (await studio.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
    await studio.menuItem('A folder, to save to it')
    expect(await studio.text('kept-edits')).toMatch(/Bring back 1 unsaved edit, kept in it on/)
    await studio.press('Open the folder')
    await studio.until('it open', () => studio.driver.executeScript<boolean>('return document.title.startsWith("cleared")'))
    await studio.ready()
    await studio.until('all of it', async () => (await studio.sourceNow('mast.css')) === `${mine[1]}\n.boom { top: 0; }\n`)
    expect(await studio.sourceNow('quay.css')).toBe(mine[0])
    expect((await studio.ledger()).join()).toContain('41px')
    await save(studio)
    expect(await folder.read('mast.css')).toBe(`${mine[1]}\n.boom { top: 0; }\n`)
    await studio.until('nothing kept any more', async () =>
      folder.read('.steady-brush/unsaved.json').then(
        () => false,
        () => true,
      ),
    )
  })

  test('a backup comes back beside the project of its name, and mixes nothing', async () => {
    const studio = getStudio()
    const files = () =>
      studio.driver.executeAsyncScript<string[][]>(
        'const done = arguments[0]; const r = indexedDB.open("steady-brush"); r.onsuccess = () => { const t = r.result.transaction(["projects", "files"]); const p = t.objectStore("projects").getAll(), f = t.objectStore("files").getAll(); t.oncomplete = () => { r.result.close(); done(p.result.filter((x) => x.id.startsWith("ferry-gate")).map((x) => [x.name, ...f.result.filter((y) => y.project === x.id).map((y) => y.path).sort()])) } }',
      )
    await studio.importSite('ferry gate', { 'index.html': '<p class="old">Old</p>', 'old.css': '.old {}' })
    await studio.ready()
    const menu = async () => {
      await (await studio.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
      await studio.menuItem('All projects')
      await studio.driver.sleep(500)
    }
    await menu()
    const backup = await studio.download(() => studio.press('All of it as one file'))
    await (await studio.driver.findElement(By.xpath('//*[@data-testid="project-card"][1]//button[.="Remove…"]'))).click()
    await studio.press('Remove it')
    await studio.ready()
    await studio.importSite('ferry gate', { 'index.html': '<p class="new">New</p>', 'new.css': '.new {}' })
    await studio.ready()
    await menu()
    await (await studio.driver.findElement(By.css('[data-testid=backup-input]'))).sendKeys(backup)
    await studio.test('restore-asked')
    await studio.press('Bring back beside')
    await studio.until('both', async () => (await files()).length === 2)
    expect(await files()).toEqual(
      expect.arrayContaining([
        ['ferry gate', 'index.html', 'new.css'],
        ['ferry gate, from a backup', 'index.html', 'old.css'],
      ]),
    )
  })

  test('publishing a large project says how far it is, and can be cancelled', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    await studio.driver.executeScript(`
      window.cancelling = new MutationObserver(() => [...document.querySelectorAll('main [role=status] button')].find((b) => b.textContent === 'Cancel')?.click())
      window.cancelling.observe(document.body, { subtree: true, childList: true })`)
    await studio.importSite('many sails', {
      'index.html': '<p>Sails</p>',
      ...Object.fromEntries(
        Array.from({ length: 900 }, (_, i) => [`sails/${i}.svg`, `<svg xmlns="http://www.w3.org/2000/svg" id="s${i}"/>`]),
      ),
    })
    expect(await (await studio.test('live-fault')).getText()).toMatch(
      /Publishing was cancelled\s+(No file was|\d+ of 901 files were) published\./,
    )
    await studio.driver.executeScript('window.cancelling.disconnect()')
    await studio.press('Try again')
    await studio.ready()
    expect(await studio.inPage<string>('return document.body.innerText.trim()')).toBe('Sails')
  })
})
