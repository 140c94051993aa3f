import { refuse, type EditPlan, type Wanted } from '../css'
import {
  addClasses,
  emptyPiece,
  handsOnClasses,
  JsxDocument,
  overKey,
  removeJsxAttribute,
  removeJsxStyle,
  renameJsxAttribute,
  setJsxAttribute,
  setJsxStyle,
  setJsxText,
  spelledIn,
  type JsxElement,
} from '../jsx'
import type { Span, Splice, Splices } from '../text'
import type { ElementTree, InlineChange, ListText, Place, SourceElement, TrialTree } from './language'

const notYet = (): EditPlan =>
  refuse('not-allowed', 'The tags of a component are not moved, added or taken out from here. Edit them in Source.')

/** The tags of a file of JSX. Those of components are among them; what a tag makes of its class list is known of the page alone. */
export class JsxTree implements ElementTree {
  constructor(protected readonly doc: JsxDocument) {}

  get text(): string {
    return this.doc.text
  }

  get elements(): readonly SourceElement[] {
    return this.doc.elements
  }

  has(id: number): boolean {
    return this.doc.has(id)
  }

  element(id: number): SourceElement {
    return this.doc.element(id)
  }

  private own(element: SourceElement): JsxElement {
    return this.doc.element(element.id)
  }

  lineAt(offset: number): number {
    return this.doc.lineAt(offset)
  }

  spanOf(element: SourceElement): Span {
    const { node } = this.own(element)
    return { from: node.start, to: node.end }
  }

  /** The element that the `nth` tag, from 0, of a text with that mark made; null where the text is not known any more. */
  elementOfTag(nth: number, mark: string): SourceElement | null {
    const id = this.doc.idOfTag(nth, mark)
    return id === null ? null : this.doc.element(id)
  }

  handsOnClasses(element: SourceElement): 'joined' | 'merged' | null {
    return handsOnClasses(this.own(element))
  }

  /** Takes note of the classes that an element has on the page. */
  noteShown(element: SourceElement, classes: readonly string[]): void {
    this.own(element).noteShown(new Set(classes))
  }

  indentUnit(): string {
    return /\n(\t| {2,8})\S/.exec(this.text)?.[1] ?? '  '
  }

  uniqueSelector(element: SourceElement): string {
    return element.tag
  }

  // What stands around an element on the page is not known from its file.
  matching(): null {
    return null
  }

  copy(): TrialTree {
    return new JsxTrial(this.doc.copy())
  }

  setAttribute(element: SourceElement, name: string, value: string): EditPlan {
    return setJsxAttribute(this.doc, this.own(element), name, value)
  }

  removeAttribute(element: SourceElement, name: string): EditPlan {
    return removeJsxAttribute(this.doc, this.own(element), name)
  }

  renameAttribute(element: SourceElement, name: string, to: string): EditPlan {
    return renameJsxAttribute(this.doc, this.own(element), name, to)
  }

  setInlineStyle(element: SourceElement, { name, value, important }: Wanted): EditPlan {
    if (important) return refuse('not-allowed', 'A style object has no !important.')
    return setJsxStyle(this.doc, this.own(element), name, value)
  }

  changeInlineStyle(element: SourceElement, how: InlineChange, name: string): EditPlan {
    if (how === 'remove') return removeJsxStyle(this.doc, this.own(element), name)
    return refuse('not-allowed', 'A style object has no comments and no !important.')
  }

  presentation(): [] {
    return []
  }

  classPieces(element: SourceElement): readonly ListText[] {
    const { doc } = this
    return this.own(element).pieces.map((piece) => ({
      span: piece.span,
      text: doc.text.slice(piece.span.from, piece.span.to),
      when: piece.when,
      isShared: piece.isShared,
      escape: (name) => spelledIn(piece, name),
      ...(piece.quoting.in === 'key' && { overwrite: (names: string) => overKey(doc, piece, names) }),
    }))
  }

  writeClasses(element: SourceElement, names: string): EditPlan {
    return addClasses(this.doc, this.own(element), names)
  }

  emptyClassPiece(element: SourceElement, index: number): EditPlan {
    return emptyPiece(this.doc, this.own(element), index)
  }

  renameClass(from: string, to: string): Splice[] {
    const splices = new Map<number, Splice>()
    for (const element of this.doc.elements)
      for (const piece of element.classValue.pieces) {
        const text = this.doc.text.slice(piece.span.from, piece.span.to)
        for (const m of text.matchAll(/\S+/g)) {
          const at = piece.span.from + m.index
          if (m[0] !== spelledIn(piece, from)) continue
          splices.set(
            at,
            piece.quoting.in === 'key' ? overKey(this.doc, piece, to) : { from: at, to: at + m[0].length, insert: spelledIn(piece, to) },
          )
        }
      }
    return [...splices.values()].sort((a, b) => a.from - b.from)
  }

  // Between those that are written out the page may have others, which it worked out.
  writtenText({ texts }: SourceElement, index: number, was: string | undefined): number | null {
    if (was === undefined) return index
    const same = texts.flatMap((text, i) => (text === was ? [i] : []))
    return same.length === 1 ? same[0] : null
  }

  setText(element: SourceElement, index: number, text: string): EditPlan {
    return setJsxText(this.doc, this.own(element), index, text)
  }

  setTag(element: SourceElement, tag: string): EditPlan {
    const { openingElement, closingElement } = this.own(element).node
    if (!element.isHtml) return refuse('not-allowed', `<${element.tag}> is a component.`)
    if (!/^[a-z][a-z\d-]*$/.test(tag)) return refuse('bad-name', `“${tag}” cannot be the name of an element.`)
    const names = [openingElement.name, ...(closingElement ? [closingElement.name] : [])]
    return { ok: true, splices: names.map((n) => ({ from: n.start!, to: n.end!, insert: tag })) }
  }

  whyNotNamed(element: SourceElement): string | null {
    return element.isHtml ? null : 'it is a component'
  }

  whyNotAt(): string {
    return 'the tags of a component are edited in Source'
  }

  parentAt(): SourceElement | null {
    return null
  }

  newSheetPlace(): Place | null {
    return null
  }

  insert(): EditPlan {
    return notYet()
  }

  remove(): EditPlan {
    return notYet()
  }

  move(): EditPlan {
    return notYet()
  }

  duplicate(): EditPlan {
    return notYet()
  }

  wrap(): EditPlan {
    return notYet()
  }

  unwrap(): EditPlan {
    return notYet()
  }
}

class JsxTrial extends JsxTree implements TrialTree {
  apply(splices: Splices): void {
    this.doc.apply(splices)
  }
}
