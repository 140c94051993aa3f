import fc from 'fast-check'
import { expect, test } from 'vitest'
import { areaName, areaRows, blockOutIntent, overlap, planIntent, REGION_TAGS, type BlockOut, type Region } from '../../src/core/edit'
import { Project } from '../../src/core/project'
import { applySplices } from '../../src/core/text'

const projectOf = (files: Record<string, string>) =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))

const region = (
  name: string,
  tag: Region['tag'],
  [column, columnEnd, row, rowEnd]: readonly number[],
  source: string | null = null,
): Region => ({ name, tag, column, columnEnd, row, rowEnd, source })

function drawn(html: string, css: string, regions: (of: (tag: string) => string) => readonly Region[], more: Partial<BlockOut> = {}) {
  const project = projectOf({ 'index.html': html, 'a.css': css })
  const of = (tag: string) => project.sourceOf('index.html', project.tree('index.html').elements.find((e) => e.tag === tag)!.id)
  const intent = blockOutIntent(project, {
    container: of('div'),
    className: 'layout',
    sheet: project.sheetPaths().map((p) => project.sourceSheet(p)!.key)[0],
    columns: ['3fr', '1fr'],
    rows: 3,
    gap: '16px',
    leastRow: '',
    narrow: '(max-width: 600px)',
    regions: regions(of),
    ...more,
  })
  if ('ok' in intent) return intent.why
  const plan = planIntent(project, intent)
  if (!plan.ok) return plan.why
  return Object.fromEntries(plan.changes.map((c) => [c.path, applySplices(project.text(c.path), c.splices)]))
}

const HTML = '<link rel="stylesheet" href="a.css">\n<div>\n</div>\n'
const THREE = [region('Aside', 'aside', [2, 3, 2, 3]), region('Top', 'header', [1, 3, 1, 2]), region('Main', 'main', [1, 2, 2, 3])]

test('a drawing is the elements in reading order and one rule with its areas, as the sheet writes rules', () => {
  expect(drawn(HTML, 'p {\n\tcolor: red;\n}\n', () => THREE, { rows: 2, leastRow: '5rem' })).toEqual({
    'index.html':
      '<link rel="stylesheet" href="a.css">\n<div class="layout">\n  <header></header>\n  <main></main>\n  <aside></aside>\n</div>\n',
    'a.css':
      'p {\n\tcolor: red;\n}\n\n.layout {\n\tdisplay: grid;\n\tgrid-template-columns: 3fr 1fr;\n\tgrid-auto-rows: minmax(5rem, auto);\n\tgrid-template-areas:\n\t\t"top top"\n\t\t"main aside";\n\tgap: 16px;\n}\n\n' +
      '@media (max-width: 600px) {\n\t.layout {\n\t\tgrid-template-columns: minmax(0, 1fr);\n\t\tgrid-template-areas:\n\t\t\t"top"\n\t\t\t"main"\n\t\t\t"aside";\n\t}\n}\n\n' +
      '.layout > header {\n\tgrid-area: top;\n}\n\n.layout > main {\n\tgrid-area: main;\n}\n\n.layout > aside {\n\tgrid-area: aside;\n}\n',
  })
})

test('what the container has takes its place; a rule that is there takes the declarations', () => {
  const html = '<link rel="stylesheet" href="a.css">\n<div class="layout big">\n  <p class="lead">x</p>\n  <p>y</p>\n</div>\n'
  const out = drawn(
    html,
    '.layout { color: red; }\np { color: blue; }\n',
    (of) => [region('News', 'div', [1, 2, 2, 3]), region('Lead', 'div', [1, 3, 1, 2], of('p'))],
    { narrow: '' },
  )
  expect(out).toEqual({
    'index.html': html.replace('</p>\n  <p>y', '</p>\n  <div class="news"></div>\n  <p>y'),
    'a.css':
      '.layout { color: red; display: grid; grid-template-columns: 3fr 1fr; grid-template-areas: "lead lead" "news ." ". ."; gap: 16px; }\np { color: blue; }\n.layout > .lead { grid-area: lead; }\n.layout > .news { grid-area: news; }\n',
  })
})

test('in a rule of several lines the areas stand on lines of their own', () => {
  const out = drawn(HTML.replace('<div>', '<div class="layout">'), '.layout {\n  color: red;\n}\n\np {\n  top: 0;\n}\n', () => THREE, {
    rows: 2,
    narrow: '',
  }) as Record<string, string>
  expect(out['a.css']).toContain(
    '  grid-template-columns: 3fr 1fr;\n  grid-template-areas:\n    "top top"\n    "main aside";\n  gap: 16px;\n}\n',
  )
})

test.each<[string, readonly Region[], RegExp]>([
  ['two in one cell', [region('A', 'nav', [1, 3, 1, 2]), region('B', 'aside', [2, 3, 1, 3])], /A and B share cells/],
  ['one name twice', [region('A b', 'nav', [1, 2, 1, 2]), region('a  B', 'aside', [2, 3, 1, 2])], /Two regions are called a-b/],
  ['no name', [region(' ! ', 'nav', [1, 2, 1, 2])], /Region 1 has no name/],
  ['outside the lines', [region('A', 'nav', [1, 4, 1, 2])], /not within the lines/],
  ['nothing', [], /No region/],
])('%s is refused', (_, regions, why) => expect(drawn(HTML, '', () => regions)).toMatch(why))

test('a second main is refused, a second nav has a name', () => {
  expect(drawn('<div></div><main></main>', '', () => [region('M', 'main', [1, 2, 1, 2])])).toMatch(/main already/)
  expect(
    (drawn('<nav></nav><div></div>', '', () => [region('Pages of it', 'nav', [1, 2, 1, 2])]) as Record<string, string>)['index.html'],
  ).toContain('<nav class="pages-of-it" aria-label="Pages of it"></nav>'.replace(' class="pages-of-it"', ''))
})

test('any drawing without overlap: each area is the rectangle that was drawn, and names are identifiers', () => {
  const line = fc.integer({ min: 1, max: 6 })
  const one = fc
    .record({
      name: fc.string({ minLength: 1 }),
      tag: fc.constantFrom(...REGION_TAGS),
      column: line,
      row: line,
      w: fc.integer({ min: 1, max: 3 }),
      h: fc.integer({ min: 1, max: 3 }),
    })
    .map((r): Region => ({
      name: r.name,
      tag: r.tag,
      column: r.column,
      columnEnd: r.column + r.w,
      row: r.row,
      rowEnd: r.row + r.h,
      source: null,
    }))
  fc.assert(
    fc.property(fc.array(one, { maxLength: 8 }), (list) => {
      const kept: Region[] = []
      for (const r of list) if (!kept.some((k) => overlap(k, r) || areaName(k.name) === areaName(r.name)) && areaName(r.name)) kept.push(r)
      const cells = areaRows(kept, 9, 9).map((row) => row.split(' '))
      for (const r of kept) {
        const name = areaName(r.name)
        expect(name).toMatch(/^[\p{L}\p{N}][\p{L}\p{N}-]*$/u)
        const found = cells.flatMap((row, y) => row.flatMap((cell, x) => (cell === name ? [[x + 1, y + 1]] : [])))
        expect(found).toHaveLength((r.columnEnd - r.column) * (r.rowEnd - r.row))
        expect(found[0]).toEqual([r.column, r.row])
        expect(found.at(-1)).toEqual([r.columnEnd - 1, r.rowEnd - 1])
      }
    }),
  )
})
