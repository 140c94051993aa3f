import fc from 'fast-check'
import { parse, serialize } from 'parse5'
import { describe, expect, test } from 'vitest'
import { applySplices } from '../text'
import { attribute, HtmlDocument, ID_ATTRIBUTE, publishHtml, removeAttribute, setAttribute, setInlineStyle, setText } from '.'

const piece = fc.constantFrom(
  '<!doctype html>',
  '<html>',
  '<head>',
  '<body class=a>',
  '<div id="x" class=\'b c\'>',
  '</div>',
  '<p>',
  'text',
  '<br/>',
  '<table><tr><td>',
  '<b><i>',
  '</b>',
  '<svg viewBox="0 0 1 1"><path d=M0 />',
  '</svg>',
  '<!-- c -->',
  '<style>.a{}</style>',
  '<script>"<p>"</script>',
  '<input disabled>',
  '&amp;',
  '<template><p></template>',
  '<a href=x class="1" class="2">',
  '<',
  '<select><option>',
  '\r\n',
  '<frameset>',
  '<form><form>',
)
const html = fc.array(piece, { maxLength: 20 }).map((p) => p.join(''))
const byTag = (doc: HtmlDocument, tag: string) => doc.elements.find((e) => e.node.tagName === tag)!

describe('publishing', () => {
  test('adds only the ids and the script', () => {
    fc.assert(
      fc.property(html, (text) => {
        const published = publishHtml(new HtmlDocument(text), 3, '<script src=agent></script>')
        const plain = published.replace('<script src=agent></script>', '').replace(new RegExp(` ${ID_ATTRIBUTE}="3\\.\\d+"`, 'g'), '')
        expect(plain).toBe(text)
      }),
      { numRuns: 1000, seed: 5 },
    )
  })

  test('makes the same tree', () => {
    fc.assert(
      fc.property(html, (text) => {
        const published = serialize(parse(publishHtml(new HtmlDocument(text), 3, '')))
        expect(published.replace(new RegExp(` ${ID_ATTRIBUTE}="3\\.\\d+"`, 'g'), '')).toBe(serialize(parse(text)))
      }),
      { numRuns: 1000, seed: 6 },
    )
  })
})

describe('attributes', () => {
  const cases: [string, string, string, string | null, string][] = [
    ['<p class="a" id=x>', 'p', 'class', 'a b', '<p class="a b" id=x>'],
    ["<p class='a'>", 'p', 'class', "it's", "<p class='it&#39;s'>"],
    ['<p class=a>', 'p', 'class', 'b', '<p class=b>'],
    ['<p class=a>', 'p', 'class', 'a b', '<p class="a b">'],
    ['<p>', 'p', 'title', 'x & y', '<p title="x & y">'],
    ["<p id='a'>", 'p', 'title', 'x', "<p id='a' title='x'>"],
    ['<br/>', 'br', 'id', 'x', '<br id="x"/>'],
    ['<br />', 'br', 'id', 'x', '<br id="x" />'],
    ['<input disabled value>', 'input', 'value', '1', '<input disabled value="1">'],
    ['<p id="1" id="2" class=c>', 'p', 'id', null, '<p class=c>'],
    ['<p\n  id="1"\n  class="c">', 'p', 'class', null, '<p\n  id="1">'],
  ]
  test.each(cases)('%j %s %s=%s', (before, tag, name, value, after) => {
    const doc = new HtmlDocument(before)
    const plan = value === null ? removeAttribute(doc, byTag(doc, tag), name) : setAttribute(doc, byTag(doc, tag), name, value)
    expect(plan.ok && applySplices(before, plan.splices)).toBe(after)
  })

  test('what is set is what is read, and no other element changes', () => {
    const value = fc.string({
      unit: fc.constantFrom('a', ' ', '"', "'", '&', '&amp;', '<', '>', '=', '/', '`', 'é'),
      maxLength: 8,
    })
    fc.assert(
      fc.property(html, fc.nat(), fc.constantFrom('class', 'id', 'title', 'style'), value, (text, pick, name, to) => {
        const doc = new HtmlDocument(text)
        const own = doc.elements.filter((e) => e.startTag)
        fc.pre(own.length > 0)
        const element = own[pick % own.length]
        const ids = doc.elements.map((e) => [e.id, e.node.tagName])
        const plan = setAttribute(doc, element, name, to)
        if (!plan.ok) return
        doc.apply(plan.splices)
        expect(attribute(doc.element(element.id).node, name)).toBe(to)
        expect(doc.elements.map((e) => e.node.tagName)).toEqual(ids.map(([, tag]) => tag))
        expect(own.every((e) => doc.has(e.id))).toBe(true)
      }),
      { numRuns: 1500, seed: 11 },
    )
  })
})

test.each([
  ['<p>', 'color', 'red', '<p style="color: red">'],
  ['<p style="color: red">', 'color', 'blue', '<p style="color: blue">'],
  ['<p style="color:red">', 'top', '0', '<p style="color:red;top:0">'],
  ['<p style="color: red">', 'top', '0', '<p style="color: red; top: 0">'],
  ['<p style="padding: 4px 8px;">', 'padding-left', '2px', '<p style="padding: 4px 8px 4px 2px;">'],
  ['<p style=color:red>', 'color', 'rgb(1 2 3)', '<p style="color:rgb(1 2 3)">'],
])('inline style %j: %s %s', (before, name, value, after) => {
  const doc = new HtmlDocument(before)
  const plan = setInlineStyle(doc, byTag(doc, 'p'), { name, value })
  expect(plan.ok && applySplices(before, plan.splices)).toBe(after)
})

test.each([
  ['<p>A &amp; B &copy; C', 'A & X © C', '<p>A &amp; X &copy; C'],
  ['<p>one\r\ntwo &lt; three</p>', 'one\ntwo < 3', '<p>one\r\ntwo &lt; 3</p>'],
  ['<p>&copy; a</p>', '© &copy; a', '<p>&copy; &amp;copy; a</p>'],
  ['<p>a&nbsp;b</p>', 'a\u00a0c', '<p>a&nbsp;c</p>'],
])('text %j to %j keeps what stays as written', (before, text, after) => {
  const doc = new HtmlDocument(before)
  const plan = setText(doc, byTag(doc, 'p'), 0, text)
  expect(plan.ok && applySplices(before, plan.splices)).toBe(after)
})

test('an edit read by itself leaves the document as reading all of it again would', () => {
  const text = fc.string({ unit: fc.constantFrom('a', ' ', '&', '<', '>', '\n', 'é', '"'), minLength: 1, maxLength: 6 })
  const edit = fc.record({ pick: fc.nat(), what: fc.constantFrom('class', 'title', 'text'), to: text })
  const state = (doc: HtmlDocument) => ({
    html: serialize(doc.root),
    spans: doc.elements.map((e) => [
      e.node.tagName,
      e.startTag,
      e.endTag,
      e.node.attrs,
      e.node.childNodes
        .filter((c) => c.nodeName === '#text')
        .map((c) => [c.sourceCodeLocation?.startOffset, c.sourceCodeLocation?.endOffset]),
    ]),
    sheets: doc.embeddedSheets().map((s) => s.content),
  })
  fc.assert(
    fc.property(html, fc.array(edit, { maxLength: 8 }), (start, edits) => {
      const doc = new HtmlDocument(start)
      for (const { pick, what, to } of edits) {
        const own = doc.elements.filter((e) => e.startTag)
        if (own.length === 0) return
        const element = own[pick % own.length]
        const plan = what === 'text' ? setText(doc, element, 0, to) : setAttribute(doc, element, what, to)
        if (!plan.ok) continue
        doc.apply(plan.splices)
        expect(state(doc)).toEqual(state(new HtmlDocument(doc.text)))
      }
    }),
    {
      numRuns: 3000,
      seed: 8,
      examples: [['<p><b><i><div id="x"><input disabled>', [{ pick: 4, what: 'class', to: 'a' }]]],
    },
  )
}, 30_000)
