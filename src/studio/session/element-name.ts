import type { ElementName } from '../../agent/protocol'
import type { Picked } from '../store'

/** What the chosen element is found by again; null where nothing says what it is. */
export function elementName(picked: Picked | null): ElementName | null {
  if (!picked) return null
  const { info, nth, made } = picked.report
  // A page that was loaded again has its tags by their stamps alone.
  if (made?.isOwn) return { stamp: made.stamp, nth: made.index - 1 }
  return info.source !== null ? { source: info.source, nth } : null
}
