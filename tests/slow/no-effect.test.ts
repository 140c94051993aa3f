import { By } from 'selenium-webdriver'
import { expect, test } from 'vitest'
import { NO_EFFECT_CODES, type NoEffect } from '../../src/core/cascade'
import { useStudioBrowser } from '../support/studio'

const getStudio = useStudioBrowser({ height: 900 })

interface Case {
  readonly code: string
  /** `T` stands for the class of the element in question. */
  readonly html: string
  readonly property: string
  /** Two values that would look different if they counted; the first is in the rule. */
  readonly values: readonly [string, string]
  /** Other declarations of its rule. */
  readonly rule?: string
  /** It shows over time, or to the pointer: there is nothing to compare. */
  readonly unseen?: true
  /** It shows once its parent is scrolled. */
  readonly scrolled?: true
}

const TEXT = 'Old Pier and back'
const BOX = `<div class="T">${TEXT}</div>`
const SPAN = `<p>The <span class="T">${TEXT}</span> boat</p>`
const ITEMS = '<div class="T"><i>one</i><i>two</i><i>three</i></div>'
const inFlex = (child: string) => `<div style="display: flex; height: 70px">${child}<i>two</i></div>`
const TABLE = '<table class="T" border="1"><caption>Tides</caption><tr><td>07:10</td><td></td></tr></table>'
const PICTURE = '<svg class="T" width="60" height="30"><rect width="20" height="20"/></svg>'
const TWO = ['0', '30px'] as const

const CASES: readonly Case[] = [
  { code: 'not-rendered', html: BOX, rule: 'display: none', property: 'padding-left', values: TWO },
  { code: 'contents', html: BOX, rule: 'display: contents', property: 'padding-left', values: TWO },
  { code: 'gap-without-container', html: ITEMS, property: 'gap', values: TWO },
  { code: 'column-gap-without-container', html: ITEMS, property: 'column-gap', values: TWO },
  { code: 'row-gap-single-line', html: ITEMS, rule: 'display: flex; width: 60px', property: 'row-gap', values: TWO },
  {
    code: 'alignment-without-container',
    html: ITEMS,
    rule: 'height: 70px',
    property: 'align-items',
    values: ['end', 'center'],
  },
  { code: 'align-content-inline', html: SPAN, property: 'align-content', values: ['end', 'center'] },
  {
    code: 'align-content-single-line',
    html: ITEMS,
    rule: 'display: flex; height: 70px; align-items: start',
    property: 'align-content',
    values: ['end', 'start'],
  },
  {
    code: 'justify-items-outside-grid',
    html: ITEMS,
    rule: 'display: flex',
    property: 'justify-items',
    values: ['end', 'center'],
  },
  { code: 'justify-self-in-flex', html: inFlex(BOX), property: 'justify-self', values: ['end', 'start'] },
  {
    code: 'align-self-outside',
    html: `<div style="height: 70px">${BOX}</div>`,
    property: 'align-self',
    values: ['end', 'start'],
  },
  { code: 'flex-item-outside-flex', html: BOX, rule: 'background: #cde', property: 'flex-grow', values: ['0', '1'] },
  { code: 'order-outside', html: `<div>${BOX}<div>second</div></div>`, property: 'order', values: ['0', '1'] },
  { code: 'flex-container-only', html: ITEMS, property: 'flex-direction', values: ['row', 'column'] },
  { code: 'grid-container-only', html: ITEMS, property: 'grid-template-columns', values: ['1fr 1fr', '30px 90px'] },
  {
    code: 'grid-item-outside-grid',
    html: `<div>${BOX}<div>second</div></div>`,
    property: 'grid-column',
    values: ['1', '2'],
  },
  { code: 'size-on-inline', html: SPAN, property: 'width', values: ['auto', '200px'] },
  {
    code: 'width-on-table-row',
    html: TABLE.replace('class="T" ', '').replace('<tr>', '<tr class="T">'),
    property: 'width',
    values: ['auto', '400px'],
  },
  {
    code: 'height-on-table-column',
    html: TABLE.replace('class="T" ', '').replace('<tr>', '<colgroup><col class="T"></colgroup><tr>'),
    property: 'height',
    values: ['auto', '70px'],
  },
  {
    code: 'percent-of-auto-height',
    html: `<div style="max-height: 80px">${BOX}</div>`,
    rule: 'background: #cde',
    property: 'height',
    values: ['60%', '20%'],
  },
  {
    code: 'flex-basis-over-width',
    html: inFlex(BOX),
    rule: 'flex-basis: 60px; min-width: 0; overflow: hidden',
    property: 'width',
    values: ['40px', '160px'],
  },
  {
    code: 'aspect-ratio-both-sizes',
    html: BOX,
    rule: 'width: 90px; height: 50px; background: #cde',
    property: 'aspect-ratio',
    values: ['3 / 1', '1'],
  },
  { code: 'vertical-margin-on-inline', html: SPAN, property: 'margin-top', values: TWO },
  {
    code: 'margin-on-table-part',
    html: TABLE.replace('class="T" ', '').replace('<td>07', '<td class="T">07'),
    property: 'margin-left',
    values: TWO,
  },
  {
    code: 'padding-on-table-part',
    html: TABLE.replace('class="T" ', '').replace('<tr>', '<tr class="T">'),
    property: 'padding-left',
    values: TWO,
  },
  {
    code: 'auto-margin-vertical',
    html: `<div style="height: 70px">${BOX}</div>`,
    property: 'margin-top',
    values: ['auto', '0'],
  },
  {
    code: 'auto-margin-inline-level',
    html: `<p><span class="T" style="display: inline-block">${TEXT}</span></p>`,
    rule: 'width: 60px',
    property: 'margin-left',
    values: ['auto', '0'],
  },
  {
    code: 'margin-collapses-through',
    html: `<div style="background: #dde">${BOX}</div>`,
    property: 'margin-top',
    values: ['20px', '10px'],
    unseen: true,
  },
  {
    code: 'z-index-static',
    html: `${BOX}<div style="position: relative; z-index: 1; margin-top: -12px; background: #cde">over</div>`,
    property: 'z-index',
    values: ['0', '2'],
  },
  { code: 'offset-static', html: BOX, property: 'left', values: TWO },
  { code: 'offset-overconstrained', html: BOX, rule: 'position: relative; top: 5px', property: 'bottom', values: TWO },
  { code: 'right-overconstrained', html: BOX, rule: 'position: relative; left: 5px', property: 'right', values: TWO },
  {
    code: 'sticky-without-offset',
    html: `<div style="height: 60px; overflow: auto">${BOX}<p style="height: 300px">tall</p></div>`,
    property: 'position',
    values: ['sticky', 'static'],
    scrolled: true,
  },
  { code: 'float-on-item', html: inFlex(BOX), property: 'float', values: ['right', 'none'] },
  { code: 'float-out-of-flow', html: BOX, rule: 'position: absolute', property: 'float', values: ['right', 'none'] },
  {
    code: 'clear-on-inline',
    html: `<div><b style="float: left; height: 50px">pier</b><span class="T">${TEXT}</span></div>`,
    property: 'clear',
    values: ['both', 'none'],
  },
  {
    code: 'vertical-align-on-block',
    html: `<p>Tall <b style="font-size: 40px">A</b></p>${BOX}`,
    property: 'vertical-align',
    values: ['top', 'middle'],
  },
  {
    code: 'vertical-align-on-item',
    html: inFlex(`<span class="T" style="display: inline-flex">${TEXT}</span>`),
    property: 'vertical-align',
    values: ['top', 'bottom'],
  },
  { code: 'text-align-on-inline', html: SPAN, property: 'text-align', values: ['right', 'left'] },
  {
    code: 'ellipsis-needs-overflow',
    html: BOX,
    rule: 'width: 50px; white-space: nowrap',
    property: 'text-overflow',
    values: ['ellipsis', 'clip'],
  },
  {
    code: 'ellipsis-needs-one-line',
    html: BOX,
    rule: 'width: 50px; overflow: hidden',
    property: 'text-overflow',
    values: ['ellipsis', 'clip'],
  },
  { code: 'overflow-on-inline', html: SPAN, property: 'overflow', values: ['hidden', 'visible'] },
  { code: 'resize-needs-overflow', html: BOX, rule: 'height: 40px', property: 'resize', values: ['both', 'none'] },
  { code: 'object-fit-not-replaced', html: BOX, property: 'object-fit', values: ['cover', 'contain'] },
  {
    code: 'list-style-not-item',
    html: BOX,
    rule: 'margin-left: 30px',
    property: 'list-style-type',
    values: ['square', 'decimal'],
  },
  { code: 'table-only', html: BOX, property: 'table-layout', values: ['fixed', 'auto'] },
  {
    code: 'spacing-collapsed',
    html: TABLE,
    rule: 'border-collapse: collapse',
    property: 'border-spacing',
    values: ['0', '12px'],
  },
  {
    code: 'radius-collapsed',
    html: TABLE,
    rule: 'border-collapse: collapse; border: 3px solid red',
    property: 'border-top-left-radius',
    values: ['0', '15px'],
  },
  {
    code: 'columns-on-container',
    html: ITEMS.replaceAll('i>', 'div>'),
    rule: 'display: flex; width: 300px',
    property: 'column-count',
    values: ['3', '2'],
  },
  { code: 'transform-on-inline', html: SPAN, property: 'transform', values: ['rotate(9deg)', 'none'] },
  { code: 'color-on-image', html: '<img class="T" src="s.svg" alt="">', property: 'color', values: ['red', 'blue'] },
  { code: 'svg-paint-on-html', html: BOX, property: 'fill', values: ['red', 'blue'] },
  { code: 'background-without-image', html: BOX, property: 'background-size', values: ['4px', 'cover'] },
  { code: 'border-without-style', html: BOX, property: 'border-left-width', values: ['9px', '2px'] },
  { code: 'outline-without-style', html: BOX, property: 'outline-width', values: ['9px', '2px'] },
  { code: 'decoration-without-line', html: BOX, property: 'text-decoration-color', values: ['red', 'blue'] },
  {
    code: 'transition-without-duration',
    html: BOX,
    property: 'transition-property',
    values: ['all', 'none'],
    unseen: true,
  },
  { code: 'animation-without-name', html: BOX, property: 'animation-duration', values: ['2s', '1s'], unseen: true },
  { code: 'content-on-element', html: BOX, property: 'content', values: ['"x"', '"yy"'] },
]

/** Where the change that is offered does by another property what this one cannot. */
const INSTEAD = new Set(['justify-self-in-flex', 'vertical-align-on-item', 'svg-paint-on-html'])

/** Values of inherited properties count for what stands in the element; nothing is said against them then. */
const COUNTS: readonly Omit<Case, 'code'>[] = [
  { html: `<div class="T">${PICTURE.replace('class="T" ', '')}</div>`, property: 'fill', values: ['red', 'blue'] },
  {
    html: '<div class="T"><span style="display: list-item; margin-left: 30px">pier</span></div>',
    property: 'list-style-type',
    values: ['square', 'decimal'],
  },
  {
    html: `<p>The <span class="T"><b style="display: inline-block; width: 200px; background: #dde">boat</b></span></p>`,
    property: 'text-align',
    values: ['right', 'left'],
  },
  {
    html: `<div class="T">${TABLE.replace('class="T" ', '')}</div>`,
    property: 'caption-side',
    values: ['top', 'bottom'],
  },
  {
    html: '<div class="T">Brinewickferrylandingstage pier</div>',
    property: 'text-overflow',
    values: ['ellipsis', 'clip'],
    rule: 'width: 50px; overflow: hidden',
  },
  { html: PICTURE, property: 'fill', values: ['red', 'blue'] },
]

const ALL = [...CASES, ...COUNTS]
const SHEET = ALL.map((c, i) => `.t${i} { ${c.rule ? `${c.rule}; ` : ''}${c.property}: ${c.values[0]}; }\n`).join('')
const PAGE = `<!doctype html>\n<html lang="en">\n<head><meta charset="utf-8"><title>Cases</title>\n<style>section { display: flow-root; position: relative; width: 420px; height: 96px; overflow: clip; } p { margin: 0 } .T { }</style>\n<link rel="stylesheet" href="s.css">\n</head>\n<body>\n${ALL.map(
  (c, i) => `<section id="c${i}">${c.html.replace('class="T"', `class="t${i}"`)}</section>`,
).join('\n')}\n</body>\n</html>\n`

test('what is said to have no effect has none in the engine, and the change that is offered gives it one', async () => {
  expect(CASES.map((c) => c.code).sort()).toEqual([...NO_EFFECT_CODES].sort())
  const studio = getStudio()
  await studio.open('/?proof')
  await studio.importSite('cases', {
    'index.html': PAGE,
    's.css': SHEET,
    's.svg': '<svg xmlns="http://www.w3.org/2000/svg" width="30" height="20"><rect width="30" height="20"/></svg>',
  })
  await studio.ready()
  const told = await studio.driver.executeAsyncScript<(Pick<NoEffect, 'code' | 'spec' | 'remedy'> | null)[]>(
    `
    const [list, done] = arguments, { session, state } = window.steadyProof
    ;(async () => {
      const out = []
      for (const [i, property] of list.entries()) {
        const [node] = await session.selection.find('.t' + i)
        await session.selection.pick(node)
        await session.selection.needAims([property])
        out.push(state().picked?.aims.get(property)?.noEffect ?? null)
      }
      return out
    })().then(done, (e) => done([{ code: String(e), spec: '', remedy: null }]))`,
    ALL.map((c) => c.property),
  )
  expect(told.map((t) => t?.code ?? null)).toEqual([...CASES.map((c) => c.code), ...COUNTS.map(() => null)])
  for (const t of told) if (t) expect(t.spec).toMatch(/^(CSS|SVG) .*§[\d.]+$/)

  const wrong: string[] = []
  await studio.driver.get('about:blank')
  const frame = PAGE.replace('<link rel="stylesheet" href="s.css">', `<style>${SHEET}</style>`).replace(
    'src="s.svg"',
    'src="data:image/svg+xml,%3Csvg xmlns=%22http://www.w3.org/2000/svg%22 width=%2230%22 height=%2220%22%3E%3Crect width=%2230%22 height=%2220%22/%3E%3C/svg%3E"',
  )
  await studio.driver.executeScript('document.open(); document.write(arguments[0]); document.close()', frame)
  /** How it looks with one of its values, and with what else is set on the element or its parent. */
  const look = async (i: number, { property, scrolled }: Omit<Case, 'code'>, value: string, also: NoEffect['remedy']) => {
    await studio.driver.executeScript(
      `
      const [i, property, value, also, scrolled] = arguments, e = document.querySelector('.t' + i)
      e.style.setProperty(property, value)
      if (also) (also.on === 'parent' ? e.parentElement : e).style.setProperty(also.name, also.value)
      if (scrolled) e.parentElement.scrollTop = 20`,
      i,
      property,
      value,
      also,
      scrolled ?? false,
    )
    return (await studio.driver.findElement(By.id(`c${i}`))).takeScreenshot(true)
  }
  for (const [i, c] of ALL.entries()) {
    if (c.unseen) continue
    const claim = told[i]
    const what = `${claim?.code ?? 'nothing'} of ${c.property}`
    const [first, second] = [await look(i, c, c.values[0], null), await look(i, c, c.values[1], null)]
    if ((first !== second) !== (claim === null)) wrong.push(`${what}: ${claim ? 'it has an effect' : 'it has none'}`)
    if (!claim?.remedy) continue
    const mended = await look(i, c, c.values[0], claim.remedy)
    const other = INSTEAD.has(claim.code) ? first : await look(i, c, c.values[1], claim.remedy)
    if (mended === other) wrong.push(`${what}: none after ${claim.remedy.name}: ${claim.remedy.value} on the ${claim.remedy.on}`)
  }
  expect(wrong).toEqual([])
}, 180_000)
