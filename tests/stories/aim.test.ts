import { By, Key } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { useStudioBrowser } from '../support/studio'

const getStudio = useStudioBrowser()

const CSS = `.ticket {
  padding: var(--ticket-pad);
  color: white;
  background-color: var(--ticket-ground);
}
.ticket:hover {
  background-color: var(--ticket-hover-ground);
}
.day {
  --ticket-pad: 1rem;
  --ticket-ground: #0d6b75;
  --ticket-hover-ground: #084c54;
}
.night {
  --ticket-pad: 2rem;
  --ticket-ground: #1b2a30;
  --ticket-hover-ground: #000;
}
${Array.from({ length: 40 }, (_, i) => `.pier-${i} {\n  top: ${i}px;\n}\n`).join('')}p.ticket {
  margin: 4px;
}
`
const HTML =
  '<!DOCTYPE html>\n<link rel="stylesheet" href="tickets.css">\n<p class="ticket day">Day</p>\n<p class="ticket night">Night</p>\n<p class="ticket day">Day return</p>\n'

test('what a variant of a component gives its own name is changed there, in a state too, and the rule that all variants share stays', async () => {
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('tickets', { 'index.html': HTML, 'tickets.css': CSS })
  await studio.ready()
  await studio.pick('.ticket.day', 0.9, 0.1)
  await studio.unfold('Colour')
  const type = async (color: string) => {
    const button = await studio.driver.findElement(By.css('[data-testid=row-background-color] button[aria-haspopup=dialog]'))
    await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', button)
    await button.click()
    const field = await studio.driver.findElement(By.css('[role=dialog] input:not([type=range])'))
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), color, Key.ENTER)
  }
  expect(await studio.edit(() => type('#2a9d8f'))).toMatch(/tickets\.css:11 --ticket-ground #0d6b75 #2a9d8f reach 2 ✓/)
  // Source opens at the line that was written, and not where the last rule of the element stands.
  expect(await studio.markedLine()).toContain('--ticket-ground: #2a9d8f;')
  expect(
    await studio.driver.executeScript<boolean>(`
    const [source, line] = ['[data-testid=source]', '[data-testid=source] [class*=marked]'].map((s) => document.querySelector(s).getBoundingClientRect())
    return line.top >= source.top && line.bottom <= source.bottom`),
  ).toBe(true)
  expect([await studio.text('aim-label'), await studio.text('aim-of')]).toEqual(['--ticket-ground', 'in .day'])
  expect(await studio.text('reach')).toContain('2 on this page')
  await studio.choose('State', ':hover')
  await studio.edit(() => type('#1f7a70'))
  await studio.choose('State', '')
  // A length stays in the unit that the token has.
  await studio.edit(() => studio.type('padding', '*1.5'))
  expect(await studio.sourceNow('tickets.css')).toBe(
    CSS.replace('1rem', '1.5rem').replace('#0d6b75', '#2a9d8f').replace('#084c54', '#1f7a70'),
  )
  expect([await studio.computed('.day', 'padding-top'), await studio.computed('.night', 'padding-top')]).toEqual(['24px', '32px'])
  // Back to what it was, by the row; and the declaration itself can still be taken out.
  const menu = async (property: string) => {
    const dot = await studio.driver.findElement(
      By.css(`[data-testid="row-${property}"] > button[aria-haspopup=dialog]:not([class*=color])`),
    )
    await studio.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', dot)
    await dot.click()
    await studio.test('row-menu')
    await studio.driver.sleep(350)
  }
  await menu('padding')
  await studio.edit(() => studio.press('Back to 1rem'))
  expect(await studio.sourceNow('tickets.css')).toContain('--ticket-pad: 1rem;')
  await menu('padding')
  await studio.edit(() => studio.press('Remove the declaration'))
  expect(await studio.sourceNow('tickets.css')).toMatch(/^\.ticket \{\n {2}color: white;/)
})

test('an edit is of what was selected, or was being selected, when it was asked for, and what is asked for at once takes turns', async () => {
  const studio = getStudio()
  const sheet = '.day {\n  color: teal;\n}\n\n.night {\n  color: navy;\n}\n'
  await studio.importSite('turns', {
    'index.html': '<!DOCTYPE html>\n<link rel="stylesheet" href="turns.css">\n<p class="day">Day</p>\n<p class="night">Night</p>\n',
    'turns.css': sheet,
  })
  await studio.ready()
  await studio.pick('.day')
  const atOnce = async (script: string): Promise<string> => {
    expect(
      await studio.driver.executeAsyncScript(`
      const done = arguments[0], { session: { edits, selection, timeline } } = window.steadyProof
      const night = async () => (await selection.find('.night'))[0]
      ;(async () => { ${script} })().then(() => done('done'), (error) => done(String(error)))`),
    ).toBe('done')
    return studio.sourceNow('turns.css')
  }
  const undone = () => atOnce(`await timeline.step('undo')`)
  // A state, and an edit before the page has said what holds in it.
  expect(
    await atOnce(`void selection.setCondition({ state: ':hover' }); edits.preview('color', 'red'); await edits.commit('color', 'red')`),
  ).toBe(sheet.replace('teal;\n}\n', 'teal;\n}\n\n.day:hover {\n  color: red;\n}\n'))
  expect(await undone()).toBe(sheet)
  // Two that need the same new rule share it.
  expect(await atOnce(`await Promise.all([edits.commit('color', 'red'), edits.commit('opacity', '0.5')])`)).toBe(
    sheet.replace('teal;\n}\n', 'teal;\n}\n\n.day:hover {\n  color: red;\n  opacity: 0.5;\n}\n'),
  )
  await undone()
  expect(await undone()).toBe(sheet)
  await studio.choose('State', '')
  // Another element chosen while an edit waits for the one before it.
  expect(
    await atOnce(
      `const other = await night(); const all = [edits.commit('color', 'red'), edits.commit('color', 'tan')]; await selection.pick(other); await Promise.all(all)`,
    ),
  ).toBe(sheet.replace('teal', 'tan'))
  expect(await atOnce(`await Promise.all([selection.walk('previous'), edits.commit('color', 'gold')])`)).toBe(sheet.replace('teal', 'gold'))
  // Undo takes back what was asked for just before it.
  expect(await atOnce(`await Promise.all([edits.commit('color', 'pink'), timeline.step('undo')])`)).toBe(sheet.replace('teal', 'gold'))
  expect(await studio.computed('.day', 'color')).toBe('rgb(255, 215, 0)')
})

test('a class that no rule is about gets one beside its relatives, in their layer, and is told to be new before', async () => {
  const studio = getStudio()
  const sheet =
    '@layer base, parts;\n\n@layer base {\n  p { margin: 0; }\n}\n\n@layer parts {\n  .pier { padding: 4px; }\n\n  .foot { padding: 2px; }\n}\n'
  await studio.importSite('piers', {
    'index.html':
      '<!DOCTYPE html>\n<link rel="stylesheet" href="piers.css">\n<div class="pier"><p class="pier__tide js-tide">Low tide</p></div>\n',
    'piers.css': sheet,
  })
  await studio.ready()
  await studio.pick('.pier__tide')
  expect(await studio.text('aim-new')).toBe('new rule')
  expect([await studio.text('aim-label'), await studio.text('reach')]).toEqual(['.pier__tide', expect.stringContaining('1 on this page')])
  expect(await studio.edit(() => studio.type('padding-top', '9px'))).toMatch(/piers\.css:10 padding-top 9px reach 1 ✓/)
  expect(await studio.sourceNow('piers.css')).toBe(sheet.replace('4px; }\n', '4px; }\n\n  .pier__tide { padding-top: 9px; }\n'))
  expect(await studio.driver.findElements(By.css('[data-testid=aim-new]'))).toEqual([])
})

test('a popover is held open, and what is asked for while it is open goes to its own rule', async () => {
  const studio = getStudio()
  await studio.importSite('popover', {
    'index.html':
      '<!DOCTYPE html>\n<link rel="stylesheet" href="menu.css">\n<p>Sailings</p>\n<button popovertarget="menu">Piers</button>\n<div popover id="menu" class="menu">Old Pier</div>\n',
    'menu.css': '.menu {\n  padding: 4px;\n}\n.menu:popover-open {\n  width: 200px;\n  height: 80px;\n}\n',
  })
  await studio.ready()
  await studio.press('div#menu')
  await studio.until('the popover', () => studio.inPage<boolean>('return document.querySelector("#menu").matches(":popover-open")'))
  await studio.pick('#menu', 0.5, 0.9)
  await studio.choose('State', ':popover-open')
  await studio.edit(() => studio.type('padding-left', '12px'))
  expect(await studio.sourceNow('menu.css')).toContain('.menu:popover-open {\n  width: 200px;\n  height: 80px;\n  padding-left: 12px;\n}')
  await studio.choose('State', '')
  await studio.press('div#menu open')
  expect(await studio.inPage('return document.querySelector("#menu").matches(":popover-open")')).toBe(false)
})

test('rules of every kind, and those that this engine drops, leave the rules behind them where edits land', async () => {
  const studio = getStudio()
  const sheet = `@charset "utf-8";
@layer base, more;
@import url("sea.css") layer(base);
@import "foam.css";
@view-transition { navigation: auto; }
@font-palette-values --dusk { font-family: x; base-palette: 1; }
@position-try --below { top: anchor(bottom); }
@counter-style piers { system: cyclic; symbols: "x"; suffix: " "; }
@property --swell { syntax: "<length>"; inherits: false; initial-value: 0px; }
@font-feature-values Foo { @styleset { nice: 12; } }
@unheard { .boat { top: 0 } }
.boat::-moz-focus-inner { top: 0 }
.boat:unheard { top: 0 }
@-moz-document url-prefix() { .boat { top: 1px } }
@layer base { .quay { top: 0 } }
@supports (display: grid) {
  @view-transition { navigation: auto; }
  .boat { padding: 1px; }
}
.boat {
  margin: 1px;
}
`
  await studio.importSite('rules', {
    'index.html': '<!DOCTYPE html>\n<link rel="stylesheet" href="rules.css">\n<p class="boat">Boat</p>\n',
    'rules.css': sheet,
    'sea.css': '.boat { color: rgb(1, 2, 3); }\n',
    'foam.css': '.boat { line-height: 40px; }\n',
  })
  await studio.ready()
  await studio.pick('.boat')
  await studio.edit(() => studio.type('margin-top', '9px'))
  await studio.edit(() => studio.type('padding-top', '8px'))
  const edited = sheet.replace('margin: 1px;', 'margin: 9px 1px 1px;').replace('padding: 1px;', 'padding: 8px 1px 1px;')
  expect(await studio.sourceNow('rules.css')).toBe(edited)
  // What is imported is there still, and can be edited itself.
  await studio.unfold('Type')
  expect(await studio.edit(() => studio.type('line-height', '44px'))).toMatch(/foam\.css:1 line-height 40px 44px reach 1 ✓/)
  expect([
    await studio.computed('.boat', 'color'),
    await studio.computed('.boat', 'line-height'),
    await studio.computed('.boat', 'margin-top'),
  ]).toEqual(['rgb(1, 2, 3)', '44px', '9px'])
  // Another order of the layers takes the page to load again.
  const loaded = await studio.inPage<number>('return performance.timeOrigin')
  await studio.driver.executeAsyncScript(
    'const done = arguments[2]; window.steadyProof.session.making.typed("rules.css", arguments[0], arguments[1]).then(done)',
    edited,
    edited.replace('@import "foam.css";\n', ''),
  )
  await studio.until('loaded again', async () => (await studio.inPage<number>('return performance.timeOrigin')) > loaded)
  await studio.until('no foam', async () => (await studio.computed('.boat', 'line-height')) !== '44px')
})
