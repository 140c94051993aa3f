import { refuse, type EditPlan, type Wanted } from '../css'
import {
  attributeOf,
  changeInlineStyle,
  duplicateElements,
  escapeAttribute,
  indentUnit,
  insertHtml,
  matcher,
  moveElements,
  newSheetPlace,
  parentAt,
  presentationAttributes,
  removeAttribute,
  removeElements,
  renameAttribute,
  renameInClassLists,
  setAttribute,
  setInlineStyle,
  setTagName,
  setText,
  spanOf,
  uniqueSelector,
  unwrapElement,
  whyNotAt,
  whyNotNamed,
  wrapElements,
  type HtmlDocument,
  type HtmlElement,
} from '../html'
import type { Span, Splice, Splices } from '../text'
import { attribute, type ElementTree, type InlineChange, type ListText, type Place, type SourceElement, type TrialTree } from './language'

// What trees of HTML give out are elements of HTML.
const nodeOf = (element: SourceElement): HtmlElement['node'] => (element as HtmlElement).node

/** The elements of an HTML document. */
export class HtmlTree implements ElementTree {
  constructor(protected readonly doc: HtmlDocument) {}

  get text(): string {
    return this.doc.text
  }

  get elements(): readonly HtmlElement[] {
    return this.doc.elements
  }

  has(id: number): boolean {
    return this.doc.has(id)
  }

  element(id: number): HtmlElement {
    return this.doc.element(id)
  }

  lineAt(offset: number): number {
    return this.doc.lineAt(offset)
  }

  private own(element: SourceElement): HtmlElement {
    return this.doc.element(element.id)
  }

  spanOf(element: SourceElement): Span | null {
    return spanOf(this.doc, this.own(element))
  }

  indentUnit(): string {
    return indentUnit(this.doc)
  }

  uniqueSelector(element: SourceElement): string {
    return uniqueSelector(this.doc, this.own(element))
  }

  matching(selector: string): ((element: SourceElement) => boolean) | null {
    const test = matcher(selector)
    return test && ((element) => test(nodeOf(element)))
  }

  copy(): TrialTree {
    return new HtmlTrial(this.doc.copy())
  }

  setAttribute(element: SourceElement, name: string, value: string): EditPlan {
    return setAttribute(this.doc, this.own(element), name, value)
  }

  removeAttribute(element: SourceElement, name: string): EditPlan {
    return removeAttribute(this.doc, this.own(element), name)
  }

  renameAttribute(element: SourceElement, name: string, to: string): EditPlan {
    return renameAttribute(this.doc, this.own(element), name, to)
  }

  setInlineStyle(element: SourceElement, wanted: Wanted): EditPlan {
    return setInlineStyle(this.doc, this.own(element), wanted)
  }

  changeInlineStyle(element: SourceElement, how: InlineChange, name: string): EditPlan {
    const text = changeInlineStyle(attribute(element, 'style') ?? '', how, name)
    if (text === null) return refuse('not-found', `The style attribute has no ${name} to change.`)
    return text.trim() === '' ? this.removeAttribute(element, 'style') : this.setAttribute(element, 'style', text)
  }

  presentation(element: SourceElement): readonly { readonly name: string; readonly value: string }[] {
    return presentationAttributes(this.own(element).node)
  }

  classPieces(element: SourceElement): readonly ListText[] {
    const tag = this.doc.startTag(this.own(element))
    const there = tag && attributeOf(tag, 'class')
    if (!there?.value || !there.quote) return []
    const { value, quote } = there
    return [
      {
        span: value,
        text: this.doc.text.slice(value.from, value.to),
        when: [],
        isShared: false,
        escape: (name) => escapeAttribute(name, quote),
      },
    ]
  }

  writeClasses(element: SourceElement, names: string): EditPlan {
    return this.setAttribute(element, 'class', names)
  }

  emptyClassPiece(element: SourceElement): EditPlan {
    return this.removeAttribute(element, 'class')
  }

  renameClass(from: string, to: string): Splice[] {
    return renameInClassLists(this.doc, from, to)
  }

  writtenText(_: SourceElement, index: number): number {
    return index
  }

  setText(element: SourceElement, index: number, text: string): EditPlan {
    return setText(this.doc, this.own(element), index, text)
  }

  setTag(element: SourceElement, tag: string): EditPlan {
    return setTagName(this.doc, this.own(element), tag)
  }

  whyNotNamed(element: SourceElement, tag: string): string | null {
    return whyNotNamed(this.own(element).node, tag)
  }

  // The elements may be of another page.
  whyNotAt(elements: readonly SourceElement[], place: Place): string | null {
    return whyNotAt(this.doc, elements.map(nodeOf), place)
  }

  parentAt(place: Place): SourceElement | null {
    return parentAt(this.doc, place)
  }

  newSheetPlace(): Place | null {
    return newSheetPlace(this.doc)
  }

  insert(place: Place, html: string, spaced = false): EditPlan {
    return insertHtml(this.doc, place, html, spaced)
  }

  remove(ids: readonly number[]): EditPlan {
    return removeElements(this.doc, ids)
  }

  move(ids: readonly number[], place: Place): EditPlan {
    return moveElements(this.doc, ids, place)
  }

  duplicate(ids: readonly number[]): EditPlan {
    return duplicateElements(this.doc, ids)
  }

  wrap(ids: readonly number[], tag: string, classes: string): EditPlan {
    return wrapElements(this.doc, ids, tag, classes ? `<${tag} class="${escapeAttribute(classes, '"')}">` : `<${tag}>`)
  }

  unwrap(id: number): EditPlan {
    return unwrapElement(this.doc, id)
  }
}

class HtmlTrial extends HtmlTree implements TrialTree {
  apply(splices: Splices): void {
    this.doc.apply(splices)
  }
}
