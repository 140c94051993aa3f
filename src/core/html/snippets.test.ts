import fc from 'fast-check'
import { JSDOM } from 'jsdom'
import { parse, parseFragment, type ParserError } from 'parse5'
import { expect, test } from 'vitest'
import {
  boxesHtml,
  bringsScript,
  buttonHtml,
  dialogHtml,
  elementHtml,
  embedHtml,
  embedInstead,
  FIELD_TYPES,
  fieldHtml,
  headingHtml,
  imageHtml,
  linkHtml,
  listHtml,
  sectionHtml,
  tableHtml,
  videoHtml,
} from './snippets'

/** What people type, and what would be markup if it were not written as text. */
const TYPED = fc.oneof(
  fc.constantFrom(
    'Fares & times',
    '<script>alert(1)</script>',
    '"><img src=x onerror=alert(1)>',
    "it's 'late'",
    '&amp;',
    'Ünder çay',
    '  ',
  ),
  fc.string({ maxLength: 20 }).map((s) => s.replace(/[\0\r\n]/g, ' ')),
)

function errorsOf(html: string): string[] {
  const found: string[] = []
  parseFragment(html, { sourceCodeLocationInfo: true, onParseError: (e: ParserError) => void found.push(e.code) })
  return found.filter((code) => !/noncharacter|control-character|surrogate/.test(code))
}
// One that is shown nowhere, so that no frame in it is loaded.
const { body } = new JSDOM().window.document.implementation.createHTMLDocument()
function elementsOf(html: string): Element[] {
  body.innerHTML = html
  return [...body.querySelectorAll('*')]
}

test('what is put in is without fault, has only what it is made of, and says what was typed', () => {
  fc.assert(
    fc.property(TYPED, TYPED, fc.constantFrom(...FIELD_TYPES), fc.integer({ min: 1, max: 4 }), (text, more, type, n) => {
      const made: readonly (readonly [string, readonly string[]])[] = [
        [headingHtml(n, text), [`h${n}`]],
        [elementHtml('p', text), ['p']],
        [linkHtml(more, text), ['a']],
        [buttonHtml(text), ['button']],
        [imageHtml({ src: more, alt: text, size: null, caption: '' }), ['img']],
        [imageHtml({ src: more, alt: text, size: { width: 3, height: 2 }, caption: `x${text}` }), ['figure', 'img', 'figcaption']],
        [videoHtml(more), ['video']],
        [embedHtml(more, text), ['iframe']],
        [sectionHtml('section', `x${text}`), ['section', 'h2']],
        [dialogHtml(more, text), ['dialog', 'h2', 'form', 'button']],
        [boxesHtml('grid', n, false, more || 'boxes'), ['div', ...Array<string>(n).fill('div')]],
      ]
      for (const [html, tags] of made) {
        expect(errorsOf(html)).toEqual([])
        const elements = elementsOf(html)
        expect(elements.map((e) => e.localName)).toEqual(tags)
        expect(elements.flatMap((e) => e.getAttributeNames()).filter((name) => name.startsWith('on'))).toEqual([])
      }
      expect(elementsOf(headingHtml(n, text))[0].textContent).toBe(text)
      const [image] = elementsOf(imageHtml({ src: more, alt: text, size: null, caption: '' }))
      expect([image.getAttribute('src') ?? '', image.getAttribute('alt')]).toEqual([more, text])
      const field = elementsOf(fieldHtml(type, text))
      expect(errorsOf(fieldHtml(type, text))).toEqual([])
      // A label is tied to its control, around it or by id.
      const control = field.find((e) => /^(input|select|textarea)$/.test(e.localName)) as HTMLInputElement
      expect([...control.labels!].map((l) => l.textContent!.trim())).toEqual([text.trim()])
      expect(control.name).toMatch(/^[\p{L}\p{N}-]+$/u)
    }),
    { numRuns: 60 },
  )
})

test('a list has one item for each line, a table its cells under headed columns', () => {
  expect(listHtml('ol', ' One \n\nTwo & three\n')).toBe('<ol>\n  <li>One</li>\n  <li>Two & three</li>\n</ol>')
  expect(elementsOf(listHtml('ul', ' \n ')).filter((e) => e.localName === 'li')).toHaveLength(3)
  const table = tableHtml(3, 2, 'Fares <1>')
  expect(errorsOf(table)).toEqual([])
  const all = elementsOf(table)
  expect(all.find((e) => e.localName === 'caption')?.textContent).toBe('Fares <1>')
  expect(all.filter((e) => e.matches('thead th[scope="col"]'))).toHaveLength(3)
  expect(all.filter((e) => e.matches('tbody tr')).map((row) => row.children.length)).toEqual([3, 3])
  expect(tableHtml(1, 1, '')).not.toContain('caption')
})

test('a row of boxes is laid out by classes where there are such, by a class of its own, or by its style', () => {
  expect(boxesHtml('flex', 2, true, null)).toBe('<div class="flex gap-4">\n  <div></div>\n  <div></div>\n</div>')
  expect(boxesHtml('grid', 3, true, null)).toContain('class="grid grid-cols-3 gap-4"')
  expect(boxesHtml('grid', 2, false, 'cards')).toContain('<div class="cards">')
  expect(boxesHtml('grid', 2, false, null)).toContain('style="display: grid; grid-template-columns: repeat(2, minmax(0, 1fr)); gap: 1rem"')
})

test.each([
  ['<p>on time = now</p>', false],
  ['<p title="a onclick=b">x</p>', true],
  ['<p>javascript</p>', false],
  ['<a href="JavaScript:run()">x</a>', true],
  ['<SCRIPT src=a></SCRIPT>', true],
  ['<img src=x\nonerror = run()>', true],
  ['<p>description</p>', false],
])('whether %s brings something that runs: %s', (html, brings) => {
  expect(bringsScript(html)).toBe(brings)
})

test('a watch page is framed by the address that its host has for that, any other as it is', () => {
  const ids = [
    'https://www.youtube.com/watch?list=x&v=abc_DEF-123',
    'https://youtu.be/abc_DEF-123?t=4',
    ' https://m.youtube.com/shorts/abc_DEF-123 ',
  ]
  for (const address of ids) expect(embedInstead(address)).toBe('https://www.youtube-nocookie.com/embed/abc_DEF-123')
  expect(embedInstead('https://vimeo.com/76979871')).toBe('https://player.vimeo.com/video/76979871')
  for (const other of ['https://brinewick.test/watch?v=abcdefgh', 'https://notyoutube.com/watch?v=abcdefgh', 'vimeo.com', ''])
    expect(embedInstead(other)).toBeNull()
})

test('a dialog in a page can be opened and closed by what is in it', () => {
  const { document } = new JSDOM(`<!DOCTYPE html><body>${dialogHtml('Buy a ticket', 'Tickets')}`).window
  const dialog = document.querySelector('dialog')!
  expect([dialog.id, document.getElementById(dialog.getAttribute('aria-labelledby')!)?.textContent]).toEqual(['buy-a-ticket', 'Tickets'])
  expect(dialog.querySelector('form')?.getAttribute('method')).toBe('dialog')
  expect(parse(dialogHtml('a', 'b')).nodeName).toBe('#document')
})
