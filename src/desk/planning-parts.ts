export { ElementAims, ElementCascade, unknownDeclarations } from '../core/aim'
export { blockOutIntent, classForLayout, headIntent, htmlOf, nameOf, planIntent, readHead, tellDrop, tellInsert } from '../core/edit'
export {
  changedByTag,
  colorPlaces,
  deadLinks,
  filesNamedBy,
  projectReach,
  reachOfToken,
  recolorable,
  recolored,
  rulesWithId,
  unusedRules,
} from '../core/project'
export { parseColor } from '../core/value'
export { completions, familyOf, readClassRows, statesOfClasses } from './class-rows'
