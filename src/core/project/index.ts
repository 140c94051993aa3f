export { kindOf, Project, type FileKind, type SheetRef, type StoredFile, type Touched } from './project'
export { projectReach, reachesOnlyKin, staticSelector, type Kind } from './reach'
