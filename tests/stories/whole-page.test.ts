import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser } from '../support/studio'

const getStudio = useStudioBrowser({ dark: false })

const PAGE = `<!doctype html>
<html lang="en">
<title>Pier</title>
<link rel="stylesheet" href="pier.css">
<main>
  <h1 class="name">The old pier</h1>
  <p class="tide">High water at six</p>
  <img src="boat.svg" width="40" height="20">
  <p><button class="ring">x</button><button class="ring">y</button></p>
  <div class="plank"><span>Wide</span></div>
  <p class="hidden">Not shown</p>
</main>
</html>
`
const SHEET = `:root {
  --deep: #0f5b66;
}

body {
  margin: 0;
  background: #fff;
}

.name {
  color: var(--deep);
  border-bottom: 2px solid #0F5B66;
}

.tide {
  color: #9aa5a8;
}

.ring {
  width: 14px;
  height: 14px;
  padding: 0;
  border: 0;
  color: #fff;
  background: rgb(15, 91, 102);
}

.plank {
  width: 500px;
}

.hidden {
  display: none;
  color: #123456;
}

@media (max-width: 400px) {
  .name {
    font-size: 20px;
  }
}
`
const FILES = {
  'index.html': PAGE,
  'pier.css': SHEET,
  'boat.svg': '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><path d="M0 9h40z"/></svg>',
}

const panel = () => getStudio().text('whole-page')

/** Presses an element of the list, by what it is called. */
async function pressRow(name: string): Promise<void> {
  const row = await getStudio().driver.findElement(By.xpath(`//*[@data-testid="whole-page"]//li/button[contains(., "${name}")]`))
  await row.click()
  await getStudio().settled()
}

test('what the page lacks is listed by kind; each leads to its element, and what can be mended is, as an ordinary edit', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('pier', FILES)
  await studio.ready()
  await studio.key('q')
  await studio.until('findings', async () => /4 findings of 3 kinds/.test(await panel()))
  // The page has nothing of what looked through it.
  expect(await studio.inPage<boolean>('return "axe" in window')).toBe(false)

  await pressRow('p.tide')
  expect(await panel()).toMatch(/contrast of 2\.5/)
  await studio.edit(async () => (await studio.test('mend')).click())
  const [, color] = /\.tide \{\n {2}color: (#[\da-f]{3,6});/.exec(await studio.sourceNow('pier.css'))!
  expect(await studio.sourceNow('pier.css')).toBe(SHEET.replace('#9aa5a8', color))
  await studio.until('one kind fewer', async () => /3 findings of 2 kinds/.test(await panel()))

  await pressRow('img')
  await studio.edit(async () => (await studio.test('mend')).click())
  expect(await studio.sourceNow('index.html')).toContain('<img src="boat.svg" width="40" height="20" alt="">')
  // The list has moved up by then: what is pressed next stands elsewhere.
  await studio.until('another kind fewer', async () => /2 findings of 1 kind/.test(await panel()))

  await pressRow('button.ring 1')
  await studio.edit(async () => (await studio.test('mend')).click())
  expect(await studio.sourceNow('pier.css')).toMatch(/\.ring \{[^}]*min-width: 24px;[^}]*min-height: 24px;/)
  await studio.until('nothing left', async () => (await panel()).includes('Nothing found.'))
  for (let i = 0; i < 3; i++) await studio.undo()
  expect([await studio.sourceNow('pier.css'), await studio.sourceNow('index.html')]).toEqual([SHEET, PAGE])
  await studio.until('all of it again', async () => /4 findings of 3 kinds/.test(await panel()))
})

test('where the page is wider than its window is looked for at the project’s own widths, which it does not keep', async () => {
  const studio = getStudio()
  const before = await studio.inPage<number>('return innerWidth')
  await studio.press('Look at 2 widths: 320, 400 px')
  await studio.until('its widths', async () => /At 320, 400 px\./.test(await studio.text('widths')))
  expect(await studio.text('widths')).toMatch(/At 320 px\s+div\.plank\s+At 400 px\s+div\.plank/)
  expect(await studio.inPage<number>('return innerWidth')).toBe(before)
  expect(await studio.text('dead-links')).toContain('leads to something in the project')
  await pressRow('div.plank')
  await studio.until('its width', async () => (await studio.inPage<number>('return innerWidth')) === 320)
  await studio.press('Fit')
})

test('every colour and face that shows is listed; one chosen is chosen on the page, and replaced wherever the sheets say it', async () => {
  const studio = getStudio()
  await studio.press('In use')
  await studio.until('colours', async () => (await panel()).includes('Colours'))
  const text = await panel()
  expect(text).toMatch(/#0f5b66\s+1 text, 2 background, 1 border\s+--deep/)
  expect(text).toMatch(/#9aa5a8\s+1 text\s+not of the theme/)
  // What has no box shows nothing.
  expect(text).not.toContain('#123456')
  await pressRow('#0f5b66')
  expect(await panel()).toMatch(
    /pier\.css:2 --deep: #0f5b66\s+pier\.css:12 border-bottom: 2px solid #0F5B66\s+pier\.css:25 background: rgb\(15, 91, 102\)/,
  )
  expect(
    await studio.driver.executeScript<string[]>(
      'return [window.steadyProof.state().picked, ...window.steadyProof.state().others].map((p) => p.report.info.tag)',
    ),
  ).toEqual(['h1', 'button', 'button'])
  const field = await studio.test('replace-color')
  await field.sendKeys('nope')
  expect(await (await studio.driver.findElement(By.xpath('//button[. = "Write"]'))).isEnabled()).toBe(false)
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '#7a2e12')
  await studio.edit(() => studio.press('Write'))
  expect(await studio.sourceNow('pier.css')).toBe(
    SHEET.replace('--deep: #0f5b66', '--deep: #7a2e12').replace('#0F5B66', '#7a2e12').replace('rgb(15, 91, 102)', '#7a2e12'),
  )
  expect(await studio.computed('.name', 'color')).toBe('rgb(122, 46, 18)')
  expect((await studio.ledger()).length).toBe(1)
  await studio.until('the list follows', async () => /#7a2e12\s+1 text, 2 background, 1 border/.test(await panel()))
  await studio.undo()
  expect(await studio.sourceNow('pier.css')).toBe(SHEET)
  // One that has no token gets one, beside those that there are.
  await studio.until('the list as before', async () => (await panel()).includes('#9aa5a8'))
  await pressRow('#9aa5a8')
  await (await studio.test('name-color')).sendKeys('haze')
  await studio.edit(() => studio.press('Make a token'))
  expect(await studio.sourceNow('pier.css')).toBe(
    SHEET.replace('--deep: #0f5b66;', '--deep: #0f5b66;\n  --haze: #9aa5a8;').replace('color: #9aa5a8', 'color: var(--haze)'),
  )
  expect(await studio.computed('.tide', 'color')).toBe('rgb(154, 165, 168)')
  await studio.undo()
  expect(await studio.sourceNow('pier.css')).toBe(SHEET)
  await studio.key('q')
})

test('a picture of the page, or of an element, has its size at the scale that was asked for, and its colours', async () => {
  const studio = getStudio()
  await studio.pick('.ring')
  await studio.key('q')
  await studio.press('Picture')
  const drawn = (of: string, format: string, scale: number) =>
    studio.driver.executeAsyncScript<{ size: number[]; pixel: number[]; type: string } | string>(
      `
      const [of, format, scale, done] = arguments, { session, state } = window.steadyProof
      const chosen = of === 'element' ? [state().picked.report.info.node] : session.selection.find('html')
      Promise.resolve(chosen).then(([node]) => session.page.ask('picture', { node, format, scale })).then(async (picture) => {
        if (!picture.ok) return done(picture.why)
        const image = await createImageBitmap(new Blob([picture.bytes]))
        const context = Object.assign(document.createElement('canvas'), { width: image.width, height: image.height }).getContext('2d')
        context.drawImage(image, 0, 0)
        const pixel = [...context.getImageData(3, 3, 1, 1).data]
        done({ size: [image.width, image.height], pixel, type: picture.bytes[0] === 0x89 ? 'png' : 'webp' })
      })`,
      of,
      format,
      scale,
    )
  expect(await drawn('element', 'png', 3)).toEqual({ size: [42, 42], pixel: [15, 91, 102, 255], type: 'png' })
  const [width, height] = await studio.inPage<number[]>(
    'const { width, height } = document.documentElement.getBoundingClientRect(); return [width, height]',
  )
  expect(await drawn('page', 'webp', 1)).toMatchObject({ size: [Math.floor(width), Math.floor(height)], type: 'webp' })
  await studio.press('Save the picture')
  await studio.until('it is saved', async () => /The picture is saved: \d+ × \d+ pixels/.test(await studio.text('status')))
  await studio.key('q')
})

test('rules that nothing matches are listed by sheet and taken out as one edit; what a script says is not, unless it is chosen', async () => {
  const studio = getStudio()
  const css = `${SHEET}
.wreck {
  color: red;
}

@media print {
  .gull {
    color: red;
  }
}

.is-late {
  color: red;
}
`
  await studio.importSite('unused', { ...FILES, 'pier.css': css, 'pier.js': "document.body.classList.toggle('is-' + state)" })
  await studio.ready()
  await studio.key('q')
  await studio.press('Unused')
  await studio.until('rules', async () => /3 rules \(\d+ B|3 rules \(0\.\d KB/.test(await panel()))
  expect(await panel()).toMatch(/\.wreck\s.*\.gull\s.*\.is-late\s+a script says is-late/s)
  await studio.until('the chart', async () => (await studio.text('sheet-chart')).includes('pier.css'))
  expect(await studio.text('remove-unused')).toMatch(/^Take 2 rules out/)
  await studio.edit(async () => (await studio.test('remove-unused')).click())
  expect(await studio.sourceNow('pier.css')).toBe(`${SHEET}\n.is-late {\n  color: red;\n}\n`)
  await studio.until('one left', async () => /^1 rule/m.test(await panel()))
  await (await studio.driver.findElement(By.css('[aria-label="Take .is-late out"]'))).click()
  await studio.edit(async () => (await studio.test('remove-unused')).click())
  expect(await studio.sourceNow('pier.css')).toBe(SHEET)
  await studio.until('none left', async () => (await panel()).includes('matches something'))
  await studio.undo()
  await studio.undo()
  expect(await studio.sourceNow('pier.css')).toBe(css)
  await studio.key('q')
  expect(await studio.driver.findElements(By.css('[data-testid=whole-page]'))).toEqual([])
})

test('the theme is a board: a token is edited where it is given a value, on all that uses it; renamed, merged, and its ramp pulled', async () => {
  const studio = getStudio()
  const css = `:root {
  --sea-100: #e0f0f2;
  --sea-500: #0f5b66;
  --sea-900: #062a30;
  --deep: var(--sea-500);
  --gap: 8px;
  --gap-too: 8px;
}

body {
  color: var(--sea-900);
  background: var(--sea-100);
}

.name {
  padding: var(--gap);
  color: var(--deep);
}

.tide {
  margin: var(--gap-too);
}
`
  await studio.importSite('theme', { ...FILES, 'pier.css': css })
  await studio.ready()
  await studio.key('q')
  await studio.press('Theme')
  await studio.until('tokens', async () => (await panel()).includes('6 tokens in 1 file'))
  expect(await panel()).toMatch(/--sea-900 on --sea-100\s+13\.\d : 1/)
  const field = async (label: string) => studio.driver.findElement(By.css(`[data-testid=whole-page] [aria-label="${label}"]`))
  const type = async (label: string, text: string, ...keys: string[]) => studio.retype(await field(label), text, ...keys)
  // One that is used through another reaches what uses that.
  await (await field('--sea-500, #0f5b66')).click()
  await studio.until('its elements', async () => /\d elements? of this page shows? it/.test(await panel()))
  await studio.edit(() => type('--sea-500', '#123456', Key.ENTER))
  expect(await studio.sourceNow('pier.css')).toBe(css.replace('#0f5b66', '#123456'))
  expect(await studio.computed('.name', 'color')).toBe('rgb(18, 52, 86)')
  // What would leave it without a value is not written.
  await type('--sea-500', 'var(--deep)', Key.ENTER)
  await studio.until('why not', async () => (await studio.text('status')).includes('--sea-500 would have no value'))
  expect(await studio.sourceNow('pier.css')).toBe(css.replace('#0f5b66', '#123456'))
  await studio.undo()
  // A length is another for all that uses it, and then has another name.
  // The board is read again a moment after each edit; what is pressed meanwhile may be another by then.
  await studio.until('its value as before', () => field('--sea-500, #0f5b66'))
  await pressRow('--gap')
  await studio.edit(() => type('--gap', '24px', Key.ENTER))
  expect(await studio.sourceNow('pier.css')).toBe(css.replace('--gap: 8px', '--gap: 24px'))
  await studio.until('its length', async () => (await studio.computed('.name', 'padding-top')) === '24px')
  await studio.undo()
  await studio.until('as before', async () => (await studio.computed('.name', 'padding-top')) === '8px')
  await studio.edit(() => type('Name of the token', '--room', Key.ENTER))
  expect(await studio.sourceNow('pier.css')).toBe(css.replace('--gap: 8px', '--room: 8px').replace('var(--gap)', 'var(--room)'))
  await studio.until('its name', async () => (await panel()).includes('--room'))
  // One of two that say the same goes, and what used it uses the other.
  await pressRow('--gap-too')
  const choice = await field('Token to use instead')
  await choice.findElement(By.css('option[value="--room"]')).then((o) => o.click())
  await studio.edit(() => studio.press('Merge'))
  const merged = css
    .replace('--gap: 8px', '--room: 8px')
    .replace('var(--gap)', 'var(--room)')
    .replace('  --gap-too: 8px;\n', '')
    .replace('var(--gap-too)', 'var(--room)')
  expect(await studio.sourceNow('pier.css')).toBe(merged)
  expect([await studio.computed('.name', 'padding-top'), await studio.computed('.tide', 'margin-top')]).toEqual(['8px', '8px'])
  // All steps of a ramp at once, each in its own notation.
  await studio.until('one fewer', async () => (await panel()).includes('5 tokens in 1 file'))
  await type('Lightness by, in per cent', '-5')
  await studio.edit(() => studio.press('Pull all 3'))
  const pulled = await studio.sourceNow('pier.css')
  expect(pulled.match(/--sea-\d+: #[\da-f]{6};/g)).toHaveLength(3)
  expect(pulled).not.toContain('#0f5b66')
  expect(pulled.replace(/#[\da-f]{6}/g, '#')).toBe(merged.replace(/#[\da-f]{6}/g, '#'))
  for (let i = 0; i < 3; i++) await studio.undo()
  expect(await studio.sourceNow('pier.css')).toBe(css)
})

test('tokens that a file brings are listed before they are written; what the file has no form for, and what cannot be read, is said', async () => {
  const studio = getStudio()
  const before = await studio.sourceNow('pier.css')
  const give = (name: string, text: string) =>
    studio.driver.executeScript(
      `const [name, text] = arguments, input = document.querySelector('[data-testid=token-input]'), list = new DataTransfer()
      list.items.add(new File([text], name))
      input.files = list.files
      input.dispatchEvent(new Event('change', { bubbles: true }))`,
      name,
      text,
    )
  await give('broken.json', '{ "sea": ')
  await studio.until('the fault', async () => (await studio.text('token-file')).includes('It is not JSON'))
  expect(await (await studio.test('take-tokens')).isEnabled()).toBe(false)
  await studio.press('Leave')
  const tokens = {
    sea: { $type: 'color', 500: { $value: '#112233' }, 100: { $value: '#e0f0f2' } },
    line: { $type: 'dimension', $value: { value: 2, unit: 'px' } },
    shape: { $type: 'strange', $value: 1 },
  }
  await give('tokens.json', JSON.stringify(tokens))
  await studio.until('what it would write', async () =>
    (await studio.text('token-file')).includes('1 token would change, 1 would come, 1 say the same'),
  )
  expect(await studio.text('token-file')).toMatch(/--sea-500\s+#0f5b66 → #112233\s+--line: 2px new\s+shape: strange cannot be read/)
  expect(await studio.sourceNow('pier.css')).toBe(before)
  await studio.edit(async () => (await studio.test('take-tokens')).click())
  expect(await studio.sourceNow('pier.css')).toBe(
    before.replace('#0f5b66', '#112233').replace('--gap-too: 8px;', '--gap-too: 8px;\n  --line: 2px;'),
  )
  expect(await studio.computed('.name', 'color')).toBe('rgb(17, 34, 51)')
  await studio.undo()
  expect(await studio.sourceNow('pier.css')).toBe(before)
  await studio.key('q')
})
