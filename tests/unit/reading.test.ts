import { expect, test } from 'vitest'
import type { Desk } from '../../src/desk'
import { openDesk } from '../support/desk-in-memory'

const PAGE = `<!doctype html>\r
<link rel="stylesheet" href="css/pier.css">\r
<body>\r
  <main class="pier" id="top">\r
    <h1 class="title">Ferries</h1>\r
    <p class="note wide">High <em>at</em> six</p>\r
    <p class="note">Low</p>\r
    <img src="img/pier.png">\r
  </main>\r
</body>\r
`
const SHEET = `@layer base, parts;
@layer base {
  .title {
    color: #123456;
    &:hover { color: teal; }
  }
}
@media (max-width: 600px) {
  .note { top: 1px; }
}
@font-face { font-family: "Pier Sans"; src: url("../fonts/pier.woff2"); font-weight: 700; }
.note, .wide > em { top: 0; border: 1px solid #123456; }
.pier { --gap: 4px; color: rgb(18 52 86); }
`
const FILES = {
  'index.html': PAGE,
  'css/pier.css': SHEET,
  'css/vendor.css': '.title { color: #123456 }',
  'app.js': 'const note = document.querySelector(".note")\n// noted\nnote.classList.add("wide")\n',
  'img/pier.png': 'no picture',
  'fonts/pier.woff2': 'no font',
}
const SHEETS = ['css/pier.css']

function sourceOf(desk: Desk, tag: string, nth = 0, path = 'index.html'): string {
  const found = desk.current.project.tree(path).elements.filter((e) => e.tag === tag)[nth]
  return desk.current.project.sourceOf(path, found.id)
}
/** The id of the rule of the sheet that is written with this prelude. */
function ruleOf(desk: Desk, prelude: string): number {
  const sites = [...desk.current.project.sheet('css/pier.css')!.sheet.rules()]
  return sites.find((s) => s.statement.text.slice(s.rule.prelude.from, s.rule.prelude.to).trim() === prelude)!.rule.id
}
const withFeeds = PAGE.replace(/\r\n/g, '\n')
const caret = (before: string) => withFeeds.indexOf(before)

test('an offset of a file leads to the innermost element or to the rule there, and back to their marks', async () => {
  const desk = await openDesk(FILES)
  const at = (before: string) => desk.places.standsAt('index.html', caret(before))
  expect(await at('at</em>')).toEqual({ source: sourceOf(desk, 'em') })
  expect(await at('Low')).toEqual({ source: sourceOf(desk, 'p', 1) })
  const rule = ruleOf(desk, '.note, .wide > em')
  expect(await desk.places.standsAt('css/pier.css', SHEET.indexOf('top: 0'))).toEqual({
    sheet: 'css/pier.css',
    rule,
    selectors: ['.note', '.wide > em'],
  })
  // A nested rule is what it stands for.
  expect(await desk.places.standsAt('css/pier.css', SHEET.indexOf('teal'))).toMatchObject({ selectors: ['.title:hover'] })
  expect(await desk.places.standsAt('css/pier.css', SHEET.indexOf('@font-face') + 2)).toBeNull()
  const marks = await desk.places.marks('index.html', sourceOf(desk, 'em'), [{ sheet: 'css/pier.css', rule }])
  expect(marks.map((m) => withFeeds.slice(m.from, m.to))).toEqual(['<em>', '</em>'])
  const selectors = await desk.places.marks('css/pier.css', sourceOf(desk, 'em'), [{ sheet: 'css/pier.css', rule }])
  expect(selectors.map((m) => SHEET.slice(m.from, m.to).trim())).toEqual(['.note, .wide > em'])
  expect(await desk.places.lineIn('index.html', sourceOf(desk, 'p'), [])).toBe(6)
  expect(await desk.places.lineIn('css/pier.css', null, [{ sheet: 'css/pier.css', rule }])).toBe(12)
  expect(await desk.places.marks('gone.css', null, [])).toEqual([])
})

test('elements are within what they are or stand in, and nowhere else', async () => {
  const desk = await openDesk(FILES)
  const all = [sourceOf(desk, 'main'), sourceOf(desk, 'p'), sourceOf(desk, 'em'), sourceOf(desk, 'h1'), '9.9']
  expect(await desk.places.areWithin(all, sourceOf(desk, 'p'))).toEqual([false, true, true, false, false])
  expect(await desk.places.areWithin(all, null)).toEqual([false, false, false, false, false])
  expect(await desk.places.elementOf(sourceOf(desk, 'p'))).toEqual({
    tag: 'p',
    attributes: [{ name: 'class', value: 'note wide' }],
    children: [sourceOf(desk, 'em')],
    parent: sourceOf(desk, 'main'),
    texts: expect.anything(),
  })
  expect(await desk.places.idsBeside(sourceOf(desk, 'p'))).toEqual(['top'])
  expect([await desk.places.place('9.9'), await desk.places.elementOf('9.9'), await desk.places.idsBeside('9.9')]).toEqual([null, null, []])
})

test.each([
  // Between elements it stands as an element of its own; in a text it is typed; in a tag it is refused.
  ['<p class="note">Low', 'after', /after/, true],
  ['    <h1', 'first', /first/, true],
  ['ow</p>', 'typed', /in the text of p.note, where the caret stands/, true],
  ['h1 class', null, /in a tag|no element/, false],
] as const)('HTML put before %s is %s', async (before, where, words, ok) => {
  const desk = await openDesk(FILES)
  const told = await desk.places.insertAt('index.html', caret(before), '<b>new</b>', 'b')
  expect([told.ok, told.words]).toEqual([ok, expect.stringMatching(words)])
  if (!told.intent) return expect(ok).toBe(false)
  expect(told.intent.kind === 'typed' ? 'typed' : told.intent.place.where).toBe(where)
  expect(await desk.editing.commit(told.intent, 1)).not.toHaveProperty('ok')
  const now = desk.current.text('index.html')!
  // All that was there is there, in the file's own line ends, and what came stands where the caret stood.
  expect(now.replace(/\s*<b>new<\/b>/, '').replace(/\s+/g, '')).toBe(PAGE.replace(/\s+/g, ''))
  expect(now.replace(/\r\n/g, '')).not.toContain('\n')
  const rest = now.slice(now.indexOf('<b>new</b>') + '<b>new</b>'.length).trimStart()
  expect(rest.replace(/\r\n/g, '\n').startsWith(before.trimStart())).toBe(true)
})

test('a place of a rule that is not there yet: each sheet of the page with its layers and the rules it can follow', async () => {
  const desk = await openDesk(FILES)
  const [note, title] = [ruleOf(desk, '.note, .wide > em'), ruleOf(desk, '.title')]
  expect(
    await desk.reading.ruleHomes(
      ['css/pier.css', 'gone.css'],
      [note, title, 999].map((rule) => ({ sheet: 'css/pier.css', rule })),
    ),
  ).toEqual([
    {
      sheet: 'css/pier.css',
      path: 'css/pier.css',
      layers: ['base', 'parts'],
      rules: [
        { rule: note, selector: '.note, .wide > em', line: 12 },
        { rule: title, selector: '.title', line: 3 },
      ],
    },
  ])
  // A class that the project has is not taken for a new one.
  expect(await desk.reading.newRuleHome('note', SHEETS)).toEqual({ className: 'note-2', sheet: 'css/pier.css' })
  expect(await desk.reading.newRuleHome('new', SHEETS)).toEqual({ className: 'new', sheet: 'css/pier.css' })
  expect(await desk.reading.newRuleHome('new', [])).toBeNull()
  const under = ruleOf(desk, '.note')
  expect(await desk.reading.ruleUnder('css/pier.css', '.note', '(max-width:600px)')).toBe(under)
  expect(await desk.reading.ruleUnder('css/pier.css', '.note', '(max-width: 601px)')).toBeNull()
})

test('a colour is replaced wherever it is said, in whatever notation, as one edit; and nowhere else', async () => {
  const desk = await openDesk(FILES)
  const intent = await desk.reading.recolor('#123456', '#0f5b66')
  expect(intent).toMatchObject({ kind: 'together', label: '#0f5b66 for #123456' })
  const would = await desk.reading.wouldWrite(intent!)
  expect(would).toMatchObject({ ok: true, files: [{ path: 'css/pier.css' }, { path: 'css/vendor.css' }] })
  // Nothing is written yet.
  expect(desk.current.text('css/pier.css')).toBe(SHEET)
  await desk.editing.commit(intent!, 1)
  const wanted = SHEET.replaceAll('#123456', '#0f5b66').replace('rgb(18 52 86)', '#0f5b66')
  expect([desk.current.text('css/pier.css'), desk.current.text('css/vendor.css')]).toEqual([wanted, '.title { color: #0f5b66 }'])
  await desk.history.step('undo')
  expect(desk.current.text('css/pier.css')).toBe(SHEET)
  expect(await desk.reading.recolor('#fedcba', '#000')).toBeNull()
})

test('a colour gets a name wherever it is said, as one edit; one that is there, and one that no declaration says by itself, are refused', async () => {
  const desk = await openDesk(FILES)
  const intent = await desk.reading.nameColor('#123456', 'deep')
  if ('ok' in intent) throw new Error(intent.why)
  expect(await desk.editing.commit(intent, 1)).not.toHaveProperty('ok')
  const text = desk.current.text('css/pier.css')!
  expect(text.match(/#123456|rgb\(18 52 86\)/g)).toEqual(['#123456'])
  expect(text).toContain('--deep: #123456;')
  expect(text.match(/var\(--deep\)/g)).toHaveLength(3)
  expect(text).toContain('border: 1px solid var(--deep);')
  expect(desk.current.text('css/vendor.css')).toBe('.title { color: var(--deep) }')
  await desk.history.step('undo')
  expect([desk.current.text('css/pier.css'), desk.current.text('css/vendor.css')]).toEqual([SHEET, FILES['css/vendor.css']])
  const why = async (color: string, name: string) => {
    const made = await desk.reading.nameColor(color, name)
    return 'ok' in made ? made.why : 'made'
  }
  expect(await why('#123456', '--gap')).toBe('The project has a token --gap already.')
  expect(await why('#fedcba', 'other')).toMatch(/^No declaration says just this colour/)
})

test('what renaming a class leaves is said: the lines of scripts with its name, and a name that is there already', async () => {
  const desk = await openDesk(FILES)
  const beside = (from: string, to: string) => desk.reading.besidesRename({ kind: 'rename-class', from, to })
  expect(await beside('note', 'hint')).toEqual({
    scripts: [
      { path: 'app.js', line: 1 },
      { path: 'app.js', line: 3 },
    ],
    taken: false,
  })
  expect(await beside('pier', 'title')).toEqual({ scripts: [], taken: true })
  expect(await desk.reading.namesOf('css/pier.css', ruleOf(desk, '.note, .wide > em'))).toEqual({
    selector: '.note, .wide > em',
    classes: ['note', 'wide'],
  })
  expect(await desk.reading.namesOf('css/pier.css', 999)).toBeNull()
})

test('files that a value names are there or missing, by the folder of the sheet that it is written into', async () => {
  const desk = await openDesk(FILES)
  const values = ['url(../img/pier.png)', 'url(img/pier.png)', 'url("https://a.test/b.png")', 'url(#clip)', 'url(data:,x)', '../../up.png']
  expect(await desk.reading.missingFiles('css/pier.css', [...values, 'url(../../up.png) 1px'])).toEqual(['img/pier.png', '../../up.png'])
  expect(await desk.reading.faceHome(SHEETS)).toEqual({ sheet: 'css/pier.css', folder: 'fonts' })
  expect((await desk.reading.faces()).map((f) => [f.family, f.weight, f.style, f.bytes.length])).toEqual([
    ['Pier Sans', '700', 'normal', 7],
  ])
})

test('what is looked for in all of the project ends when it is asked for again or given up', async () => {
  // More than is looked through without a rest.
  const many = Array.from({ length: 4000 }, (_, i) => `.r${i} { top: 0 }`).join('\n')
  const pages = Object.fromEntries(
    Array.from({ length: 60 }, (_, i) => [`p${i}.html`, PAGE.replace('Low', `<a href="gone-${i}.html">x</a>`)]),
  )
  const desk = await openDesk({ ...FILES, ...pages, 'many.css': many })
  const [first, second] = await Promise.all([desk.reading.unused(), desk.reading.unused()])
  expect([first, second?.rules.filter((r) => r.path === 'many.css').length]).toEqual([null, 4000])
  const third = desk.reading.unused()
  await desk.reading.stopLooking()
  expect(await third).toBeNull()
  expect((await desk.reading.deadLinks())?.filter((link) => link.url.startsWith('gone-')).length).toBe(60)
})
