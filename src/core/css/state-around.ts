/** A state of an element around, such as `.card:hover &`: what that element is and what state it is in; null for a state of the element itself. */
export function stateAround(state: string): { readonly compound: string; readonly state: string } | null {
  const found = /^(.*?)((?<!\\):[\w-]+|\[[\w-]+\])? &$/.exec(state)
  return found && { compound: found[1], state: found[2] ?? '' }
}
