export type {
  AddFaceIntent, AttributeIntent, ClassesIntent, DeclarationIntent, FaceFile, ElementsIntent, FileSplices, InsertIntent, Intent, MoveIntent, SourcePlace, WrapIntent, MakeTokenIntent, NewFile, PlannedEdit, PreviewPlan, RenameClassIntent, RestoreIntent, SelectorIntent, SetIntent, TagIntent, TextIntent, TogetherIntent,
} from './intent'
export { headIntent, readHead, type Head, type HeadField, type HeadPart } from './head'
export { Journal, type FileChange, type JournalEdit, type Verdict } from './journal'
export { planIntent } from './plan'
export { htmlOf, tellDrop, tellInsert } from './plan-structure'
