export { ElementCascade, isInherited, labelOf, unknownDeclarations, type AimRef, type Candidate, type PropertyAim, type ValueOrigin } from './candidates'
export type { Evidence, MatchedEvidence, ReachEvidence } from './evidence'
