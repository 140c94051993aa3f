import { placeText } from '../../core/text'
import type { PropertyAim } from '../../core/aim'

/** Where the value comes from, in words. */
export function originText(aim: PropertyAim): string {
  const { origin } = aim
  const place = origin.path ? ` (${placeText(origin)})` : ''
  return origin.kind === 'initial'
    ? 'Nothing sets it: this is the initial value, or the browser’s own style'
    : origin.kind === 'inherited'
      ? `Inherited from ${origin.label}${place}`
      : `Set by ${origin.label}${place}: ${origin.text}`
}
