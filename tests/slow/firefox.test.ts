import { mkdtempSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { Firefox } from '../support/firefox'
import { startApp } from '../support/server'

const SHEET = '.top {\n  padding: 8px;\n}\n'

test('in Firefox a folder is opened by the server, an element picked, a tape pulled, the edit read back and saved', async () => {
  const folder = realpathSync(mkdtempSync(join(tmpdir(), 'pier-')))
  writeFileSync(
    join(folder, 'index.html'),
    '<!DOCTYPE html>\n<html lang="en">\n<link rel="stylesheet" href="site.css">\n<h1 class="top">Tide</h1>\n</html>\n',
  )
  writeFileSync(join(folder, 'site.css'), SHEET)
  const app = await startApp({}, folder)
  const browser = await Firefox.open()
  try {
    await browser.goTo(app.address)
    await browser.until('the folder', `document.title.startsWith(${JSON.stringify(folder.split('/').at(-1))})`)
    await browser.goTo(`${app.url}/?proof`)
    await browser.until('the page', 'window.steadyProof?.state().connected')
    const overlay = await browser.until<{ x: number; y: number }>(
      'the overlay',
      '(() => { const r = document.querySelector("[data-testid=overlay]")?.getBoundingClientRect(); return r && { x: r.x, y: r.y } })()',
    )
    await browser.drag(overlay.x + 60, overlay.y + 40)
    await browser.until('an element picked', 'window.steadyProof.state().picked?.report.info.tag === "h1"')
    const tape = await browser.until<{ x: number; y: number }>(
      'the tape',
      '(() => { const r = document.querySelector("[data-testid=row-padding-left] [role=slider]")?.getBoundingClientRect(); return r && { x: r.x + r.width / 2, y: r.y + r.height / 2 } })()',
    )
    await browser.drag(tape.x, tape.y, 40)
    const row = await browser.until<{ after: string }>(
      'the verdict',
      '(() => { const row = window.steadyProof.state().ledger.rows.at(-1); return row?.verdict.state === "holds" && row })()',
    )
    await browser.evaluate('document.querySelector("[data-testid=save]").click()')
    await browser.until(
      'the review',
      '(() => { const b = document.querySelector("[data-testid=save-now]"); if (!b || b.disabled) return false; b.click(); return true })()',
    )
    await browser.until('saved', 'window.steadyProof.state().ledger.rows.length === 0')
    expect(row.after).toMatch(/^\d+(\.\d+)?px$/)
    expect(readFileSync(join(folder, 'site.css'), 'utf8')).toBe(SHEET.replace('8px', `8px 8px 8px ${row.after}`))
  } finally {
    await browser.close()
    app.stop()
    rmSync(folder, { recursive: true })
  }
})
