import type { NodeInfo } from '../../agent/protocol'

/** Elements around that can be in a state of their own which an edit waits for. */
const MOST = 3

/** Elements that a pointer or the keyboard goes to, or that stand for one thing. */
const THINGS = /^(a|button|label|li|tr|details|form|fieldset|article|summary)$/

const escapeSlash = (name: string): string => name.replace(/([/:.])/g, '\\$1')

/**
 * States of the elements around one, as a condition has them: `.card:hover &`. `byList` where elements are styled by
 * their class lists, so that their classes are no names.
 */
export function statesAround(ancestors: readonly NodeInfo[], byList: boolean): string[] {
  const named = ancestors.flatMap((a) => {
    if (/^(html|body)$/.test(a.tag)) return []
    const group = a.classes.find((c) => /^group(\/|$)/.test(c))
    if (group) return [`.${escapeSlash(group)}`]
    if (!byList && a.classes.length) return [`.${escapeSlash(a.classes[0])}`]
    return THINGS.test(a.tag) ? [a.tag] : []
  })
  const dark = ancestors.some((a) => a.classes.includes('dark')) ? ['.dark &'] : []
  return [...dark, ...[...new Set(named)].slice(0, MOST).flatMap((n) => [`${n}:hover &`, `${n}:focus-within &`])]
}
