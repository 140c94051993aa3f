import { expect, test } from 'vitest'
import { planIntent } from '../../src/core/edit'
import { Project } from '../../src/core/project'
import { applySplices } from '../../src/core/text'

const encode = (text: string) => new TextEncoder().encode(text)

/** The page with padding of 7px for its link, in a style element that it did not have; the reason where that is refused. */
function withNewSheet(html: string, under = '', others: Readonly<Record<string, string>> = {}): string {
  const files = { 'index.html': html, ...others }
  const project = new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: encode(text) })))
  const link = project.tree('index.html').elements.find((e) => e.tag === 'a')!
  const source = project.sourceOf('index.html', link.id)
  const plan = planIntent(project, {
    kind: 'set',
    aim: { kind: 'new-sheet', source, name: 'page-link', selector: '.page-link', under, last: 'out.css' },
    name: 'padding',
    value: '7px',
  })
  if (!plan.ok) return plan.why
  const after = applySplices(html, plan.changes[0].splices)
  expect(after.slice(plan.at)).toMatch(/^padding: ?7px/)
  return after
}

test('it stands after the sheets of the head, in the indentation of the page', () => {
  expect(
    withNewSheet(
      '<html>\n<head>\n    <link rel="stylesheet" href="out.css">\n    <title>Fares</title>\n</head>\n<body>\n    <a class="p-4" href="#">Fares</a>\n</body>\n</html>\n',
    ),
  ).toBe(
    '<html>\n<head>\n    <link rel="stylesheet" href="out.css">\n    <style>\n        .page-link {\n            padding: 7px;\n        }\n    </style>\n    <title>Fares</title>\n</head>\n<body>\n    <a class="p-4 page-link" href="#">Fares</a>\n</body>\n</html>\n',
  )
})

test('its line ends are those of the file, its rule that of a condition, and its habit that of another sheet of the author', () => {
  const html =
    '<html>\r\n\t<head>\r\n\t\t<title>Fares</title>\r\n\t</head>\r\n\t<body>\r\n\t\t<a href="#">Fares</a>\r\n\t</body>\r\n</html>\r\n'
  expect(withNewSheet(html, '(min-width: 40em)', { 'own.css': 'p{ margin:0 }\nh1{ margin:0 }\nh2{ margin:0 }\n' })).toBe(
    '<html>\r\n\t<head>\r\n\t\t<title>Fares</title>\r\n\t\t<style>\r\n\t\t\t@media (min-width: 40em){\r\n\t\t\t  .page-link{ padding:7px }\r\n\t\t\t}\r\n\t\t</style>\r\n\t</head>\r\n\t<body>\r\n\t\t<a href="#" class="page-link">Fares</a>\r\n\t</body>\r\n</html>\r\n',
  )
})

test('a page without a head in its source has no place for it', () => {
  expect(withNewSheet('<a href="#">Fares</a>\n')).toBe('index.html has no <head> tag to write a style sheet in.')
})
