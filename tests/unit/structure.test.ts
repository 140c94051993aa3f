import fc from 'fast-check'
import { expect, test } from 'vitest'
import { runStructureCorpus } from '../../proof/corpus-structure'
import { headIntent, planIntent, tellDrop, type Intent } from '../../src/core/edit'
import { HtmlDocument, whyNotIn } from '../../src/core/html'
import { changedByTag, Project, rulesWithId } from '../../src/core/project'
import { applySplices, LineFeeds } from '../../src/core/text'

const bytes = (text: string) => new TextEncoder().encode(text)
const projectOf = (files: Record<string, string>) =>
  new Project(Object.entries(files).map(([path, text], i) => ({ key: i + 1, path, bytes: bytes(text) })))
/** The source of the `n`-th element of a name on the page. */
const at = (project: Project, tag: string, n = 0, page = 'index.html') =>
  project.sourceOf(page, project.tree(page).elements.filter((e) => e.tag === tag)[n].id)

function after(html: string, intent: (of: (tag: string, n?: number) => string) => Intent): string {
  const project = projectOf({ 'index.html': html })
  const plan = planIntent(
    project,
    intent((tag, n) => at(project, tag, n)),
  )
  return plan.ok ? applySplices(html, plan.changes[0].splices) : `refused: ${plan.why}`
}

const UL = '<ul>\n  <li>One</li>\n  <li>Two</li>\n  <li>Three</li>\n</ul>\n'
const move =
  (from: string, n: number, where: 'before' | 'after' | 'first' | 'last', to: string, m: number) =>
  (of: (tag: string, n?: number) => string): Intent => ({
    kind: 'move',
    sources: [of(from, n)],
    place: { source: of(to, m), where },
  })

test.each<[string, string, (of: (tag: string, n?: number) => string) => Intent, string]>([
  ['a line moves as a line', UL, move('li', 0, 'after', 'li', 2), '<ul>\n  <li>Two</li>\n  <li>Three</li>\n  <li>One</li>\n</ul>\n'],
  [
    'with the line ends of the file',
    UL.replaceAll('\n', '\r\n'),
    move('li', 2, 'before', 'li', 0),
    '<ul>\r\n  <li>Three</li>\r\n  <li>One</li>\r\n  <li>Two</li>\r\n</ul>\r\n',
  ],
  [
    'deeper, its lines go deeper with it',
    '<div>\n\t<section>\n\t</section>\n\t<p>\n\t\ta\n\t</p>\n</div>',
    move('p', 0, 'last', 'section', 0),
    '<div>\n\t<section>\n\t\t<p>\n\t\t\ta\n\t\t</p>\n\t</section>\n</div>',
  ],
  [
    'what shows in pre stays',
    '<div>\n  <b>x</b>\n</div>\n<pre>\n  a\n</pre>',
    move('pre', 0, 'last', 'div', 0),
    '<div>\n  <b>x</b>\n  <pre>\n  a\n</pre>\n</div>',
  ],
  [
    'between inline boxes the white space stays one',
    '<p>a <b>b</b> c <i>d</i> e</p>',
    move('i', 0, 'before', 'b', 0),
    '<p>a <i>d</i><b>b</b> c e</p>',
  ],
  [
    'elements on one line keep their distance',
    '<nav><a>1</a> <a>2</a> <a>3</a></nav>',
    move('a', 0, 'after', 'a', 2),
    '<nav><a>2</a> <a>3</a> <a>1</a></nav>',
  ],
  ['into itself it cannot go', UL, move('ul', 0, 'last', 'li', 0), 'refused: An element cannot be put into itself.'],
  [
    'nor where the content model has no room',
    `${UL}<p>x</p>`,
    move('p', 0, 'last', 'ul', 0),
    'refused: It cannot stand there: <ul> holds <li> only.',
  ],
  ['nor where it stands', UL, move('li', 0, 'before', 'li', 1), 'refused: It stands there already.'],
  [
    'a copy has ids of its own, and what names them',
    '<form>\n  <p><label for="a">A</label><input id="a"></p>\n</form>',
    (of) => ({ kind: 'duplicate', sources: [of('p')] }),
    '<form>\n  <p><label for="a">A</label><input id="a"></p>\n  <p><label for="a-2">A</label><input id="a-2"></p>\n</form>',
  ],
  [
    'a line that goes leaves no hole',
    '<div>\n  <p>a</p>\n\n  <p>b</p>\n\n  <p>c</p>\n</div>',
    (of) => ({ kind: 'delete', sources: [of('p', 1)] }),
    '<div>\n  <p>a</p>\n\n  <p>c</p>\n</div>',
  ],
  [
    'wrapped, two lines go deeper',
    UL.replace(/ul/g, 'div').replace(/li/g, 'p'),
    (of) => ({ kind: 'wrap', sources: [of('p', 0), of('p', 1)], tag: 'section', className: 'two' }),
    '<div>\n  <section class="two">\n    <p>One</p>\n    <p>Two</p>\n  </section>\n  <p>Three</p>\n</div>\n',
  ],
  [
    'an inline one stays on its line',
    '<p>a <b>b</b> c</p>',
    (of) => ({ kind: 'wrap', sources: [of('b')], tag: 'a' }),
    '<p>a <a><b>b</b></a> c</p>',
  ],
  [
    'tags taken away, what was in them comes out a step',
    '<main>\n  <div>\n    <p>a</p>\n  </div>\n</main>',
    (of) => ({ kind: 'unwrap', sources: [of('div')] }),
    '<main>\n  <p>a</p>\n</main>',
  ],
  [
    'what is inserted has the file’s indentation',
    '<main>\n\t<p>a</p>\n</main>',
    (of) => ({
      kind: 'insert-html',
      place: { source: of('p'), where: 'after' },
      html: '<ul>\n  <li>\n    x\n  </li>\n</ul>',
      what: 'list',
    }),
    '<main>\n\t<p>a</p>\n\t<ul>\n\t\t<li>\n\t\t\tx\n\t\t</li>\n\t</ul>\n</main>',
  ],
  [
    'into an empty list too',
    '<ul></ul>\n',
    (of) => ({ kind: 'insert-html', place: { source: of('ul'), where: 'last' }, html: '<li>a</li>', what: 'item' }),
    '<ul>\n  <li>a</li>\n</ul>\n',
  ],
  [
    'a tag that the parser would drop is none to write',
    '<div><p>x</p></div>',
    (of) => ({
      kind: 'insert-html',
      place: { source: of('p'), where: 'after' },
      html: '<tr><td>1</td></tr>',
      what: 'row',
    }),
    'refused: A tag in it cannot stand there: the HTML parser would drop it.',
  ],
  [
    'nor is one that is not closed',
    '<div><p>x</p></div>',
    (of) => ({ kind: 'insert-html', place: { source: of('p'), where: 'after' }, html: 'a <b>c', what: 'text' }),
    'refused: <b> is not closed in it.',
  ],
])('%s', (_, html, intent, out) => expect(after(html, intent)).toBe(out))

test('what may stand where is said as the standard says it', () => {
  const of = (tag: string, ...within: string[]) => ({ tag, within })
  expect(whyNotIn(['p', 'body'], of('div'))).toBe('<p> holds text and what stands in it only, and <div> is a block')
  expect(whyNotIn(['a', 'body'], of('span', 'button'))).toBe('<a> must not hold a <button>')
  expect(whyNotIn(['td', 'tr', 'a'], of('div', 'input'))).toBe('<a> must not hold an <input>')
  // Transparent: what its parent may hold.
  expect(whyNotIn(['a', 'div'], of('section'))).toBe(null)
  expect(whyNotIn(['a', 'p'], of('section'))).not.toBe(null)
  expect(whyNotIn(['img', 'p'], of('b'))).toBe('<img> holds nothing')
  expect(whyNotIn(['summary', 'details'], of('h2'))).toBe(null)
  expect(whyNotIn(['ul'], of('x-item'))).toBe(null)
})

test('an id takes its labels, links from every page and selectors along; another of that name is refused', () => {
  const project = projectOf({
    'index.html': '<label for="a">A</label><input id="a" aria-describedby="x a"><a href="#a">up</a><p id="b">',
    'sub/two.html': '<a href="../index.html#a">there</a><a href="#a">not</a>',
    'a.css': '#a:focus, .b #a { color: red }\n#ab { color: red }',
  })
  const plan = planIntent(project, { kind: 'set-attribute', source: at(project, 'input'), name: 'id', value: 'name' })
  if (!plan.ok) throw new Error(plan.why)
  expect(plan.changes.map((c) => applySplices(project.text(c.path), c.splices))).toEqual([
    '<label for="name">A</label><input id="name" aria-describedby="x name"><a href="#name">up</a><p id="b">',
    '<a href="../index.html#name">there</a><a href="#a">not</a>',
    '#name:focus, .b #name { color: red }\n#ab { color: red }',
  ])
  expect(planIntent(project, { kind: 'set-attribute', source: at(project, 'input'), name: 'id', value: 'b' })).toMatchObject({
    ok: false,
    reason: 'bad-name',
  })
  expect(rulesWithId(project, 'a').map((r) => r.line)).toContain(1)
})

test('rules that would match other elements under another tag name are told, others of the page included', () => {
  const project = projectOf({
    'index.html': '<link rel=stylesheet href=a.css><div><h2>a</h2><p>b</p><p>c</p></div>',
    'a.css': 'div h2 { margin: 0 }\nh2 + p { color: red }\np:first-of-type { top: 0 }\n.x { top: 0 }',
  })
  expect(changedByTag(project, at(project, 'h2'), 'p').map((c) => [c.selector, c.own, c.others])).toEqual([
    ['div h2', 'stops', 0],
    ['h2 + p', null, 1],
    ['p:first-of-type', 'starts', 1],
  ])
})

test('a field of the head is changed where it is, or comes beside its like', () => {
  const html = '<!doctype html>\n<html>\n<head>\n  <meta charset="utf-8">\n  <title>Tides &amp; boats</title>\n</head>\n'
  const set = (field: Parameters<typeof headIntent>[2], value: string | null) => {
    const project = projectOf({ 'index.html': html })
    const intent = headIntent(project, 'index.html', field, value)
    const plan = 'ok' in intent ? intent : planIntent(project, intent)
    return plan.ok ? applySplices(html, plan.changes[0].splices) : plan.why
  }
  expect(set('description', 'A "boat"')).toContain(
    '  <title>Tides &amp; boats</title>\n  <meta name="description" content="A &quot;boat&quot;">\n',
  )
  expect(set('title', 'Tides & fares')).toContain('<title>Tides &amp; fares</title>')
  expect(set('lang', 'en')).toContain('<html lang="en">')
  expect(set('og:image', null)).toBe('The page has no og:image.')
})

test('a place is told before it is taken', () => {
  const project = projectOf({ 'index.html': '<ul class="stops"><li class="harbour">a</li><li>b</li></ul><p>x</p>' })
  expect(tellDrop(project, [at(project, 'li', 1)], { source: at(project, 'li'), where: 'before' })).toEqual({
    ok: true,
    words: 'before li.harbour in ul.stops',
  })
  expect(tellDrop(project, [at(project, 'p')], { source: at(project, 'li'), where: 'before' })).toEqual({
    ok: false,
    words: '<ul> holds <li> only',
  })
})

test('a moved element keeps its id, so that it is still known by it', () => {
  const doc = new HtmlDocument('<ul>\n  <li class="a">One</li>\n  <li>Two</li>\n</ul>')
  const [, , , , a] = doc.elements
  expect(a.attributes[0].value).toBe('a')
  doc.apply([
    { from: 7, to: 32, insert: '' },
    { from: 46, to: 46, insert: '\n  <li class="a">One</li>' },
  ])
  expect(doc.element(a.id).attributes[0].value).toBe('a')
})

test('offsets go between the text of a file and of an editor and back', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'bc', '\n', '\r\n'), { maxLength: 30 }), (parts) => {
      const file = parts.join('')
      const feeds = new LineFeeds(file)
      for (let i = 0; i <= feeds.text.length; i++) {
        expect(feeds.fromFile(feeds.toFile(i))).toBe(i)
        expect(file.slice(feeds.toFile(i)).replace(/\r\n/g, '\n')).toBe(feeds.text.slice(i))
      }
    }),
  )
})

test.each([1, 2])(
  'random edits of the structure of the sample project hold, seed %i',
  (seed) => {
    const { violations, edits } = runStructureCorpus('demo/brinewick', 500, seed)
    expect(violations.map((v) => `${v.kind} ${v.what}: ${v.why}`)).toEqual([])
    expect(edits).toBe(500)
  },
  60_000,
)
