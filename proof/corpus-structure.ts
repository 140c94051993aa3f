/**
 * `npm run corpus:structure -- DIR [--edits N] [--seed S] [--json]`: random edits of the structure of the HTML files below
 * DIR (insert, move, wrap, unwrap, delete, double, another tag, texts and attributes), each done once more on the parser's own tree and compared.
 * Exits 1 when any edit did more, less or other than was asked.
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join, relative, sep } from 'node:path'
import { defaultTreeAdapter as dom, parse, parseFragment, type DefaultTreeAdapterTypes } from 'parse5'
import type { EditPlan } from '../src/core/css'
import {
  duplicateElements,
  HtmlDocument,
  insertHtml,
  isPhrasing,
  moveElements,
  removeAttribute,
  removeElements,
  renameAttribute,
  setAttribute,
  setTagName,
  setText,
  unwrapElement,
  wrapElements,
  type Place,
  type HtmlElement,
} from '../src/core/html'
import { applySplices, decodeSource, invertSplices } from '../src/core/text'
import { folder, option } from './options'
import { Random } from './random'

type Node = DefaultTreeAdapterTypes.ChildNode
type Element = DefaultTreeAdapterTypes.Element

export interface StructureResult {
  readonly edits: number
  readonly refused: number
  readonly violations: readonly {
    readonly file: string
    readonly kind: string
    readonly what: string
    readonly why: string
    readonly before: string
    readonly after: string
  }[]
  readonly kinds: Readonly<Record<string, { made: number; refused: number }>>
  readonly reasons: Readonly<Record<string, number>>
}

const PIECES = [
  '<p>Boats leave at <b>9:40</b> &amp; later.</p>',
  '<ul>\n  <li>Old Pier</li>\n  <li>\n    <a href="#x">Brinewick</a>\n  </li>\n</ul>',
  '<a href="/">Home</a>',
  '<img src="a.png" alt="">',
  '<section>\n\t<h2>Tides</h2>\n\t<pre>\n  07:10  2.1 m\n</pre>\n</section>',
  '<li>New stop</li>',
  '<tr><td>1</td><td>2</td></tr>',
  '<button type="button">Call</button>',
  '<div></div>',
  'Plain text',
  '<table>\n  <tbody>\n    <tr><td>1</td></tr>\n  </tbody>\n</table>',
]
const TEXTS = ['Boats & tides', 'a < b > c', '“quoted” and "so"', "it's", 'two\nlines', '&amp; as text', 'Fähre — café', '', 'x']
const WRAPPERS = ['div', 'section', 'span', 'a', 'ul', 'figure', 'blockquote', 'em']
const TAGS = ['div', 'section', 'h2', 'span', 'p', 'li', 'a', 'em', 'article', 'strong']

const KEEPS = /^(pre|listing|textarea|script|style|xmp|plaintext)$/
const childrenOf = (n: DefaultTreeAdapterTypes.Node): Node[] =>
  'content' in n ? n.content.childNodes : 'childNodes' in n ? n.childNodes : []
const elementsIn = (root: DefaultTreeAdapterTypes.Node): Element[] => {
  const out: Element[] = []
  const visit = (n: DefaultTreeAdapterTypes.Node) => {
    if ('tagName' in n) out.push(n)
    for (const c of childrenOf(n)) visit(c)
  }
  visit(root)
  return out
}

/**
 * What shows of a tree, in a row: tags with attributes, texts, and a blank for white space between inline boxes. White
 * space at the edge of a block is layout; next to an element of `placed` (by its place in the document) it was asked for.
 */
function shown(root: DefaultTreeAdapterTypes.Node, placed: ReadonlySet<number>): string[] {
  const out: { text: string; edge: boolean }[] = []
  let count = -1
  const visit = (n: DefaultTreeAdapterTypes.Node, exact: boolean) => {
    if ('tagName' in n) {
      count++
      const edge = !isPhrasing(n.tagName) || placed.has(count)
      out.push({
        text: `<${n.tagName} ${n.attrs.map((a) => `${a.name}=${a.name === 'class' ? a.value.trim().replace(/\s+/g, ' ') : a.value}`).join('|')}>`,
        edge,
      })
      for (const c of childrenOf(n)) visit(c, exact || KEEPS.test(n.tagName))
      out.push({ text: `</${n.tagName}>`, edge })
    } else if (n.nodeName === '#text' && 'value' in n) {
      if (exact) out.push({ text: n.value, edge: false })
      else
        for (const piece of n.value.split(/([ \t\n\f\r]+)/))
          if (piece) out.push(/^[ \t\n\f\r]/.test(piece) ? { text: ' ', edge: false } : { text: piece, edge: false })
    } else if (n.nodeName === '#comment')
      // Its lines are set in with what it stands in.
      out.push({ text: `<!--${(n as DefaultTreeAdapterTypes.CommentNode).data.replace(/(\r\n?|\n)[ \t]+/g, '$1')}-->`, edge: false })
    else for (const c of childrenOf(n)) visit(c, exact)
  }
  visit(root, false)
  const words: { text: string; edge: boolean }[] = []
  for (const t of out) {
    const last = words.at(-1)
    if (t.text === ' ' && (!last || last.text === ' ' || last.edge)) continue
    if (t.edge && last?.text === ' ') words.pop()
    // Text beside text is one.
    words.push(t)
  }
  const text: string[] = []
  for (const { text: t } of words) {
    if (t !== ' ' && !t.startsWith('<') && text.length && !text.at(-1)!.startsWith('<') && text.at(-1) !== ' ') text[text.length - 1] += t
    else text.push(t)
  }
  return text
}

interface Attempt {
  readonly kind: string
  readonly what: string
  readonly plan: EditPlan
  readonly loose?: boolean
  /** Does the same to the parser's tree; gives the elements that were put somewhere. */
  readonly redo: (at: (e: HtmlElement) => Element) => Element[]
}

function put(nodes: readonly Node[], anchor: Element, where: Place['where']): void {
  const parent = (where === 'before' || where === 'after' ? anchor.parentNode : anchor) as Element
  const list = 'content' in parent ? (parent as unknown as DefaultTreeAdapterTypes.Template).content : parent
  const reference =
    where === 'before'
      ? anchor
      : where === 'after'
        ? list.childNodes[list.childNodes.indexOf(anchor) + 1]
        : where === 'first'
          ? list.childNodes[0]
          : undefined
  for (const n of nodes) {
    if (reference) dom.insertBefore(list, n, reference)
    else dom.appendChild(list, n)
  }
}

function copy(n: Node): Node {
  if ('tagName' in n) {
    const e = dom.createElement(
      n.tagName,
      n.namespaceURI,
      n.attrs.map((a) => ({ ...a })),
    )
    if ('content' in n) dom.setTemplateContent(e as unknown as DefaultTreeAdapterTypes.Template, dom.createDocumentFragment())
    const into = 'content' in n ? (e as unknown as DefaultTreeAdapterTypes.Template).content : e
    for (const c of childrenOf(n)) dom.appendChild(into, copy(c))
    return e
  }
  return { ...n, parentNode: null } as Node
}

function attempt(doc: HtmlDocument, r: Random): Attempt | null {
  const own = doc.elements.filter((e) => e.startTag && !/^(html|head|body|script|style|title|base)$/.test(e.node.tagName))
  if (own.length < 3) return null
  const e = r.pick(own)
  const label = `<${e.node.tagName}> ${e.id}`
  const place: Place = { element: r.pick(own).id, where: r.pick(['before', 'after', 'first', 'last'] as const) }
  const told = `${place.where} <${doc.element(place.element).node.tagName}> ${place.element}`
  // Mostly where it can stand: beside its like.
  const near = own.filter((x) => x !== e && x.node.tagName === e.node.tagName)
  const likely: Place = near.length && r.below(3) ? { element: r.pick(near).id, where: r.pick(['before', 'after'] as const) } : place
  switch (r.below(11)) {
    case 0:
    case 1: {
      const html = r.pick(PIECES)
      return {
        kind: 'insert',
        what: `${JSON.stringify(html)} ${told}`,
        plan: insertHtml(doc, place, html),
        loose: !/^<(?!tr|td)/.test(html),
        redo: (at) => {
          const anchor = at(doc.element(place.element))
          const nodes = parseFragment(
            (place.where === 'before' || place.where === 'after' ? anchor.parentNode : anchor) as Element,
            html,
            {},
          ).childNodes
          put([...nodes], anchor, place.where)
          return nodes.filter((n): n is Element => 'tagName' in n)
        },
      }
    }
    case 2:
    case 3:
      return {
        kind: 'move',
        what: `${label} ${likely.where} ${likely.element}`,
        plan: moveElements(doc, [e.id], likely),
        redo: (at) => {
          const node = at(e)
          const anchor = at(doc.element(likely.element))
          dom.detachNode(node)
          put([node], anchor, likely.where)
          return [node]
        },
      }
    case 4:
      return {
        kind: 'delete',
        what: label,
        plan: removeElements(doc, [e.id]),
        redo: (at) => {
          dom.detachNode(at(e))
          return []
        },
      }
    case 5:
      return {
        kind: 'double',
        what: label,
        plan: duplicateElements(doc, [e.id]),
        redo: (at) => {
          const made = copy(at(e))
          put([made], at(e), 'after')
          return [made as Element]
        },
      }
    case 6: {
      const tag = r.pick(WRAPPERS)
      return {
        kind: 'wrap',
        what: `${label} in ${tag}`,
        plan: wrapElements(doc, [e.id], tag, `<${tag} class="w">`),
        redo: (at) => {
          const node = at(e)
          const made = dom.createElement(tag, node.namespaceURI, [{ name: 'class', value: 'w' }])
          put([made], node, 'before')
          dom.detachNode(node)
          dom.appendChild(made, node)
          return []
        },
      }
    }
    case 7: {
      const texts = childrenOf(e.node).filter((n): n is DefaultTreeAdapterTypes.TextNode => n.nodeName === '#text')
      if (texts.length === 0) return null
      const index = r.below(texts.length)
      const text = r.pick(TEXTS)
      return {
        kind: 'text',
        what: `${label}, text ${index}: ${JSON.stringify(text)}`,
        plan: setText(doc, e, index, text),
        redo: (at) => {
          const node = at(e)
          const own = node.childNodes.filter((n): n is DefaultTreeAdapterTypes.TextNode => n.nodeName === '#text')[index]
          if (text === '') dom.detachNode(own)
          else own.value = text
          return [node]
        },
      }
    }
    case 8:
    case 9: {
      const there = e.node.attrs.filter((a) => !a.prefix)
      const name = there.length && r.below(2) ? r.pick(there).name : r.pick(['title', 'data-note', 'hidden', 'aria-label', 'href'])
      const isThere = there.some((a) => a.name === name)
      const doing = r.below(3)
      const attrsAt = (at: (x: HtmlElement) => Element) => at(e).attrs
      if (isThere && doing === 0) {
        return {
          kind: 'attribute removed',
          what: `${label} ${name}`,
          plan: removeAttribute(doc, e, name),
          redo: (at) => {
            const attrs = attrsAt(at)
            attrs.splice(
              attrs.findIndex((a) => a.name === name),
              1,
            )
            return []
          },
        }
      }
      if (isThere && doing === 1) {
        const to = r.pick(['data-other', 'title', 'rel'])
        return {
          kind: 'attribute renamed',
          what: `${label} ${name} to ${to}`,
          plan: renameAttribute(doc, e, name, to),
          redo: (at) => {
            attrsAt(at).find((a) => a.name === name)!.name = to
            return []
          },
        }
      }
      const value = r.pick(TEXTS)
      return {
        kind: 'attribute',
        what: `${label} ${name}=${JSON.stringify(value)}`,
        plan: setAttribute(doc, e, name, value),
        redo: (at) => {
          const attrs = attrsAt(at)
          const own = attrs.find((a) => a.name === name)
          if (own) own.value = value
          else attrs.push({ name, value })
          return []
        },
      }
    }
    default: {
      if (r.below(2)) {
        const tag = r.pick(TAGS)
        return {
          kind: 'tag',
          what: `${label} to ${tag}`,
          plan: setTagName(doc, e, tag),
          redo: (at) => {
            const node = at(e) as { tagName: string; nodeName: string } & Element
            node.tagName = tag
            node.nodeName = tag
            return [node]
          },
        }
      }
      return {
        kind: 'unwrap',
        what: label,
        plan: unwrapElement(doc, e.id),
        redo: (at) => {
          const node = at(e)
          const inner = [...childrenOf(node)]
          for (const c of inner) dom.detachNode(c)
          put(inner, node, 'before')
          dom.detachNode(node)
          // Its own edges are gone: what showed there was asked to go.
          return inner.filter((n): n is Element => 'tagName' in n)
        },
      }
    }
  }
}

/** A copy is as deep as its original; what keeps its place is as deep as it was, however its siblings are. */
const STAYS: ReadonlySet<string> = new Set(['double', 'text', 'tag'])

const count = (text: string, of: RegExp): number => text.match(of)?.length ?? 0

/** Whether the lines are left as someone would leave them: no blanks at their ends, no runs of empty ones, siblings as deep as each other. */
function badLayout(before: string, after: string, doc: HtmlDocument, placed: ReadonlySet<number>): string | null {
  if (count(after, /[ \t](?=\r?$)/gm) > count(before, /[ \t](?=\r?$)/gm) + count(PIECES.join(''), /[ \t]$/gm))
    return 'white space at the end of a line came with it'
  if (count(after, /\n[ \t]*\r?\n[ \t]*\r?\n/g) > count(before, /\n[ \t]*\r?\n[ \t]*\r?\n/g)) return 'empty lines came with it'
  const lead = (e: HtmlElement) => {
    const line = after.slice(after.lastIndexOf('\n', e.startTag!.from - 1) + 1, e.startTag!.from)
    return line.trim() === '' ? line : null
  }
  // What was inside may have been as deep as it liked: only where it begins is told.
  for (const i of [...placed].slice(0, 1)) {
    const e = doc.elements[i]
    if (!e?.startTag || lead(e) === null) continue
    const siblings = doc.elements
      .filter((x, n) => x.parent === e.parent && x.startTag && !placed.has(n))
      .map(lead)
      .filter((l) => l !== null)
    if (siblings.length && !siblings.includes(lead(e)!))
      return `it is indented by ${JSON.stringify(lead(e))}, its siblings by ${JSON.stringify(siblings[0])}`
  }
  return null
}

export function runStructureCorpus(dir: string, edits: number, seed: number): StructureResult {
  const r = new Random(seed)
  const files = readdirSync(dir, { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile() && /\.html?$/i.test(f.name))
    .map((f) => relative(dir, join(f.parentPath, f.name)).split(sep).join('/'))
    .filter((p) => !p.split('/').includes('node_modules'))
    .sort()
  const docs = new Map<string, HtmlDocument>()
  const kinds: Record<string, { made: number; refused: number }> = {}
  const reasons: Record<string, number> = {}
  const violations: StructureResult['violations'][number][] = []
  let made = 0
  let refused = 0
  for (let step = 0; made < edits && step < edits * 5 && files.length; step++) {
    const file = r.pick(files)
    let doc = docs.get(file)
    if (!doc) docs.set(file, (doc = new HtmlDocument(decodeSource(new Uint8Array(readFileSync(join(dir, file)))).text)))
    const tried = attempt(doc, r)
    if (!tried) continue
    made++
    const tally = (kinds[tried.kind] ??= { made: 0, refused: 0 })
    tally.made++
    const { plan } = tried
    if (!plan.ok) {
      refused++
      tally.refused++
      reasons[`${tried.kind}: ${plan.reason}`] = (reasons[`${tried.kind}: ${plan.reason}`] ?? 0) + 1
      continue
    }
    const before = doc.text
    const after = applySplices(before, plan.splices)
    const excerpt = (t: string) =>
      t.slice(Math.max(0, (plan.splices[0]?.from ?? 0) - 150), (plan.splices.at(-1)?.to ?? 0) + 250).slice(0, 700)
    const fail = (why: string) =>
      violations.push({ file, kind: tried.kind, what: tried.what, why, before: excerpt(before), after: excerpt(after) })
    if (before.includes('\r\n') && !/[^\r]\n/.test(before) && /(^|[^\r])\n/.test(after)) fail('a bare LF went into a CRLF file')
    // The same on the parser's own tree of what was there.
    const tree = parse(before)
    const all = elementsIn(tree)
    const order = doc.elements.map((e) => e.node)
    const inOrder = elementsIn(doc.root)
    const placed = tried.redo((e) => all[inOrder.indexOf(order[doc.elements.indexOf(e)])])
    const asked = elementsIn(tree)
    const places = new Set(placed.map((n) => asked.indexOf(n)))
    // White space around a text that is put somewhere is as the lines there have it.
    const spaced = (list: string[]) => (tried.loose ? list.filter((t) => t !== ' ') : list)
    const [wanted, got] = [spaced(shown(tree, places)), spaced(shown(parse(after), places))]
    const at = wanted.findIndex((w, i) => w !== got[i])
    if (at >= 0 || wanted.length !== got.length)
      fail(
        `the tree is another: wanted ${JSON.stringify(wanted.slice(Math.max(0, at - 3), at + 4))}, got ${JSON.stringify(got.slice(Math.max(0, at - 3), at + 4))}`,
      )
    const trial = doc.copy()
    const kept = new Map(trial.elements.map((e) => [e.id, e.node.tagName]))
    trial.apply(plan.splices)
    const bad = at < 0 && !STAYS.has(tried.kind) ? badLayout(before, after, trial, places) : null
    if (bad) fail(bad)
    if (trial.text !== after) fail('bytes outside the plan changed')
    // Only what goes away loses its name.
    const lost = [...kept.keys()].filter((id) => !trial.has(id)).length
    if (lost > 0 && tried.kind !== 'delete' && tried.kind !== 'unwrap' && tried.kind !== 'tag')
      fail(`${lost} elements are not known any more`)
    trial.apply(invertSplices(plan.splices, before))
    if (trial.text !== before) fail('undo does not give the bytes back')
    // Now and then edits pile up.
    if (r.below(4) === 0) doc.apply(plan.splices)
    if (r.below(60) === 0) docs.delete(file)
  }
  return { edits: made, refused, violations, kinds, reasons }
}

if (process.argv[1]?.endsWith('corpus-structure.ts')) {
  const started = performance.now()
  const result = runStructureCorpus(folder('corpus:structure', '[--edits N]'), option('--edits', 2000), option('--seed', 1))
  for (const [kind, { made, refused }] of Object.entries(result.kinds).sort())
    console.log(`${kind.padEnd(10)} ${made} made, ${refused} refused`)
  for (const [reason, n] of Object.entries(result.reasons).sort()) console.log(`refused ${n} times: ${reason}`)
  for (const v of [...result.violations].sort((a, b) => a.before.length - b.before.length).slice(0, 8))
    console.log(
      `\nVIOLATION in ${v.file}\n  ${v.kind}: ${v.what}\n  ${v.why}\n  before: ${JSON.stringify(v.before)}\n  after:  ${JSON.stringify(v.after)}`,
    )
  console.log(
    `${result.edits} edits, ${result.refused} refused, ${result.violations.length} violations, ${((performance.now() - started) / 1000).toFixed(1)} s`,
  )
  if (process.argv.includes('--json')) console.log(JSON.stringify(result))
  process.exitCode = result.violations.length ? 1 : 0
}
