import { mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Client } from '@modelcontextprotocol/sdk/client/index.js'
import { StreamableHTTPClientTransport } from '@modelcontextprotocol/sdk/client/streamableHttp.js'
import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { openBrowser } from '../support/browser'
import { startApp } from '../support/server'
import { Studio } from '../support/studio-driver'

const SHEET = '.fare {\n  padding: 8px;\n}\n'

test('an assistant sees what is chosen and wished for, takes a wish up, changes the file and reports; the person sees each', async () => {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'ferry-')))
  writeFileSync(
    join(folder, 'index.html'),
    '<!DOCTYPE html>\n<html lang="en">\n<link rel="stylesheet" href="site.css">\n<p class="fare">Day return</p>\n<p class="fare">Single</p>\n</html>\n',
  )
  writeFileSync(join(folder, 'site.css'), SHEET)
  const app = await startApp({}, folder)
  const browser = await openBrowser()
  const client = new Client({ name: 'a colleague', version: '1' })
  try {
    const address = await (async () => {
      for (;;) {
        const found = /Model Context Protocol: (http\S+)/.exec(app.printed())
        if (found) return found[1]
        await new Promise((done) => setTimeout(done, 20))
      }
    })()
    await client.connect(new StreamableHTTPClientTransport(new URL(address)))
    const call = async (name: string, args: Record<string, unknown> = {}) => {
      const { content, isError } = (await client.callTool({ name, arguments: args })) as {
        content: { text: string }[]
        isError?: boolean
      }
      return { text: content[0].text, isError: isError ?? false }
    }
    expect((await client.listTools()).tools.map((t) => t.name)).toEqual([
      'chosen_elements',
      'picture_of_element',
      'wishes',
      'edits_since_save',
      'take_up_wish',
      'report_wish_done',
    ])
    // Nobody has it open yet.
    expect(await call('wishes')).toEqual({
      isError: true,
      text: expect.stringContaining('No window has the folder open'),
    })

    const studio = new Studio(browser, app.url)
    await studio.driver.get(app.address)
    await studio.until('the folder opened', () =>
      studio.driver.executeScript<boolean>('return document.title.startsWith(arguments[0])', folder.split('/').at(-1)),
    )
    await studio.driver.get(`${app.url}/?proof`)
    await studio.ready()
    await studio.pick('.fare')
    const chosen = await studio.until('what is chosen', async () => {
      const { text } = await call('chosen_elements')
      return (
        text.startsWith('{') &&
        (JSON.parse(text) as {
          page: string
          elements: { file: string; line: number; html: string; values: object[] }[]
        })
      )
    })
    expect(chosen.page).toBe('/')
    expect(chosen.elements[0]).toMatchObject({ file: 'index.html', line: 4, html: '<p class="fare">' })
    expect(chosen.elements[0].values).toContainEqual({
      property: 'padding',
      computed: '8px',
      written: '8px',
      from: '.fare (site.css:2)',
      reach: 2,
    })
    await studio.type('padding-left', '20px')
    await studio.until('the edit', async () => /"what": "padding-left"/.test((await call('edits_since_save')).text))

    // The picture is of what shows: the unsaved edit makes it wider.
    const picture = await client.callTool({ name: 'picture_of_element', arguments: {} })
    const [{ type, mimeType, data }] = picture.content as { type: string; mimeType: string; data: string }[]
    expect({ type, mimeType }).toEqual({ type: 'image', mimeType: 'image/png' })
    const box = await studio.inPage<number[]>(
      'const r = document.querySelector(".fare").getBoundingClientRect(); return [r.width, r.height]',
    )
    const drawn = await studio.driver.executeAsyncScript<{ size: number[]; first: number }>(
      `const [data, done] = arguments
      fetch('data:image/png;base64,' + data).then((r) => r.blob()).then(createImageBitmap).then((image) => {
        const { width, height } = image, canvas = new OffscreenCanvas(width, height).getContext('2d')
        canvas.drawImage(image, 0, 0)
        const pixels = canvas.getImageData(0, 0, width, height).data
        const isInk = (x) => Array.from({ length: height }, (_, y) => pixels[(y * width + x) * 4 + 3]).some((a) => a > 128)
        done({ size: [width, height], first: Array.from({ length: width }, (_, x) => x).findIndex(isInk) })
      })`,
      data,
    )
    expect(drawn.size).toEqual(box.map(Math.floor))
    expect(drawn.first).toBeGreaterThanOrEqual(20)
    expect(drawn.first).toBeLessThan(24)
    expect(await call('picture_of_element', { index: 1 })).toEqual({ isError: true, text: expect.stringContaining('one element') })

    await studio.key('w')
    await (
      await studio.until('the field', async () => studio.driver.findElement(By.css('textarea[aria-label="A wish"]')))
    ).sendKeys('More air around the fares')
    await studio.press('Add the wish')
    const wish = await studio.until('the wish', async () => {
      const { text } = await call('wishes')
      return text.startsWith('[') && (JSON.parse(text) as { id: string; words: string; state: string; elements: object[] }[])[0]
    })
    expect(wish).toMatchObject({
      words: 'More air around the fares',
      state: 'open',
      elements: [{ file: 'index.html', line: 4, selector: 'html > body > p:nth-of-type(1)' }],
    })
    expect(await call('take_up_wish', { id: 'none' })).toEqual({ isError: true, text: 'There is no wish "none".' })
    expect((await call('take_up_wish', { id: wish.id, more: 1 })).isError).toBe(true)
    expect((await call('sparkle')).isError).toBe(true)
    await call('take_up_wish', { id: wish.id })
    await studio.until('taken up', async () => (await studio.text('wish')).includes('taken up'))
    // What it writes comes in as somebody else's change, beside the unsaved edit.
    writeFileSync(join(folder, 'site.css'), `${SHEET}\n.fare:first-of-type {\n  margin: 24px;\n}\n`)
    await call('report_wish_done', { id: wish.id, files: ['site.css'], told: 'A margin of 24px' })
    await studio.until(
      'done',
      async () => /done/.test(await studio.text('wish')) && /site\.css · A margin of 24px/.test(await studio.text('wish')),
    )
    expect(await call('report_wish_done', { id: wish.id, files: [] })).toEqual({
      isError: true,
      text: 'It is done already.',
    })
    await studio.key(Key.ESCAPE)
    await studio.until('its change on the page', async () => (await studio.computed('.fare', 'margin-top')) === '24px')
    expect(await studio.computed('.fare', 'padding-left')).toBe('20px')
    expect(readFileSync(join(folder, 'site.css'), 'utf8')).not.toContain('20px')

    // No page, and nobody without the secret.
    const post = (url: string, headers: Record<string, string>) =>
      fetch(url, {
        method: 'POST',
        headers: { 'content-type': 'application/json', accept: 'application/json, text/event-stream', ...headers },
        body: '{"jsonrpc":"2.0","id":1,"method":"tools/list"}',
      }).then((r) => r.status)
    expect(
      await Promise.all([
        post(address, {}),
        post(address, { origin: 'http://localhost:1' }),
        post(`${app.url}/mcp/wrong`, {}),
        post(`${app.url}/mcp/`, {}),
      ]),
    ).toEqual([200, 403, 403, 403])
  } finally {
    await client.close()
    await browser.close()
    app.stop()
    rmSync(folder, { recursive: true })
  }
})
