export { isJsxPath } from './parse'
export { stampTags } from './stamp'
export { stampCompiled } from './stamp-compiled'
export { jsxTags, type JsxTag } from './tags'
export type { StyleModule, TakenMember } from './bindings'
export { JsxDocument, type JsxElement } from './document'
export { meantBy } from './meaning'
export { ScriptFile } from './script-file'
export { spelledIn, type ClassPiece } from './class-pieces'
export {
  addClasses,
  addMember,
  emptyPiece,
  handsOnClasses,
  overKey,
  removeJsxAttribute,
  removeJsxStyle,
  renameJsxAttribute,
  renameMember,
  renameTaken,
  setJsxAttribute,
  setJsxStyle,
  setJsxText,
} from './edit'
export { duplicateJsx, insertJsx, moveJsx, removeJsx, unwrapJsx, whyNotInJsx, wrapJsx } from './structure'
export { componentProperties, givenBy, setProperty, type ComponentProperty, type GivenProperty } from './component-properties'
export { swapInList, type ListSwap } from './list-order'
export { spotOf } from './spot'
export { takeClasses, type TakingClasses } from './take-classes'
export { indentStep } from './layout'
export { isDataPath, literalsSaying, literalSplice, type Literal } from './literals'
