export { attribute, classesOf, HtmlDocument, HtmlElement, type AppliedTag, type AppliedText, type EmbeddedSheet } from './document'
export { holdsElements, isPhrasing, whyNotIn, whyNotNamed } from './content-model'
export { endsLine, indentUnit, lineLead, spanOf, startsLine } from './layout'
export {
  apart,
  duplicateElements,
  insertHtml,
  moveElements,
  outermost,
  parentAt,
  type Place,
  removeElements,
  unwrapElement,
  whyNotAt,
  wrapElements,
} from './structure'
export { newSheetPlace } from './new-sheet-place'
export { publishHtml } from './publish'
export { ID_ATTRIBUTE, INTERFACE_ATTRIBUTE } from './publish-id'
export { PLACE_ATTRIBUTE, readStamp, STAMP_ATTRIBUTE, stampText, USAGES, type Stamp } from './stamp'
export { removeAttribute, renameAttribute, renameInClassLists, setAttribute, setTagName, setText } from './edit'
export { escapeAttribute, escapeText } from './escape'
export { changeInlineStyle, inlineStyleText, setInlineStyle } from './inline-style'
export { attributeOf, readStartTag, type AttributeSite, type StartTag } from './start-tag'
export { uniqueSelector } from './unique-selector'
export { isLandmark, isRow, placeNames, type Ancestor } from './kin'
export { asPresentation, presentationAttributes } from './presentation'
export { matcher } from './matching'
export { isBooleanAttribute, keywordsOf, parseSrcset, srcsetText, type SrcsetCandidate, attributesFor } from './attribute-names'
export {
  bringsScript,
  embedInstead,
  boxesHtml,
  boxesRule,
  buttonHtml,
  dialogHtml,
  elementHtml,
  embedHtml,
  fieldHtml,
  FIELD_TYPES,
  headingHtml,
  imageHtml,
  linkHtml,
  listHtml,
  sectionHtml,
  tableHtml,
  videoHtml,
} from './snippets'
