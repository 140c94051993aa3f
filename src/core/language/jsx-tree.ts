import type { Refused } from '../css'
import { refuse, type EditPlan, type Wanted } from '../css'
import {
  addClasses,
  addMember,
  componentProperties,
  meantBy,
  givenBy,
  setProperty,
  swapInList,
  type ComponentProperty,
  type GivenProperty,
  type ListSwap,
  duplicateJsx,
  emptyPiece,
  handsOnClasses,
  indentStep,
  insertJsx,
  JsxDocument,
  moveJsx,
  overKey,
  removeJsx,
  removeJsxAttribute,
  removeJsxStyle,
  renameJsxAttribute,
  renameMember,
  renameTaken,
  setJsxAttribute,
  setJsxStyle,
  setJsxText,
  spelledIn,
  spotOf,
  takeClasses,
  unwrapJsx,
  whyNotInJsx,
  wrapJsx,
  type JsxElement,
  type StyleModule,
  type TakenMember,
  type TakingClasses,
} from '../jsx'
import { pictureInScript } from '../value'
import { textMark, type Span, type Splice, type Splices } from '../text'
import type { ElementTree, InlineChange, ListText, Place, SourceElement, TrialTree } from './language'

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

  tagOf(element: SourceElement): { readonly nth: number; readonly mark: string } {
    return { nth: this.doc.elements.findIndex((e) => e.id === element.id), mark: textMark(this.doc.text) }
  }

  isMadeOnce(element: SourceElement): boolean {
    const { child, by } = spotOf(this.doc, this.own(element))
    return child !== null && by === 'itself'
  }

  handsOnClasses(element: SourceElement): 'joined' | 'merged' | null {
    return handsOnClasses(this.own(element))
  }

  takeClasses(element: SourceElement, component: string): TakingClasses {
    return takeClasses(this.doc, this.own(element), component)
  }

  /** Takes note of the classes that an element has on the page. */
  noteShown(element: SourceElement, classes: readonly string[]): void {
    this.own(element).noteShown(new Set(classes))
  }

  indentUnit(): string {
    return indentStep(this.text)
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
      text: piece.file.text.slice(piece.span.from, piece.span.to),
      ...(piece.file !== doc && { path: piece.file.path }),
      when: piece.when,
      isShared: piece.isShared,
      escape: (name) => spelledIn(piece, name),
      ...(piece.quoting.in === 'key' && { overwrite: (names: string) => overKey(doc, piece, names) }),
    }))
  }

  writeClasses(element: SourceElement, names: string): EditPlan {
    return addClasses(this.doc, this.own(element), names)
  }

  styleModules(): readonly StyleModule[] {
    return this.doc.bindings.styleModules
  }

  addMember(element: SourceElement, styles: string, name: string): EditPlan {
    return addMember(this.doc, this.own(element), styles, name)
  }

  renameMember(styles: string, from: string, to: string): Splice[] {
    return renameMember(this.doc, styles, from, to)
  }

  pictureName(path: string): string {
    return pictureInScript(this.doc.path, path)
  }

  declaredIn({ tag }: SourceElement): string | null {
    return meantBy(this.doc, tag)?.file.path ?? null
  }

  componentProperties(component: string): readonly ComponentProperty[] | null {
    return componentProperties(this.doc, component)
  }

  givenProperties(element: SourceElement): readonly GivenProperty[] {
    return givenBy(this.doc, this.own(element))
  }

  setProperty(element: SourceElement, name: string, value: string | null, kind: ComponentProperty['kind']): EditPlan {
    return setProperty(this.doc, this.own(element), name, value, kind)
  }

  swapInList(element: SourceElement, index: number, count: number, by: 1 | -1): ListSwap | Refused {
    return swapInList(this.doc, this.own(element), index, count, by)
  }

  takenMembers(): readonly TakenMember[] {
    return this.doc.bindings.takenMembers
  }

  renameTaken(member: TakenMember, to: string): Splice[] {
    return renameTaken(this.doc, member, to)
  }

  emptyClassPiece(element: SourceElement, index: number): EditPlan {
    return emptyPiece(this.doc, this.own(element), index)
  }

  renameClass(from: string, to: string): Splice[] {
    const splices = new Map<number, Splice>()
    for (const element of this.doc.elements)
      for (const piece of element.classValue.pieces) {
        if (piece.file !== this.doc) continue
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

  whyNotAt(elements: readonly SourceElement[], place: Place): string | null {
    const ids = elements.map((e) => e.id)
    // What comes from another file has ids of that.
    const isOwn = elements.every((e) => this.doc.has(e.id) && this.doc.element(e.id) === e)
    return isOwn ? whyNotInJsx(this.doc, ids, place) : null
  }

  // Of what a component gives, what stands around it on the page is in no file's tree.
  parentAt({ element, where }: Place): SourceElement | null {
    const found = this.doc.element(element)
    return where === 'first' || where === 'last' ? found : found.parent
  }

  newSheetPlace(): Place | null {
    return null
  }

  insert(place: Place, html: string, spaced = false): EditPlan {
    return insertJsx(this.doc, place, html, spaced)
  }

  remove(ids: readonly number[]): EditPlan {
    return removeJsx(this.doc, ids)
  }

  move(ids: readonly number[], place: Place): EditPlan {
    return moveJsx(this.doc, ids, place)
  }

  duplicate(ids: readonly number[]): EditPlan {
    return duplicateJsx(this.doc, ids)
  }

  wrap(ids: readonly number[], tag: string, classes: string): EditPlan {
    return wrapJsx(this.doc, ids, tag, classes)
  }

  unwrap(id: number): EditPlan {
    return unwrapJsx(this.doc, id)
  }
}

class JsxTrial extends JsxTree implements TrialTree {
  apply(splices: Splices): void {
    this.doc.apply(splices)
  }
}
