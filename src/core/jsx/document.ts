import type * as t from '@babel/types'
import { LineIndex, mapOffset, normalizeSplices, applySplices, textMark, type Span, type Splices } from '../text'
import { Bindings } from './bindings'
import { readClassValue, type ClassPiece, type ClassValue } from './class-pieces'
import { importedPicture } from './imported-picture'
import type { ValueFile } from './meaning'
import { inMarkup } from './names'
import { bare, childrenOf, isHostTag, parseJsx, tagNameOf, type Node } from './parse'
import { styleEntries } from './style-object'
import { ownMember } from './style-records'
import { shownText } from './text'

/** A text of an element that its file writes out, as the page shows it. */
export interface WrittenText {
  readonly value: string
  /** Of the text between tags, or of the literal in its braces. */
  readonly span: Span
  readonly isLiteral: boolean
}

/** A tag of JSX with what it holds. */
export class JsxElement {
  constructor(
    private readonly doc: JsxDocument,
    readonly id: number,
    readonly node: t.JSXElement & Node,
    readonly parent: JsxElement | null,
  ) {}

  get tag(): string {
    return tagNameOf(this.node.openingElement.name)
  }

  get isHtml(): boolean {
    return isHostTag(this.node.openingElement)
  }

  get startTag(): Span {
    return spanOf(this.node.openingElement as Node)
  }

  get endTag(): Span | null {
    return this.node.closingElement ? spanOf(this.node.closingElement as Node) : null
  }

  private knownAttributes: readonly { name: string; value: string }[] | null = null

  /** By the names of markup. What is worked out while the page runs is left out. */
  get attributes(): readonly { readonly name: string; readonly value: string }[] {
    // Classes may be written in other files, which change by themselves.
    if (!this.isClassValueTrue) this.knownAttributes = null
    return (this.knownAttributes ??= this.readAttributes())
  }

  private readAttributes() {
    return this.node.openingElement.attributes.flatMap((a) => {
      if (a.type !== 'JSXAttribute') return []
      const name = inMarkup(attributeName(a))
      const value =
        name === 'class'
          ? this.pieces.length || this.classValue.unknown.length === 0
            ? this.pieces.map((p) => p.value).join(' ')
            : null
          : name === 'style'
            ? styleTextOf(this.styleObject)
            : (attributeValue(a) ?? importedPicture(this.doc, a)?.module ?? null)
      return value === null ? [] : [{ name, value }]
    })
  }

  /** Its attribute by the name of markup. */
  attribute(name: string): (t.JSXAttribute & Node) | null {
    return (
      (this.node.openingElement.attributes.findLast((a) => a.type === 'JSXAttribute' && inMarkup(attributeName(a)) === name) as
        (t.JSXAttribute & Node) | undefined) ?? null
    )
  }

  private knownClasses: ClassValue | null = null

  private get isClassValueTrue(): boolean {
    return this.knownClasses?.from.every(({ file, text }) => file.text === text) ?? true
  }

  get classValue(): ClassValue {
    const value = this.attribute('class')?.value as Node | null | undefined
    if (!this.isClassValueTrue) this.knownClasses = null
    return (this.knownClasses ??= value ? readClassValue(this.doc, value) : { pieces: [], unknown: [], from: [] })
  }

  private shown: ReadonlySet<string> | null = null

  /** Takes note of the classes that the element has on the page; null where nothing is known of that. */
  noteShown(classes: ReadonlySet<string> | null): void {
    this.shown = classes
    this.knownAttributes = null
  }

  get shownClasses(): ReadonlySet<string> | null {
    return this.shown
  }

  /** The pieces of its class list that count now: what always does, and what waits for something where the page shows that it holds. */
  get pieces(): readonly ClassPiece[] {
    const { shown } = this
    return this.classValue.pieces.filter(({ when, value }) => {
      const names = value.split(/\s+/).filter(Boolean)
      return when.length === 0 || (shown !== null && names.length > 0 && names.every((n) => shown.has(n)))
    })
  }

  /** The object that gives its style, where the file writes that out and no other tag uses it. */
  get styleObject(): (t.ObjectExpression & Node) | null {
    const value = this.attribute('style')?.value
    if (value?.type !== 'JSXExpressionContainer') return null
    const node = bare(value.expression as Node)
    if (node.type === 'ObjectExpression') return node
    if (node.type === 'MemberExpression') return ownMember(this.doc, node)
    if (node.type !== 'Identifier') return null
    const binding = this.doc.bindings.of(node.name)
    const object = binding?.value && binding.uses === 1 && !binding.isExported && !binding.isDefault ? bare(binding.value) : null
    return object?.type === 'ObjectExpression' ? object : null
  }

  /** The texts that stand right in it. */
  get written(): readonly WrittenText[] {
    return this.node.children.flatMap((child): WrittenText[] => {
      const span = spanOf(child as Node)
      if (child.type === 'JSXText') {
        const value = shownText(this.doc.text.slice(span.from, span.to))
        return value === null ? [] : [{ value, span, isLiteral: false }]
      }
      if (child.type !== 'JSXExpressionContainer') return []
      const node = bare(child.expression as Node)
      const value =
        node.type === 'StringLiteral'
          ? node.value
          : node.type === 'TemplateLiteral' && node.expressions.length === 0
            ? (node.quasis[0].value.cooked ?? null)
            : null
      return value ? [{ value, span: spanOf(node), isLiteral: true }] : []
    })
  }

  get texts(): readonly string[] {
    return this.written.map((w) => w.value)
  }
}

const spanOf = (node: Node): Span => ({ from: node.start, to: node.end })

export const attributeName = ({ name }: t.JSXAttribute): string =>
  name.type === 'JSXNamespacedName' ? `${name.namespace.name}:${name.name.name}` : name.name

/** What an attribute says where that is written out; null where it is worked out while the page runs. */
export function attributeValue({ value }: t.JSXAttribute): string | null {
  if (!value) return ''
  if (value.type === 'StringLiteral') return value.value
  if (value.type !== 'JSXExpressionContainer') return null
  const node = bare(value.expression as Node)
  if (node.type === 'StringLiteral') return node.value
  if (node.type === 'NumericLiteral') return String(node.value)
  if (node.type === 'TemplateLiteral' && node.expressions.length === 0) return node.quasis[0].value.cooked ?? null
  if (node.type === 'BooleanLiteral' && node.value) return ''
  return null
}

const styleTextOf = (object: t.ObjectExpression | null): string | null =>
  object &&
  styleEntries(object)
    .flatMap(({ property, value }) => (value === null ? [] : [`${property}: ${value}`]))
    .join('; ')

/** Texts that a document can still tell the tags of. */
const MOST_TEXTS = 60

/** The file of the project that an import leads to; null where it leads to none. */
export type FindModule = (module: string) => ValueFile | null

/** A file of JSX: its tags, each with an id that lasts while edits leave the start of the tag in place. */
export class JsxDocument implements ValueFile {
  private list: readonly JsxElement[] = []
  private readonly byId = new Map<number, JsxElement>()
  private names = new Bindings()
  private root: Node | null = null
  private lastId = 0
  private lines: LineIndex | null = null
  /** Where ids stood when the file was read last, and what was changed since. */
  private pending: Splices[] = []
  private isRead = false
  /** Why it cannot be read; null where it can. */
  private trouble: string | null = null
  private find: FindModule = () => null
  /** The ids of the tags of texts that it had, by the marks of these. */
  private readonly ofTexts = new Map<string, readonly number[]>()

  constructor(
    private own: string,
    readonly path: string,
  ) {}

  get text(): string {
    return this.own
  }

  get elements(): readonly JsxElement[] {
    this.read()
    return this.list
  }

  get bindings(): Bindings {
    this.read()
    return this.names
  }

  /** What the file says; null where it cannot be read. */
  get program(): Node | null {
    this.read()
    return this.root
  }

  /** Has imports looked up. */
  useImports(find: FindModule): void {
    this.find = find
  }

  imported(module: string): ValueFile | null {
    return this.find(module)
  }

  /** Why it cannot be read, with the line; null where it can. */
  get fault(): string | null {
    this.read()
    return this.trouble
  }

  // Of a text that cannot be read, no tag has a place, though its id is kept for when it can be.
  has(id: number): boolean {
    this.read()
    return this.trouble === null && this.byId.has(id)
  }

  /** @throws RangeError when there is no such element. */
  element(id: number): JsxElement {
    if (!this.has(id)) throw new RangeError(`There is no tag ${id}`)
    return this.byId.get(id)!
  }

  lineAt(offset: number): number {
    return (this.lines ??= new LineIndex(this.own)).lineAt(offset)
  }

  /** The id of the `nth` tag, from 0, of a text that the file had; null where that is not known, or the tag is gone. */
  idOfTag(nth: number, mark: string): number | null {
    this.read()
    const id = this.ofTexts.get(mark)?.[nth]
    return id !== undefined && this.has(id) ? id : null
  }

  /** It is read again when it is asked for: each letter that is typed need not be. */
  apply(splices: Splices): void {
    const sorted = normalizeSplices(splices)
    this.own = applySplices(this.own, sorted)
    if (this.lastId > 0) this.pending = [...this.pending, sorted]
    this.isRead = false
    this.lines = null
  }

  /** A state to come back to, with the ids that it has. */
  mark(): () => void {
    const { own, list, names, root, pending, trouble, lastId, isRead } = this
    const byId = new Map(this.byId)
    return () => {
      Object.assign(this, { own, list, names, root, pending, trouble, lastId, isRead, lines: null })
      this.byId.clear()
      for (const [id, e] of byId) this.byId.set(id, e)
    }
  }

  copy(): JsxDocument {
    this.read()
    const copy = new JsxDocument(this.own, this.path)
    copy.isRead = true
    copy.find = this.find
    copy.lastId = this.lastId
    copy.trouble = this.trouble
    copy.adopt(this.list.map((e) => ({ id: e.id, node: e.node, parent: e.parent?.id ?? null, shown: e.shownClasses })))
    copy.names = this.names
    copy.root = this.root
    return copy
  }

  private read(): void {
    if (this.isRead) return
    this.isRead = true
    let program: Node
    try {
      program = parseJsx(this.own, this.path)
    } catch (error) {
      if (!(error instanceof SyntaxError)) throw error
      // The tags stay known by where they stood until it can be read again.
      this.trouble = error.message
      this.list = []
      this.root = null
      return
    }
    this.trouble = null
    const starts = new Map<string, JsxElement>()
    for (const e of this.byId.values()) {
      const from = this.pending.reduce((at, splices) => mapOffset(splices, at, 'after'), e.startTag.from)
      starts.set(`${from} ${e.tag}`, e)
    }
    this.pending = []
    const names = new Bindings()
    const found: { node: t.JSXElement & Node; parent: number | null; id: number; shown: ReadonlySet<string> | null }[] = []
    const todo: { node: Node; parent: number | null }[] = [{ node: program, parent: null }]
    while (todo.length) {
      const { node, parent } = todo.pop()!
      names.note(node)
      let around = parent
      if (node.type === 'JSXElement') {
        const known = starts.get(`${node.start} ${tagNameOf(node.openingElement.name)}`)
        const id = known?.id ?? ++this.lastId
        found.push({ node, parent, id, shown: known?.shownClasses ?? null })
        around = id
      }
      for (const child of childrenOf(node)) todo.push({ node: child, parent: around })
    }
    this.names = names
    this.root = program
    this.adopt(found.sort((a, b) => a.node.start - b.node.start))
    const mark = textMark(this.own)
    this.ofTexts.delete(mark)
    this.ofTexts.set(
      mark,
      this.list.map((e) => e.id),
    )
    for (const old of [...this.ofTexts.keys()].slice(0, -MOST_TEXTS)) this.ofTexts.delete(old)
  }

  private adopt(
    found: readonly {
      readonly node: t.JSXElement & Node
      readonly parent: number | null
      readonly id: number
      readonly shown: ReadonlySet<string> | null
    }[],
  ): void {
    this.byId.clear()
    this.list = found.map(({ node, parent, id, shown }) => {
      const element = new JsxElement(this, id, node, parent === null ? null : this.byId.get(parent)!)
      element.noteShown(shown)
      this.byId.set(id, element)
      return element
    })
  }
}
