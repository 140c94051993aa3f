export { ALWAYS, asksForState, isConditional, type Condition } from './condition'
export { ElementCascade, isInherited, unknownDeclarations } from './element-cascade'
export type { ElementEvidence, Evidence, MatchedEvidence, ReachEvidence } from './evidence'
export type { AimRef, Candidate, Ineffective, ClassListRef, NewRuleRef, NewSheetRef, PropertyAim, ValueOrigin } from './types'
