import { expect, test } from 'vitest'
import { applySplices } from '../text'
import { planIntent } from '../edit'
import { Project } from './project'
import { unusedRules } from './unused'

const projectOf = (files: Readonly<Record<string, string>>): Project =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: new TextEncoder().encode(text) })))

const on = async () => true

const page = (body: string, head = '<link rel="stylesheet" href="a.css">') => `<!doctype html>\n<title>Quay</title>\n${head}\n${body}`

/** The rules of a sheet that nothing uses, each with the name that a script says. */
async function unused(css: string, body: string, more: Readonly<Record<string, string>> = {}): Promise<[string, string | null][]> {
  const found = await unusedRules(projectOf({ 'index.html': page(body), 'a.css': css, ...more }), on)
  return found!.rules.map(({ selector, named }) => [selector, named])
}

test.each([
  // What the parser implies, states, parts and what people open are there.
  ['html {top:0} body {top:0} :root {top:0} * {top:0}', '<p>x'],
  ['tbody td {top:0}', '<table><tr><td>x</table>'],
  ['a:hover::before {top:0} .a:focus-within > b:checked {top:0}', '<a>x</a><div class="a"><b></b></div>'],
  ['::selection {top:0} ::-webkit-scrollbar {width:0}', ''],
  ['details[open] > summary {top:0} dialog[open]::backdrop {top:0}', '<details><summary></summary></details><dialog></dialog>'],
  ['.card { & h3 {top:0} &:hover {top:0} }', '<div class="card"><h3>x</h3></div>'],
  ['@media print { .a {top:0} } @supports (top: 0) { @layer x { .a {top:0} } }', '<i class="a">'],
  [String.raw`.md\:p-4 {top:0} .w-1\/2 {top:0}`, '<p class="md:p-4 w-1/2">'],
  ['li:nth-child(2) {top:0} p:not(.x) {top:0} div:has(> p) {top:0} :is(b, p) {top:0}', '<ul><li><li></ul><div><p></div>'],
  // Nothing that is no rule of style by itself.
  ['@font-face {font-family: x} @keyframes k { from {top:0} .gone {top:0} } @page {margin:0} .gone {}', ''],
])('%s: all of it is used on %j', async (css, body) => expect(await unused(css, body)).toEqual([]))

test('what matches nothing is listed with its line and size, by its own sheet; libraries are counted and not listed', async () => {
  const css = '.a { top: 0 }\n\n.gone,\n.lost > b { top: 1px }\n@media print {\n  .old { top: 2px }\n}\n'
  const found = await unusedRules(
    projectOf({
      'index.html': page(
        '<p class="a">',
        '<link rel="stylesheet" href="a.css"><link rel="stylesheet" href="vendor/lib.css"><style>.b{top:0}</style>',
      ),
      'a.css': css,
      'vendor/lib.css': '.row { top: 0 }',
    }),
    on,
  )
  expect(found!.rules.map(({ path, line, selector, size }) => [path, line, selector, size])).toEqual([
    ['a.css', 3, '.gone, .lost > b', '.gone,\n.lost > b { top: 1px }'.length],
    ['a.css', 6, '.old', '.old { top: 2px }'.length],
    ['index.html', 3, '.b', '.b{top:0}'.length],
  ])
  expect(found!.sheets.map(({ path, size, unused, isLibrary }) => [path, size, unused, isLibrary])).toEqual([
    ['a.css', 13 + 29 + 17, 29 + 17, false],
    ['vendor/lib.css', 15, 15, true],
    ['index.html', 9, 9, false],
  ])
  expect(found!.hasScripts).toBe(false)
})

test('a sheet is held against the pages that ask for it', async () => {
  const other = page('<p class="b">', '<link rel="stylesheet" href="b.css">')
  expect(await unused('.b {top:0}', '<p class="a">', { 'other.html': other, 'b.css': '.b {top:0}' })).toEqual([['.b', null]])
})

test.each([
  ['.is-open {top:0}', "el.classList.add('is-open')", 'is-open'],
  ['.is-open {top:0}', 'el.className = `is-${state}`', 'is-open'],
  ['.btn-large {top:0}', "'btn-' + size", 'btn-large'],
  ['#late {top:0}', 'x.id = "late"', 'late'],
  ['[data-theme-now=dark] p {top:0}', 'root.dataset.themeNow = "dark"', 'data-theme-now'],
  ['x-buoy p {top:0}', 'customElements.define("x-buoy", X)', 'x-buoy'],
  ['select {top:0}', "box.append($('<select>'))", 'select'],
  ['fieldset p {top:0}', 'document.createElement("fieldset")', 'fieldset'],
  ['button:disabled {top:0}', 'b.disabled = true', 'disabled'],
  // A part of a longer word is another.
  ['.open {top:0}', 'reopen() is-open', null],
])('%s is marked where a script says its name: %s', async (css, script, named) => {
  const selector = css.slice(0, css.indexOf(' {'))
  expect(await unused(css, '<button>x</button>', { 'app.js': script })).toEqual([[selector, named]])
  expect(await unused(css, `<button>x</button><script>${script}</script>`)).toEqual([[selector, named]])
})

test('those that are unused are taken out as one edit, and looking again finds none', async () => {
  const css = '.a { top: 0 }\n\n.gone { top: 1px }\n\n@media print {\n  .old { top: 2px }\n}\n'
  const html = page('<p class="a">', '<link rel="stylesheet" href="a.css"><style>\n.b { top: 0 }\n.a { left: 0 }\n</style>')
  const project = projectOf({ 'index.html': html, 'a.css': css })
  const found = await unusedRules(project, on)
  const plan = planIntent(project, { kind: 'remove-rules', rules: found!.rules })
  if (!plan.ok) throw new Error(plan.why)
  expect(Object.fromEntries(plan.changes.map((c) => [c.path, applySplices(project.text(c.path), c.splices)]))).toEqual({
    'a.css': '.a { top: 0 }\n',
    'index.html': html.replace('.b { top: 0 }\n', ''),
  })
  for (const { path, splices } of plan.changes) project.apply(path, splices)
  expect((await unusedRules(project, on))!.rules).toEqual([])
  expect(planIntent(project, { kind: 'remove-rules', rules: [] })).toMatchObject({ ok: false, reason: 'not-found' })
})

test('it stops where nobody wants it any more', async () => {
  const css = Array.from({ length: 4000 }, (_, i) => `.a${i} {top:0}`).join('\n')
  let asked = 0
  const body = Array.from({ length: 400 }, (_, i) => `<p class="b${i}">`).join('')
  const found = await unusedRules(
    projectOf({ 'index.html': page(body).replace('<!doctype html>', ''), 'a.css': css }),
    async () => ++asked < 2,
  )
  expect([found, asked]).toEqual([null, 2])
})
