import type { ComponentProperty, GivenProperty, ListSwap } from '../jsx'
import type { EditPlan, HouseStyle, Refused, Sheet, Wanted } from '../css'
import type { Span, Splice, Splices } from '../text'

/** A language that sources are written in: how a file is read, edited and shown. */
export interface SourceLanguage {
  /** Whether a text can have style sheets in it. May say yes to one that has none, so that not every file is read to know. */
  mayHoldSheets(text: string): boolean
  read(text: string, path: string): SourceFile
}

/** The text of a file as it is now. */
export interface SourceText {
  /** From the project's root. */
  readonly path: string
  readonly text: string
  /** The file that an import of it leads to; null where that is none of the project. */
  imported(module: string): SourceText | null
}

/** A file that is open: its text as it is now, and what it stands for. Ids of elements and rules last through edits. */
export interface SourceFile {
  readonly text: string
  /** Its elements; null where the language has none. */
  readonly tree: ElementTree | null
  slice(span: Span): string
  /** 1-based line of an offset. */
  lineAt(offset: number): number
  /** The style sheets that it is or holds, in the order of the text. */
  sheets(): readonly SheetPart[]
  /** Takes splices in: sorted, and apart from each other. */
  apply(splices: Splices): Applied
  /** Takes splices in until `takeBack` is called, which leaves ids and revisions as they were. What was taken in later is taken back first. */
  applyForNow(splices: Splices): AppliedForNow
  /** The text that a live page is given in its place: ids on its elements, and the agent's script; null where that is its own. */
  published(fileKey: number, script: string): string | null
  /** Has what it imports looked up in other files of the project, where the language takes values from there. */
  useImports?(find: SourceText['imported']): void
}

/** A style sheet in a file. */
export interface SheetPart {
  /** The element whose text it is; null where it is the file itself. */
  readonly element: number | null
  readonly sheet: Sheet
  readonly style: HouseStyle
  /** What to add to the sheet's offsets to get offsets of the file. */
  readonly base: number
}

/** What an edit of a file changed, by the ids of its elements. */
export interface Applied {
  /** As {@link SheetPart.element} names them. */
  readonly sheets: readonly (number | null)[]
  /** Attributes that have another value now; null when they are gone. */
  readonly attributes: readonly { readonly element: number; readonly name: string; readonly value: string | null }[]
  /** Texts that are others now, by their place among the texts of the element. */
  readonly texts: readonly {
    readonly element: number
    readonly index: number
    readonly before: string
    readonly after: string
  }[]
  /** The tree is another, or the text in a way that is not listed above. */
  readonly structure: boolean
}

export interface AppliedForNow {
  readonly applied: Applied
  readonly takeBack: () => void
}

export interface SourceAttribute {
  readonly name: string
  /** Decoded. */
  readonly value: string
  readonly prefix?: string
}

/** An element of a source. */
export interface SourceElement {
  /** Unique in its file; stays the same through edits that leave the start tag in place. */
  readonly id: number
  readonly tag: string
  /** Whether it is an element of HTML, not of SVG or MathML. */
  readonly isHtml: boolean
  readonly parent: SourceElement | null
  /** Null where the source has no tag for it: a parser may imply elements. */
  readonly startTag: Span | null
  readonly endTag: Span | null
  readonly attributes: readonly SourceAttribute[]
  /** What of its own text there is, piece by piece, decoded. */
  readonly texts: readonly string[]
}

export type InlineChange = 'remove' | 'switch-off' | 'switch-on' | 'make-important' | 'make-normal'

/** A place among the elements of a file. */
export interface Place {
  /** Id of the element that it is identified by. */
  readonly element: number
  readonly where: 'before' | 'after' | 'first' | 'last'
}

/** A part of an element's class list where the text has it. */
export interface ListText {
  readonly span: Span
  /** As it is written, with a name for each of the list's. */
  readonly text: string
  /** What it waits for, as the source says it; none where it always counts. */
  readonly when: readonly string[]
  /** Whether other elements may take it from the same place. */
  readonly isShared: boolean
  /** The file that has it, where that is another than the element's. */
  readonly path?: string
  /** Spells a name as it has to stand there. */
  escape(name: string): string
  /** What puts a changed list in its place, where that is not just its text. */
  overwrite?(names: string): Splice
}

/** The elements of a file, in the order of the text, and the edits that it can make of them: splices of the file, or a refusal. Planning changes nothing. */
export interface ElementTree {
  readonly text: string
  readonly elements: readonly SourceElement[]
  has(id: number): boolean
  /** @throws RangeError when there is no such element. */
  element(id: number): SourceElement
  lineAt(offset: number): number
  /** Where an element is written, from its start tag to its end; null where it has no tag. */
  spanOf(element: SourceElement): Span | null
  /** The step that the file indents its elements by. */
  indentUnit(): string
  /** A short selector that names just this element of the file. */
  uniqueSelector(element: SourceElement): string
  /** A test of whether an element matches a selector (Selectors 4), as far as a source can tell; null where that cannot be read. */
  matching(selector: string): ((element: SourceElement) => boolean) | null
  /** What the `nth` tag, from 0, of a text with that mark stands for, where pages tell their elements by that; null where the text is not known. */
  elementOfTag?(nth: number, mark: string): SourceElement | null
  /** The tag of an element among those of the text as it is: its place in order, from 0, and the mark of the text. */
  tagOf?(element: SourceElement): { readonly nth: number; readonly mark: string }
  /** Whether a tag makes one element, whatever a condition or a list says. */
  isMadeOnce?(element: SourceElement): boolean
  /** Whether an element has the classes that its component is given: `merged` where those that say the same as its own take their place. Null where it has none of them. */
  handsOnClasses?(element: SourceElement): 'joined' | 'merged' | null
  /** Has a component of the file, whose root an element is, take a class list and pass it on; `how` as above. */
  takeClasses?(element: SourceElement, component: string): (EditPlan & { readonly ok: true; readonly how: 'joined' | 'merged' }) | Refused
  /** The style modules that the file imports as objects, by the names that it has for them, and as the imports say them (CSS Modules). */
  styleModules?(): readonly { readonly name: string; readonly from: string }[]
  /** Adds a class of a style module, which the file knows as `styles`, to the class list of an element. */
  addMember?(element: SourceElement, styles: string, name: string): EditPlan
  /** What puts one class of a style module, which the file knows as `styles`, in the place of another wherever the file takes it. */
  renameMember?(styles: string, from: string, to: string): Splice[]
  /** A picture of the project as the file names it for an element; where pages name it by their own address, it has none. */
  pictureName?(path: string): string
  /** The file that declares the component which a tag uses, by the imports of the project; null where they do not tell. */
  declaredIn?(element: SourceElement): string | null
  /** What a component of the file takes; null where the file declares none of that name. */
  componentProperties?(component: string): readonly ComponentProperty[] | null
  /** What a tag gives its component. */
  givenProperties?(element: SourceElement): readonly GivenProperty[]
  /** Another value for such a property, or, with null, none. */
  setProperty?(element: SourceElement, name: string, value: string | null, kind: ComponentProperty['kind']): EditPlan
  /** Swaps the `index`-th item, from 0, of the list that an element is made once for each of with a neighbour; `count` is how many there are on the page. */
  swapInList?(element: SourceElement, index: number, count: number, by: 1 | -1): ListSwap | Refused
  /** The classes that the file imports from style modules by themselves. */
  takenMembers?(): readonly { readonly name: string; readonly member: string; readonly from: string }[]
  /** What takes another class of its module in the place of such a one. */
  renameTaken?(member: { readonly name: string; readonly member: string; readonly from: string }, to: string): Splice[]
  /** Takes note of the classes that an element has on the page, where its list is worked out there. */
  noteShown?(element: SourceElement, classes: readonly string[]): void
  /** The same tree with the same ids, to try edits on. */
  copy(): TrialTree

  setAttribute(element: SourceElement, name: string, value: string): EditPlan
  removeAttribute(element: SourceElement, name: string): EditPlan
  renameAttribute(element: SourceElement, name: string, to: string): EditPlan
  /** One declaration of the element's own style. */
  setInlineStyle(element: SourceElement, wanted: Wanted): EditPlan
  /** The declaration of its own style that decides a property, changed; what is left empty goes. */
  changeInlineStyle(element: SourceElement, how: InlineChange, name: string): EditPlan
  /** Attributes that are declarations of a property, as of SVG. */
  presentation(element: SourceElement): readonly { readonly name: string; readonly value: string }[]
  /** The parts of the class list that count now, in order; none where it is to be written as a whole. */
  classPieces(element: SourceElement): readonly ListText[]
  /** Writes classes where none is written that always counts, or the list as a whole. */
  writeClasses(element: SourceElement, names: string): EditPlan
  /** Leaves nothing of the `index`-th part of the class list, in the file that has it. */
  emptyClassPiece(element: SourceElement, index: number): EditPlan
  /** What puts one class in the place of another in every list of the file. */
  renameClass(from: string, to: string): Splice[]
  /** Which of the texts that are written out the page shows as its `index`-th, `was`; null where that is none of them. */
  writtenText(element: SourceElement, index: number, was: string | undefined): number | null
  /** Another text for the `index`-th of those of an element that are written out. */
  setText(element: SourceElement, index: number, text: string): EditPlan

  setTag(element: SourceElement, tag: string): EditPlan
  /** Why an element may not have another tag where it stands, in words; null when it may. */
  whyNotNamed(element: SourceElement, tag: string): string | null
  /** Why elements may not stand at a place, in words; null when they may. */
  whyNotAt(elements: readonly SourceElement[], place: Place): string | null
  /** The element whose child something at a place would be; null where there is none. */
  parentAt(place: Place): SourceElement | null
  /** Where a new style sheet goes; null where the file has no place for one. */
  newSheetPlace(): Place | null
  /** `spaced` sets it out as its neighbours are. */
  insert(place: Place, html: string, spaced?: boolean): EditPlan
  remove(ids: readonly number[]): EditPlan
  move(ids: readonly number[], place: Place): EditPlan
  duplicate(ids: readonly number[]): EditPlan
  /** Puts an element of that name around them, with classes where some are given. */
  wrap(ids: readonly number[], tag: string, classes: string): EditPlan
  unwrap(id: number): EditPlan
}

/** A tree of its own that takes edits in. */
export interface TrialTree extends ElementTree {
  apply(splices: Splices): void
}

interface WithAttributes {
  readonly attributes: readonly SourceAttribute[]
}

export const attribute = (element: WithAttributes | undefined, name: string): string | null =>
  element?.attributes.find((a) => a.name === name)?.value ?? null

/** The classes of an element, in order (HTML §3.2.6). */
export const classesOf = (element: WithAttributes): string[] => (attribute(element, 'class') ?? '').split(/[ \t\n\r\f]+/).filter(Boolean)
