import type { EditPlan, Wanted } from '../css'
import {
  attributeOf,
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
import type { ElementTree, ListText, Place, SourceElement, TrialTree } from './language'

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

  presentation(element: SourceElement): readonly { readonly name: string; readonly value: string }[] {
    return presentationAttributes(this.own(element).node)
  }

  classText(element: SourceElement): ListText | null {
    const tag = this.doc.startTag(this.own(element))
    const there = tag && attributeOf(tag, 'class')
    if (!there?.value || !there.quote) return null
    const { value, quote } = there
    return {
      span: value,
      text: this.doc.text.slice(value.from, value.to),
      escape: (name) => escapeAttribute(name, quote),
    }
  }

  renameClass(from: string, to: string): Splice[] {
    return renameInClassLists(this.doc, from, to)
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

  wrap(ids: readonly number[], tag: string, open: string): EditPlan {
    return wrapElements(this.doc, ids, tag, open)
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
