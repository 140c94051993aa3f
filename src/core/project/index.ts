export { kindOf, Project, type FileKind, type SheetRef, type StoredFile, type Touched } from './project'
export { compiledRule, sourceOfRule, type RulePlace } from './compiled-rules'
export { changedByTag, rulesWithId, type MatchChange, type RuleNote } from './matching'
export { projectReach, reachesOnlyKin, staticSelector, type Kind } from './reach'
