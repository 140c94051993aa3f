export { stateAround } from './state-around'
export { isRootRule, Sheet, SheetMemo, StatementMemo, textOf, valueOf, type RuleSite, type Statement } from './sheet'
export {
  declarationsOf,
  isRule,
  rulesIn,
  type AtRule,
  type Comment,
  type CssItem,
  type Declaration,
  type Rule,
  type StyleRule,
} from './tree'
export { parseDeclarationList, parseStatement } from './parse'
export { splitTop } from './scan'
export { cutBodies, declarationRuns, isCutInText, type RuleBody } from './own-text'
export { outlineSheet, packedOutline, resolvedSelectors } from './outline'
export type { OutlineRule, PackedOutline } from './packed-outline'
export { classesNamed, compareSpecificity, oneOfNames, resolveNested, specificityOf, type Specificity } from './selector'
export { splitSelectors } from './selector-list'
export { aroundKey, classesAsked, subjectKey } from './selector-key'
export { lineIndent, measureHouseStyle, type HouseStyle } from './house-style'
export {
  decidingDeclaration,
  declarationText,
  isWholeValue,
  refuse,
  removeDeclaration,
  setDeclaration,
  setImportant,
  switchedOff,
  takenDeclarations,
  switchOff,
  switchOn,
  withComments,
  type EditPlan,
  type Planned,
  type Refused,
  type RefusalReason,
  type Wanted,
} from './declaration-edit'
export { isShorthand, longhandsOf, physicalName, SHORTHANDS, sets } from './longhands'
export { isNarrower, isOfSize, MEDIA_EM, widthRange, widthToShow, schemeOf } from './media'
export { functionIn, hasArbitrarySubstitution, isImage, isWideKeyword, type Knowledge, type ValueKind, components } from './components'
export { composeShorthand, partOfShorthand, readBox, setInShorthand } from './shorthand'
export {
  appendRule,
  atHead,
  blockText,
  classSpans,
  escapeName,
  insertRuleAfter,
  insertUnder,
  nestedSuffix,
  nestingHabit,
  nestRule,
  placeUnder,
  prependRule,
  renameClass,
  renameId,
  ruleText,
  sameCondition,
  setSelector,
  stateSelectors,
  topIndent,
  type NewRule,
} from './rule-edit'
export { inHouseSpelling } from './spelling'
export { unpackOutline } from './packed-outline'
export { changedRun, type ChangedRun } from './changed-run'
export { bundledPartQuery, readBundledPart, type BundledPart } from './bundled-part'
export { isStyleModule } from './style-module'
export { isPreprocessed, preprocessedLine, withSourceNames } from './preprocessed'
export { removeRules } from './remove-rules'
