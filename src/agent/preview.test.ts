// @vitest-environment jsdom
import { beforeEach, expect, test, vi } from 'vitest'
import type { PageSheets } from './page-sheets'
import { Preview } from './preview'
import type { PreviewOp } from './protocol'
import type { States } from './states'

const SHEET = 'site.css'
let sheet: CSSStyleSheet
let tied: Set<CSSRule>
let preview: Preview
const rules = () => [...sheet.cssRules].map((r) => r.cssText.replace(/\s+/g, ' '))
const rule = (at: number, runs: readonly string[]): PreviewOp => ({ op: 'rule', sheet: SHEET, rule: at, runs, was: null, set: null })

// A sheet whose rules have their places as ids.
beforeEach(() => {
  document.head.innerHTML = '<style>.quay { margin: 4px; } .mole { margin: 8px; }</style>'
  document.getAnimations = () => []
  vi.stubGlobal('CSS', { escape: (text: string) => text.replace(/\W/g, '\\$&') })
  sheet = document.styleSheets[0]
  tied = new Set(sheet.cssRules)
  const sheets: Pick<PageSheets, 'rulesFor' | 'uses' | 'textOnPage' | 'declarationsOnPage' | 'isTied'> = {
    rulesFor: (_, id) => [{ sheet, rule: sheet.cssRules[id] }],
    uses: () => [sheet],
    textOnPage: (_, text) => text,
    declarationsOnPage: (_, text) => text,
    isTied: (r) => tied.has(r),
  }
  preview = new Preview(document, sheets as PageSheets, { take: () => {} } as unknown as States)
})

test('rules that are written as they were shown stay; others are as they were', () => {
  const [quay] = [...sheet.cssRules]
  preview.show([rule(0, ['margin: 5px'])], true)
  preview.show([rule(0, ['margin: 6px']), rule(1, ['margin: 9px'])], true)
  expect(rules()).toEqual(['.quay {margin: 6px;}', '.mole {margin: 9px;}'])
  preview.written((key, id) => key === SHEET && id === 0)
  expect(rules()).toEqual(['.quay {margin: 6px;}', '.mole {margin: 8px;}'])
  expect(sheet.cssRules[0]).toBe(quay)
  // It is the page's own by now: nothing takes it back.
  preview.clear()
  expect(rules()[0]).toBe('.quay {margin: 6px;}')
})

test('a rule that was shown and is not written goes; one that is stays', () => {
  const insert = (text: string): PreviewOp => ({ op: 'insert', sheet: SHEET, after: null, text })
  preview.show([insert('.buoy { margin: 1px; }'), insert('.reef { margin: 2px; }')], true)
  expect(rules()).toHaveLength(4)
  tied.add(sheet.cssRules[2])
  preview.written(() => false)
  expect(rules()).toEqual(['.quay {margin: 4px;}', '.mole {margin: 8px;}', '.buoy {margin: 1px;}'])
})

test('what is cancelled leaves the sheet and its elements as they were', () => {
  document.body.innerHTML = '<p data-steady="1.2" title="Pier"></p>'
  const before = [rules(), document.body.innerHTML]
  preview.show([rule(1, ['margin: 3px']), { op: 'attribute', source: '1.2', name: 'title', value: null }], true)
  expect(document.body.innerHTML).not.toContain('Pier')
  preview.clear()
  expect([rules(), document.body.innerHTML]).toEqual(before)
})
