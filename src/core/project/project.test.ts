import { describe, expect, test } from 'vitest'
import { Project, projectReach, reachesOnlyKin, reachOfToken, staticSelector } from '.'
import { widthRange, widthToShow } from '../css'
import { matcher } from './reach'
import { scaleOf } from './scale'
import { widthCondition } from './width-condition'

const site = (files: Record<string, string>) =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))

const FERRY = site({
  'index.html':
    '<!doctype html><style>.a{color:red}</style><ul class="stops"><li class="stop">A<li class="stop far">B</ul><a class="stop" href="x">C</a>',
  'two.html': '<p class="stop">D</p><template><p class="stop"></p></template>',
  'a.css':
    ':root { --gap: 4px; --ink: #123; --both: 1px }\n.stop { margin: var(--gap) }\n@media (max-width: 30em) { .x { --both: red } }\n@media (width >= 600px) {}',
})

describe('reach in the project', () => {
  test.each<[string[], { elements: number; pages: number } | null]>([
    [['.stop'], { elements: 5, pages: 2 }],
    [['ul > .stop:hover'], { elements: 2, pages: 1 }],
    [['li:not(.far)::before', '.far'], { elements: 2, pages: 1 }],
    [[':is(ul, p).stop'], { elements: 2, pages: 1 }],
    [['ul:has(> .far)'], { elements: 1, pages: 1 }],
    [['li:nth-child(2n)'], { elements: 1, pages: 1 }],
    [[':hover > li'], { elements: 2, pages: 1 }],
    [['li:unknown-thing(3)'], null],
  ])('%j', (selectors, reach) => {
    expect(projectReach(FERRY, selectors)).toEqual(reach)
  })

  test('a page is passed over only where nothing in it can match', () => {
    const pages = [
      '<p class="stop">',
      '<p class="other">',
      '<p class="&#115;top">',
      '<p class="STOP">',
      '<!-- old --><!DOCTYPE HTML PUBLIC "-//W3C//DTD HTML 4.01//EN"><p class="STOP">',
      '<p id="stop" class="far">',
    ]
    const project = site(
      Object.fromEntries(pages.map((body, i) => [`p${i}.html`, /doctype|^<p class="STOP/i.test(body) ? body : `<!doctype html>${body}`])),
    )
    for (const selectors of [
      ['.stop'],
      ['#stop'],
      ['.far', '.other'],
      ['p.stop, .far'],
      [':not(.stop)'],
      [':is(.stop)'],
      ['[class=stop]'],
    ]) {
      const brute = project.pages().map((page) => {
        const tree = project.tree(page)
        const test = matcher(tree, selectors)!
        return tree.elements.filter((e) => e.startTag && test(e)).length
      })
      expect(projectReach(project, selectors)).toEqual({
        elements: brute.reduce((a, b) => a + b, 0),
        pages: brute.filter((n) => n > 0).length,
      })
    }
    expect(projectReach(project, ['.absent:unknown-thing(3)'])).toBeNull()
  })

  test('a token reaches what uses it: in the whole project where the root defines it, else in and on what defines it', () => {
    const project = site({
      'index.html': '<p class="card dark"><b class="name">A</b></p><p class="card"><b class="name">B</b></p><b class="name">C</b>',
      'a.css':
        ':root { --ink: red }\n.dark { --ink: blue }\n.name { color: var(--ink) }\n.card::before { color: var( --ink , red) }\n.card { top: var(--inky) }\n',
    })
    const reach = (selector: string) => {
      const ref = project.sheet('a.css')!
      const found = [...ref.sheet.rules()].find((r) => r.statement.text.includes(`${selector} {`))!
      return projectReach(project, reachOfToken(project, { ref, site: found }, '--ink'))
    }
    expect(reach(':root')).toEqual({ elements: 5, pages: 1 })
    expect(reach('.dark')).toEqual({ elements: 2, pages: 1 })
  })

  test.each<[string, { tag: string; classes: string[]; place: string[] }, boolean]>([
    ['.stop', { tag: 'li', classes: ['stop'], place: ['.stops'] }, true],
    ['ul > .stop:hover', { tag: 'li', classes: ['stop'], place: [] }, true],
    ['li', { tag: 'li', classes: ['stop'], place: [] }, true],
    ['p', { tag: 'p', classes: ['other'], place: [] }, false],
    ['.stops li', { tag: 'li', classes: [], place: ['.stops'] }, true],
    ['ul', { tag: 'ul', classes: [], place: [] }, false],
    ['.stop-x, .stop', { tag: 'li', classes: ['stop'], place: [] }, true],
    ['li:unknown-thing(3)', { tag: 'li', classes: [], place: [] }, false],
  ])('%s reaches only the like of %j: %s', (selector, kind, expected) =>
    expect(reachesOnlyKin(FERRY, selector.split(', '), kind)).toBe(expected),
  )

  test('states and pseudo-elements do not narrow it', () => {
    expect(staticSelector('a:hover > b::after')).toBe('a > b')
    expect(staticSelector(':focus-visible')).toBe('*')
  })
})

test('the scale is read from tokens and media queries', () => {
  const { tokens, breakpoints } = scaleOf(FERRY)
  expect(tokens.map((t) => [t.name, t.kind, t.line])).toEqual([
    ['--gap', 'length', 1],
    ['--ink', 'color', 1],
    ['--both', 'length', 1],
  ])
  expect(breakpoints).toEqual([480, 600])
  expect(
    [
      '(max-width: 30em)',
      '(min-width:600px) and (width < 900px)',
      'screen and (width >= 40em)',
      '(400px <= width < 700px)',
      '(900px > width)',
      'print',
      '(hover)',
      '(width)',
    ].map(widthRange),
  ).toEqual([
    { min: 0, max: 480 },
    { min: 600, max: 899 },
    { min: 640, max: Infinity },
    { min: 400, max: 699 },
    { min: 0, max: 899 },
    null,
    null,
    null,
  ])
  expect(widthCondition(scaleOf(FERRY), 'up to', 640)).toBe('(max-width: 640px)')
  expect(widthCondition(scaleOf(site({ 'a.css': '@media (width>=40em){}@media (width<9em){}' })), 'from', 640)).toBe('(width >= 40em)')
  expect([FERRY.knowledge.kindOf('var(--gap)'), FERRY.knowledge.kindOf('var(--both)'), FERRY.knowledge.kindOf('var(--no)')]).toEqual([
    'length',
    null,
    null,
  ])
  // Shown where no narrower condition has its say, as near as can be.
  const own = ['(min-width: 768px)', '(min-width: 992px)', '(max-width: 575.98px)']
  expect(
    [
      ['(min-width: 576px)', 904],
      ['(min-width: 576px)', 700],
      ['(min-width: 992px)', 904],
      ['(max-width: 767px)', 500],
      ['(max-width: 575.98px)', 904],
      ['(min-width: 300px) and (max-width: 400px)', 904],
      ['print', 904],
    ].map(([c, now]) => widthToShow(c as string, now as number, own)),
  ).toEqual([767, null, 992, 576, 575, 400, null])
  expect(widthToShow('(min-width: 700px)', 400, ['(min-width: 700px) and (max-width: 900px)', '(min-width: 800px)'])).toBe(700)
})

test('an edit inside a style element keeps the ids of its rules and tells the page of that sheet alone', () => {
  const project = site({ 'x.html': '<style>.a{color:red}\n.b{top:0}</style><p class="a" title="t">' })
  const [ref] = project.allSheets()
  const ids = [...ref.sheet.rules()].map((r) => r.rule.id)
  const at = project.text('x.html').indexOf('red')
  const { inverse, touched } = project.apply('x.html', [{ from: at, to: at + 3, insert: 'blue' }])
  expect(touched).toEqual({ sheets: [ref.key], attributes: [], texts: [], structure: false })
  expect([...project.sheet(ref.key)!.sheet.rules()].map((r) => r.rule.id)).toEqual(ids)
  project.apply('x.html', inverse)
  const title = project.text('x.html').indexOf('"t"')
  const change = project.apply('x.html', [{ from: title + 1, to: title + 2, insert: 'u' }])
  expect(change.touched.attributes).toEqual([{ source: expect.any(String), name: 'title', value: 'u' }])
  expect(change.touched.structure).toBe(false)
})

test('a file in another encoding is read-only and keeps its bytes', () => {
  const bytes = new Uint8Array([0x61, 0x7b, 0x7d, 0xe9])
  const project = new Project([{ key: 1, path: 'old.css', bytes }])
  expect(project.readOnly('old.css')).toMatch(/not UTF-8/)
  expect(project.bytes('old.css')).toEqual(bytes)
  expect(() => project.apply('old.css', [])).toThrow(/cannot be edited/)
})

test('a sheet in another encoding is shown and takes no part in what is read of sheets', () => {
  const project = new Project([
    { key: 1, path: 'index.html', bytes: new TextEncoder().encode('<p>x') },
    { key: 2, path: 'a.css', bytes: Uint8Array.from([0x2e, 0xff, 0xfe]) },
    { key: 3, path: 'b.css', bytes: new TextEncoder().encode(':root { --gap: 4px }') },
  ])
  expect(project.sheetPaths()).toEqual(['a.css', 'b.css'])
  expect(project.allSheets().map((s) => s.path)).toEqual(['b.css'])
  expect(scaleOf(project).tokens).toHaveLength(1)
})
