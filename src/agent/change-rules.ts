export const isImport = (rule: CSSRule): boolean => rule.constructor.name === 'CSSImportRule'

/** Makes `live` the sheet that `text` is read as, changing only the rules that differ. What it imports is to be the same. */
export function matchSheet(live: CSSStyleSheet, text: string): void {
  const rules = [...live.cssRules]
  const head = rules.findLastIndex(isImport) + 1
  const owner = live.ownerNode as HTMLStyleElement | null
  if (owner?.localName === 'style' && head === 0) {
    owner.textContent = text
    return
  }
  const fresh = new CSSStyleSheet({ baseURL: live.href ?? undefined })
  fresh.replaceSync(text)
  // A constructed sheet cannot import; imports lead a sheet, with what orders their layers among them, and stay as they are.
  matchRules(live, [...fresh.cssRules].slice(rules.slice(0, head).filter((r) => !isImport(r)).length), head)
}

/** Rules of a list. Making an array of all of a large sheet takes as long as the engine takes for an edit of it. */
export function rulesIn(list: CSSRuleList, from: number, to: number): CSSRule[] {
  const out: CSSRule[] = []
  for (let i = from; i < to; i++) out.push(list[i])
  return out
}

/** Where a rule stands in a list; -1 where it does not. */
export function indexIn(list: CSSRuleList, rule: CSSRule): number {
  const { length } = list
  for (let i = 0; i < length; i++) if (list[i] === rule) return i
  return -1
}

type RuleList = CSSStyleSheet | CSSGroupingRule

/** Makes the rules from `head` to before `end` those of `fresh`. A group whose rules differ is entered where it is the same one: putting a layer in again restyles all that it is about. */
export function matchRules(live: RuleList, fresh: readonly CSSRule[], head: number, end = live.cssRules.length): void {
  const want = fresh.map((r) => r.cssText)
  const have = rulesIn(live.cssRules, head, end).map((r) => r.cssText)
  let from = 0
  while (from < want.length && from < have.length && want[from] === have[from]) from++
  let tail = 0
  while (tail < want.length - from && tail < have.length - from && want[want.length - 1 - tail] === have[have.length - 1 - tail]) tail++
  const [ends, wanted] = [have.length - tail, want.length - tail]
  if (ends === wanted) {
    for (let i = from; i < ends; i++) {
      if (want[i] === have[i]) continue
      const there = live.cssRules[head + i]
      if (isSameGroup(there, fresh[i], have[i], want[i]))
        matchRules(there as CSSGroupingRule, [...(fresh[i] as CSSGroupingRule).cssRules], 0)
      else {
        live.deleteRule(head + i)
        live.insertRule(want[i], head + i)
      }
    }
    return
  }
  for (let i = ends - 1; i >= from; i--) live.deleteRule(head + i)
  for (let i = from; i < wanted; i++) live.insertRule(want[i], head + i)
}

const GROUPS = new Set(['CSSLayerBlockRule', 'CSSMediaRule', 'CSSSupportsRule'])

const isSameGroup = (a: CSSRule, b: CSSRule, textOfA: string, textOfB: string): boolean =>
  GROUPS.has(a.constructor.name) &&
  a.constructor.name === b.constructor.name &&
  textOfA.slice(0, textOfA.indexOf('{')) === textOfB.slice(0, textOfB.indexOf('{'))
