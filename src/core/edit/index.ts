export type {
  AddFaceIntent, AttributeIntent, ClassesIntent, DeclarationIntent, FaceFile, FileSplices, Intent, MakeTokenIntent, NewFile, PlannedEdit, PreviewPlan, RenameClassIntent, RestoreIntent, SelectorIntent, SetIntent, TagIntent, TextIntent, TogetherIntent,
} from './intent'
export { Journal, type FileChange, type JournalEdit, type Verdict } from './journal'
export { planIntent } from './plan'
