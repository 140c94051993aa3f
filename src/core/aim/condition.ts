import { stateAround } from '../css'

/** When an edit is to hold. Each part is `''` where nothing was asked for. */
export interface Condition {
  /** A pseudo-class or an attribute, as a selector has it: `:hover`, `[open]`, `:has(:checked)`; or, for one of an element around, `.card:hover &`. */
  readonly state: string
  /** A pseudo-element: `::before`. */
  readonly part: string
  /** A media query's condition: `(max-width: 640px)`. */
  readonly media: string
}

export const ALWAYS: Condition = { state: '', part: '', media: '' }

export const isConditional = (c: Condition): boolean => c.state !== '' || c.part !== '' || c.media !== ''

const subjectOf = (selector: string): string => selector.split(/[\s>+~](?![^([]*[)\]])/).at(-1) ?? ''

const COMES_AND_GOES =
  /(?<!\\):(hover|active|focus|focus-visible|focus-within|visited|target|checked|disabled|enabled|indeterminate|invalid|valid|user-invalid|user-valid|placeholder-shown|open|modal|popover-open)(?![\w-])/i

/** Whether a selector's subject has to be in some state that comes and goes. */
export const asksForAnyState = (selector: string): boolean => COMES_AND_GOES.test(subjectOf(selector))

/** Whether the last compound of a selector, its subject, asks for a state such as `:hover` or `[open]`. */
export function asksForState(selector: string, state: string): boolean {
  const around = stateAround(state)
  const subject = around ? selector.slice(0, selector.length - subjectOf(selector).length) : subjectOf(selector)
  if (around) state = around.compound + around.state
  for (let at = subject.indexOf(state); at >= 0; at = subject.indexOf(state, at + 1)) {
    // `:focus` is not in `:focus-within`.
    if (subject[at - 1] !== '\\' && !/[\w-]/.test(subject[at + state.length] ?? '') && !/:not\([^)]*$/.test(subject.slice(0, at)))
      return true
  }
  return false
}
