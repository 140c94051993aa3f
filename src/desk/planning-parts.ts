export { ElementAims, ElementCascade, unknownDeclarations } from '../core/aim'
export { blockOutIntent, classForLayout, headIntent, htmlOf, nameOf, planIntent, readHead, tellDrop, tellInsert } from '../core/edit'
export { changedByTag, projectReach, reachOfToken, rulesWithId } from '../core/project'
export { completions, familyOf, readClassRows, statesOfClasses } from './class-rows'
