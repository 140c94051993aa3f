import type { LedgerRow } from '../../desk'

/** What a first line may be long; longer ones are cut by what shows them. */
const MOST_SUBJECT = 68

const listed = (names: readonly string[]): string =>
  names.length > 2 ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more` : names.join(' and ')

/** A message for a commit of these edits: one line for one, else what they are about with a line for each. */
export function draftMessage(edits: readonly Pick<LedgerRow, 'name' | 'label' | 'after' | 'path'>[]): string {
  const [first] = edits
  if (!first) return ''
  const one = `Set ${first.name} of ${first.label} to ${first.after}`
  if (edits.length === 1) return one.length <= MOST_SUBJECT ? one : `Adjust ${first.label}`.slice(0, MOST_SUBJECT)
  return (
    `Adjust ${listed([...new Set(edits.map((e) => e.label))])}`.slice(0, MOST_SUBJECT) +
    `\n\n${edits.map((e) => `- ${e.path}: ${e.label}, ${e.name} ${e.after}`).join('\n')}`
  )
}
