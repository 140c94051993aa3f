import { By, Key } from 'selenium-webdriver'
import { describe, expect, test } from 'vitest'
import { BrowserFolder } from '../support/folder'
import { useStudioBrowser, type Studio } from '../support/studio'

const getStudio = useStudioBrowser()

const PAGE =
  '\ufeff<!DOCTYPE html>\r\n<html lang="en">\r\n<head>\r\n  <title>Pier</title>\r\n  <link rel="stylesheet" href="css/a b.css">\r\n</head>\r\n<body>\r\n  <h1 class="top">Tide</h1>\r\n  <p class="note">Low</p>\r\n  <p class="last">Boat</p>\r\n</body>\r\n</html>'
const SHEET = '.top {\n  color: rgb(1, 2, 3);\n  padding: 4px;\n}\n\n.note {\n  padding: 8px;\n}\n\n.last {\n  padding: 2px;\n}'
const FILES = {
  'index.html': PAGE,
  'css/a b.css': SHEET,
  "js/ü 'x'.js": 'export {}\n',
  '.gitignore': 'private/\n*.log\n',
  'private/secret.html': '<p>no',
  'x.log': 'no',
  'node_modules/p/index.html': '<p>no',
  '.cache/x.html': '<p>no',
  'dist/index.html': '<p>built',
  'package.json': '{}',
  '日本.html': '<!DOCTYPE html><title>x</title><p class="note">日本</p>',
  '<script>.html': '<p>x</p>',
}

/** Presses what writes the files, once there is something to write. */
async function writeNow(studio: Studio): Promise<void> {
  await studio.until('files to write', async () => (await studio.test('save-now')).isEnabled())
  await (await studio.test('save-now')).click()
}

describe('a folder that is saved to', () => {
  test('it is opened without what is no source; saved edits are in its files, byte for byte, and one that is left out is not', async () => {
    const studio = getStudio()
    await studio.open('/?proof')
    const folder = new BrowserFolder(studio, 'pier site')
    await folder.write(FILES)
    await folder.offer()
    await (await studio.driver.findElement(By.css('header button[aria-haspopup=menu]'))).click()
    await studio.menuItem('A folder, to save to it')
    const dialog = await studio.until('what is left out', async () => studio.driver.findElement(By.css('[role=dialog] fieldset')))
    const told = (await dialog.getText()).replace(/\s+/g, ' ')
    for (const left of ['.cache hidden', 'dist build output', 'node_modules packages', 'private .gitignore']) expect(told).toContain(left)
    await studio.press('Open the folder')
    await studio.until('the folder opened', () => studio.driver.executeScript<boolean>('return document.title.startsWith("pier site")'))
    await studio.ready()
    expect((await studio.driver.executeScript<string[]>('return window.steadyProof.state().project.written')).sort()).toEqual([
      '<script>.html',
      'css/a b.css',
      'index.html',
      "js/ü 'x'.js",
      'package.json',
      '日本.html',
    ])

    await studio.pick('.top')
    await studio.type('padding-top', '12px')
    await studio.pick('.note')
    await studio.type('padding-top', '20px')
    expect(await folder.read('css/a b.css')).toBe(SHEET)
    await (await studio.test('save')).click()
    await studio.until('the review', async () => (await studio.text('review-files')).includes('padding: 20px 8px 8px'))
    // One edit stays behind.
    await (await studio.driver.findElement(By.xpath('//ul[@aria-label="Edits"]//label[contains(., "20px")]//input'))).click()
    await studio.until('it left out', async () => !(await studio.text('review-files')).includes('20px'))
    await writeNow(studio)
    await studio.until('saved', async () => (await studio.ledger()).length === 1)
    expect(await folder.read('css/a b.css')).toBe(SHEET.replace('padding: 4px;', 'padding: 12px 4px 4px;'))
    expect((await studio.ledger())[0]).toContain('20px')
    expect(await folder.read('index.html')).toBe(PAGE)
    // The rest in a second save.
    await studio.driver.sleep(400)
    await studio.key('s')
    await writeNow(studio)
    await studio.until('all saved', async () => (await studio.ledger()).length === 0)
    expect(await folder.read('css/a b.css')).toBe(
      SHEET.replace('padding: 4px;', 'padding: 12px 4px 4px;').replace('padding: 8px;', 'padding: 20px 8px 8px;'),
    )
  })

  test('what someone else changes is taken in, merged with unsaved edits, or shown for a choice; nothing is lost', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'pier site')
    const look = () =>
      studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.keeping.look().then(() => done())')
    const saved = await folder.read('css/a b.css')
    // Untouched here: taken in, and the page follows.
    await folder.write({ 'css/a b.css': saved.replace('padding: 2px', 'padding: 3px') })
    await look()
    await studio.until('theirs on the page', async () => (await studio.computed('.last', 'padding-top')) === '3px')
    expect(await studio.ledger()).toEqual([])
    // An edit of ours, another place of theirs.
    await studio.pick('.note')
    await studio.type('padding-top', '24px')
    await folder.write({ 'css/a b.css': saved.replace('padding: 2px', 'padding: 5px') })
    await look()
    const merged = await studio.sourceNow('css/a b.css')
    expect(merged).toBe(saved.replace('padding: 2px', 'padding: 5px').replace('padding: 20px 8px 8px', 'padding: 24px 8px 8px'))
    // The same place: both are shown, nothing is written before a choice.
    const theirs = saved.replace('padding: 2px', 'padding: 5px').replace('padding: 20px 8px 8px', 'padding: 99px')
    await folder.write({ 'css/a b.css': theirs })
    await look()
    await studio.press('Both changed 1 file')
    const dialog = await studio.until('the conflict', async () => studio.driver.findElement(By.css('[role=dialog]')))
    await studio.until('both sides', async () => /padding: 24px 8px 8px[\s\S]*padding: 99px/.test(await dialog.getText()))
    expect(await folder.read('css/a b.css')).toBe(theirs)
    await (await studio.driver.findElement(By.xpath('//label[contains(., "Mine") and not(contains(., "first"))]/input'))).click()
    await studio.press('Settle it')
    await studio.until('settled', () =>
      studio.driver.executeScript<boolean>('return window.steadyProof.state().ledger.conflicts.length === 0'),
    )
    await studio.driver.sleep(500)
    await (await studio.test('save')).click()
    await writeNow(studio)
    await studio.until('saved', async () => (await studio.ledger()).length === 0)
    expect(await folder.read('css/a b.css')).toBe(merged)
  })

  test('a failed save names the file, changes none, and keeps every edit; new and gone files are followed', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'pier site')
    await studio.driver.sleep(400)
    await studio.pick('.last')
    await studio.edit(() => studio.type('padding-top', '31px'))
    const [css, html] = [await folder.read('css/a b.css'), await folder.read('index.html')]
    await folder.remove('css/a b.css')
    await folder.write({ 'css/a b.css/blocks.txt': 'a folder of that name' })
    const look = () =>
      studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.keeping.look().then(() => done())')
    const save = () =>
      studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.keeping.save([]).then(() => done())')
    await look()
    // We have edits in it: whether a save is to write it again is asked, and nothing is saved before.
    // The folder that came has the project opened again meanwhile, which says what it found too.
    await studio.until('that it is asked', async () => {
      await save()
      return /or deleted the file/.test(await studio.driver.executeScript('return window.steadyProof.state().status?.text ?? ""'))
    })
    await studio.ready()
    await studio.press('Both changed 1 file')
    const dialog = await studio.until('what is asked', async () => studio.driver.findElement(By.css('[role=dialog]')))
    await studio.until('that it was deleted', async () => /deleted in the folder[\s\S]*no such file any more/.test(await dialog.getText()))
    await (await studio.driver.findElement(By.xpath('//label[contains(., "a save writes it again")]/input'))).click()
    await studio.press('Settle it')
    await studio.until('settled', () =>
      studio.driver.executeScript<boolean>('return window.steadyProof.state().ledger.conflicts.length === 0'),
    )
    await studio.until('the reason', async () => {
      await save()
      return /css\/a b\.css: there is a folder of that name/.test(
        await studio.driver.executeScript('return window.steadyProof.state().status?.text ?? ""'),
      )
    })
    expect(await folder.read('index.html')).toBe(html)
    expect((await studio.ledger()).join()).toContain('31px')
    await folder.remove('css/a b.css/blocks.txt')
    await studio.driver.executeAsyncScript(
      'const done = arguments[0]; navigator.storage.getDirectory().then((d) => d.getDirectoryHandle("pier site")).then((d) => d.getDirectoryHandle("css")).then((d) => d.removeEntry("a b.css", { recursive: true })).then(done)',
    )
    await look()
    await studio.until('saved', async () => {
      await save()
      return (await studio.ledger()).length === 0
    })
    expect(await folder.read('css/a b.css')).toBe(css.replace('padding: 5px', 'padding: 31px 5px 5px'))
    // A new page of theirs is there.
    await folder.write({ 'new.html': '<!DOCTYPE html><title>n</title><p>new</p>' })
    await look()
    await studio.until('the new page', () =>
      studio.driver.executeScript<boolean>('return window.steadyProof.state().project?.pages.includes("new.html") ?? false'),
    )
    await studio.ready()
    await studio.key(Key.ESCAPE)
  })

  test('each edit is saved by itself where that is chosen', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'pier site')
    await studio.goTo('/')
    await studio.driver.executeAsyncScript(
      'const done = arguments[0]; const r = indexedDB.open("steady-brush"); r.onsuccess = () => { const t = r.result.transaction("preferences", "readwrite"); t.objectStore("preferences").put({ scope: "", values: { save: "after each edit" } }); t.oncomplete = () => { r.result.close(); window.steadyProof.session.readPreferences().then(done) } }',
    )
    await studio.pick('.note')
    await studio.type('padding-top', '41px')
    await studio.until('it in the file', async () => (await folder.read('css/a b.css')).includes('padding: 41px 8px 8px'))
    await studio.until('nothing left to save', async () => (await studio.ledger()).length === 0)
    // A page that comes before an edit is saved has the project reopened, and it is saved then.
    await studio.type('padding-top', '42px')
    await folder.write({ 'later.html': '<!DOCTYPE html><title>l</title><p>later</p>' })
    await studio.until('the later edit in the file', async () => (await folder.read('css/a b.css')).includes('padding: 42px 8px 8px'))
    await studio.until('the later page', () =>
      studio.driver.executeScript<boolean>('return window.steadyProof.state().project?.pages.includes("later.html") ?? false'),
    )
    await studio.ready()
    // One that is being made while the project is to be reopened is made first.
    for (const wait of [0, 15, 30, 45]) {
      await studio.pick('.note')
      await folder.write({ [`later ${wait}.html`]: '<!DOCTYPE html><title>l</title><p>later</p>' })
      const isAsked = await studio.driver.executeAsyncScript<boolean>(
        `
        const [value, wait, done] = arguments, p = window.steadyProof
        void p.session.keeping.look()
        setTimeout(() => { const can = p.state().picked !== null; if (can) void p.session.edits.commit('padding-top', value); done(can) }, wait)`,
        `${50 + wait}px`,
        wait,
      )
      if (isAsked)
        await studio.until('the edit in the file', async () =>
          (await folder.read('css/a b.css')).includes(`padding: ${50 + wait}px 8px 8px`),
        )
      await studio.until('the page that came', () =>
        studio.driver.executeScript<boolean>(
          'return window.steadyProof.state().project?.pages.includes(arguments[0]) ?? false',
          `later ${wait}.html`,
        ),
      )
      await studio.ready()
    }
    // Once it is reopened nothing is selected, and what is still asked of the page that was left is refused at once: the page that comes is not told as busy for it.
    await studio.pick('.note')
    const left = await studio.driver.executeAsyncScript(`
      const done = arguments[0], { session, state } = window.steadyProof
      session.reopen()
      const { picked } = state()
      session.page.ask('sheets', {}).then(() => done([picked, 'an answer']), (error) => done([picked, error.message]))`)
    expect(left).toEqual([null, 'The page was left'])
    await studio.ready()
    expect(await studio.driver.executeScript('return window.steadyProof.state().busy')).toBe(false)
  }, 90_000)

  test('1,500 files are opened with progress, and saved to in good time', async () => {
    const studio = getStudio()
    const folder = new BrowserFolder(studio, 'large')
    await folder.write({
      'index.html': '<!DOCTYPE html><link rel="stylesheet" href="s.css"><p class="a">x</p>',
      's.css': '.a { margin: 0; }\n',
    })
    await folder.fill(1500)
    await folder.open()
    expect(await studio.driver.executeScript<number>('return window.steadyProof.state().project.written.length')).toBe(1502)
    await studio.pick('.a')
    await studio.type('margin-top', '7px')
    await studio.driver.executeAsyncScript('const done = arguments[0]; window.steadyProof.session.keeping.save([]).then(() => done())')
    await studio.until('saved', async () => (await studio.ledger()).length === 0)
    expect(await folder.read('s.css')).toBe('.a { margin: 7px 0 0; }\n')
  }, 180_000)
})
