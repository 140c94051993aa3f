/** A state as a selector has it: `:hover`, `:has(:checked)`, `[aria-expanded="true"]`. */
const STATE = String.raw`(?<!\\):(?:has\([^()]*(?:\([^()]*\))?\)|[\w-]+)|\[[\w-]+(?:="[^"]*")?\]`
const AROUND = new RegExp(`^(.+?)(${STATE})? (~ )?&$`)

/**
 * A state of an element around, such as `.card:hover &`, or of one before it in the same parent, as `.peer:checked ~ &`: what
 * that element is and what state it is in; null for a state of the element itself.
 */
export function stateAround(state: string): { readonly compound: string; readonly state: string; readonly isBefore: boolean } | null {
  const found = AROUND.exec(state)
  return found && { compound: found[1], state: found[2] ?? '', isBefore: found[3] !== undefined }
}
