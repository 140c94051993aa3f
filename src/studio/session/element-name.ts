import type { ElementName } from '../../agent/protocol'
import type { Picked } from '../store'

/** What the chosen element is found by again; null where nothing says what it is. */
export function elementName(picked: Picked | null): ElementName | null {
  if (!picked) return null
  const { info, nth, made } = picked.report
  if (info.source !== null) return { source: info.source, nth }
  return made?.isOwn ? { stamp: made.stamp, nth: made.index - 1 } : null
}
