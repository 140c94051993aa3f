export { declarationRuns, planIntent, type DeclarationIntent, type FileSplices, type Intent, type PlannedEdit, type PreviewPlan, type RenameClassIntent, type SetIntent } from './plan'
export { Journal, type FileChange, type JournalEdit, type Verdict } from './journal'
