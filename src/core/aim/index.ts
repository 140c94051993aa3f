export { ALWAYS, asksForState, isConditional, sameMedia, type Condition } from './condition'
export { CASCADE_CODES, ElementCascade, isInherited, unknownDeclarations } from './element-cascade'
export type { ElementEvidence, Evidence, MatchedEvidence, ReachEvidence } from './evidence'
export type { AimRef, Candidate, Ineffective, NewRuleRef, PropertyAim, ValueOrigin } from './types'
