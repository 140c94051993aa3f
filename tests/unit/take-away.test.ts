import fc from 'fast-check'
import { expect, test } from 'vitest'
import { changedRules, handOffText, type HandOff } from '../../src/core/edit'
import { HtmlDocument, uniqueSelector } from '../../src/core/html'
import { Project } from '../../src/core/project'

const sheetOf = (text: string) => new Project([{ key: 1, path: 'a.css', bytes: new TextEncoder().encode(text) }]).sourceSheet('a.css')!

test.each<[string, string, string, string]>([
  ['a value', '.a { color: red; top: 0; }\n.b { top: 0; }\n', '.a { color: blue; top: 0; }\n.b { top: 0; }\n', '.a {\n  color: blue;\n}'],
  ['a new rule', '.a {\n\ttop: 0;\n}\n', '.a {\n\ttop: 0;\n}\n\n.c {\n\tleft: 1px;\n}\n', '.c {\n\tleft: 1px;\n}'],
  [
    'under its conditions',
    '@media (max-width: 600px) {\n  .a { top: 0; }\n}\n',
    '@media (max-width: 600px) {\n  .a { top: 0; left: 2px !important; }\n}\n',
    '@media (max-width: 600px) {\n  .a {\n    left: 2px !important;\n  }\n}',
  ],
  [
    'the same selector under another condition is another rule',
    '.a { top: 0; }\n',
    '.a { top: 0; }\n@media print {\n  .a { top: 0; }\n}\n',
    '@media print {\n  .a {\n    top: 0;\n  }\n}',
  ],
  ['nothing', '.a { top: 0; }\n', '.a { top: 0; }\n', ''],
])('the changed rules: %s', (_, before, after, out) =>
  expect(
    changedRules(before, sheetOf(after))
      .map((r) => r.text)
      .join('\n\n'),
  ).toBe(out),
)

test('what is nested stands by itself, with its selectors written out', () => {
  const before = '.card { color: red; & h3 { top: 0; @media (width < 600px) { top: 1px; } } }\n'
  const rules = changedRules(before, sheetOf(before.replace('top: 0', 'top: 2px').replace('1px', '3px')))
  expect(rules).toEqual([
    { selectors: ['.card h3'], text: '.card h3 {\n  top: 2px;\n}' },
    { selectors: ['.card h3'], text: '@media (width < 600px) {\n  .card h3 {\n    top: 3px;\n  }\n}' },
  ])
})

test('a selector of its own names one element, whatever the page', () => {
  const tag = fc.constantFrom('div', 'p', 'ul', 'section')
  const open = fc.tuple(tag, fc.option(fc.constantFrom('a', 'b', 'sm:x')), fc.option(fc.constantFrom('one', 'two')))
  const element = ([t, c, id]: [string, string | null, string | null], inner: readonly string[]) =>
    `<${t}${c ? ` class="${c}"` : ''}${id ? ` id="${id}"` : ''}>${inner.join('')}</${t}>`
  const tree = fc.letrec<{ node: string }>((tie) => ({
    node: fc.oneof(
      { maxDepth: 4 },
      open.map((o) => element(o, [])),
      fc.tuple(open, fc.array(tie('node'), { maxLength: 3 })).map(([o, inner]) => element(o, inner)),
    ),
  })).node
  fc.assert(
    fc.property(fc.array(tree, { minLength: 1, maxLength: 4 }), (all) => {
      const html = `<!DOCTYPE html><html><head></head><body>${all
        .join('')
        .replace(/<p([^>]*)>/g, '<article$1>')
        .replaceAll('</p>', '</article>')}</body></html>`
      const doc = new HtmlDocument(html)
      const elements = doc.elements.filter((e) => e.startTag)
      const selectors = elements.map((e) => uniqueSelector(doc, e))
      expect(new Set(selectors).size).toBe(elements.length)
    }),
    { numRuns: 300 },
  )
})

test('a note holds what it is given, whatever stands in it', () => {
  const note: HandOff = {
    $schema: '/schemas/hand-off-1.json',
    project: 'A *pier* <b>',
    made: '2026-01-02T03:04:05.000Z',
    edits: [
      {
        file: 'a`b.css',
        line: 3,
        where: '.a::before',
        what: 'content',
        before: null,
        after: '"``"',
        why: 'its rule decides it',
        reach: 1,
        verdict: 'holds',
      },
    ],
    wishes: [{ words: 'Wider.', elements: [{ file: 'i.html', line: 9, selector: '#x', html: '<p id="x">' }] }],
  }
  expect(handOffText(note)).toBe(
    '# A \\*pier\\* \\<b\\>: what was changed\n\n1 edit, 2026-01-02 03:04 UTC.\n\n## 1. `.a::before`: content\n\n- where: ``a`b.css:3``\n- after: ```"``"```\n- why there: its rule decides it\n- reaches 1 element; read back: holds\n\n# What is wished for\n\nWider.\n\n- `#x` in `i.html:9`: `<p id="x">`\n',
  )
  // Texts are texts: no heading, list, link or HTML of the note comes of them.
  const words = '# Wider\n- <img src=x onerror=alert(1)> [here](javascript:x)\n1. `a` *b* | c'
  const hostile = handOffText({
    ...note,
    edits: [{ ...note.edits[0], what: 'title <b>', why: 'two\n# lines', verdict: 'held `x`' }],
    wishes: [{ words, elements: [] }],
  })
  expect(hostile).toContain('## 1. `.a::before`: title \\<b\\>\n')
  expect(hostile).toContain('- why there: two \\# lines\n- reaches 1 element; read back: held \\`x\\`\n')
  expect(hostile).toContain('\n\\# Wider\n\\- \\<img src=x onerror=alert(1)\\> \\[here\\](javascript:x)\n1\\. \\`a\\` \\*b\\* \\| c\n')
})
