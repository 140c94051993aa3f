export { declarationRuns, planIntent, type Intent, type PlannedEdit, type PreviewPlan } from './plan'
export { Journal, type JournalEdit, type Verdict } from './journal'
