export {
  isLibrary,
  isScopedSheet,
  isOfUtilities,
  isVendored,
  Project,
  type FoundElement,
  type SheetRef,
  type StoredFile,
  type Touched,
} from './project'
export { compiledRule, sourceOfRule, type RulePlace } from './compiled-rules'
export { pagesWithSheet, sheetsOfPage } from './page-sheets'
export { changedByTag, rulesWithId, type MatchChange, type RuleNote } from './matching'
export { reachOfToken } from './token-reach'
export { routesOf } from './routes'
export { isHelperClass } from './helper-classes'
export { likeReached, projectReach, reachesOnlyKin, staticSelector, type Kind, matcher } from './reach'
export type { Scale } from './scale'
export { widthCondition, widthsBetween, NARROW } from './width-condition'
export { scaleOf } from './scale'
export { memberRenames, modulesIn } from './style-modules'
