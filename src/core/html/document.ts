import { parse, defaultTreeAdapter, type DefaultTreeAdapterTypes } from 'parse5'
import { applySplices, invertSplices, LineIndex, mapOffset, type Span, type Splices } from '../text'
import { attributesAfter, decidesTree, sameAttributes, shiftLocations, textAround, readText, textMayChange } from './local-edit'
import { readStartTag, type StartTag } from './start-tag'

export type P5Element = DefaultTreeAdapterTypes.Element
export type P5Node = DefaultTreeAdapterTypes.Node
const HTML_NAMESPACE = 'http://www.w3.org/1999/xhtml'
type P5Parent = DefaultTreeAdapterTypes.ParentNode

/** An element as the source has it. Elements that the parser implies (`tbody`, `head`) have no `startTag`. */
export class HtmlElement {
  /** `id` stays the same through edits that leave the start tag in place; unique in its document. `endTag` is null when it is implied, or the element is void. */
  constructor(
    readonly id: number,
    readonly node: P5Element,
    readonly parent: HtmlElement | null,
    public startTag: Span | null,
    public endTag: Span | null,
  ) {}

  get tag(): string {
    return this.node.tagName
  }

  get isHtml(): boolean {
    return this.node.namespaceURI === HTML_NAMESPACE
  }

  get attributes(): P5Element['attrs'] {
    return this.node.attrs
  }

  get texts(): string[] {
    return this.node.childNodes.flatMap((c) => (c.nodeName === '#text' && 'value' in c ? [c.value] : []))
  }
}

/** A `<style>` element's text, which is a style sheet of its own. */
export interface EmbeddedSheet {
  readonly element: number
  readonly content: Span
}

/** What an edit within one start tag changed: the attributes that were there before. */
export interface AppliedTag {
  readonly kind: 'tag'
  readonly id: number
  readonly attrs: P5Element['attrs']
}

/** What an edit within the `index`-th text of an element changed. */
export interface AppliedText {
  readonly kind: 'text'
  readonly id: number
  readonly index: number
  readonly before: string
  readonly after: string
}

/** An HTML file: its text, its tree after the HTML standard's parser, and an id for each element in the source. */
export class HtmlDocument {
  private ids = new Map<P5Element, number>()
  private lastId = 0
  /** Ids of elements without a tag of their own, by parent, name and place among such. */
  private implied = new Map<string, number>()
  private index: LineIndex | null = null
  elements: HtmlElement[] = []
  private byId = new Map<number, HtmlElement>()
  root!: DefaultTreeAdapterTypes.Document

  constructor(public text: string) {
    this.read(new Map())
  }

  private read(idAtOffset: ReadonlyMap<number, number>): void {
    this.root = parse(this.text, { sourceCodeLocationInfo: true })
    this.index = null
    this.elements = []
    this.byId = new Map()
    this.ids = new Map()
    // Iterative: 2,000 levels of nesting are no reason to fail.
    const stack: { node: P5Node; parent: HtmlElement | null }[] = [{ node: this.root, parent: null }]
    const used = new Set<number>()
    const tags = new Set<number>()
    while (stack.length) {
      const { node, parent } = stack.pop()!
      let own = parent
      if (defaultTreeAdapter.isElementNode(node)) {
        const location = node.sourceCodeLocation
        const written = location?.startTag ? toSpan(location.startTag) : location && !location.endTag ? toSpan(location) : null
        // The adoption agency may make several elements of one start tag; only the first is the tag's own.
        const startTag = written && !tags.has(written.from) ? written : null
        if (startTag) tags.add(startTag.from)
        const known = startTag ? idAtOffset.get(startTag.from) : undefined
        const id = startTag ? (known !== undefined && !used.has(known) ? known : ++this.lastId) : this.impliedId(parent, node.tagName, used)
        used.add(id)
        own = new HtmlElement(id, node, parent, startTag, location?.endTag ? toSpan(location.endTag) : null)
        this.elements.push(own)
        this.byId.set(id, own)
        this.ids.set(node, id)
      }
      const children = 'content' in node ? (node as DefaultTreeAdapterTypes.Template).content.childNodes : (node as P5Parent).childNodes
      if (children) for (let i = children.length - 1; i >= 0; i--) stack.push({ node: children[i], parent: own })
    }
  }

  private impliedId(parent: HtmlElement | null, tag: string, used: ReadonlySet<number>): number {
    for (let n = 0; ; n++) {
      const key = `${parent?.id ?? ''} ${tag} ${n}`
      const id = this.implied.get(key) ?? ++this.lastId
      this.implied.set(key, id)
      if (!used.has(id)) return id
    }
  }

  /** The same document with the same ids, to try an edit on. */
  copy(): HtmlDocument {
    const twin = new HtmlDocument('')
    twin.text = this.text
    twin.lastId = this.lastId
    twin.implied = new Map(this.implied)
    twin.read(new Map(this.elements.flatMap((e) => (e.startTag ? [[e.startTag.from, e.id]] : []))))
    return twin
  }

  /** @throws RangeError when the document has no such element. */
  element(id: number): HtmlElement {
    const found = this.byId.get(id)
    if (!found) throw new RangeError(`The document has no element ${id}`)
    return found
  }

  has(id: number): boolean {
    return this.byId.has(id)
  }

  idOf(node: P5Element): number | null {
    return this.ids.get(node) ?? null
  }

  startTag(element: HtmlElement): StartTag | null {
    return element.startTag && readStartTag(this.text, element.startTag.from, element.startTag.to)
  }

  /** 1-based line of a file offset. */
  lineAt(offset: number): number {
    return (this.index ??= new LineIndex(this.text)).lineAt(offset)
  }

  /**
   * Applies splices in file offsets; elements whose start tag stays keep their id. An edit within one start tag or one
   * text is read by itself, any other reads the document again. Gives the element whose attributes alone were changed,
   * as it was before.
   */
  apply(splices: Splices): AppliedTag | AppliedText | null {
    return this.applyInTag(splices) ?? this.applyInText(splices) ?? this.applyByReadingAgain(splices)
  }

  /** The same, with what takes the document back to how it was, ids and all. */
  applyForNow(splices: Splices): { readonly done: AppliedTag | AppliedText | null; readonly takeBack: () => void } {
    const { text, root, elements, byId, ids, lastId } = this
    const implied = new Map(this.implied)
    const inverse = invertSplices(splices, text)
    const done = this.apply(splices)
    return {
      done,
      takeBack: () => {
        // What was read by itself changed the nodes that there are; else they are others.
        if (done) this.apply(inverse)
        else Object.assign(this, { text, root, elements, byId, ids, lastId, implied, index: null })
      },
    }
  }

  private applyInTag(splices: Splices): AppliedTag | null {
    const [first] = splices
    const element = first && this.elements.find((e) => e.startTag && first.from > e.startTag.from && first.to < e.startTag.to)
    // The names of foreign attributes depend on the element; `<svg viewBox>` is rare enough to be read whole.
    if (
      !element?.startTag ||
      element.node.namespaceURI !== HTML_NAMESPACE ||
      !splices.every((s) => s.from > element.startTag!.from && s.to < element.startTag!.to)
    )
      return null
    const { from, to } = element.startTag
    const before = this.text.slice(from, to)
    const after = applySplices(
      before,
      splices.map((s) => ({ ...s, from: s.from - from, to: s.to - from })),
    )
    const attrs = attributesAfter(before, after)
    if (!attrs || !this.isPlainTag(element, before) || decidesTree(element.node, attrs)) return null
    const old: AppliedTag = { kind: 'tag', id: element.id, attrs: element.node.attrs }
    element.node.attrs = attrs
    this.moveBy(splices, to - 1, after.length - before.length)
    return old
  }

  // Whether the element has the attributes of this tag and nobody else has: a second `<body>` adds its own, and the parser
  // copies formatting elements (HTML §13.2.4.3).
  private isPlainTag(element: HtmlElement, tag: string): boolean {
    const { from } = element.startTag!
    return (
      sameAttributes(attributesAfter(tag, tag), element.node.attrs) &&
      !this.elements.some((e) => e !== element && (e.node.sourceCodeLocation?.startTag ?? e.node.sourceCodeLocation)?.startOffset === from)
    )
  }

  private applyInText(splices: Splices): AppliedText | null {
    const [first] = splices
    const parent =
      first &&
      this.elements.findLast((e) => {
        const l = e.node.sourceCodeLocation
        return l && first.from >= (l.startTag?.endOffset ?? l.endOffset) && first.to <= (l.endTag?.startOffset ?? l.endOffset)
      })
    const node = parent && textAround(parent.node, splices)
    if (!parent || !node) return null
    const { startOffset, endOffset } = node.sourceCodeLocation!
    const before = this.text.slice(startOffset, endOffset)
    const after = applySplices(
      before,
      splices.map((s) => ({ ...s, from: s.from - startOffset, to: s.to - startOffset })),
    )
    if (!textMayChange(parent.node, before, after) || node.value !== readText(parent.node, before)) return null
    const value = { before: node.value, after: readText(parent.node, after) }
    node.value = value.after
    this.moveBy(splices, endOffset, after.length - before.length)
    const index = parent.node.childNodes.filter((c) => c.nodeName === '#text').indexOf(node)
    return { kind: 'text', id: parent.id, index, ...value }
  }

  // Everything at or past `at`, in offsets of before, is `by` further on.
  private moveBy(splices: Splices, at: number, by: number): void {
    this.text = applySplices(this.text, splices)
    this.index = null
    if (by === 0) return
    shiftLocations(this.root, at, by)
    for (const e of this.elements) {
      e.startTag = e.startTag && moveSpan(e.startTag, at, by)
      e.endTag = e.endTag && moveSpan(e.endTag, at, by)
    }
  }

  private applyByReadingAgain(splices: Splices): null {
    const kept = new Map<number, number>()
    for (const e of this.elements) {
      if (!e.startTag) continue
      const { from } = e.startTag
      if (splices.some((s) => s.from <= from && s.to > from)) continue
      const at = mapOffset(splices, from, 'after')
      if (!kept.has(at)) kept.set(at, e.id)
    }
    const gone = this.elements
      .filter((e) => e.startTag && !splices.every((s) => s.from > e.startTag!.from || s.to <= e.startTag!.from))
      .map((e) => ({ id: e.id, tag: this.tagText(e) }))
    const last = this.lastId
    this.text = applySplices(this.text, splices)
    this.read(kept)
    if (gone.length) this.keepMoved(gone, last, kept)
    return null
  }

  private tagText(e: HtmlElement): string {
    return this.text.slice(e.startTag!.from, e.startTag!.to).replace(/\s+/g, ' ')
  }

  // What was taken out and stands elsewhere with the same tag is the same element, moved.
  private keepMoved(gone: { id: number; tag: string }[], last: number, kept: Map<number, number>): void {
    let found = false
    for (const e of this.elements) {
      if (e.id <= last || !e.startTag) continue
      const at = gone.findIndex((g) => g.tag === this.tagText(e))
      if (at < 0) continue
      kept.set(e.startTag.from, gone.splice(at, 1)[0].id)
      found = true
    }
    if (found) this.read(kept)
  }

  /** The `<style>` elements that hold CSS. */
  embeddedSheets(): EmbeddedSheet[] {
    return this.elements.flatMap((e) => {
      if (e.node.tagName !== 'style' || !e.startTag) return []
      const type = attribute(e.node, 'type')
      if (type && type.toLowerCase() !== 'text/css') return []
      return [{ element: e.id, content: { from: e.startTag.to, to: e.endTag?.from ?? e.node.sourceCodeLocation!.endOffset } }]
    })
  }
}

const moveSpan = (s: Span, at: number, by: number): Span => ({
  from: s.from >= at ? s.from + by : s.from,
  to: s.to >= at ? s.to + by : s.to,
})

const toSpan = (l: { startOffset: number; endOffset: number }): Span => ({ from: l.startOffset, to: l.endOffset })

export const attribute = (node: P5Element, name: string): string | null => node.attrs.find((a) => a.name === name)?.value ?? null

export const classesOf = (node: P5Element): string[] => (attribute(node, 'class') ?? '').split(/[ \t\n\r\f]+/).filter(Boolean)
